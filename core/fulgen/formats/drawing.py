"""SVG drawings read: what their shapes cover, as outlines, with their colours and lines where these are
wanted.

The file is hostile until it is read: it is XML without entities, walked element by element within bounds,
and nothing outside it is looked at. Read are shapes and paths with their fill rules, groups, transforms,
linked copies, symbols and nested drawings with their view boxes, switches, percentages, and CSS of simple
selectors (SVG 2, W3C 2018; XML by Python's expat, CSS by tinycss2, path data by fontTools). Text, pictures
and effects are passed over, and strokes unless they are asked for. What would make the outline another one
and is not read (masks, transforms in CSS) is refused in words.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from xml.etree import ElementTree
from xml.etree.ElementTree import Element

import numpy as np
import shapely
from fontTools.misc.transform import Transform

from fulgen.formats.svg_styles import SVG_NAMESPACE, Styles, kind_of_element, not_read
from fulgen.formats.svg_values import (
    LENGTH,
    NUMBERS,
    PX_PER_UNIT,
    TRANSFORM_STEP,
    TRANSFORMS,
    URL,
    fit_view_box,
    paint_colour,
    transform_step,
    view_box,
)
from fulgen.geometry.operations import intersect, subtract
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean, weld
from fulgen.lettering.stand_ins import FINENESS, MAX_PATH_LETTERS, MAX_SIDES, outline_from, path_drawn
from fulgen.problem import Problem

MAX_FILE_BYTES = 2**20


MAX_DEPTH = 60


@dataclass(frozen=True)
class Bounds:
    """How much is read: bytes of a file; elements that are walked, each linked copy anew; signs of path data
    and points in all, and in one shape; sides of one shape."""

    file_bytes: int = MAX_FILE_BYTES
    elements: int = 2_000
    data: int = 400_000
    path: int = MAX_PATH_LETTERS
    sides: int = MAX_SIDES


FOR_A_LETTER = Bounds()


_HREF = ("href", "{http://www.w3.org/1999/xlink}href")


def read_drawing(data: bytes, name: str) -> Shape:
    """What the shapes of an SVG file cover, as one shape in its user units: filled by their own fill rules,
    whatever their colours. Raises Problem "bad-shape".
    """
    root = parsed(data, name)
    shape = weld([part for part in map(covered, Walk(root, name).shapes()) if part])
    if not shape:
        raise not_read(f"{name} holds no closed outline.")
    return shape


def read_coloured(data: bytes, name: str) -> tuple[Shape, dict[str, Shape]]:
    """What the shapes of an SVG file cover, and what of it each colour does: where colours lie over each
    other, the one drawn last. Raises Problem "bad-shape"."""
    shapes = [(drawn.fill, covered(drawn)) for drawn in Walk(parsed(data, name), name).shapes()]
    shapes = [(fill, shape) for fill, shape in shapes if shape]
    whole = weld([shape for _, shape in shapes])
    if not whole:
        raise not_read(f"{name} holds no closed outline.")
    by_colour: dict[str, list[Shape]] = {}
    for number, (fill, shape) in enumerate(shapes):
        seen = subtract(shape, [over for other, over in shapes[number + 1 :] if other != fill])
        if seen and fill is not None:
            by_colour.setdefault(fill, []).append(seen)
    return whole, {colour: weld(parts) for colour, parts in by_colour.items()}


def parsed(data: bytes, name: str, bounds: Bounds = FOR_A_LETTER) -> Element:
    """An SVG file as a tree of elements. Raises Problem "bad-shape"."""
    if len(data) > bounds.file_bytes:
        raise not_read(f"{name} is larger than {bounds.file_bytes // 2**20} MB.")
    # Entities can name other files or grow without end, and no drawing needs them (XML 1.0, section 4.2). An
    # encoding in which these signs look otherwise is none that drawings have.
    if b"<!ENTITY" in data or b"\x00" in data or b"UTF-7" in data[:200].upper():
        raise not_read(f"{name} holds declarations that Fulgen does not read.")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, LookupError, ValueError):
        raise not_read(f"{name} cannot be read as SVG.") from None
    if root.tag not in ("svg", f"{{{SVG_NAMESPACE}}}svg"):
        raise not_read(f"{name} is not an SVG drawing.")
    return root


@dataclass(frozen=True, eq=False)
class DrawnShape:
    """A shape as it is drawn: its contours in the user units of the drawing, which of them were drawn to
    close, and its fill rule; the colours it is filled and stroked with, if it is, how wide its stroke is,
    and the group it is in."""

    outline: Outline
    closed: frozenset[int]
    even_odd: bool
    fill: str | None
    stroke: str | None
    stroke_width: float
    group: str
    clips: tuple[Shape, ...] = ()


def covered(drawn: DrawnShape) -> Shape:
    """What a shape covers by its fill rule (SVG 2, section 13.4.2), as far as its clip paths let it be
    seen."""
    reach = float(np.ptp(drawn.outline.points, axis=0).max()) if drawn.outline else 0.0
    if reach == 0.0:
        return Shape.empty()
    shape = clean(drawn.outline, reach * FINENESS / 4, even_odd=drawn.even_odd)
    return clipped(shape, drawn.clips)


def clipped(shape: Shape, clips: Sequence[Shape]) -> Shape:
    """What some clip paths let be seen of a shape."""
    for clip in clips:
        if shape and not shapely.covers(clip.region, shape.region):
            shape = intersect([shape, clip])
    return shape


@dataclass(frozen=True)
class _Around:
    """What an element takes over from those around it: where it lies, whether it is seen, the fill rule, the
    size of the view that percentages are of, its paint, and the group it is in."""

    on: Transform
    visible: bool
    even_odd: bool
    view: tuple[float, float] | None
    color: str = "#000000"
    fill: str | None = "#000000"
    stroke: str | None = None
    stroke_width: float = 1.0
    group: str = ""
    clips: tuple[Shape, ...] = ()


class Walk:
    """A drawing walked through, in the order it is drawn."""

    def __init__(
        self, root: Element, name: str, bounds: Bounds = FOR_A_LETTER, *, with_lines: bool = False
    ) -> None:
        self._root, self._name, self._bounds = root, name, bounds
        self._paths = _PATHS | {"line"} if with_lines else _PATHS
        self._by_id = {element.get("id"): element for element in root.iter()}
        self._styles = Styles(root, name)
        self._elements = self._data = 0

    def shapes(self) -> Iterator[DrawnShape]:
        box = view_box(self._root)
        size = self._size(self._root, None)
        view = (box[2], box[3]) if box else size
        around = self._painted(_Around(Transform(), True, False, view), self._styles.of(self._root))
        yield from self._children(self._root, around, 0)

    def _children(self, element: Element, around: _Around, depth: int) -> Iterator[DrawnShape]:
        for child in element:
            yield from self._shapes(child, around, depth + 1)

    def _shapes(self, element: Element, around: _Around, depth: int) -> Iterator[DrawnShape]:
        self._elements += 1
        most = self._bounds.elements
        if self._elements > most or depth > MAX_DEPTH:
            raise not_read(f"{self._name} holds more than {most:,} elements, or copies without end.")
        kind = kind_of_element(element)
        if kind not in _CONTAINERS and kind not in self._paths:
            return
        style = self._styles.of(element)
        if style.get("display") == "none":
            return
        if style.get("mask", "none") != "none":
            raise self._unread("masks")
        visibility = style.get("visibility")
        rule = style.get("fill-rule")
        around = replace(
            self._painted(around, style),
            on=around.on.transform(self._transform(element)),
            visible=around.visible if visibility in (None, "inherit") else visibility == "visible",
            even_odd=around.even_odd if rule in (None, "inherit") else rule == "evenodd",
            group=(element.get("id") or around.group) if kind == "g" else around.group,
        )
        clip = style.get("clip-path", "none")
        if clip != "none":
            around = replace(around, clips=(*around.clips, self._clip(clip, around, depth)))
        if kind in self._paths:
            if around.visible:
                yield from self._drawn(kind, element, around)
        elif kind in ("g", "a"):
            yield from self._children(element, around, depth)
        elif kind == "svg":
            yield from self._nested(element, element, around, depth)
        elif kind == "switch":
            chosen = next((child for child in element if _is_taken(child)), None)
            if chosen is not None:
                yield from self._shapes(chosen, around, depth + 1)
        else:
            yield from self._copy(element, around, depth)

    def _clip(self, link: str, around: _Around, depth: int) -> Shape:
        """What a clip path lets be seen, in the user units of the drawing (CSS Masking 1, section 5)."""
        found = URL.fullmatch(link)
        element = self._by_id.get(found[1]) if found else None
        if element is None or kind_of_element(element) != "clipPath":
            raise self._unread("clip paths of other kinds than its own")
        if element.get("clipPathUnits", "userSpaceOnUse") != "userSpaceOnUse":
            raise self._unread("clip paths in shares of a box")
        inner = replace(
            around, on=around.on.transform(self._transform(element)), visible=True, even_odd=False, clips=()
        )
        shapes = []
        for child in element:
            rule = self._styles.of(child).get("clip-rule")
            own = replace(inner, even_odd=rule == "evenodd")
            shapes += [covered(drawn) for drawn in self._shapes(child, own, depth + 1)]
        return weld([shape for shape in shapes if shape])

    def _painted(self, around: _Around, style: Mapping[str, str]) -> _Around:
        """What is taken over, with the paint of an element (SVG 2, section 13)."""
        color = paint_colour(style.get("color"), around.color, around.color) or around.color
        width = style.get("stroke-width")
        return replace(
            around,
            color=color,
            fill=paint_colour(style.get("fill"), around.fill, color),
            stroke=paint_colour(style.get("stroke"), around.stroke, color),
            stroke_width=around.stroke_width
            if width in (None, "inherit")
            else self._length(width, 2, around),
        )

    def _copy(self, use: Element, around: _Around, depth: int) -> Iterator[DrawnShape]:
        """A linked copy (SVG 2, section 5.6): what is linked, moved to x, y."""
        link = next((use.get(name) for name in _HREF if use.get(name)), "") or ""
        target = self._by_id.get(link[1:]) if link.startswith("#") else None
        if target is None:
            raise not_read(f"{self._name} links to something that is not in it.")
        x, y = (self._length(use.get(axis), along, around) for along, axis in enumerate("xy"))
        moved = replace(around, on=around.on.translate(x, y))
        if kind_of_element(target) in ("symbol", "svg"):
            yield from self._nested(target, use, moved, depth + 1)
        else:
            yield from self._shapes(target, moved, depth + 1)

    def _nested(self, element: Element, sized: Element, around: _Around, depth: int) -> Iterator[DrawnShape]:
        """A view within the drawing (SVG 2, section 8.2): its view box is fitted to its place. ``sized`` says
        how large it is: itself, or the copy that shows it."""
        if sized is element:
            x, y = (self._length(element.get(axis), along, around) for along, axis in enumerate("xy"))
            around = replace(around, on=around.on.translate(x, y))
        size = self._size(sized, around.view) or self._size(element, around.view) or around.view
        box = view_box(element)
        if box is not None:
            if size is None:
                raise self._unread("views of no stated size")
            fitted = fit_view_box(box, size, element.get("preserveAspectRatio", ""))
            around = replace(around, on=around.on.transform(fitted), view=box[2:])
        else:
            around = replace(around, view=size)
        yield from self._children(element, around, depth)

    def _drawn(self, kind: str, element: Element, around: _Around) -> Iterator[DrawnShape]:
        self._data += len(element.get("d", "")) + len(element.get("points", ""))
        if self._data > self._bounds.data:
            raise not_read(f"The shapes of {self._name} have too many points.")
        pen = path_drawn(self._path(kind, element, around), self._bounds.sides, self._bounds.path)
        outline = outline_from(pen)
        if not outline:
            return
        x, y = outline.points.T
        a, b, c, d, dx, dy = around.on
        points = np.stack([a * x + c * y + dx, b * x + d * y + dy], axis=1)
        if not np.isfinite(points).all() or np.abs(points).max() > _FURTHEST:
            raise not_read(f"{self._name} is drawn far outside any sensible size.")
        fill = None if kind == "line" else around.fill
        wide = around.stroke_width * math.sqrt(abs(a * d - b * c))
        outline = Outline(outline.verbs, points)
        yield DrawnShape(
            outline, pen.closed, around.even_odd, fill, around.stroke, wide, around.group, around.clips
        )

    def _path(self, kind: str, element: Element, around: _Around) -> str:
        """A shape as path data: the equivalent paths of SVG 2, chapter 10."""
        if kind == "path":
            return element.get("d", "")
        if kind in ("polygon", "polyline"):
            points = element.get("points", "")
            return f"M{points}{'Z' if kind == 'polygon' else ''}" if points.strip() else ""

        def length(name: str, along: int, other: float = 0.0) -> float:
            value = element.get(name)
            return other if value in (None, "auto") else self._length(value, along, around)

        if kind == "line":
            x1, y1, x2, y2 = (length(name, n % 2) for n, name in enumerate(("x1", "y1", "x2", "y2")))
            return f"M{x1} {y1}L{x2} {y2}"
        if kind == "rect":
            x, y, w, h = (length(name, n % 2) for n, name in enumerate(("x", "y", "width", "height")))
            rx = length("rx", 0, length("ry", 1))
            ry = length("ry", 1, length("rx", 0))
            if w <= 0 or h <= 0:
                return ""
            rx, ry = min(max(rx, 0.0), w / 2), min(max(ry, 0.0), h / 2)
            if rx == 0 or ry == 0:
                return f"M{x} {y}H{x + w}V{y + h}H{x}Z"
            arc = f"A{rx} {ry} 0 0 1 "
            return (
                f"M{x + rx} {y}H{x + w - rx}{arc}{x + w} {y + ry}V{y + h - ry}{arc}{x + w - rx} {y + h}"
                f"H{x + rx}{arc}{x} {y + h - ry}V{y + ry}{arc}{x + rx} {y}Z"
            )
        cx, cy = length("cx", 0), length("cy", 1)
        rx = length("r", 2) if kind == "circle" else length("rx", 0, length("ry", 1))
        ry = rx if kind == "circle" else length("ry", 1, length("rx", 0))
        if rx <= 0 or ry <= 0:
            return ""
        return f"M{cx + rx} {cy}A{rx} {ry} 0 1 1 {cx - rx} {cy}A{rx} {ry} 0 1 1 {cx + rx} {cy}Z"

    def _size(self, element: Element, view: tuple[float, float] | None) -> tuple[float, float] | None:
        """How large a view is said to be, if it is."""
        around = _Around(Transform(), True, False, view)
        values = [element.get(name) for name in ("width", "height")]
        if any(value is None or value == "auto" or ("%" in value and view is None) for value in values):
            return None
        width, height = (self._length(value, n, around) for n, value in enumerate(values))
        return (width, height) if width > 0 and height > 0 else None

    def _length(self, text: str | None, along: int, around: _Around) -> float:
        """A length in user units; ``along`` says of what a percentage is: width, height, or the diagonal as
        it is normalized (SVG 2, section 8.9)."""
        if text is None:
            return 0.0
        found = LENGTH.fullmatch(text) if len(text) < 60 else None
        if found is None:
            raise self._unread(f"lengths such as “{text[:20]}”")
        value, unit = float(found[1]), found[2]
        if abs(value) > _FURTHEST:
            raise self._unread(f"lengths such as “{text[:20]}”")
        if unit != "%":
            return value * PX_PER_UNIT[unit]
        if around.view is None:
            raise self._unread("percentages without a size that they are of")
        width, height = around.view
        return value / 100 * (width, height, math.hypot(width, height) / math.sqrt(2))[along]

    def _transform(self, element: Element) -> Transform:
        """The transform attribute (CSS Transforms 1, section 8): each step within those before it."""
        text = element.get("transform", "")
        if len(text) > 2_000 or not TRANSFORMS.fullmatch(text):
            raise self._unread(f"transforms such as “{text[:20]}”")
        made = Transform()
        for name, inside in TRANSFORM_STEP.findall(text):
            numbers = [float(number) for number in NUMBERS.findall(inside)]
            step = transform_step(name, numbers) if all(abs(n) < _FURTHEST for n in numbers) else None
            if step is None:
                raise self._unread(f"transforms such as “{name}({inside[:20]})”")
            made = made.transform(step)
        return made

    def _unread(self, what: str) -> Problem:
        return not_read(f"{self._name} holds {what}, which Fulgen does not read.")


_FURTHEST = 1e6


_CONTAINERS = frozenset(("svg", "g", "a", "switch", "use"))


_PATHS = frozenset(("path", "rect", "circle", "ellipse", "polygon", "polyline"))
"""Elements that cover an area; a line covers none. What is in neither set draws nothing by itself, or no
outline."""


def _is_taken(branch: Element) -> bool:
    """Whether a branch of a switch is for us (SVG 2, section 5.9): English, and nothing beyond the
    standard."""
    languages = branch.get("systemLanguage")
    spoken = languages is None or any(word.strip().lower().startswith("en") for word in languages.split(","))
    return (
        spoken
        and not branch.get("requiredExtensions")
        and kind_of_element(branch) not in ("", "foreignObject")
    )
