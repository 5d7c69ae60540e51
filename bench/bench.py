"""Speed and memory, as ratios to a bare library call in the same run: ./fulgen bench.

Machines differ and are busy; so each figure of the core is the median of many rounds in which
our work and the bare weld of the same outlines take turns, and what is shown is their ratio.
The bare weld is one pass of the curve library over the same letters: contours drawn into one
path, simplified once, the result's segments listed. It checks nothing.

    ./fulgen bench              everything
    ./fulgen bench core         without the browser and the server
"""

from __future__ import annotations

import gc
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pathops

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

from fulgen.geometry import measure  # noqa: E402
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline  # noqa: E402
from fulgen.lettering import faces as faces_module  # noqa: E402
from fulgen.lettering import shaping  # noqa: E402
from fulgen.recipe import evaluate as evaluate_module  # noqa: E402
from fulgen.recipe.evaluate import Evaluation, evaluate  # noqa: E402
from fulgen.recipe.model import FaceChoice, Lettering, Recipe  # noqa: E402

WORD = "Willowmereby"  # twelve letters
FACES = ("pacifico", "lobster", "great-vibes", "dancing-script", "playwrite-us-trad")
ROUNDS = 60


def recipe(spacing_mm: float, face: str, text: str = WORD) -> Recipe:
    return Recipe(parts=(Lettering(text=text, spacing_mm=spacing_mm, face=FaceChoice(family=face)),))


def seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def bare_weld(outlines: list[Outline]) -> list[object]:
    """The library alone, drawn on and read as its documentation does."""
    path = pathops.Path(fillType=pathops.FillType.WINDING)
    for outline in outlines:
        points = outline.points.tolist()
        at = 0
        for verb in outline.verbs.tolist():
            if verb == MOVE:
                path.moveTo(*points[at])
            elif verb == LINE:
                path.lineTo(*points[at])
            elif verb == QUAD:
                path.quadTo(*points[at], *points[at + 1])
            elif verb == CUBIC:
                path.cubicTo(*points[at], *points[at + 1], *points[at + 2])
            at += (1, 1, 2, 3)[verb]
        path.close()
    path.simplify(fix_winding=False)
    return list(path.segments)


def figures(evaluation: Evaluation) -> None:
    """What the readout shows; part of what a change costs."""
    assert evaluation.pieces
    assert evaluation.box.width
    assert evaluation.cut_length
    assert evaluation.nodes


def letter_outlines(evaluation: Evaluation) -> list[Outline]:
    return [
        letter.form.outline.placed(letter.x, letter.y, part.layout.size)
        for part, letter in evaluation.letters
    ]


def forget() -> None:
    """As after a start: no letters, lines or evaluations known."""
    for cache in (faces_module._glyphs, shaping._lines, shaping._composed, evaluate_module._evaluations):
        cache.clear()


def core() -> None:
    print(
        f"Core, “{WORD}” ({len(WORD)} letters), median of {ROUNDS} rounds; bare weld in ms, the rest as ratios to it"
    )
    print(f"{'face':20}{'bare':>8}{'warm':>8}{'cold':>8}{'nodes':>8}")
    warm_ratios = []
    for face in FACES:
        evaluate(recipe(0.0, face))
        bare, warm, cold = [], [], []
        outlines = letter_outlines(evaluate(recipe(0.0, face)))
        gc.disable()
        for turn in range(ROUNDS):
            bare.append(seconds(lambda: bare_weld(outlines)))
            change = recipe(-0.005 * (turn + 1), face)
            warm.append(seconds(lambda: figures(evaluate(change))))
            if turn % 6 == 0:
                forget()
                cold.append(seconds(lambda: figures(evaluate(change))))
        gc.enable()
        evaluation = evaluate(recipe(0.0, face))
        nodes = evaluation.nodes / sum(map(measure.node_count, letter_outlines(evaluation)))
        base = statistics.median(bare)
        warm_ratios.append(statistics.median(warm) / base)
        ratio_cold = statistics.median(cold) / base
        print(f"{face:20}{base * 1000:8.2f}{warm_ratios[-1]:8.2f}{ratio_cold:8.2f}{nodes:8.3f}")
    print(
        f"warm evaluate after a spacing change: {statistics.mean(warm_ratios):.2f} times the bare weld (aim: 4)"
    )


def web_size() -> None:
    import gzip

    scripts = list((ROOT / "web" / "dist" / "assets").glob("*.js"))
    packed = sum(len(gzip.compress(path.read_bytes(), 9)) for path in scripts)
    print(f"first load: {packed / 1000:.0f} kB of script, gzipped (aim: at most 400)")


def browser_and_server() -> None:
    import shutil
    import tempfile

    import psutil
    from playwright.sync_api import sync_playwright

    from tests.browser.conftest import Server

    with tempfile.TemporaryDirectory() as folder:
        server = Server(folder)
        server.start()
        try:
            address = server.url + server.design("Willowmere", size={"measure": "width", "mm": 180})
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu"]
                )
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.goto(address)
                page.wait_for_selector("[data-piece]")
                key_to_paint(page)
                browser.close()
            memory(server, psutil)
        finally:
            server.stop()


KEY_TO_PAINT = """
() => new Promise((resolve) => {
  const start = performance.now()
  const before = [...document.querySelectorAll('[data-piece]')].map((p) => p.getAttribute('d')).join('')
  const watch = new MutationObserver(() => {
    const now = [...document.querySelectorAll('[data-piece]')].map((p) => p.getAttribute('d')).join('')
    if (now === before || now === '') return
    watch.disconnect()
    // Two frames on, what was changed has been painted.
    requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - start)))
  })
  watch.observe(document.querySelector('[data-testid=work]'), { subtree: true, childList: true, attributes: true })
  window.timed = true
})
"""


def key_to_paint(page: object) -> None:
    """From a key going down in the words to the new outline on the screen, 50 times."""
    page.get_by_role("textbox", name="Words").focus()  # type: ignore[attr-defined]
    page.keyboard.press("End")  # type: ignore[attr-defined]
    times = []
    for letter in "aeronmsuilaeronmsuilaeronmsuil"[:25]:
        for key in (letter, "Backspace"):
            page.evaluate(f"window.pending = ({KEY_TO_PAINT})()")  # type: ignore[attr-defined]
            page.evaluate(  # type: ignore[attr-defined]
                """() => { window.addEventListener('keydown', () => { window.down = performance.now() },
                { once: true, capture: true }); window.opened = performance.now() }"""
            )
            page.keyboard.press(key)  # type: ignore[attr-defined]
            taken = page.evaluate(  # type: ignore[attr-defined]
                "async () => { const t = await window.pending; return { t, lead: window.down - window.opened } }"
            )
            times.append(taken["t"] - taken["lead"])
    times.sort()
    print(
        f"key to repainted outline, {len(times)} edits: median {statistics.median(times):.0f} ms, "
        f"p95 {times[int(len(times) * 0.95)]:.0f} ms (aim: p95 under 120)"
    )


def memory(server: object, psutil: object) -> None:
    """Resident memory of the server's processes before and after 1,000 different evaluations."""

    def resident() -> float:
        main = psutil.Process(server.process.pid)  # type: ignore[attr-defined]
        own = [main, *main.children(recursive=True)]
        return sum(process.memory_info().rss for process in own) / 2**20

    before = resident()
    for number in range(1000):
        face = FACES[number % len(FACES)]
        body = recipe(0.001 * number, face, f"{WORD} {number}").model_dump(mode="json")
        server.call("POST", "/evaluate", body)  # type: ignore[attr-defined]
    print(f"server memory: {before:.0f} MB at first, {resident():.0f} MB after 1,000 different evaluations")


if __name__ == "__main__":
    core()
    if sys.argv[1:] != ["core"]:
        web_size()
        browser_and_server()
