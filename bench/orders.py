"""Orders: how quickly a list of names becomes cut sheets, and whether every row is made or says why.

    ./fulgen bench orders [N]

N names (500) of lettering, joined, made ready and laid closely on rolls; N names in rings; both on all cores,
from nothing. The same through the queue of a server: when the first picture is there, two workers beside one,
and what typing in another design costs meanwhile. N names on five designs of the demo shop, each sheet cut on
the simulated machine. 2,000 rows scrolled in the browser.
"""

from __future__ import annotations

import random
import shutil
import statistics
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import psutil
from playwright.sync_api import ViewportSize, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

import joints  # noqa: E402
import ready  # noqa: E402
from scrolling import STEPS_PX, bare_list, scrolled, told  # noqa: E402

from fulgen.cli.processes import on_all_cores  # noqa: E402
from fulgen.formats.drawn_sheet import JobCaption, drawn_sheet  # noqa: E402
from fulgen.formats.sheet_files import cut_file  # noqa: E402
from fulgen.orders.fields import fields_of  # noqa: E402
from fulgen.orders.laying import sheets_of_order  # noqa: E402
from fulgen.orders.plan import GiveWay, OrderPlan, OrderSheet  # noqa: E402
from fulgen.orders.rows import Row  # noqa: E402
from fulgen.orders.working import WorkedRow, worked_out  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.recipe.model import Recipe  # noqa: E402
from fulgen.recipe.versions import read_recipe  # noqa: E402
from fulgen.sheet.machines import machine  # noqa: E402
from tests.served import Server  # noqa: E402

DESIGNS = ("willowmere-transom", "piers-locker-ring", "marlowe-initial", "life-ring", "locker-tag")
GIVE_WAY = GiveWay(narrower=0.12, ready=True)
ROLL = OrderPlan(
    sheet=OrderSheet(roll=True, width_mm=600.0, height_mm=10_000.0), spacing_mm=3.0, arrangement="closely"
)


def names(count: int, seed: int = 26) -> list[str]:
    """Names, all different: those of the other runs, then made-up ones of two to four syllables."""
    dice = random.Random(seed)
    found = dict.fromkeys([*ready.NAMES, *joints.NAMES])
    begins, middles, ends = (
        ("Ar", "Bel", "Cor", "Dun", "El", "Fen", "Gwen", "Hal", "Is", "Jor", "Kes", "Lo", "Mor", "Nes", "Os",
         "Pen", "Quin", "Ros", "Sel", "Tam", "Ul", "Vel", "Win", "Yar", "Zen"),
        ("a", "e", "i", "o", "u", "an", "el", "il", "or", "wy"),
        ("da", "den", "ffy", "gan", "lyn", "mund", "na", "nick", "ra", "ric", "sey", "th", "ton", "wen", "y"),
    )  # fmt: skip
    while len(found) < count:
        middle = "".join(dice.choice(middles) for _ in range(dice.randrange(3)))
        found[dice.choice(begins) + middle + dice.choice(ends)] = None
    return list(found)[:count]


def design(name: str) -> Recipe:
    return read_recipe((ROOT / "demo" / f"{name}.json").read_bytes())


def rows_of(recipe: Recipe, words: Sequence[str]) -> list[Row]:
    field = fields_of(recipe)[0]
    return [Row(number, {field: word}) for number, word in enumerate(words, 1)]


def made(recipe: Recipe, words: Sequence[str]) -> list[WorkedRow]:
    work = partial(worked_out, recipe, give_way=GIVE_WAY)
    return list(on_all_cores(work, rows_of(recipe, words), ["fulgen.orders.working"]))


class Peak:
    """The most memory that this process and its children hold together, in MB, as it is looked at."""

    def __init__(self) -> None:
        self.most = 0.0

    def look(self) -> None:
        me = psutil.Process()
        self.most = max(self.most, sum(_rss(p) for p in (me, *me.children(recursive=True))) / 2**20)


def _rss(process: psutil.Process) -> float:
    try:
        return float(process.memory_info().rss)
    except psutil.Error:
        return 0.0


def lettering(count: int) -> None:
    words, peak = names(count), Peak()
    recipe = design("willowmere-transom")
    size = recipe.parts[0].size.__class__("capitals", 25.0)  # type: ignore[attr-defined]
    recipe = recipe.model_copy(update={"parts": (recipe.parts[0].model_copy(update={"size": size}),)})
    began = time.perf_counter()
    worked = made(recipe, words)
    rows_s = time.perf_counter() - began
    peak.look()
    sheets = sheets_of_order(worked, recipe, ROLL)
    all_s = time.perf_counter() - began
    peak.look()
    print(f"lettering: {count} names in {rows_s:.1f} s, laid closely on {len(sheets)} lengths of roll: "
          f"{all_s:.1f} s in all (aim: 45 s); at most {peak.most:.0f} MB")  # fmt: skip


def rings(count: int) -> None:
    words, peak = names(count), Peak()
    recipe = design("piers-locker-ring")
    began = time.perf_counter()
    worked = made(recipe, words)
    peak.look()
    sheets = sheets_of_order(worked, recipe, OrderPlan(sheet=OrderSheet(True, 600.0, 10_000.0)))
    seconds = time.perf_counter() - began
    peak.look()
    print(f"rings: {count} names, in rows on {len(sheets)} lengths of roll: {seconds:.1f} s in all "
          f"(aim: 120 s); at most {peak.most:.0f} MB")  # fmt: skip


def demo_designs(count: int) -> None:
    """Every row is made or says why, and what its sheet promises comes off."""
    words, chosen = names(count), machine("Drag knife")
    states: Counter[str] = Counter()
    reasons: Counter[str] = Counter()
    kept = broken = 0
    for name in DESIGNS:
        recipe = design(name)
        worked = made(recipe, words)
        states += Counter(one.state for one in worked)
        reasons += Counter(one.reasons[0] if one.reasons else "" for one in worked
                           if one.state == "cannot-be-made")  # fmt: skip
        laid = [one for one in worked if one.motifs]
        height = max((motif.box.height for one in laid for motif in one.motifs), default=100.0)
        plan = OrderPlan(sheet=OrderSheet(width_mm=1_200.0, height_mm=max(900.0, height + 10)))
        for number, sheet in enumerate(sheets_of_order(laid, recipe, plan)):
            drawn = drawn_sheet(f"{name} {number}", sheet.job(chosen), JobCaption(name))
            try:
                cut_file(drawn)
                kept += len(sheet.motifs)
            except Problem as problem:
                broken += len(sheet.motifs)
                print(f"  {name}, sheet {number}: {problem.what}")
    all_rows = sum(states.values())
    untouched = states["as-designed"] + states["gave-way"]
    print(f"{count} names on {len(DESIGNS)} designs: {untouched / all_rows:.1%} made without a hand "
          f"({dict(states)}; aim: 98 %)")  # fmt: skip
    print(f"on the simulated cutter as promised: {kept} rows; not: {broken}")
    for reason, many in reasons.most_common(12):
        print(f"  {many} × {reason[:150]}")


# --- through the queue of a server ------------------------------------------------------------------------


def _order(server: Server, words: Sequence[str]) -> str:
    cards = server.call("GET", "/designs")
    ring = next(card["id"] for card in cards if card["name"] == "Piers, locker ring")
    order = server.call("POST", "/orders", {"design": ring})
    key = order["fields"][0]["key"]
    server.call("POST", f"/orders/{order['id']}/rows", {"rows": [{key: word} for word in words]})
    return str(order["id"])


def _watched(server: Server, order: str) -> tuple[float, float]:
    """Seconds until the first picture, and until all rows are worked out."""
    began, first, since = time.perf_counter(), 0.0, -1
    while True:
        told = server.call("GET", f"/orders/{order}/rows?since={since}")
        since = told["change"]
        if not first and any(row["picture"] for row in told["rows"]):
            first = time.perf_counter() - began
        if not told["working"]:
            return first, time.perf_counter() - began
        # As often as the screen asks.
        time.sleep(0.25)


def queue(count: int) -> None:
    words = names(count)
    took = {}
    for workers in (1, 2):
        with tempfile.TemporaryDirectory() as folder:
            server = Server(folder, FULGEN_CREW=str(workers))
            server.start()
            first, took[workers] = _watched(server, _order(server, words))
            if workers == 2:
                print(f"through the queue: first picture after {first:.2f} s (aim: 2 s)")
                _typing_beside(server, words)
            server.stop()
    bare = {processes: _bare(words, processes) for processes in (1, 2)}
    print(f"through the queue: {count} rings, one worker {took[1]:.1f} s, two {took[2]:.1f} s: "
          f"{took[1] / took[2]:.2f} times (aim: 1.8); bare processes, without a queue: {bare[1]:.1f} s, "
          f"{bare[2]:.1f} s: {bare[1] / bare[2]:.2f} times")  # fmt: skip


def _bare(words: Sequence[str], processes: int) -> float:
    """Seconds that the same rows take in so many processes that do nothing else."""
    recipe = design("piers-locker-ring")
    context = get_context("forkserver")
    context.set_forkserver_preload(["fulgen.orders.working"])
    with ProcessPoolExecutor(processes, mp_context=context) as pool:
        began = time.perf_counter()
        list(pool.map(partial(worked_out, recipe), rows_of(recipe, words), chunksize=4))
        return time.perf_counter() - began


def _typing_beside(server: Server, words: Sequence[str]) -> None:
    """What a key in another design costs while an order is being worked out."""

    def typed(first: int, count: int) -> list[float]:
        seconds = []
        for n in range(first, first + count):
            text = "".join(random.Random(n).choices("Wilowmeraent", k=8))
            part = {"kind": "lettering", "id": "w", "text": text, "join": {"how": "auto"}}
            body = {"recipe": {"format": "fulgen-recipe", "version": 12, "parts": [part]}, "have": []}
            began = time.perf_counter()
            server.call("POST", "/evaluate", body)
            seconds.append(time.perf_counter() - began)
            time.sleep(0.05)
        return seconds

    typed(0, 100)
    alone = typed(1_000, 150)
    order = _order(server, [f"{word} {word[::-1]}" for word in words])
    beside = typed(2_000, 150)
    is_at_work = server.call("GET", f"/orders/{order}/rows")["working"]
    one, other = (statistics.quantiles(took, n=20)[-1] * 1e3 for took in (alone, beside))
    ended = "" if is_at_work else ", which ended before"
    print(f"typing: p95 {one:.0f} ms alone, {other:.0f} ms beside an order{ended}: "
          f"{other / one:.2f} times (aim: 1.3)")  # fmt: skip


SCREEN: ViewportSize = {"width": 1280, "height": 800}


def scrolling() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(folder)
        server.start()
        chromium = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
        recipe = {"format": "fulgen-recipe", "version": 12, "parts": [
            {"kind": "lettering", "id": "name", "text": "Heron", "join": {"how": "auto"}}]}  # fmt: skip
        made = server.call("POST", "/designs", {"name": "Strip", "recipe": recipe})["id"]
        order = server.call("POST", "/orders", {"design": made})["id"]
        rows: list[dict[str, Any]] = [{"words:name": name} for name in names(2_000)]
        server.call("POST", f"/orders/{order}/rows", {"rows": rows})
        _watched(server, order)
        took: dict[str, list[float]] = {}
        for step in STEPS_PX:
            # With nothing in the browser's cache: every picture is seen for the first time.
            page = chromium.new_context(viewport=SCREEN).new_page()
            page.goto(f"{server.url}/order/{order}")
            page.get_by_role("listitem").first.wait_for()
            page.wait_for_timeout(2_500)
            took[f"rows at {step} px a frame"] = scrolled(page, "[data-testid=rows]", step)
        took[f"a bare list at {STEPS_PX[-1]}"] = bare_list(page, "Heron", 220, "width: 880px; height: 700px")
        chromium.close()
        server.stop()
    print("2,000 rows scrolled, milliseconds a frame (aim: 16.7), without a graphics card:")
    told(took)


def main(arguments: Sequence[str]) -> None:
    count = int(arguments[0]) if arguments else 500
    lettering(count)
    rings(count)
    queue(min(count, 200))
    scrolling()
    demo_designs(count)


if __name__ == "__main__":
    main(sys.argv[1:])
