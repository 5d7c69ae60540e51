"""What the shop knows: machines, and how materials are pressed."""

from datetime import date, datetime
from typing import Annotated, Literal, cast

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import BeforeValidator, Field
from pydantic_core import PydanticCustomError

from cutters.lines import Connection, serial_lines
from designs import jobs, shop
from designs.api.values import Problems
from designs.models import PressNote, PressTest
from fulgen.frozen import WHOLE, Flag
from fulgen.parts.part import Use
from fulgen.sheet.machines import MACHINES, Machine

router = Router(tags=["shop"])

Peel = Literal["", "hot", "warm", "cold"]
Material = Annotated[str, Field(min_length=1, max_length=60)]


class MachineOut(Schema):
    """A machine, what it does, how it is reached, and whether it is as every shop begins with it."""

    machine: Machine
    does: list[Use]
    reached: Connection
    is_default: bool
    own: bool


class MachineIn(Schema):
    """The profile of a machine, and how it is reached; as before, where that is not said."""

    machine: Machine
    reached: Connection | None = None


class TestOut(Schema):
    """How a try went."""

    id: int
    on: date
    words: str
    good: bool


class PressIn(Schema):
    """What the shop knows of pressing a material: the side that lies up, the degrees in °C, the seconds, how
    often, whether it is peeled hot or cold, and what covers it."""

    material: Material
    side: Annotated[str, Field(max_length=120)] = ""
    degrees: Annotated[float, Field(strict=True, ge=20, le=300)] | None = None
    seconds: Annotated[float, Field(strict=True, ge=1, le=600)] | None = None
    passes: Annotated[int, Field(ge=1, le=9), WHOLE] = 1
    peel: Peel = ""
    cover: Annotated[str, Field(max_length=120)] = ""


class PressOut(PressIn):
    degrees: float | None
    seconds: float | None
    tests: list[TestOut]


def _day(text: object) -> date:
    try:
        return datetime.strptime(str(text) if isinstance(text, str) else "", "%Y-%m-%d").date()
    except ValueError:
        raise PydanticCustomError("day", "A day is written as 2026-06-03.") from None


class TestIn(Schema):
    """A try to write down. on: the day, as 2026-06-03."""

    material: Material
    on: Annotated[date, BeforeValidator(_day)]
    words: Annotated[str, Field(min_length=1, max_length=240)]
    good: Flag = False


@router.get("/machines", response={200: list[MachineOut], **Problems}, operation_id="listMachines")
def list_machines(request: HttpRequest) -> list[MachineOut]:
    """The machines of the shop."""
    defaults = {machine.name: machine for machine in MACHINES}
    ways = shop.ways()
    return [
        MachineOut(
            machine=machine,
            does=sorted(machine.does),
            reached=ways.get(machine.name, Connection()),
            is_default=defaults.get(machine.name) == machine
            and ways.get(machine.name, Connection()) == Connection(),
            own=machine.name not in defaults,
        )
        for machine in shop.machines()
    ]


@router.put("/machines", response={200: list[MachineOut], **Problems}, operation_id="keepMachine")
def keep_machine(request: HttpRequest, kept: MachineIn) -> list[MachineOut]:
    """Keeps the profile of a machine, by its name."""
    shop.keep_machine(kept.machine, kept.reached)
    return list_machines(request)


@router.delete("/machines", response={200: list[MachineOut], **Problems}, operation_id="forgetMachine")
def forget_machine(request: HttpRequest, name: Material) -> list[MachineOut]:
    """Takes a machine out; one of those that every shop begins with is as at first."""
    shop.forget_machine(name)
    return list_machines(request)


class SerialOut(Schema):
    """A serial line of this computer, and what is said of it."""

    device: str
    about: str


class TriedOut(Schema):
    """What a machine answers: where its carriage is, how it is, or nothing."""

    answers: Literal["place", "status", "nothing"]


class TryIn(Schema):
    reached: Connection


@router.get("/machines/serial", response=list[SerialOut], operation_id="serialLines")
def list_serial_lines(request: HttpRequest) -> list[SerialOut]:
    """The serial lines of this computer."""
    return [SerialOut(device=device, about=about) for device, about in serial_lines()]


@router.post("/machines/try", response={200: TriedOut, **Problems}, operation_id="tryMachine")
def try_machine(request: HttpRequest, wanted: TryIn) -> TriedOut:
    """Asks a machine where it is, without moving it."""
    return TriedOut(answers=jobs.tried(wanted.reached))


@router.get("/press", response={200: PressOut, **Problems}, operation_id="pressNote")
def press_note(request: HttpRequest, material: Material) -> PressOut:
    """What is known of pressing a material."""
    return _told(shop.press_note(material))


@router.put("/press", response={200: PressOut, **Problems}, operation_id="keepPressNote")
def keep_press_note(request: HttpRequest, note: PressIn) -> PressOut:
    """Keeps what is known of pressing a material."""
    PressNote.objects.update_or_create(material=note.material, defaults=note.model_dump(exclude={"material"}))
    return _told(shop.press_note(note.material))


@router.post("/press/tests", response={201: PressOut, **Problems}, operation_id="keepPressTest")
def keep_test(request: HttpRequest, test: TestIn) -> Status[PressOut]:
    """Writes down how a try went; one that failed warns the next time."""
    shop.keep_test(test.material, test.on, test.words, test.good)
    return Status(201, _told(shop.press_note(test.material)))


@router.delete("/press/tests/{test_id}", response={200: PressOut, **Problems}, operation_id="forgetPressTest")
def forget_test(request: HttpRequest, test_id: int, material: Material) -> PressOut:
    """Takes a try out."""
    PressTest.objects.filter(pk=test_id).delete()
    return _told(shop.press_note(material))


def _told(note: PressNote) -> PressOut:
    tests = PressTest.objects.filter(material=note.material)[:40]
    return PressOut(
        material=note.material, side=note.side, degrees=note.degrees, seconds=note.seconds,
        passes=note.passes, peel=cast(Peel, note.peel), cover=note.cover, tests=[TestOut(id=test.pk,
        on=test.on, words=test.words, good=test.good) for test in tests],
    )  # fmt: skip
