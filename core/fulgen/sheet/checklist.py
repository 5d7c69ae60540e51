"""The checklist before the cut: what blocks it, what is to be decided, what is only to be known.

It follows from the findings of the design, its mirror and materials, and from how its sheets are laid.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from fulgen.geometry import measure
from fulgen.joining.materials import Material
from fulgen.readiness.films import alike_films, film_name
from fulgen.readiness.gate import stops
from fulgen.readiness.uses import uncut_words
from fulgen.recipe.evaluation import Evaluation
from fulgen.sheet.machines import Machine
from fulgen.sheet.plan import Other
from fulgen.sheet.sheets import LaidSheet
from fulgen.units import counted, show_length

State = Literal["blocks", "ask", "know", "good"]

_TOUCH_MM = 0.05
"""Parts nearer than this are cut into each other."""


@dataclass(frozen=True)
class Point:
    """A line of the checklist: how it stands, a stable word for what it is about, what is to be said, and
    what to do."""

    state: State
    about: str
    what: str
    todo: str = ""


def checklist(
    evaluation: Evaluation, sheets: Sequence[LaidSheet], machine: Machine, others: Sequence[Other] = ()
) -> list[Point]:
    """All that is to be known before the knife goes down, what blocks first."""
    found = [
        *_repairs(evaluation),
        *_of_others(evaluation, others),
        *_promises(sheets),
        *_mirrors(evaluation, sheets),
        *_guests(evaluation, sheets),
        *_alike(evaluation),
        *_uses(evaluation, machine),
        *_places(evaluation, sheets),
        *_machine(evaluation, sheets, machine),
    ]
    order: list[State] = ["blocks", "ask", "know", "good"]
    return sorted(found, key=lambda point: order.index(point.state))


def _repairs(evaluation: Evaluation) -> Iterator[Point]:
    waiting = stops(evaluation)
    for stop in waiting:
        yield Point("ask", stop.about, stop.what, stop.todo)
    if not any(stop.about == "findings" for stop in waiting):
        yield Point("good", "findings", "Nothing is to be repaired.")
    for one in evaluation.unmet:
        yield Point("know", "unmet", one.problem.what, one.problem.todo)


def _of_others(evaluation: Evaluation, others: Sequence[Other]) -> Iterator[Point]:
    for other in others:
        for stop in stops(other.evaluation):
            todo = "Open it and see its Check stage, or take it off the sheets."
            yield Point("ask", "others", f"{other.name}: {stop.what}", todo)
        if other.evaluation.recipe.mirror != evaluation.recipe.mirror:
            is_so = "is" if other.evaluation.recipe.mirror else "is not"
            yield Point("know", "others", f"{other.name} {is_so} mirrored, unlike this design.")


def _promises(sheets: Sequence[LaidSheet]) -> Iterator[Point]:
    marks = sum(sheet.mark_count for sheet in sheets)
    count = sum(len(sheet.promised) for sheet in sheets) - marks
    pieces = counted(count, "piece is", "pieces are")
    on = counted(len(sheets), "sheet")
    and_marks = f", and {marks} marks by which the films meet" if marks else ""
    yield Point("good", "pieces", f"{pieces} promised on {on}{and_marks}.")


def _mirrors(evaluation: Evaluation, sheets: Sequence[LaidSheet]) -> Iterator[Point]:
    recipe = evaluation.recipe
    state: State = "know" if recipe.cut.mirror_accepted else "ask"
    films = dict.fromkeys(one.motif.film for sheet in sheets for one in sheet.motifs)
    own = any(recipe.cut.stock(film).mirror is not None for film in films)
    lie = dict.fromkeys(
        (recipe.material_of(film), recipe.mirrors(film), film if own else "") for film in films
    )
    for one, mirrored, film in lie:
        which = film_name(evaluation.recipe, film) if film else "this design"
        if one.mirrored and not mirrored:
            what = f"{one.name} is cut mirrored, and {which} is not."
            yield Point(state, "mirror", what, "Mirror it, or say that you know.")
        elif mirrored and not one.mirrored:
            what = f"{one.name} is cut as it reads, and {which} is mirrored."
            yield Point(state, "mirror", what, "Turn the mirror off, or say that you know.")
        else:
            yield Point("good", "mirror", side_up(one))


def side_up(of: Material) -> str:
    """Which side of a material lies up, and how it is cut. (†)"""
    if of.mirrored:
        return f"{of.name}: mirrored, shiny carrier side down."
    if of.name.endswith("film"):
        return f"{of.name}: as it reads, colour up, backing paper down."
    return f"{of.name}: as it reads, good side up."


def _guests(evaluation: Evaluation, sheets: Sequence[LaidSheet]) -> Iterator[Point]:
    for sheet in sheets:
        host = film_name(evaluation.recipe, sheet.film)
        for guest in sheet.others:
            name = film_name(evaluation.recipe, guest)
            what = f"{name} is cut with {host}: lay the {name.lower()} where its parts are."
            yield Point("know", "guests", what)


def _alike(evaluation: Evaluation) -> Iterator[Point]:
    """Films that look alike: one may be meant."""
    for one, other in alike_films([film.colour for film in evaluation.films]):
        names = (f"{film_name(evaluation.recipe, film)} {film}" for film in (one, other))
        what = f"{' and '.join(names)} look alike."
        todo = "They are cut as two films. Give both the same one in Check, if one is meant."
        yield Point("know", "alike", what, todo)


def _uses(evaluation: Evaluation, machine: Machine) -> Iterator[Point]:
    """What is not to be cut, and what of it the machine leaves out."""
    for use, what in uncut_words(evaluation):
        if use in machine.does:
            yield Point("know", "uses", f"{what}, and not cut.")
        else:
            todo = "It is in files that can hold it. Choose a machine that does it, or another use."
            yield Point("know", "uses", f"{what}: {machine.name} does not {use}.", todo)
    if not machine.cuts and evaluation.pieces:
        what = f"{machine.name} draws: what is to be cut is drawn as well, and nothing comes off."
        yield Point("know", "uses", what)


def _places(evaluation: Evaluation, sheets: Sequence[LaidSheet]) -> Iterator[Point]:
    unit = evaluation.recipe.unit
    for n, sheet in enumerate(sheets, 1):
        regions = [one.covers for one in sheet.motifs]
        usable = sheet.sheet.usable
        inside = shapely.box(usable.x, usable.y, usable.right, usable.bottom).buffer(1e-3)
        out = sum(not inside.covers(region) for region in regions)
        if out:
            what = f"{_parts(out)} outside what can be cut of sheet {n}."
            yield Point("blocks", "outside", what, "Move it inside, take a larger sheet, or arrange anew.")
        one, other = shapely.STRtree(regions).query(
            regions, predicate="dwithin", distance=sheet.sheet.spacing_mm - 0.01
        )
        pairs = [(a, b) for a, b in zip(one.tolist(), other.tolist(), strict=True) if a < b]
        gaps = [shapely.distance(regions[a], regions[b]) for a, b in pairs]
        touching = sum(gap < _TOUCH_MM for gap in gaps)
        if touching:
            what = f"On sheet {n} parts lie over each other."
            yield Point("blocks", "overlap", what, "Move them apart, or arrange anew.")
        elif gaps:
            what = f"On sheet {n} parts lie only {show_length(min(gaps), unit)} apart."
            yield Point("know", "near", what, f"You asked for {show_length(sheet.sheet.spacing_mm, unit)}.")


def _parts(count: int) -> str:
    return counted(count, "part lies", "parts lie")


def _machine(evaluation: Evaluation, sheets: Sequence[LaidSheet], machine: Machine) -> Iterator[Point]:
    unit = evaluation.recipe.unit
    wide = max((sheet.sheet.width_mm for sheet in sheets), default=0.0)
    long = max((sheet.sheet.height_mm for sheet in sheets), default=0.0)
    if wide > machine.width_mm + 1e-6:
        what = f"{machine.name} cuts {show_length(machine.width_mm, unit)} wide, and a sheet is "
        yield Point("blocks", "area", f"{what}{show_length(wide, unit)}.", "Take a narrower sheet.")
    if long > machine.length_mm + 1e-6:
        what = f"{machine.name} cuts {show_length(machine.length_mm, unit)} long, and a sheet is "
        yield Point("blocks", "area", f"{what}{show_length(long, unit)}.", "Take a shorter sheet.")
    boxes = [measure.contour_boxes(one.motif.whole.outline) for sheet in sheets for one in sheet.motifs[:1]]
    if machine.offset_mm and any(map(len, boxes)):
        corners = np.concatenate(boxes)
        smallest = float((corners[:, 2:] - corners[:, :2]).min())
        if smallest / 2 < machine.offset_mm:
            what = (
                f"The blade trails by {show_length(machine.offset_mm, unit)}, and the smallest detail is "
                f"{show_length(smallest, unit)}."
            )
            yield Point("know", "blade", what, "It may tear: take a finer blade, or make the design larger.")
