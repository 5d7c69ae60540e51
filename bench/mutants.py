"""How many small faults the core's tests notice: ./fulgen bench mutants [COUNT] [SEED].

Faults are put one at a time into a copy of the core: a comparison turned or moved by its boundary, min for
max, plus for minus, a condition reversed. Numbers are left alone: what they decide is a matter of taste or of
measurement. Each fault is met with those tests of the core that run its line, the quickest first, until one
fails. What no test runs counts as unnoticed; so does a fault that changes nothing, which only a reader can
tell.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
import xml.etree.ElementTree as ET
from collections import defaultdict
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import coverage

ROOT = Path(__file__).parents[1]
_SECONDS = 120.0
"""A fault is met with its quickest tests that take so long together; what only others would notice counts as
unnoticed."""

_HANGS = 4
"""Tests that take so many times longer than they did hang, which is noticed."""

_COMPARISONS: dict[type[ast.cmpop], tuple[str, tuple[str, ...]]] = {
    ast.Lt: ("<", ("<=", ">=")), ast.LtE: ("<=", ("<", ">")), ast.Gt: (">", (">=", "<=")),
    ast.GtE: (">=", (">", "<")), ast.Eq: ("==", ("!=",)), ast.NotEq: ("!=", ("==",)),
    ast.In: ("in", ("not in",)), ast.Is: ("is", ("is not",)), ast.IsNot: ("is not", ("is",)),
}  # fmt: skip
_OPERATORS: dict[type[ast.operator], tuple[str, str]] = {
    ast.Add: ("+", "-"), ast.Sub: ("-", "+"), ast.Mult: ("*", "/"), ast.Div: ("/", "*"),
}  # fmt: skip
_CALLS = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Fault:
    """A place of a module, by bytes from ``start`` to ``end``, and what stands there instead."""

    path: str
    line: int
    start: int
    end: int
    text: str

    def put_into(self, source: bytes) -> bytes:
        return source[: self.start] + self.text.encode() + source[self.end :]


def faults(path: str, source: bytes) -> Iterator[Fault]:
    """All faults that can be put into a module."""
    tree = ast.parse(source)
    lines = [0]
    for line in source.splitlines(keepends=True):
        lines.append(lines[-1] + len(line))

    def begin(node: ast.expr) -> int:
        return lines[node.lineno - 1] + node.col_offset

    def end(node: ast.expr) -> int:
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        return lines[node.end_lineno - 1] + node.end_col_offset

    def between(one: ast.expr, other: ast.expr, old: str, new: str, line: int) -> Iterator[Fault]:
        gap = source[end(one) : begin(other)]
        if gap.count(old.encode()) == 1:
            at = end(one) + gap.index(old.encode())
            yield Fault(path, line, at, at + len(old), new)

    for node in ast.walk(tree):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARISONS:
            old, others = _COMPARISONS[type(node.ops[0])]
            for new in others:
                yield from between(node.left, node.comparators[0], old, new, node.lineno)
        elif isinstance(node, ast.BinOp) and type(node.op) in _OPERATORS:
            yield from between(node.left, node.right, *_OPERATORS[type(node.op)], node.lineno)
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _CALLS:
            yield Fault(path, node.lineno, begin(node.func), end(node.func), _CALLS[node.func.id])
        elif isinstance(node, ast.BoolOp):
            old, new = ("and", "or") if isinstance(node.op, ast.And) else ("or", "and")
            yield from between(node.values[0], node.values[1], old, new, node.lineno)
        elif isinstance(node, ast.If | ast.IfExp | ast.While):
            yield Fault(path, node.test.lineno, begin(node.test), begin(node.test), "not ")


def covering(trees: list[Path]) -> tuple[dict[str, dict[int, set[str]]], dict[str, float]]:
    """The tests that run each line of each module, and how long each test takes. Each copy of the project
    runs its share of them. Tests that fail without any fault are named and left out."""
    runs: dict[str, dict[int, set[str]]] = defaultdict(lambda: defaultdict(set))
    seconds: dict[str, float] = defaultdict(float)
    files = sorted(path.relative_to(trees[0]) for path in (trees[0] / "tests/core").glob("test_*.py"))
    with ThreadPoolExecutor(len(trees)) as side_by_side:
        list(side_by_side.map(_traced, trees, [files[n :: len(trees)] for n in range(len(trees))]))
    failed: set[str] = set()
    for tree in trees:
        data = coverage.CoverageData(str(tree / ".coverage"))
        data.read()
        for file in data.measured_files():
            lines = runs[str(Path(file).relative_to(tree))]
            for line, contexts in data.contexts_by_lineno(file).items():
                lines[line] |= set(filter(None, contexts))
        for case in ET.parse(tree / "times.xml").iter("testcase"):
            name = f"{case.attrib['classname']}.{case.attrib['name'].split('[')[0]}"
            seconds[name] += float(case.attrib["time"])
            if case.find("failure") is not None or case.find("error") is not None:
                failed.add(name)
    for name in sorted(failed):
        print(f"left out, for it fails without any fault: {name}", flush=True)
    return {path: {n: names - failed for n, names in lines.items()} for path, lines in runs.items()}, seconds


def _traced(tree: Path, files: list[Path]) -> None:
    # Where its thread differs a line is still a test's: the tests' own threads are followed.
    (tree / "rc").write_text("[run]\ndynamic_context = test_function\nsource = core/fulgen\n", "utf-8")
    subprocess.run(
        [sys.executable, "-m", "coverage", "run", "--rcfile=rc", "-m", "pytest", "-q", "-p", "no:xdist",
         "-p", "no:randomly", "--junitxml=times.xml", *map(str, files)],
        cwd=tree, env=_env(tree), check=False, stdout=subprocess.DEVNULL,
    )  # fmt: skip


def _env(tree: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": f"{tree / 'core'}:{tree / 'server'}:{tree}"}


def _node_id(context: str) -> str:
    """tests.core.test_weld.TestHoles.test_one as pytest names it."""
    parts = context.split(".")
    return "/".join(parts[:3]) + ".py::" + "::".join(parts[3:])


def quickest(tests: Iterable[str], seconds: dict[str, float]) -> list[str]:
    """Tests that take no longer than `_SECONDS` together, the quickest first; at least one."""
    chosen: list[str] = []
    left = _SECONDS
    for name in sorted(tests, key=lambda name: seconds[name]):
        left -= seconds[name]
        if chosen and left < 0:
            break
        chosen.append(name)
    return chosen


def is_noticed(tree: Path, fault: Fault, tests: list[str], usual: float) -> bool:
    """Whether a test fails, or hangs, where the fault is in the core; the tests take ``usual`` seconds."""
    module = tree / fault.path
    good = module.read_bytes()
    module.write_bytes(fault.put_into(good))
    try:
        done = subprocess.run(
            [sys.executable, "-B", "-m", "pytest", "-q", "-x", "-p", "no:xdist", "-p", "no:randomly",
             "-p", "no:cacheprovider", *map(_node_id, tests)],
            cwd=tree, env=_env(tree), capture_output=True, timeout=60 + _HANGS * usual,
        )  # fmt: skip
        return done.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        module.write_bytes(good)


def _copy(folder: Path) -> Path:
    left_out = shutil.ignore_patterns("__pycache__", "node_modules", "dist")
    for name in ("core", "server", "tests", "faces", "demo", "docs", "web"):
        shutil.copytree(ROOT / name, folder / name, ignore=left_out)
    for name in ("fulgen", "requirements.txt", "requirements-test.txt", "pyproject.toml", "README.md"):
        shutil.copy(ROOT / name, folder / name)
    # What is installed is not installed again.
    (folder / ".venv").symlink_to(ROOT / ".venv")
    return folder


def main(count: int = 200, seed: int = 1) -> None:
    """Prints each fault that no test noticed, and how many were noticed."""
    rng = random.Random(seed)
    began = time.monotonic()
    with tempfile.TemporaryDirectory() as work:
        trees = [_copy(Path(work) / str(n)) for n in range(2)]
        runs, seconds = covering(trees)
        modules = sorted(path.relative_to(trees[0]) for path in (trees[0] / "core/fulgen").rglob("*.py"))
        every = [fault for path in modules for fault in faults(str(path), (trees[0] / path).read_bytes())]
        minutes = (time.monotonic() - began) / 60
        print(f"{len(every)} faults could be made; {count} of them, seed {seed}", flush=True)
        print(f"which tests run which line was found in {minutes:.0f} minutes", flush=True)

        def tried(tree: Path, some: list[Fault]) -> Iterator[tuple[Fault, bool]]:
            for fault in some:
                tests = quickest(runs.get(fault.path, {}).get(fault.line, ()), seconds)
                usual = sum(seconds[name] for name in tests)
                yield fault, bool(tests) and is_noticed(tree, fault, tests, usual)

        def say(tree: Path, some: list[Fault]) -> int:
            noticed = 0
            for fault, was_noticed in tried(tree, some):
                noticed += was_noticed
                if not was_noticed:
                    old = (tree / fault.path).read_bytes()[fault.start : fault.end].decode() or "condition"
                    print(f"unnoticed: {fault.path}:{fault.line}  {old} → {fault.text.strip()}", flush=True)
            return noticed

        chosen = rng.sample(every, count)
        with ThreadPoolExecutor(len(trees)) as side_by_side:
            noticed = sum(side_by_side.map(say, trees, (chosen[::2], chosen[1::2])))
    minutes = (time.monotonic() - began) / 60
    print(f"noticed: {noticed} of {count} ({noticed / count:.0%}), in {minutes:.0f} minutes")
