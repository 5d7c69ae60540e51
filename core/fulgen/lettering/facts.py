"""What the files of a family say of themselves: kept beside those that ship, so that a list of faces opens no
file."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any

from fulgen.lettering.faces import Axis, Face, Feature
from fulgen.lettering.writing_systems import WritingSystem, as_ranges, systems_of


@dataclass(frozen=True)
class Facts:
    """The axes of a family, what can be switched, the code points it has, as ranges, and whether its small
    letters are written, as a hand does."""

    axes: tuple[Axis, ...]
    features: tuple[Feature, ...]
    ranges: tuple[tuple[int, int], ...]
    written: bool

    @classmethod
    def of(cls, face: Face) -> Facts:
        """Those of a face. Raises Problem "bad-face"."""
        return cls(face.files[0].axes(), face.features(), tuple(as_ranges(face.letters)), face.is_written)

    def as_dict(self) -> dict[str, Any]:
        """As JSON."""
        return {
            "axes": [asdict(axis) for axis in self.axes],
            "features": [asdict(feature) for feature in self.features],
            "letters": [list(ends) for ends in self.ranges],
            "written": self.written,
        }

    @classmethod
    def from_dict(cls, row: dict[str, Any]) -> Facts:
        return cls(
            tuple(Axis(**axis) for axis in row["axes"]),
            tuple(Feature(**feature) for feature in row["features"]),
            tuple((first, last) for first, last in row["letters"]),
            row["written"],
        )

    @cached_property
    def letters(self) -> frozenset[int]:
        """Code points."""
        return frozenset(point for first, last in self.ranges for point in range(first, last + 1))

    @cached_property
    def systems(self) -> tuple[WritingSystem, ...]:
        """The writing systems that it writes."""
        return systems_of(self.letters)
