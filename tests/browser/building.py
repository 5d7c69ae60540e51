"""The Build stage as a maker handles it, for tests: parts on the list and on the work; what files hold."""

import svgelements

from tests.browser.bench import Bench, box_at_rest
from tests.figures import PX_PER_MM

BOX = """
part => {
  const corners = [...part.querySelectorAll('path')].flatMap(path => {
    const { x, y, width, height } = path.getBBox()
    return [[x, y], [x + width, y], [x, y + height], [x + width, y + height]].map(
      ([px, py]) => new DOMPoint(px, py).matrixTransform(path.getScreenCTM()))
  })
  const [xs, ys] = [corners.map(c => c.x), corners.map(c => c.y)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}
"""
"""The box around the outlines of a part: that of the browser has their strokes in it."""


SETTLED = """
async () => {
  const figures = () => document.querySelector('[role=list][aria-label=Parts]').innerText
  const before = figures()
  for (let n = 0; n < 12; n++) await new Promise(requestAnimationFrame)
  return figures() === before
}
"""


class Building(Bench):
    """The Build stage: parts by their names, on the list and on the work."""

    def card(self, name):
        return self.page.get_by_role("list", name="Parts").get_by_role("button", name=name, exact=True)

    def choose_parts(self, *names):
        for n, name in enumerate(names):
            self.card(name).click(modifiers=["Shift"] if n else [])

    def together(self, how):
        """An operation, once its picture is there."""
        group = self.page.get_by_role("group", name="Put together")
        return group.get_by_role("button", name=how)

    def field(self, name):
        return self.page.get_by_role("textbox", name=name, exact=True)

    def type_into(self, name, text):
        self.field(name).fill(text)
        self.field(name).press("Enter")

    def box(self, part):
        """The box around a part on the screen."""
        return box_at_rest(self.page.locator(f"[data-hit={part}]"), measure=BOX)

    def drag(self, x, y, dx, dy, keys=()):
        mouse = self.page.mouse
        mouse.move(x, y)
        mouse.down()
        for key in keys:
            self.page.keyboard.down(key)
        mouse.move(x + dx / 2, y + dy / 2, steps=3)
        mouse.move(x + dx, y + dy, steps=3)
        mouse.up()
        for key in keys:
            self.page.keyboard.up(key)

    def settled(self):
        """Waits until the cards say what the work is now."""
        self.saved()
        self.page.wait_for_function(SETTLED)

    def grip(self, name):
        return self.page.locator(f"[data-grip='{name}']")


def word(text, part_id="lettering-1", width=60.0, x=0.0, y=0.0, face="anton", **more):
    size = {"measure": "width", "mm": width}
    place = {"x": x, "y": y}
    return {"kind": "lettering", "id": part_id, "text": text, "face": {"family": face}, "size": size,
            "place": place, **more}  # fmt: skip


def form(name, part_id, width, height=None, x=0.0, y=0.0, **more):
    return {"kind": "shape", "id": part_id, "form": name, "width_mm": width, "height_mm": height or width,
            "place": {"x": x, "y": y}, **more}  # fmt: skip


def films(path):
    """What a file holds: area by fill, in mm², by svgelements."""
    found = {}
    for element in svgelements.SVG.parse(str(path), ppi=96).elements():
        if isinstance(element, svgelements.Path):
            total = 0.0
            for sub in element.as_subpaths():
                at = [
                    s.point(n / 12) for s in svgelements.Path(sub) if s.start is not None for n in range(12)
                ]
                total += sum(a.x * b.y - b.x * a.y for a, b in zip(at, [*at[1:], at[0]], strict=True)) / 2
            found[element.fill.hex] = found.get(element.fill.hex, 0.0) + abs(total) / PX_PER_MM**2
    return found
