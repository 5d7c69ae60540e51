"""What the command line reads and writes: files, whole or not at all, and words for counts and lengths."""

from __future__ import annotations

import argparse
import json
import os
import stat
import sys
import tempfile
from contextlib import AbstractContextManager
from pathlib import Path
from typing import TYPE_CHECKING

from fulgen.budget import within
from fulgen.problem import Problem
from fulgen.units import parse_length, show_length

if TYPE_CHECKING:
    from fulgen.recipe.evaluation import Evaluation


BUDGET_S = 120.0
"""Processor time for one design."""


def one_design() -> AbstractContextManager[None]:
    """Within it one design is worked out, for no longer than its budget."""
    return within(BUDGET_S)


BLOCKED, REFUSED, CRASHED, STOPPED, UNREAD = 1, 2, 70, 130, 141
"""Exit codes: a finding blocks the cut; what is asked cannot be done; a fault of Fulgen's own (EX_SOFTWARE of
sysexits.h, 4.3BSD); stopped from the keyboard, and nobody read the output (128 and the signal's number, as
shells tell it)."""


def length_between(text: str, option: str, least: float, most: float) -> float:
    mm = parse_length(text, where=option)
    if not least <= mm <= most:
        raise Problem(
            "out-of-range",
            f"{show_length(mm)} is not between {least:g} mm and {most:g} mm.",
            "Type a length in this range.",
            option,
        )
    return mm


def write_results(evaluation: Evaluation, output: Path, options: argparse.Namespace) -> None:
    from fulgen.readiness.gate import loose_words
    from fulgen.report import report, unmet_words

    write_outline(evaluation, output, options.anyway)
    for line in (*unmet_words(evaluation), *(word.what for word in loose_words(evaluation))):
        print(f"fulgen: {line}", file=sys.stderr)
    if options.report:
        figures = json.dumps(report(evaluation), indent=2, ensure_ascii=False)
        write_text(options.report, figures + "\n")


def write_outline(evaluation: Evaluation, output: Path, anyway: bool) -> None:
    """Writes the outline; nothing of one that is not ready to cut, unless that is asked for."""
    from fulgen.formats.carried import svg_with_recipe
    from fulgen.formats.svg import write_svg
    from fulgen.readiness.gate import faults

    outline = svg_with_recipe(write_svg(evaluation), output.stem, evaluation.recipe)
    if not anyway:
        for stop in faults(evaluation):
            raise Problem(
                "at-gate", stop.what, "Make it ready with --ready, or write it with --anyway.", "--ready"
            )
    write_text(output, outline)


_MAX_TEXT_BYTES = 8 * 2**20


def read_text(path: Path) -> str:
    data = read_bytes(path, _MAX_TEXT_BYTES + 1)
    if len(data) > _MAX_TEXT_BYTES:
        raise Problem(
            "file-too-large", f"{path.name} is larger than 8 MB.", "Check that this is the right file."
        )
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Problem(
            "not-text", f"{path.name} is not a text file in UTF-8.", "Save it as plain text."
        ) from None


def read_bytes(path: Path, most: int) -> bytes:
    """What a file holds, up to so many bytes."""
    try:
        if path.exists() and not path.is_file():  # a device or a pipe may never end
            raise Problem("no-file", f"{path.name} is no plain file.", "Save it as a file first.")
        with path.open("rb") as file:
            return file.read(most)
    except OSError as error:
        raise Problem(
            "no-file", f"{path.name} cannot be read ({error.strerror}).", "Check the path."
        ) from None


def write_text(path: Path, text: str) -> None:
    write_bytes(path, text.encode())


def write_bytes(path: Path, data: bytes) -> None:
    """Writes beside the file first, so that a failure leaves the old one whole. A link stays, and what it
    points to is written; a file that is there keeps its mode."""
    try:
        path = path.resolve()
        if path.exists() and not path.is_file():
            raise Problem("not-written", f"{path.name} is no plain file.", "Choose another name.")
        mode = stat.S_IMODE(path.stat().st_mode) if path.exists() else None
        handle, beside = tempfile.mkstemp(dir=path.parent, prefix=".fulgen-")
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            if mode is None:
                umask = os.umask(0)
                os.umask(umask)
                mode = 0o666 & ~umask
            Path(beside).chmod(mode)
            Path(beside).replace(path)
        except OSError:
            Path(beside).unlink(missing_ok=True)
            raise
    except OSError as error:
        raise Problem(
            "not-written",
            f"{path.name} cannot be written ({error.strerror}).",
            "Check the folder and try again.",
        ) from None


def make_folder(path: Path) -> None:
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Problem(
            "not-written", f"The folder {path.name} cannot be made ({error.strerror}).", "Choose another."
        ) from None
