"""Strokes: what the carriage of a machine does with the knife down, each with its pen."""

from fulgen.geometry.outline import Floats

WEEDING_PEN = 2
"""The pen of cuts that only help weeding, or turn the knife; all others are cut with the first."""

Stroke = tuple[int, Floats]
"""A pen, and a path of the carriage with it down (N, 2)."""
