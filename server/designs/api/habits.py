"""How the shop joins pairs of letters, kept for new designs."""

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status

from designs import habits
from designs.api.values import Problems
from fulgen.lettering.habits import Habit

router = Router(tags=["shop"])


class HabitIn(Schema):
    habit: Habit


class HabitOf(Schema):
    """Whose habit: the letters of a family."""

    family: str
    letters: str


@router.get("/habits", response={200: list[Habit], **Problems}, operation_id="listHabits")
def list_habits(request: HttpRequest) -> list[Habit]:
    """What the shop always does to letters and pairs of letters, by family."""
    return habits.kept()


@router.put("/habits", response={204: None, **Problems}, operation_id="keepHabit")
def keep_habit(request: HttpRequest, kept: HabitIn) -> Status[None]:
    """Keeps one for new designs, in place of the one there was for these letters."""
    habits.keep(kept.habit)
    return Status(204, None)


@router.delete("/habits", response={204: None, **Problems}, operation_id="forgetHabit")
def forget_habit(request: HttpRequest, of: Query[HabitOf]) -> Status[None]:
    """Takes one back. Designs that have it keep it."""
    habits.forget(of.family, of.letters)
    return Status(204, None)
