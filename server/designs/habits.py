"""The shop's habits: how its hand joins pairs of letters of a family, in every new design."""

from pydantic import TypeAdapter

from designs.models import ShopHabit
from fulgen.lettering.habits import Habit
from fulgen.problem import Problem

MOST_KEPT = 1_000

_HABIT = TypeAdapter(Habit)


def kept() -> list[Habit]:
    """All of them, by family and letters."""
    return [_HABIT.validate_python(row.habit) for row in ShopHabit.objects.all()]


def keep(habit: Habit) -> None:
    """Keeps a habit in place of the one there was for these letters. Raises Problem "too-many-habits"."""
    rows = ShopHabit.objects.filter(family=habit.family, letters=habit.letters)
    if not rows.exists() and ShopHabit.objects.count() >= MOST_KEPT:
        raise Problem(
            "too-many-habits",
            f"The shop keeps up to {MOST_KEPT:,} joints of its own.",
            "Take one back first: click its seam in a design that has it.",
        )
    ShopHabit.objects.update_or_create(
        family=habit.family, letters=habit.letters, defaults={"habit": _HABIT.dump_python(habit, mode="json")}
    )


def forget(family: str, letters: str) -> None:
    """Designs that have the habit keep it."""
    ShopHabit.objects.filter(family=family, letters=letters).delete()
