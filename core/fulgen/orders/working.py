"""Rows worked out: what each comes to, and what gave way so that it could be made."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from fulgen.budget import within
from fulgen.formats.drawn_sheet import JobCaption, about_of
from fulgen.lettering.catalogue import NO_OWN, FaceSource, named_family, shipped_face
from fulgen.lettering.setting import Size
from fulgen.orders.by_hand import ByHand, with_changes
from fulgen.orders.plan import NOTHING, GiveWay
from fulgen.orders.rows import Row, in_family, recipe_of, words_without_place
from fulgen.parts.frame import Frame
from fulgen.parts.frame_builder import BuiltFrame
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.readiness.findings import blocking, findings
from fulgen.readiness.gate import loose_words
from fulgen.readiness.mend_summary import counted_mends, counts
from fulgen.recipe.changes import readied, retyped
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.report import unmet_words
from fulgen.sheet.motifs import Motif, motifs_of
from fulgen.units import show_length

log = logging.getLogger("fulgen")

State = Literal["as-designed", "gave-way", "cannot-be-made", "empty"]

ROW_SECONDS = 60.0
"""Processor time for one row, with all that is tried of it."""

_NARROWEST = 0.005
"""Letters that are narrower by less than this share are as the design has them."""


@dataclass(frozen=True, eq=False)
class WorkedRow:
    """What a row came to: its state, what gave way or why it cannot be made, in words, and its design as it
    is cut; how large it is in mm, its pieces, what is cut from each film, the size of its first letters in mm
    (of the face; 0 where a frame fits them), and the films that are cut from the back."""

    row: Row
    state: State
    reasons: tuple[str, ...] = ()
    recipe: Recipe | None = None
    width_mm: float = 0.0
    height_mm: float = 0.0
    pieces: int = 0
    motifs: tuple[Motif, ...] = ()
    caption: JobCaption | None = None
    letters_mm: float = 0.0
    mirrored: frozenset[str] = frozenset()


def worked_out(
    design: Recipe,
    row: Row,
    give_way: GiveWay = NOTHING,
    faces: FaceSource = shipped_face,
    by_hand: ByHand | None = None,
    own: Mapping[str, str] = NO_OWN,
) -> WorkedRow:
    """A row made: as the design is where that can be, else with what may give way; with what a hand has
    changed in it. ``own``: the names of the maker's own faces, by their slugs. What goes wrong with a row is
    its own failure, and never raised."""
    if row.is_empty:
        return WorkedRow(row, "empty", row.notes)
    try:
        with within(ROW_SECONDS):
            copies = row.copies
            recipe = recipe_of(design, row, own)
            gone = (
                f"The design has no place for “{words}” any more."
                for words in words_without_place(design, row)
            )
            row = replace(row, notes=(*row.notes, *gone))
            if by_hand is not None:
                recipe, lost = with_changes(by_hand, recipe)
                row = replace(row, notes=(*row.notes, *lost))
            others = tuple(named_family(name, own) for name in give_way.faces)
            return _best(_ready(recipe, give_way), row, copies, give_way, faces, others)
    except Problem as problem:
        return WorkedRow(row, "cannot-be-made", (_said(problem),))
    except Exception:
        # A fault of ours in one row takes none of the others along.
        log.exception("row %d", row.number)
        return WorkedRow(row, "cannot-be-made", ("Something went wrong inside Fulgen with this row.",))


def _ready(recipe: Recipe, give_way: GiveWay) -> Recipe:
    return readied(recipe) if give_way.ready else recipe


def _said(problem: Problem) -> str:
    return f"{problem.what} {problem.todo}".strip()


@dataclass(frozen=True, eq=False)
class _Try:
    """One way to make a row: the recipe, and what gave way in it."""

    recipe: Recipe
    gave: tuple[str, ...] = ()


_Families = Sequence[tuple[str, str]]
"""Slugs and names of families."""


def _best(
    recipe: Recipe, row: Row, copies: int, give_way: GiveWay, faces: FaceSource, others: _Families
) -> WorkedRow:
    """The first way to make a row that holds and fits. Raises Problem where there is none: why the design as
    it is cannot be."""
    first: Problem | None = None
    for one in _tries(recipe, give_way, faces, others):
        try:
            return _worked(one, row, copies, give_way, faces)
        except Problem as problem:
            if problem.kind == "too-much":
                raise
            first = first or problem
    assert first is not None
    raise first


def _worked(one: _Try, row: Row, copies: int, give_way: GiveWay, faces: FaceSource) -> WorkedRow:
    """A row made one way. Raises Problem where it would tear, is too large for its room, or cannot be
    made."""
    evaluation = evaluate(one.recipe, faces).whole()
    _validate_room(evaluation, give_way)
    for finding in blocking(findings(evaluation)):
        others = "choose another face or size."
        todo = others.capitalize() if one.recipe.ready else f"Let it be made ready, or {others}"
        raise Problem("not-ready", finding.what(evaluation.recipe.unit), todo)
    gave = (*one.gave, *_given(evaluation))
    # What comes off in pieces is said, and made: the design itself may be so.
    loose = (word.what for word in loose_words(evaluation))
    title, recipe = row.title, one.recipe
    return WorkedRow(
        row, "gave-way" if gave else "as-designed", (*row.notes, *gave, *loose), recipe,
        round(evaluation.box.width, 3), round(evaluation.box.height, 3), len(evaluation.pieces),
        tuple(motifs_of(title, evaluation, recipe.cut, copies)), about_of(title, evaluation),
        _letters_mm(evaluation), frozenset(f.colour for f in evaluation.films if recipe.mirrors(f.colour)),
    )  # fmt: skip


def _letters_mm(evaluation: Evaluation) -> float:
    """The size of the face in which the first words are set; 0 where a frame fits them."""
    framed = {name for part in evaluation.recipe.parts if isinstance(part, Frame) for name in part.members}
    free = (built for part, built in evaluation.letterings if part.id not in framed)
    return next((round(built.size, 4) for built in free), 0.0)


def _given(evaluation: Evaluation) -> Iterator[str]:
    """What the design's own rules did to a row: names made narrower or wider to fit, places mended, what was
    asked for and is not so, and touch-ups that found no place."""
    for part in evaluation.parts:
        if isinstance(part.built, BuiltFrame):
            for name in part.built.fitted:
                if abs(name.stretch - 1) > _NARROWEST:
                    much = f"{abs(name.stretch - 1) * 100:.0f} %"
                    yield f"Letters {'narrower' if name.stretch < 1 else 'wider'} by {much}."
    for kind, count in counts(evaluation).items():
        yield f"{counted_mends(kind, count)}."
    yield from unmet_words(evaluation)


def _validate_room(evaluation: Evaluation, give_way: GiveWay) -> None:
    if give_way.room is None:
        return
    wide, high = give_way.room.width_mm, give_way.room.height_mm
    box, unit = evaluation.box, evaluation.recipe.unit
    if box.width > wide + _ROOM_MM or box.height > high + _ROOM_MM:
        size = f"{show_length(box.width, unit)} × {show_length(box.height, unit)}"
        room = f"{show_length(wide, unit)} × {show_length(high, unit)}"
        raise Problem("too-large", f"It is {size}, and there is room for {room}.",
                      "Let it be narrower or smaller, or give it more room.")  # fmt: skip


_ROOM_MM = 0.02
"""What is larger than its room by less than this fits (as everywhere that what is asked is met)."""


def _tries(recipe: Recipe, give_way: GiveWay, faces: FaceSource, others: _Families) -> Iterator[_Try]:
    """The ways to make a row, the gentlest first: as the design is, narrower, smaller, narrower and smaller,
    in two lines, in another face."""
    if give_way.letters_mm is not None:
        size = Size("face", give_way.letters_mm)
        recipe = _words_changed(recipe, lambda part: part.model_copy(update={"size": size}))
    yield _Try(recipe)
    yield from _squeezed(_Try(recipe), give_way, faces)
    framed = _fits_narrower(recipe, give_way.narrower)
    if framed is not None:
        yield _Try(framed)
    if give_way.two_lines:
        split = _in_two_lines(recipe)
        if split is not None:
            yield _Try(split, ("In two lines.",))
            yield from _squeezed(_Try(split, ("In two lines.",)), give_way, faces)
    for slug, name in others:
        other = _Try(_in_family(recipe, slug), (f"In {name}.",))
        yield other
        yield from _squeezed(other, give_way, faces)


def _squeezed(one: _Try, give_way: GiveWay, faces: FaceSource) -> Iterator[_Try]:
    """The same narrower and smaller, by just as much as its room asks for."""
    if give_way.room is None or not (give_way.narrower or give_way.smaller):
        return
    wide, high = give_way.room.width_mm, give_way.room.height_mm
    try:
        box = evaluate(one.recipe, faces).whole().box
    except Problem:
        return
    by_width, by_height = min(1.0, wide / box.width), min(1.0, high / box.height)
    narrower = max(by_width, 1 - give_way.narrower)
    if give_way.narrower and by_height == 1.0 and narrower < 1:
        # What is joined does not shrink as its letters do: a little more, until it fits.
        for more in (1.0, 0.995, 0.985):
            share = narrower * more
            if share >= 1 - give_way.narrower - 1e-9:
                yield _Try(_narrowed(one.recipe, share), (*one.gave, _by("Letters narrower", share)))
    if give_way.smaller:
        least = 1 - give_way.smaller
        for share in (min(by_width, by_height), min(by_width, by_height) * 0.985):
            if share >= least - 1e-9:
                yield _Try(_smaller(one.recipe, share), (*one.gave, _by("Smaller", share)))
        if give_way.narrower and min(by_width, by_height) < least:
            share = max(least, by_height if by_height < 1 else least)
            narrow = by_width / share
            if narrow >= 1 - give_way.narrower - 1e-9:
                both = _narrowed(_smaller(one.recipe, share), narrow * 0.99)
                yield _Try(both, (*one.gave, _by("Smaller", share), _by("Letters narrower", narrow * 0.99)))


def _by(what: str, share: float) -> str:
    return f"{what} by {max(1.0, (1 - share) * 100):.0f} %."


def _narrowed(recipe: Recipe, share: float) -> Recipe:
    """All letters so many times as wide."""
    return _words_changed(
        recipe,
        lambda part: part.model_copy(
            update={"stretch": max(0.5, part.stretch * share), **_same_height(part, share)}
        ),
    )


def _same_height(part: Lettering, share: float) -> dict[str, object]:
    """What is measured by its width keeps its height: it is to be so much less wide."""
    return {"size": replace(part.size, mm=part.size.mm * share)} if part.size.measure == "width" else {}


def _smaller(recipe: Recipe, share: float) -> Recipe:
    """All letters so many times as large."""
    return _words_changed(
        recipe,
        lambda part: part.model_copy(update={"size": replace(part.size, mm=max(1.0, part.size.mm * share))}),
    )


def _in_family(recipe: Recipe, family: str) -> Recipe:
    return _words_changed(recipe, lambda part: in_family(part, family))


def _in_two_lines(recipe: Recipe) -> Recipe | None:
    """The words of one line parted at the space nearest to their middle; None where there is none."""
    split = _words_changed(recipe, lambda part: retyped(part, _halved(part.text)))
    return None if split == recipe else split


def _halved(text: str) -> str:
    spaces = [at for at, sign in enumerate(text) if sign == " "]
    if not spaces or "\n" in text:
        return text
    at = min(spaces, key=lambda place: abs(place - len(text) / 2))
    return f"{text[:at]}\n{text[at + 1 :]}"


def _words_changed(recipe: Recipe, change: Callable[[Lettering], Lettering]) -> Recipe:
    parts = tuple(change(part) if isinstance(part, Lettering) else part for part in recipe.parts)
    return recipe.model_copy(update={"parts": parts})


def _fits_narrower(recipe: Recipe, narrower: float) -> Recipe | None:
    """Frames that may make their names narrower by that share; None where none may less."""
    most = min(1.6, 1 / (1 - narrower))
    parts = tuple(
        part.model_copy(update={"fit": replace(part.fit, stretch=max(part.fit.stretch, most))})
        if isinstance(part, Frame)
        else part
        for part in recipe.parts
    )
    return None if parts == recipe.parts else recipe.model_copy(update={"parts": parts})
