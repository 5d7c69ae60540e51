"""Seams on the work: where letters of a part meet, in millimetres and in words."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

from fulgen.geometry.outline import Point
from fulgen.geometry.placement import Placement
from fulgen.joining.line_of_letters import LineSeam
from fulgen.joining.materials import Limits
from fulgen.joining.seam import AS_GIVEN, WIDEST_NECK, State
from fulgen.parts.built_lettering import BuiltLettering, Hold
from fulgen.units import Unit, show_length

_SAME = 1e-3
"""Necks this much narrower than asked, in shares of the size, are as asked."""

_MET_MM = 0.05
"""Strokes that are no further apart meet already."""

_MOVED_MM = 0.005
"""Less than this is no move worth telling: a tenth of what a cutter steps."""


class HoldingMeasure(Protocol):
    """What holds two neighbours together: a seam, or a contact of parts."""

    @property
    def as_lettering(self) -> bool: ...

    @property
    def given(self) -> float: ...


def is_as_lettering(of: HoldingMeasure, neck: float) -> bool:
    """Whether a neck of a joint is all that what it joins gives."""
    return of.as_lettering and neck >= AS_GIVEN * of.given


def limit_of(as_lettering: bool, limits: Limits) -> float:
    """How wide a joint has to be. Where the letters give no more, it is a stroke as they are."""
    return min(limits.neck_mm, limits.stroke_mm) if as_lettering else limits.neck_mm


@dataclass(frozen=True, eq=False)
class PlacedSeam:
    """A seam of lettering that lies on the work: its figures in mm."""

    built: BuiltLettering
    seam: LineSeam
    place: Placement

    @property
    def _size(self) -> float:
        return self.built.size * self.place.scale

    @property
    def left_text(self) -> str:
        return self.built.texts[self.seam.left]

    @property
    def right_text(self) -> str:
        return self.built.texts[self.seam.right]

    @property
    def target(self) -> float:
        """The neck asked for."""
        return self.built.lettering.join.neck_mm * self.place.scale

    @property
    def smoothing(self) -> float:
        """The radius by which its notches are rounded."""
        return self.built.smoothing_at(self.built.lettering.ids[self.seam.left]) * self.place.scale

    @property
    def gap(self) -> float:
        return 0.0 if self._hand else self.seam.measured.gap * self._size

    @property
    def neck(self) -> float:
        by_hand = self._hand.neck * self.place.scale if self._hand else 0.0
        return max(self.seam.measured.neck * self._size, by_hand)

    @cached_property
    def _hand(self) -> Hold | None:
        """The bar, laid by hand or as a tie, by which the two letters hang together better than here."""
        holds = self.built.holds(self.seam.left, self.seam.right)
        held = max(holds, key=lambda hold: hold.neck, default=None)
        return held if held and held.neck > self.seam.measured.neck * self.built.size else None

    @property
    def widest_measured(self) -> float:
        """A neck as wide as this is at least as wide as this."""
        return WIDEST_NECK * self._size

    @property
    def shift(self) -> float:
        """How far joining slid the right letter; negative is to the left."""
        return self.seam.joint.shift * self._size

    @property
    def letter_gaps(self) -> tuple[float, float]:
        """The white between the two letters, as they are and as the face sets them."""
        now, as_set = self.seam.letter_gaps()
        return now * self._size, as_set * self._size

    @property
    def given(self) -> float:
        """The neck that the letters themselves give, up to the one asked for."""
        return self.seam.measured.gives(self.target / self._size) * self._size

    @property
    def flow_ends(self) -> tuple[Point, Point] | None:
        """Where the flow leaves the left letter and arrives in the right one; None where there is none."""
        added = self.seam.joint.bar
        if added is None or added.kind != "flow" or added.ends is None:
            return None
        on = self.built.seam_place(self.seam).within(self.place)
        return on.point(*added.ends[0]), on.point(*added.ends[1])

    def pinholes(self, hole_mm: float) -> int:
        """How many of the holes closed in here are too small to weed."""
        return len(self.seam.measured.pinholes(hole_mm / self._size))

    @cached_property
    def state(self) -> State:
        if self._hand:
            enough = self._hand.neck * self.place.scale >= self.target - _SAME * self._size
            return State.JOINED if enough else State.THIN
        return self.seam.measured.state(self.target / self._size)

    @property
    def as_lettering(self) -> bool:
        """Whether the neck is under the one asked for, but all that the letters themselves give."""
        narrower = self.neck < self.target - _SAME * self._size
        return self.state is State.JOINED and narrower and self.given < 0.99 * self.target

    @cached_property
    def ends(self) -> tuple[Point, Point]:
        """The ends of the gap, or of the chord across the neck; of the bar that holds the letters by hand."""
        if self._hand:
            one, other = self._hand.ends
            return self.place.point(*one), self.place.point(*other)
        on = self.built.seam_place(self.seam).within(self.place)
        one, other = self.seam.measured.ends
        return on.point(*one), on.point(*other)

    def remedy(self, unit: Unit) -> str:
        """What was done here, in one line; empty where nothing was."""
        joint = self.seam.joint

        def length(share: float) -> str:
            return show_length(abs(share) * self._size, unit)

        said = [self._hand.what] if self._hand else []
        bar = joint.bar
        if bar is not None and bar.kind == "flow" and bar.length * self._size < _MET_MM:
            said.append(f"strokes of {self.left_text} and {self.right_text} made one")
        elif bar is not None:
            letter = self.left_text if bar.of_left else self.right_text
            said.append(
                {
                    "flow": f"stroke of {letter} carried on by {length(bar.length)}",
                    "reach": f"stroke of {letter} reached {length(bar.length)}",
                    "bridge": f"bridge of {length(bar.length)}",
                    "gusset": "joint filled",
                    "stroke": f"thin end of {letter} made heavier",
                }[bar.kind]
            )
        if abs(joint.shift) * self._size >= _MOVED_MM:
            said.append(f"moved {length(joint.shift)} {'left' if joint.shift < 0 else 'right'}")
        if self.seam.trimmed:
            said.append("stub trimmed" if len(self.seam.trimmed) == 1 else "stubs trimmed")
        if self.seam.filled:
            said.append("pinhole filled" if self.seam.filled == 1 else "pinholes filled")
        return ", ".join(said)
