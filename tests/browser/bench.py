"""The workbench as a maker handles it, for tests: words for what is on the screen."""

import re

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

OUTLINE = "[...document.querySelectorAll('[data-piece]')].map(path => path.getAttribute('d')).join('')"


STILL = """() => Promise.all(document.getAnimations()
  .filter((one) => one.effect.getComputedTiming().endTime !== Infinity)
  .map((one) => one.finished.catch(() => {})))"""


ASKED = """
(() => {
  const ask = window.fetch
  window.outlinesAsked = 0
  window.fetch = async (...question) => {
    const outline = (question[0].url ?? String(question[0])).endsWith('/api/evaluate')
    if (outline) window.outlinesAsked += 1
    try {
      const answer = await ask(...question)
      if (outline) await answer.clone().arrayBuffer()
      return answer
    } finally {
      if (outline) window.outlinesAsked -= 1
    }
  }
})()
"""
"""Run in a page before its own scripts: it counts which outlines are asked for and not answered yet."""

WHERE_IT_RESTS = """
(element, answered) => new Promise((found) => {
  const measure = () => (MEASURE)(element)
  let before = '', frames = 0
  const look = () => {
    const box = measure(), now = JSON.stringify(box)
    frames = now === before && !(answered && window.outlinesAsked) ? frames + 1 : 0
    before = now
    if (!element.isConnected) found(null)
    else if (frames >= 3) found(box)
    else requestAnimationFrame(look)
  }
  look()
})
"""

ITS_BOX = """
(element) => {
  const { x, y, width, height } = element.getBoundingClientRect()
  return { x, y, width, height }
}
"""


def box_at_rest(locator, answered=True, measure=ITS_BOX):
    """The box of what is on the screen once it does not move any more: another stage has another window, and
    an outline on its way may be of another size. With answers held by the test, answered is False."""
    while not (box := locator.evaluate(WHERE_IT_RESTS.replace("MEASURE", measure), answered)):
        pass  # it was drawn anew meanwhile
    return box


def middle(locator, answered=True):
    box = box_at_rest(locator, answered)
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


ON_ITS_STROKES = """
(letter, { x, y, width, height }) => {
  const isOf = (px, py) => letter.contains(document.elementFromPoint(px, py))
  const places = []
  for (let row = 1; row < 24; row++)
    for (let column = 1; column < 24; column++) {
      const [dx, dy] = [(column / 24) * width, (row / 24) * height]
      const all = [[0, 0], [4, 0], [-4, 0], [0, 4], [0, -4]]
      if (all.every(([ax, ay]) => isOf(x + dx + ax, y + dy + ay))) places.push({ x: dx, y: dy })
    }
  const off = (place) => Math.hypot(place.x - width / 2, place.y - height / 2)
  return places.sort((a, b) => off(a) - off(b))[0]
}
"""


def on_its_strokes(letter):
    """A place on a letter that a click reaches, as near to its middle as there is one: from the corner of its
    box, as the browser's driver measures that."""
    box_at_rest(letter)
    return letter.evaluate(ON_ITS_STROKES, letter.bounding_box())


def hindrances(page):
    """What of the page not everyone can use, by axe-core's checks of WCAG 2.2 A and AA (axe-core is Deque's,
    from PyPI): each check with what fails it. Nothing fades in or out meanwhile."""
    page.add_style_tag(content="* { transition: none !important }")
    page.evaluate(STILL)
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
    found = Axe().run(page, options={"runOnly": {"type": "tag", "values": tags}}).response["violations"]
    return [(one["id"], [node["html"][:120] for node in one["nodes"]]) for one in found]


def tick(choice):
    """Chooses a radio button or ticks a box, as a maker does: by what stands on it."""
    choice.locator("xpath=ancestor::label[1]").click()
    expect(choice).to_be_checked()


def drag(page, start, end, steps=8):
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=steps)
    page.mouse.up()


def face_row(page, name):
    """A face in the open list, searched for by its name: only rows in sight are drawn."""
    page.get_by_role("textbox", name="Search faces").fill(name)
    return page.get_by_role("option", name=name, exact=True)


def first_row(page):
    """The face that stands first in the open list."""
    page.get_by_role("listbox", name="Faces").press("Home")
    return page.locator("[role=option][aria-posinset='1']")


class Held:
    """Answers of one address are held until let go."""

    def __init__(self, page, path):
        self.waiting, self.free = [], False
        page.route(f"**/api{path}", self.handle)

    def handle(self, route):
        if self.free:
            route.fallback()
        else:
            self.waiting.append(route)

    def let_go(self):
        self.free = True
        for route in self.waiting:
            route.continue_()


class Bench:
    def __init__(self, page: Page):
        self.page = page
        self.words = page.get_by_role("textbox", name="Words")
        self.pieces = page.locator("[data-piece]")
        self.work = page.get_by_test_id("work")
        self.save_note = page.locator("[data-save]")
        self.problem = page.get_by_role("alert")

    def open(self, address):
        self.page.goto(address)
        expect(self.words).to_be_visible()
        return self

    @property
    def seams(self):
        return self.page.locator("[data-seam]")

    def seam(self, name):
        """The card of one seam, such as "o · s"."""
        return self.seams.filter(has_text=name).first

    def letter(self, text):
        return self.page.locator(f"[data-letter={text}]")

    def choose_letter(self, text, n=0, **how):
        """A click on the letter's strokes, on the n-th of those with this text."""
        letter = self.letter(text).nth(n)
        letter.click(position=on_its_strokes(letter), **how)

    def stage(self, name):
        self.page.get_by_role("navigation", name="Stages").get_by_role("button", name=name).click()
        if name == "Join":
            expect(self.seams.first).to_be_visible()

    def figure(self, name):
        return self.page.locator(f"[data-figure={name}]")

    def answered(self):
        """Waits until no outline is asked for: what is on the screen is of the newest recipe."""
        box_at_rest(self.page.locator("body"))
        return self

    def told(self, name):
        """What a figure says of the newest recipe."""
        self.answered()
        return self.figure(name).inner_text()

    def outline(self):
        """The welded paths on the screen, as one text; not of letters that are drawn ahead of their weld."""
        self.answered()
        expect(self.pieces.first).to_be_attached()
        return "".join(self.pieces.evaluate_all("paths => paths.map(path => path.getAttribute('d'))"))

    def outline_is(self, outline):
        """Waits for an outline seen before."""
        self.page.wait_for_function(f"outline => {OUTLINE} === outline", arg=outline)
        return self

    def outline_differs_from(self, before):
        """Waits for another welded outline than one seen before."""
        differs = f"before => !['', before].includes({OUTLINE})"
        self.page.wait_for_function(differs, arg=before, timeout=60_000)
        return self

    def shown(self, count):
        expect(self.pieces).to_have_count(count)
        return self

    def saved(self):
        expect(self.save_note).to_have_attribute("data-save", "saved")
        return self

    def choose(self, option):
        tick(self.page.get_by_role("radio", name=option, exact=True))

    def size(self, text, label="Overall width"):
        field = self.page.get_by_role("textbox", name=label)
        field.fill(text)
        field.press("Enter")
        return field

    def pick_face(self, name):
        self.page.get_by_role("button", name=re.compile("^Face:")).click()
        face_row(self.page, name).click()
        self.page.get_by_role("button", name="Done", exact=True).click()

    def download(self, folder, anyway=False):
        """The saved file; anyway: also where the gate asks first."""
        with self.page.expect_download() as caught:
            with self.page.expect_response("**/api/svg") as answered:
                self.page.get_by_role("button", name="Save as SVG").click()
            if anyway and answered.value.status == 422:
                self.page.get_by_role("button", name="Save all the same").click()
        path = folder / caught.value.suggested_filename
        caught.value.save_as(path)
        return path
