"""Frames while a list is scrolled in the browser, at several speeds, beside a bare list of plain words."""

from __future__ import annotations

import statistics

from playwright.sync_api import Page

STEPS_PX = (30, 60, 90)
"""How far is scrolled for each frame: at 60 frames 1,800, 3,600 and 5,400 px a second."""

_SCROLLED = """async ([list, px]) => {
  const ground = document.querySelector(list)
  const took = []
  let before = performance.now()
  while (ground.scrollTop + ground.clientHeight < ground.scrollHeight - 2 && took.length < 180) {
    ground.scrollTop += px
    await new Promise(requestAnimationFrame)
    const now = performance.now()
    took.push(now - before)
    before = now
  }
  return took
}"""

_BARE = """
<div role="list" style="position: absolute; right: 0; {size}; overflow-y: auto">{lines}</div>"""


def scrolled(page: Page, scroller: str, step: int) -> list[float]:
    """Milliseconds of each frame while what a selector finds is scrolled to its end, 180 frames at most."""
    took: list[float] = page.evaluate(_SCROLLED, [scroller, step])
    return took


def bare_list(page: Page, word: str, line_px: int, size: str) -> list[float]:
    """The same of a list with nothing but a word in each of its lines, at the highest speed."""
    page.set_content(_BARE.format(size=size, lines=f'<div style="height: {line_px}px">{word}</div>' * 500))
    return scrolled(page, "[role=list]", STEPS_PX[-1])


def told(took: dict[str, list[float]]) -> None:
    for what, ms in took.items():
        p95 = statistics.quantiles(ms, n=20)[-1]
        mean, median = statistics.mean(ms), statistics.median(ms)
        print(f"  {what}: {mean:.1f} in the mean, median {median:.1f}, p95 {p95:.1f}")
