"""Where what is welded is thin, would tear, or has narrow gaps: asked of a shape once, by whoever asks."""

from __future__ import annotations

from dataclasses import dataclass

from fulgen.geometry import thin
from fulgen.geometry.shape import Shape
from fulgen.geometry.thin import Slot, Thinness, WeakPlace
from fulgen.joining.materials import Limits
from fulgen.steps import Step


@dataclass(frozen=True, eq=False)
class _LookedAt:
    """A shape, and the width of the disc that it is looked at with."""

    shape: Shape
    width: float


_thin: Step[_LookedAt, Thinness] = Step(
    lambda given: thin.thinness(given.shape.region, given.width), 24 * 2**20
)
_weak: Step[_LookedAt, tuple[WeakPlace, ...]] = Step(
    lambda given: thin.weak_places(thinness(given.shape, given.width)), 8 * 2**20
)
_slots: Step[_LookedAt, tuple[Slot, ...]] = Step(
    lambda given: tuple(thin.slots(given.shape.region, given.width)), 8 * 2**20
)


def thinness(shape: Shape, width: float) -> Thinness:
    """Where a shape is thinner than a width; kept."""
    return _thin(_LookedAt(shape, width))


def weak_places(shape: Shape, limits: Limits) -> tuple[tuple[WeakPlace, float], ...]:
    """The places at which a shape would tear, as a neck or as a stroke, and how wide each is to be; kept."""
    widths = [width for width in dict.fromkeys((limits.neck_mm, limits.stroke_mm)) if width > 0]
    return tuple((weak, width) for width in widths for weak in _weak(_LookedAt(shape, width)))


def narrow_gaps(shape: Shape, limits: Limits) -> tuple[Slot, ...]:
    """Gaps and slits narrower than the material allows; kept."""
    if limits.gap_mm <= 0:
        return ()
    return tuple(slot for slot in _slots(_LookedAt(shape, limits.gap_mm)) if slot.tears)
