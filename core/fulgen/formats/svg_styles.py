"""Styles of an SVG file: the rules of its style sheets (CSS), and what its elements say themselves."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from xml.etree.ElementTree import Element

import tinycss2
import tinycss2.color3

from fulgen.problem import Problem

MAX_CSS = 60_000


MAX_RULES = 1_000


SVG_NAMESPACE = "http://www.w3.org/2000/svg"


def kind_of_element(element: Element) -> str:
    """The name of an element of SVG; of another namespace, none."""
    tag = str(element.tag)
    space, _, name = tag[1:].rpartition("}") if tag.startswith("{") else ("", "", tag)
    return name if space in ("", SVG_NAMESPACE) else ""


_MATTERS = ("display", "visibility", "fill-rule", "clip-rule", "clip-path", "mask")
"""Properties that say what is seen."""


_READ = (*_MATTERS, "fill", "stroke", "stroke-width", "color")


_REFUSED = ("transform", "d", "translate", "rotate", "scale", "offset-path")
"""Properties that say where things are; in CSS they are refused."""


class Styles:
    """What the properties that matter are of an element: attributes, then rules of CSS by their weight, then
    its own style (SVG 2, section 6.6; CSS Cascade 4). Selectors are of names, classes and ids only."""

    def __init__(self, root: Element, name: str) -> None:
        self._name = name
        self._rules: list[tuple[tuple[int, int, int], _Selector, dict[str, str]]] = []
        css = "".join(element.text or "" for element in root.iter() if kind_of_element(element) == "style")
        if len(css) > MAX_CSS:
            raise not_read(f"{name} holds more styles than Fulgen reads.")
        for rule in tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True):
            self._take(rule)
        self._rules.sort(key=lambda row: row[0])

    def _take(self, rule: tinycss2.ast.Node) -> None:
        if rule.type == "at-rule" and rule.content is not None and rule.lower_at_keyword != "font-face":
            words = tinycss2.serialize(rule.content)
            if any(name in words for name in (*_MATTERS, *_REFUSED[:1])):
                raise self._unread()
        if rule.type != "qualified-rule":
            return
        declared = self._declared(rule.content)
        if not declared:
            return
        for text in tinycss2.serialize(rule.prelude).split(","):
            selector = _Selector.of(text.strip())
            if selector is None or len(self._rules) > MAX_RULES:
                raise self._unread()
            self._rules.append((selector.weight, selector, declared))

    def of(self, element: Element) -> Mapping[str, str]:
        found = {name: element.get(name, "").strip() for name in _READ if element.get(name)}
        for _, selector, declared in self._rules:
            if selector.matches(element):
                found.update(declared)
        own = element.get("style")
        if own:
            found.update(self._declared(tinycss2.parse_component_value_list(own[:MAX_CSS])))
        return found

    def _declared(self, content: list[tinycss2.ast.Node]) -> dict[str, str]:
        rows = tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True)
        found = {
            row.lower_name: tinycss2.serialize(row.value).strip() for row in rows if row.type == "declaration"
        }
        if any(found.get(name, "none") not in ("none", "0") for name in _REFUSED):
            raise self._unread()
        return {name: value for name, value in found.items() if name in _READ}

    def _unread(self) -> Problem:
        return not_read(f"{self._name} holds styles that say where things are in ways Fulgen does not read.")


@dataclass(frozen=True)
class _Selector:
    """A selector of a name, classes and an id (Selectors 3, section 4)."""

    kind: str
    classes: frozenset[str]
    ids: frozenset[str]

    @classmethod
    def of(cls, text: str) -> _Selector | None:
        found = _SIMPLE.fullmatch(text)
        if found is None or not text:
            return None
        marks = _MARK.findall(found[2])
        return cls(
            found[1] if found[1] not in (None, "*") else "",
            frozenset(name for mark, name in marks if mark == "."),
            frozenset(name for mark, name in marks if mark == "#"),
        )

    @property
    def weight(self) -> tuple[int, int, int]:
        return len(self.ids), len(self.classes), int(bool(self.kind))

    def matches(self, element: Element) -> bool:
        return (
            (not self.kind or self.kind == kind_of_element(element))
            and self.classes <= set(element.get("class", "").split())
            and self.ids <= {element.get("id", "")}
        )


_SIMPLE = re.compile(r"(\*|[A-Za-z][\w-]*)?((?:[.#][\w-]+)*)")


_MARK = re.compile(r"([.#])([\w-]+)")


def not_read(what: str) -> Problem:
    return Problem(
        "bad-shape",
        what,
        "Choose an SVG file with closed outlines; turn text and effects into outlines first.",
    )
