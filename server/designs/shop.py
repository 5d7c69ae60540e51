"""What the shop knows: its machines, its materials, and how these are pressed."""

from dataclasses import asdict
from datetime import date

from cutters.lines import Connection, validate_address
from designs.models import PressNote, PressTest, ShopMachine, ShopMaterial
from fulgen.joining.materials import MATERIALS, Material, material_from
from fulgen.problem import Problem
from fulgen.sheet.machines import MACHINES, Machine, machine_from, profile_of

MOST_MACHINES = 30
MOST_TESTS = 500
MOST_MATERIALS = 40


def machines() -> list[Machine]:
    """The machines of the shop; those it begins with, while it has none of its own."""
    kept = {row.name: machine_from(row.profile) for row in ShopMachine.objects.all()}
    usual = [kept.pop(machine.name, machine) for machine in MACHINES]
    return [*usual, *kept.values()]


def machine_named(name: str) -> Machine:
    """The machine of that name; the first there is, where it is not known here."""
    found = machines()
    return next((machine for machine in found if machine.name == name), found[0])


def ways() -> dict[str, Connection]:
    """How machines are reached, by their names; those that are not there, by the bench."""
    return {row.name: Connection(**row.reached) for row in ShopMachine.objects.all()}


def reached(name: str) -> Connection:
    """How the machine of that name is reached."""
    return ways().get(name, Connection())


def keep_machine(machine: Machine, how: Connection | None = None) -> None:
    """Keeps a machine's profile, and how it is reached, where that is said. Raises Problem
    "too-many-machines", "bad-address"."""
    if how is not None:
        validate_address(how)
    known = ShopMachine.objects.filter(name=machine.name).exists()
    if not known and ShopMachine.objects.count() >= MOST_MACHINES:
        raise Problem(
            "too-many-machines", f"A shop has up to {MOST_MACHINES} machines.", "Take one out first."
        )
    defaults = {"profile": profile_of(machine)} | ({} if how is None else {"reached": asdict(how)})
    ShopMachine.objects.update_or_create(name=machine.name, defaults=defaults)


def forget_machine(name: str) -> None:
    """Takes a machine of the shop's own out; one of those it begins with is as at first."""
    ShopMachine.objects.filter(name=name).delete()


def materials() -> list[Material]:
    """The materials of the shop: those that Fulgen knows, as the shop has them, and its own."""
    kept = {row.name: material_from(row.profile) for row in ShopMaterial.objects.all()}
    known = [kept.pop(material.name, material) for material in MATERIALS]
    return [*known, *kept.values()]


def keep_material(material: Material) -> None:
    """Keeps a material by its name. Raises Problem "too-many-materials"."""
    kept = ShopMaterial.objects
    if not kept.filter(name=material.name).exists() and kept.count() >= MOST_MATERIALS:
        what = f"A shop has up to {MOST_MATERIALS} materials of its own."
        raise Problem("too-many-materials", what, "Take one out first.")
    kept.update_or_create(name=material.name, defaults={"profile": asdict(material)})


def forget_material(name: str) -> None:
    """Takes a material of the shop's own out; one of those that Fulgen knows is as at first. Designs that are
    made of it keep it as they have it."""
    ShopMaterial.objects.filter(name=name).delete()


def press_note(material: str) -> PressNote:
    """What is known of pressing a material."""
    return PressNote.objects.filter(pk=material).first() or PressNote(material=material)


def keep_test(material: str, on: date, words: str, good: bool) -> PressTest:
    """Writes down how a try went. Raises Problem "too-many-tests"."""
    if PressTest.objects.count() >= MOST_TESTS:
        raise Problem(
            "too-many-tests", f"The shop keeps up to {MOST_TESTS} tests.", "Take old ones out first."
        )
    return PressTest.objects.create(material=material, on=on, words=words, good=good)
