"""Speed and memory, as ratios to a bare library call in the same run: ./fulgen bench.

Machines differ and are busy; so each figure of the core is the median of many rounds in which
our work and the bare weld of the same outlines take turns, and what is shown is their ratio.
The bare weld is one pass of the curve library over the same letters: contours drawn into one
path, simplified once, the result's segments listed. It checks nothing.

    ./fulgen bench              everything
    ./fulgen bench core         without the browser and the server
    ./fulgen bench joints       how well words are joined (see joints.py)
    ./fulgen bench pairs        where pairs of letters are joined, and how heavily (see pairs.py)
    ./fulgen bench ready        whether every job ends ready to cut after one action (see ready.py)
    ./fulgen bench frames       how well names hold in frames (see frames.py)
    ./fulgen bench faces [N]    how quickly faces are listed, and N words (100) in every writing system
    ./fulgen bench cutting      whether what is promised comes off, and how long that takes (see cutting.py)
    ./fulgen bench edits [N]    whether what is kept is what would be made anew, over N random edits (5,000)
    ./fulgen bench kills [N]    whether what is promised comes off over N kills of server and machine each
    ./fulgen bench saving       how long a save takes while a job runs and a machine stalls
    ./fulgen bench orders [N]   how N names (500) become cut sheets (see orders.py)
    ./fulgen bench faults [N]   whether rows of orders come out right over N kills each (50)
    ./fulgen bench events [N]   whether it does whatever happens at the cutter, in N random orders (2,000)
    ./fulgen bench judged [N]   whether stages judge the joints of N words (2,000) and N / 10 frames alike
    ./fulgen bench mutants [N]  how many of N small faults in the core its tests notice (200; see mutants.py)
"""

from __future__ import annotations

import gc
import gzip
import math
import shutil
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import pathops
import psutil
from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "bench")]

import cutting  # noqa: E402
import frames  # noqa: E402
import joints  # noqa: E402
import mutants  # noqa: E402
import pairs  # noqa: E402
import ready  # noqa: E402

import faces  # noqa: E402
import orders  # noqa: E402
from fulgen.bounded import clear_all_caches  # noqa: E402
from fulgen.formats.artwork import read_artwork  # noqa: E402
from fulgen.geometry import measure  # noqa: E402
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline  # noqa: E402
from fulgen.geometry.placement import Placement  # noqa: E402
from fulgen.geometry.weld import weld  # noqa: E402
from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.lettering.catalogue import FaceChoice  # noqa: E402
from fulgen.lettering.letters import LetterChange  # noqa: E402
from fulgen.lettering.setting import Size  # noqa: E402
from fulgen.parts.combination import Combination  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.parts.shape import ShapePart  # noqa: E402
from fulgen.readiness import findings as findings_module  # noqa: E402
from fulgen.readiness.findings import findings  # noqa: E402
from fulgen.recipe import clusters  # noqa: E402
from fulgen.recipe import evaluate as building  # noqa: E402
from fulgen.recipe import evaluation as evaluation_module  # noqa: E402
from fulgen.recipe.evaluate import evaluate  # noqa: E402
from fulgen.recipe.evaluation import Evaluation  # noqa: E402
from fulgen.recipe.model import Recipe  # noqa: E402
from tests import judged, kills, order_faults, warm_and_cold  # noqa: E402
from tests.served import Server  # noqa: E402

WORD = "Willowmereby"  # twelve letters
FACES = ("pacifico", "lobster", "great-vibes", "dancing-script", "playwrite-us-trad")
ROUNDS = 60
Input = TypeVar("Input")


def welding() -> None:
    """The weld alone, of letters that are made already."""
    print(f"\nThe weld of “{WORD}”, as a ratio to the bare weld, which checks nothing (aim: at most 2)")
    for face in FACES:
        shapes = evaluate(recipe(0.0, face)).parts[0].shapes
        outlines = [shape.outline for shape in shapes]
        bare, whole = [], []
        gc.disable()
        for _ in range(ROUNDS):
            bare.append(seconds(bare_weld, outlines))
            whole.append(seconds(weld, list(shapes)))
        gc.enable()
        print(f"{face:20}{statistics.median(whole) / statistics.median(bare):8.2f}")


def recipe(spacing_mm: float, face: str, text: str = WORD) -> Recipe:
    return Recipe(parts=(Lettering(text=text, spacing_mm=spacing_mm, face=FaceChoice(family=face)),))


def seconds(work: Callable[[Input], object], given: Input) -> float:
    start = time.perf_counter()
    work(given)
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


def evaluate_fully(changed: Recipe) -> None:
    """The outline and all that the readout shows: what a change costs."""
    evaluation = evaluate(changed)
    assert evaluation.pieces
    assert evaluation.box.width
    assert evaluation.cut_length
    assert evaluation.nodes


def letter_outlines(evaluation: Evaluation) -> list[Outline]:
    return [letter.place.outline(letter.form.outline) for _, letter in evaluation.letters]


RESULTS = (
    building._builds,
    building._placings,
    clusters._welds,
    clusters._touched,
    clusters._readied,
    evaluation_module._measures,
    findings_module._found,
)
"""What was built, welded, made ready, measured and found."""


def forget_results() -> None:
    for kept in RESULTS:
        kept.clear()


def core() -> None:
    print(
        f"Core, “{WORD}” ({len(WORD)} letters), median of {ROUNDS} rounds:\n"
        "the bare weld in ms; evaluate warm and cold, as ratios to it; nodes out to nodes in"
    )
    print(f"{'face':20}{'bare':>8}{'warm':>8}{'cold':>8}{'nodes':>8}")
    warm_ratios = []
    for face in FACES:
        evaluate(recipe(0.0, face))
        bare, warm, cold = [], [], []
        outlines = letter_outlines(evaluate(recipe(0.0, face)))
        gc.disable()
        for turn in range(ROUNDS):
            bare.append(seconds(bare_weld, outlines))
            change = recipe(-0.005 * (turn + 1), face)
            warm.append(seconds(evaluate_fully, change))
            if turn % 6 == 0:
                clear_all_caches()
                cold.append(seconds(evaluate_fully, change))
        gc.enable()
        evaluation = evaluate(recipe(0.0, face))
        nodes = evaluation.nodes / sum(map(measure.node_count, letter_outlines(evaluation)))
        base = statistics.median(bare)
        warm_ratios.append(statistics.median(warm) / base)
        ratio_cold = statistics.median(cold) / base
        print(f"{face:20}{base * 1000:8.2f}{warm_ratios[-1]:8.2f}{ratio_cold:8.2f}{nodes:8.3f}")
    mean = statistics.mean(warm_ratios)
    print(f"warm evaluate after a spacing change: {mean:.2f} times the bare weld (aim: 3.5)")


def joined(text: str, face: str, nudge: float | None = None) -> Recipe:
    letters = {} if nudge is None else {5: LetterChange(carry=nudge)}
    part = Lettering(text=text, face=FaceChoice(family=face), join=JoinOptions(how="auto"), letters=letters)
    return Recipe(parts=(part,))


def evaluate_and_measure(changed: Recipe) -> None:
    """As evaluate_fully, with the figures of every seam that the strip shows."""
    evaluate_fully(changed)
    assert all(seam.ends and seam.state for seam in evaluate(changed).seams)


JOIN_FACES = ("courgette", "kaushan-script", "allura", "anton", "pacifico")
JOIN_WORDS = ("Willowmere", "Kestrelton", "Quixbyford", "Jazzminder", "Vyvyanette")  # ten letters each


def joining() -> None:
    print(
        "\nJoining, words of 10 letters, medians; cold: nothing known of the face's pairs; known: all\n"
        "pairs known; nudge: one letter of a joined word moved by key, as a ratio to the bare weld of its\n"
        "letters, without and with the figures of its seams"
    )
    print(f"{'face':20}{'cold ms':>9}{'known ms':>9}{'nudge':>8}{'+ seams':>9}")
    for face in JOIN_FACES:
        cold, known = [], []
        for word in JOIN_WORDS:
            clear_all_caches()
            cold.append(seconds(evaluate_and_measure, joined(word, face)))
            forget_results()
            known.append(seconds(evaluate_and_measure, joined(word, face)))
        bare, nudged, measured = [], [], []
        outlines = [shape.outline for shape in evaluate(joined("Willowmereby", face)).parts[0].shapes]
        gc.disable()
        for turn in range(ROUNDS):
            bare.append(seconds(bare_weld, outlines))
            nudged.append(seconds(evaluate_fully, joined("Willowmereby", face, -0.0007 * (turn + 1))))
            measured.append(seconds(evaluate_and_measure, joined("Willowmereby", face, 0.0007 * (turn + 1))))
        gc.enable()
        base = statistics.median(bare)
        print(
            f"{face:20}{statistics.median(cold) * 1000:9.0f}{statistics.median(known) * 1000:9.0f}"
            f"{statistics.median(nudged) / base:8.2f}{statistics.median(measured) / base:9.2f}"
        )
    print("(aims: cold under 150 ms, known under 40 ms, nudge at most 4)")
    with tempfile.TemporaryDirectory() as folder:
        names = Path(folder) / "names.txt"
        names.write_text("\n".join(f"{word} {n}" for n in range(100) for word in JOIN_WORDS), "utf-8")
        start = time.perf_counter()
        subprocess.run(
            [ROOT / "fulgen", "letter", "--list", names, "--out-dir", Path(folder) / "out",
             "--face", "Courgette", "--join", "auto"],
            check=True, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        print(f"500 names from a list, joined and written: {time.perf_counter() - start:.1f} s")


def checking() -> None:
    print(
        "\nThe check of a joined word of 12 letters, as a ratio to its evaluation with joins known; findings"
    )
    print(f"{'face':20}{'ratio':>8}{'found':>8}")
    ratios = []
    for face in (*FACES, "anton", "courgette"):
        evaluated, checked = [], []
        evaluate(joined(WORD, face))
        found = findings(evaluate(joined(WORD, face)))
        gc.disable()
        for turn in range(ROUNDS // 3):
            change = joined(WORD, face, 0.00073 * (turn + 1))  # not known from above
            evaluated.append(seconds(evaluate_and_measure, change))
            checked.append(seconds(findings, evaluate(change)))
        gc.enable()
        ratios.append(statistics.median(checked) / statistics.median(evaluated))
        print(f"{face:20}{ratios[-1]:8.2f}{len(found):8}")
    print(f"findings: {statistics.median(ratios):.2f} times the evaluation, in the median (aim: 1.5)")


def thirty(nudge: float = 0.0) -> Recipe:
    """Thirty parts, words and shapes over each other in clusters; one of them moved."""
    parts: list[Lettering | ShapePart] = []
    for n in range(15):
        x, y = 130.0 * (n % 5), 90.0 * (n // 5)
        name = FaceChoice(family=FACES[n % len(FACES)])
        at = Placement(x, y + (nudge if n == 7 else 0.0))
        parts.append(Lettering(id=f"word-{n}", text=f"Heron{n}", face=name, place=at))
        shape = ShapePart(id=f"shape-{n}", form="bar", width_mm=100.0, height_mm=8.0,
                          place=Placement(x + 40.0, y + 2.0))  # fmt: skip
        parts.append(shape)
    return Recipe(parts=tuple(parts))


def haloed(nudge: float = 0.0) -> Recipe:
    """Three names over a word, kept clear by a halo; one name moved."""
    big = Lettering(
        id="big", text="CREW", face=FaceChoice(family="anton"), size=Size(measure="width", mm=230.0)
    )
    width, face = Size(measure="width", mm=60.0), FaceChoice(family="grand-hotel")

    def name(n: int, text: str) -> Lettering:
        place = Placement(20.0 + 65 * n, -30.0 - (nudge if n == 1 else 0.0))
        return Lettering(id=f"name-{n}", text=text, face=face, size=width, place=place)

    names = tuple(name(n, text) for n, text in enumerate(("Piers", "Maud", "Ansel")))
    members = ("big", "name-0", "name-1", "name-2")
    return Recipe(parts=(big, *names, Combination(id="c", how="halo", members=members)))


def building() -> None:
    evaluate_fully(thirty())
    moved = next(c for c in evaluate(thirty()).clusters if any(m.id == "word-7" for m in c.members))
    shapes = [shape for member in moved.members for shape in member.shapes]
    once, again, halo = [], [], []
    gc.disable()
    for turn in range(ROUNDS):
        once.append(seconds(weld, shapes))
        again.append(seconds(evaluate_fully, thirty(0.01 * (turn + 1))))
    evaluate_fully(haloed())
    for turn in range(ROUNDS // 2):
        halo.append(seconds(evaluate_fully, haloed(0.02 * (turn + 1))))
    gc.enable()
    ratio = statistics.median(again) / statistics.median(once)
    print(f"\none of 30 parts moved: {ratio:.2f} times the one weld it needs (aim: 3)")
    print(f"halo of 3 names over a word, one moved: {statistics.median(halo) * 1000:.0f} ms (aim: under 150)")
    points = " ".join(f"{n * 0.02:.3f},{10 * math.sin(n / 40) + n % 7 * 0.05:.3f}" for n in range(20_000))
    drawing = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="400mm" viewBox="0 0 400 400">'
        f'<polygon points="{points} 400,300 0,300"/></svg>'
    ).encode()
    start = time.perf_counter()
    evaluate_fully(Recipe(parts=(read_artwork(drawing, "a.svg").artwork,)))
    print(f"drawing of 20,000 nodes read and evaluated: {time.perf_counter() - start:.2f} s (aim: under 2)")


def framing() -> None:
    """A name fitted into frames: as after a start, with its letters known, and a hundred names by list."""
    print()
    for form in ("name ring", "split initial", "on a bar"):
        cold, warm = [], []
        for name in ("Piers", "Theodora", "Willowmere"):
            clear_all_caches()
            cold.append(seconds(evaluate_fully, frames.design(form, name, "pacifico")))
            for turn in range(10):
                changed = frames.design(form, name, "pacifico")
                frame = changed.parts[-1].model_copy(update={"width_mm": 80.0 + 0.05 * (turn + 1)})
                known = changed.model_copy(update={"parts": (*changed.parts[:-1], frame)})
                warm.append(seconds(evaluate_fully, known))
        print(
            f"fit, {form}: {1000 * statistics.median(cold):.0f} ms cold (aim: 500), "
            f"{1000 * statistics.median(warm):.0f} ms warm (aim: 150)"
        )
    with tempfile.TemporaryDirectory() as folder:
        names = Path(folder) / "names.txt"
        names.write_text("\n".join(f"{name} {n}" for n in range(10) for name in joints.NAMES[:10]))
        command = [str(ROOT / "fulgen"), "frame", "name ring", "--list", str(names), "--out-dir", folder]
        start = time.perf_counter()
        subprocess.run(command, check=True, capture_output=True)
        made = len(list(Path(folder).glob("*.svg")))
        print(f"{made} names through one frame by list: {time.perf_counter() - start:.1f} s")


def web_size() -> None:
    scripts = list((ROOT / "web" / "dist" / "assets").glob("*.js"))
    packed = sum(len(gzip.compress(path.read_bytes(), 9)) for path in scripts)
    print(f"first load: {packed / 1000:.0f} kB of script, gzipped (aim: at most 400)")


def browser_and_server() -> None:
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
                nudge_to_paint(page, server)
                circle_nudge_to_paint(page, server)
                letter_drag_to_paint(page, server)
                drag_to_paint(page, server)
                part_drag_to_paint(page, server)
                browser.close()
            memory(server)
        finally:
            server.stop()


TO_PAINT = """
([kind, watched]) => {
  const drawn = (what) => [...document.querySelectorAll(what)]
    .map((p) => p.getAttribute('d') + (p.getAttribute('transform') ?? '')).join('')
  const work = document.querySelector('[data-testid=work]')
  let down = 0
  window.addEventListener(kind, () => { down = performance.now() }, { once: true, capture: true })
  window.taken = Promise.all(watched.map((what) => new Promise((resolve) => {
    const before = drawn(what)
    const watch = new MutationObserver(() => {
      const now = drawn(what)
      if (now === before || now === '') return
      watch.disconnect()
      // A task that follows the next frame runs after that frame was painted.
      requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - down)))
    })
    watch.observe(work, { subtree: true, childList: true, attributes: true })
  })))
}
"""
WELD, AHEAD = "[data-piece]", "[data-ahead] [data-moved=true]"
"""The welded outline, and letters that are drawn before their weld has come."""


def told(times: list[float]) -> str:
    times = sorted(times)
    return f"median {statistics.median(times):.0f} ms, p95 {times[int(len(times) * 0.95)]:.0f} ms"


def key_to_paint(page: Page) -> None:
    """From a key going down to the new outline on the screen, 50 times, each an outline that was
    never asked for before: 25 letters typed, 25 steps of the letter spacing."""
    times = []

    def press(key: str) -> None:
        page.evaluate(TO_PAINT, ["keydown", [WELD]])
        page.keyboard.press(key)
        times.extend(page.evaluate("() => window.taken"))

    page.get_by_role("textbox", name="Words").focus()
    page.keyboard.press("End")
    for letter in "aeronmsuilbcdfghjkpqtvwxz":
        press(letter)
        page.evaluate(TO_PAINT, ["keydown", [WELD]])
        page.keyboard.press("Backspace")
        page.evaluate("() => window.taken")
    page.get_by_role("textbox", name="Between letters").focus()
    for _ in range(25):
        press("ArrowDown")
    print(f"key to repainted outline, {len(times)} edits: {told(times)} (aim: p95 under 100)")


def joined_design(page: Page, server: Server) -> None:
    """A joined word in the Join stage, its fifth seam chosen."""
    address = server.design(
        "Willowmere", face={"family": "courgette"}, size={"measure": "width", "mm": 180}, join={"how": "auto"}
    )
    page.goto(server.url + address)
    page.get_by_role("button", name="Join", exact=True).click()
    page.locator("[data-seam]").nth(4).click()
    page.wait_for_timeout(1000)


def nudged(page: Page) -> tuple[list[float], list[float]]:
    """From an arrow key to the letters drawn where they are then, and to their new weld: 50 nudges."""
    ahead, welds = [], []
    for turn in range(50):
        page.evaluate(TO_PAINT, ["keydown", [AHEAD, WELD]])
        page.keyboard.press(("ArrowLeft", "ArrowUp", "Alt+ArrowLeft")[turn % 3])
        first, weld = page.evaluate("() => window.taken")
        ahead.append(first)
        welds.append(weld)
    return ahead, welds


def nudge_to_paint(page: Page, server: Server) -> None:
    """Nudges of a letter of a joined word."""
    joined_design(page, server)
    ahead, welds = nudged(page)
    print(f"nudge to repainted letters, {len(ahead)} nudges: {told(ahead)} (aim: p95 under 50)")
    print(f"nudge to their weld: {told(welds)} (aim: p95 under 150)")


def circle_nudge_to_paint(page: Page, server: Server) -> None:
    """The same for a letter of a word around a circle."""
    address = server.design(
        "Otterbrook", face={"family": "courgette"}, size={"measure": "capitals", "mm": 14}, align="centre",
        join={"how": "auto"}, course={"kind": "circle", "diameter_mm": 80},
    )  # fmt: skip
    page.goto(server.url + address)
    page.get_by_role("button", name="Join", exact=True).click()
    page.locator("[data-seam]").nth(3).click()
    page.wait_for_timeout(1500)
    ahead, welds = nudged(page)
    print(f"around a circle, nudge to repainted letters: {told(ahead)} (aim: p95 under 50)")
    print(f"around a circle, nudge to their weld: {told(welds)}")


def letter_drag_to_paint(page: Page, server: Server) -> None:
    """From a pointer's move to the dragged letter drawn where it is then, 100 moves; and from a last move to
    the weld, 20 times."""
    joined_design(page, server)
    letter = page.locator("[data-letter=m]")
    times, welds = [], []
    for turn in range(20):
        box = letter.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 8, y)
        for step in range(5):
            page.evaluate(TO_PAINT, ["pointermove", [AHEAD]])
            page.mouse.move(x + 10 + step * 2 + turn, y - 3 * step - 1)
            times.extend(page.evaluate("() => window.taken"))
        page.wait_for_selector("[data-ahead]", state="detached")
        page.evaluate(TO_PAINT, ["pointermove", [WELD]])
        page.mouse.move(x - 4 + turn % 3, y + 2)
        welds.extend(page.evaluate("() => window.taken"))
        page.mouse.up()
        page.wait_for_selector("[data-ahead]", state="detached")
    print(f"letter drag to repainted letter, {len(times)} moves: {told(times)} (aim: p95 under 50)")
    print(f"letter drag to its weld, {len(welds)} moves: {told(welds)} (aim: p95 under 150)")


def drag_to_paint(page: Page, server: Server) -> None:
    """From a pointer's move to the letter drawn anew, 50 moves of a point of its outline; and from letting it
    go to the new welded outline, ten times."""
    address = server.design(
        "Willowmere", face={"family": "courgette"}, size={"measure": "width", "mm": 180}, join={"how": "auto"}
    )
    page.goto(server.url + address)
    page.get_by_role("button", name="Join", exact=True).click()
    page.locator("[data-letter=m]").click(force=True)
    page.get_by_role("button", name="Change its shape").click()
    node = page.locator("[data-node]").nth(3)
    box = node.bounding_box()
    page.wait_for_timeout(1000)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    times, welds = [], []
    for turn in range(50):
        page.evaluate(TO_PAINT, ["pointermove", ["[data-dragged] path"]])
        page.mouse.move(x + (turn % 7) * 1.5 + 2 + turn * 0.1, y - (turn % 5) * 2 - 1)
        times.extend(page.evaluate("() => window.taken"))
        if turn % 5 == 4:
            page.evaluate(TO_PAINT, ["pointerup", [WELD]])
            page.mouse.up()
            welds.extend(page.evaluate("() => window.taken"))
            page.wait_for_selector("[data-dragged]", state="detached")
            page.wait_for_timeout(300)
            box = node.bounding_box()
            page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
            page.mouse.down()
    page.mouse.up()
    times.sort()
    print(
        f"point drag to repainted letter, {len(times)} moves: median {statistics.median(times):.0f} ms, "
        f"p95 {times[int(len(times) * 0.95)]:.0f} ms (aim: p95 under 120); let go to the new weld: "
        f"median {statistics.median(welds):.0f} ms, longest {max(welds):.0f} ms"
    )


def part_drag_to_paint(page: Page, server: Server) -> None:
    """From a pointer's move to the dragged part drawn where it is then, 100 moves, one of 30 parts."""
    body = {"name": "Thirty", "recipe": thirty().model_dump(mode="json")}
    page.goto(f"{server.url}/design/{server.call('POST', '/designs', body)['id']}")
    page.get_by_role("button", name="Build", exact=True).click()
    page.wait_for_timeout(1500)
    box = page.locator("[data-hit=shape-7]").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 6, y + 6)
    times = []
    for step in range(100):
        page.evaluate(TO_PAINT, ["pointermove", ["[data-moved-part=true]"]])
        # Each move is longer than what a part snaps by: one that snaps to where it was paints nothing.
        page.mouse.move(x + 10 + step * 37 % 200, y + 10 + step * 29 % 150)
        times.extend(page.evaluate("() => window.taken"))
    page.mouse.up()
    print(f"part drag to repainted part, {len(times)} moves: {told(times)} (aim: p95 under 50)")


def memory(server: Server) -> None:
    """Memory of the server's processes before and after 1,000 different evaluations: what they share counted
    once (PSS), and counted for each of them (RSS)."""

    def taken() -> tuple[float, float]:
        main = psutil.Process(server.process.pid)
        rows = [process.memory_full_info() for process in (main, *main.children(recursive=True))]
        return sum(row.pss for row in rows) / 2**20, sum(row.rss for row in rows) / 2**20

    before = taken()
    for number in range(1000):
        face = FACES[number % len(FACES)]
        body = recipe(0.001 * number, face, f"{WORD} {number}").model_dump(mode="json")
        server.call("POST", "/evaluate", {"recipe": body})
    for what, (shared, each) in (("at first", before), ("after 1,000 different evaluations", taken())):
        print(
            f"server memory {what}: {shared:.0f} MB ({each:.0f} with what is shared counted for each process)"
        )


def saving() -> None:
    """Saves while nothing is cut, and while a job runs and a stalled machine holds its line: p95 each."""
    with tempfile.TemporaryDirectory() as folder, socket.create_server(("127.0.0.1", 0)) as stalled:
        server = Server(Path(folder), FULGEN_CUTTER_PACE="0.02")
        server.start()
        try:
            design = server.call("POST", "/designs", {"name": "Saved"})
            revision = design["revision"]

            def saves(count: int) -> list[float]:
                nonlocal revision
                took = []
                for n in range(count):
                    body = {"name": f"Saved {revision} {n}", "recipe": design["recipe"],
                            "based_on": revision, "window": "w", "edit": revision}  # fmt: skip
                    began = time.perf_counter()
                    revision = server.call("PUT", f"/designs/{design['id']}", body)["revision"]
                    took.append((time.perf_counter() - began) * 1e3)
                return took

            saves(50)
            alone = saves(400)
            machine = server.call("GET", "/machines")[0]["machine"]
            reached = {"by": "network", "host": "127.0.0.1", "port": stalled.getsockname()[1]}
            for path in (kills.laid_out(server, "knife", 9), _stalled_job(server, machine, reached)):
                server.call("POST", f"{path}/start")
                assert server.call("GET", path)["state"] == "cutting"
            beside = saves(400)
        finally:
            server.stop()
    one, other = (statistics.quantiles(took, n=20)[-1] for took in (alone, beside))
    print(f"saves: p95 {one:.1f} ms alone, {other:.1f} ms while a job runs and a machine stalls: "
          f"{other / one:.2f} times (aim: at most 1.3)")  # fmt: skip


def _stalled_job(server: Server, machine: dict[str, object], reached: dict[str, object]) -> str:
    """A job for a machine that takes the line and nothing else."""
    path = kills.laid_out(server, "laser", 9)
    own = {**machine, "name": "laser", **kills.MACHINES["laser"]}
    server.call("PUT", "/machines", {"machine": own, "reached": reached})
    return path


def faults(arguments: list[str]) -> None:
    count, *seed = map(int, arguments or ["50"])
    order_faults.main(count, *seed or [1])


def events(arguments: list[str]) -> int:
    """Imported when it is run: it needs the server's models."""
    from tests import job_orders

    return job_orders.main(*map(int, arguments))


RUNS: dict[str, Callable[[list[str]], int | None]] = {
    "joints": joints.main,
    "pairs": pairs.main,
    "ready": ready.main,
    "frames": frames.main,
    "faces": faces.main,
    "cutting": cutting.main,
    "edits": lambda numbers: warm_and_cold.main(*map(int, numbers)),
    "kills": lambda numbers: kills.main(*map(int, numbers)),
    "saving": lambda _: saving(),
    "orders": orders.main,
    "faults": faults,
    "events": events,
    "judged": lambda numbers: judged.main(*map(int, numbers)),
    "mutants": lambda numbers: mutants.main(*map(int, numbers)),
}

if __name__ == "__main__":
    if sys.argv[1:2] and sys.argv[1] in RUNS:
        sys.exit(RUNS[sys.argv[1]](sys.argv[2:]))
    core()
    welding()
    joining()
    checking()
    building()
    framing()
    if sys.argv[1:] != ["core"]:
        web_size()
        browser_and_server()
