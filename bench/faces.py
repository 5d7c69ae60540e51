"""Faces: how quickly the list shows the typed word, how it scrolls, what it costs; and words in every writing
system, joined.

    ./fulgen bench faces [N]

The list is opened in the browser on a word that was not shown before: the time until eight faces show it, in
the median of nine words, clicked as soon as the pointer is there, and as a hand does; frames while it scrolls
through all faces at three speeds, and while a bare list of plain words does; memory of the server and its
workers, what is shared counted once, before and after. N words (100) in each writing system, in two faces
each: how many pieces shapely counts in what is cut, and whether every joint holds.
"""

from __future__ import annotations

import os
import shutil
import statistics
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Sequence
from functools import partial
from pathlib import Path

import psutil
import shapely
from playwright.sync_api import Browser, Page, ViewportSize, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

from scrolling import STEPS_PX, bare_list, scrolled, told  # noqa: E402

from fulgen.cli.processes import on_all_cores  # noqa: E402
from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.joining.seam import State  # noqa: E402
from fulgen.lettering.catalogue import FaceChoice, families  # noqa: E402
from fulgen.lettering.setting import Size  # noqa: E402
from fulgen.lettering.writing_systems import BY_NAME  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.recipe.evaluate import evaluate  # noqa: E402
from fulgen.recipe.model import Recipe  # noqa: E402
from tests.names import NAMES, words  # noqa: E402
from tests.served import Server  # noqa: E402

WORDS = ("Marlowe", "Heron", "Kestrel", "Willow", "Tern", "Sedge", "Otter", "Merryn", "Jago")
SCREEN: ViewportSize = {"width": 1280, "height": 1200}
POINTS_MS = 150
"""So long a hand's pointer is over a button at least before it presses it (from memory: pressing alone takes
some 100 ms)."""
EIGHT = """() => addEventListener('click', (event) => {
  const look = () => {
    const shown = document.querySelectorAll('[data-face] > svg > path').length
    if (shown < 8) requestAnimationFrame(look)
    else window.took = performance.now() - event.timeStamp
  }
  look()
}, { capture: true, once: true })"""


def _memory(server: Server) -> float:
    """Of a server and all that it has started, in MB, what is shared counted once."""
    assert server.process is not None
    me = psutil.Process(server.process.pid)
    return sum(one.memory_full_info().pss for one in (me, *me.children(recursive=True))) / 2**20


def _opened(page: Page, server: Server, word: str, points_ms: int) -> float:
    """Milliseconds from the click that opens the list until eight faces show the word. The pointer is over
    the button for so long before."""
    page.goto(f"{server.url}{server.design(word)}")
    page.locator("[data-piece]").first.wait_for()
    page.wait_for_timeout(500)
    page.evaluate(EIGHT)
    page.get_by_role("button", name="Face:").hover()
    page.wait_for_timeout(points_ms)
    page.get_by_role("button", name="Face:").click()
    return float(page.wait_for_function("() => window.took").json_value())


def _scrolled(chromium: Browser, server: Server, step: int) -> list[float]:
    """Milliseconds of each frame while all faces are scrolled past, with nothing in the browser's cache."""
    page = chromium.new_context(viewport=SCREEN).new_page()
    _opened(page, server, "Marlowe", POINTS_MS)
    page.wait_for_timeout(1_000)
    took = scrolled(page, "[role=listbox]", step)
    page.close()
    return took


def picker() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(folder)
        began = time.perf_counter()
        server.start()
        print(f"the server answers after {time.perf_counter() - began:.1f} s")
        chromium = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
        page = chromium.new_page(viewport=SCREEN)
        before = _memory(server)
        at_once = [_opened(page, server, word[::-1], 0) for word in WORDS]
        took = [_opened(page, server, word, POINTS_MS) for word in WORDS]
        frames = {f"faces at {step} px a frame": _scrolled(chromium, server, step) for step in STEPS_PX}
        size = "width: 400px; height: 860px"
        frames[f"a bare list at {STEPS_PX[-1]}"] = bare_list(page, "Marlowe", 118, size)
        print(f"{len(families())} faces; eight of them show a word {statistics.median(took):.0f} ms after a "
              f"click by hand, {statistics.median(at_once):.0f} ms after one that comes with the pointer "
              f"(first: {at_once[0]:.0f}; aim: 300)")  # fmt: skip
        print("scrolled through all, milliseconds a frame (aim: 16.7), without a graphics card:")
        told(frames)
        print(f"memory: {before:.0f} MB before, {_memory(server):.0f} MB after all were shown")
        chromium.close()
        server.stop()


def _joined(slug: str, word: str) -> str:
    """What a word comes to."""
    join = JoinOptions(how="auto", marks="bridge", tie=True)
    part = Lettering(text=word, face=FaceChoice(family=slug), size=Size(mm=25.0), join=join)
    try:
        made = evaluate(Recipe(parts=(part,)))
    except Problem as problem:
        return problem.what
    pieces = len(shapely.get_parts(made.films[0].shape.region))
    holds = all(seam.state is State.JOINED for seam in made.seams)
    return f"{pieces} pieces" if pieces != 1 else "one piece, all hold" if holds else "a weak joint"


def alphabets(count: int) -> None:
    for system in NAMES:
        able = [slug for slug, family in families().items() if BY_NAME[system] in family.facts.systems][:2]
        came = Counter[str]()
        for slug in able:
            made = on_all_cores(partial(_joined, slug), words(system, count), ["fulgen.recipe.evaluate"])
            came += Counter(made)
        print(f"{system:12}{', '.join(able):40}{dict(came)}")


def main(arguments: Sequence[str]) -> None:
    picker()
    alphabets(int(arguments[0]) if arguments else 100)


if __name__ == "__main__":
    os.chdir(ROOT)
    main(sys.argv[1:])
