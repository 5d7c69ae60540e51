"""The command line: the same core, for people who script it.

Errors are one line on stderr; the exit codes are named below. Everything heavy is imported where it is used,
so help and mistakes answer at once.
"""

from __future__ import annotations

import argparse
import csv
import io
import json
import os
import re
import stat
import sys
import tempfile
import traceback
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from fulgen.budget import within
from fulgen.problem import Problem
from fulgen.units import Unit, parse_length, show_length

if TYPE_CHECKING:
    from fulgen.formats.drawn_sheet import About
    from fulgen.joining.materials import Material
    from fulgen.lettering.catalogue import FaceSource
    from fulgen.recipe.evaluate import Evaluation
    from fulgen.recipe.model import Recipe
    from fulgen.sheet.motifs import Motif

_FACE_FILE = re.compile(r".*\.(ttf|otf|woff2?|ttc)$|.*[/\\].*", re.IGNORECASE)
_NEGATIVE = re.compile(r"-[\d.,].*")
_MAX_LIST_LINES = 5_000

BUDGET_S = 120.0
"""Processor time for one design."""

BLOCKED, REFUSED, CRASHED, STOPPED, UNREAD = 1, 2, 70, 130, 141
"""Exit codes: a finding blocks the cut; what is asked cannot be done; a fault of Fulgen's own (EX_SOFTWARE of
sysexits.h, 4.3BSD); stopped from the keyboard, and nobody read the output (128 and the signal's number, as
shells tell it)."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(f"fulgen: {message} (see ./fulgen {self.prog.split()[-1]} --help)", file=sys.stderr)
        raise SystemExit(REFUSED)


def main(argv: Sequence[str] | None = None) -> int:
    """Runs one command; returns its exit code."""
    arguments = _hold_negative_values(list(sys.argv[1:] if argv is None else argv))
    try:
        options = _parser().parse_args(arguments)
        command: Callable[[argparse.Namespace], int | None] = options.command
        code = command(options)
    except Problem as problem:
        print(f"fulgen: {problem}", file=sys.stderr)
        return BLOCKED if problem.kind == "at-gate" else REFUSED
    except BrokenPipeError:
        # Whoever read our output has left; nothing more to say.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return UNREAD
    except KeyboardInterrupt:
        print("fulgen: stopped", file=sys.stderr)
        return STOPPED
    except Exception as error:
        at = traceback.extract_tb(error.__traceback__)[-1]
        where = f"{type(error).__name__} in {Path(at.filename).name}, line {at.lineno}"
        print(f"fulgen: something went wrong inside Fulgen ({where}). Nothing was written.", file=sys.stderr)
        return CRASHED
    return code or 0


def _hold_negative_values(arguments: list[str]) -> list[str]:
    """Ties "-0.4mm" to the option before it, or argparse would read it as an option."""
    held: list[str] = []
    for argument in arguments:
        if held and held[-1].startswith("--") and "=" not in held[-1] and _NEGATIVE.fullmatch(argument):
            held[-1] += "=" + argument
        else:
            held.append(argument)
    return held


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="fulgen", description="Typed lettering as single cuttable outlines.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=_Parser)

    letter = commands.add_parser("letter", help="set a word, or a list of words, and write SVG")
    letter.add_argument("text", nargs="?", help="the words; \\n starts a new line")
    _takes_lettering(letter, join="set", marks="keep")
    size = letter.add_mutually_exclusive_group()
    for measure, words in (
        ("width", "overall width"),
        ("height", "overall height"),
        ("capitals", "height of a capital (25mm unless said)"),
        ("face-size", "size of the face, such as 100pt"),
    ):
        size.add_argument(f"--{measure}", metavar="LENGTH", help=words)
    letter.add_argument(
        "--line-spacing", type=float, default=1.2, metavar="N", help="in sizes, 1.2 unless said"
    )
    letter.add_argument("--align", choices=("left", "centre", "right"))
    letter.add_argument(
        "--on", metavar="LINE",
        help="along circle:60mm[,inside][,inward][,bottom][,bent], arc:120mm[,0.3], wave:150mm[,8mm[,2]], "
        "or down[,3mm]",
    )  # fmt: skip
    letter.set_defaults(command=_letter)

    frame = commands.add_parser("frame", help="fit a name, or a list of names, into a frame and write SVG")
    frame.add_argument("name", metavar="NAME", help="a frame of ./fulgen frames")
    frame.add_argument("--text", action="append", help="the name; once more for each further band")
    _takes_lettering(frame, join="auto", marks="lower")
    frame.add_argument("--width", metavar="LENGTH", help="how wide the frame is; 80mm unless said")
    frame.add_argument("--height", metavar="LENGTH", help="how high it is; as is usual for it unless said")
    frame.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="KEY=VALUE",
        help="a measure, such as rim=4mm or spokes=6",
    )
    frame.add_argument("--holes", action="store_true", help="the name is cut out")
    frame.add_argument(
        "--initial", default="", help="letters of an initial; the name's first one unless said"
    )
    frame.add_argument("--initial-face", default="Anton", metavar="NAME", help="their face")
    frame.add_argument("--air", metavar="LENGTH", default="3mm", help="beside the name")
    frame.add_argument("--depth", metavar="LENGTH", help="in the edges; as deep as it needs unless said")
    frame.set_defaults(command=_frame)

    frames = commands.add_parser("frames", help="list the frames with what can be set of them")
    frames.add_argument("--json", action="store_true")
    frames.set_defaults(command=_frames)

    build = commands.add_parser("build", help="write the SVG of a recipe")
    build.add_argument("recipe", type=Path, metavar="RECIPE.json")
    build.add_argument("-o", "--output", type=Path, metavar="OUT.svg", required=True)
    build.add_argument("--report", type=Path, metavar="OUT.json")
    _takes_ready(build)
    build.set_defaults(command=_build)

    pattern = commands.add_parser("pattern", help="write a recipe as a PDF to print at true size")
    pattern.add_argument("recipe", type=Path, metavar="RECIPE.json")
    pattern.add_argument("--paper", choices=("a4", "letter"), default="a4", help="a4 unless said")
    pattern.add_argument("-o", "--output", type=Path, metavar="OUT.pdf", required=True)
    _takes_ready(pattern)
    pattern.set_defaults(command=_pattern)

    check = commands.add_parser("check", help="say what would go wrong in a recipe; exit 1 while it would")
    check.add_argument("recipe", type=Path, metavar="RECIPE.json")
    check.add_argument("--material", metavar="NAME", help="check for another material than the recipe's")
    check.add_argument("--json", action="store_true", help="the findings as JSON")
    check.add_argument("--ready", action="store_true", help="say what making it ready does, and check that")
    check.set_defaults(command=_check)

    brought = commands.add_parser("import", help="read a drawing (SVG, PDF, DXF) as a recipe")
    brought.add_argument("drawing", type=Path, metavar="FILE")
    brought.add_argument("--page", type=int, default=1, metavar="N", help="the page of a PDF")
    brought.add_argument(
        "--units", choices=("mm", "in"), help="what its numbers mean, where the file does not say"
    )
    brought.add_argument("-o", "--output", type=Path, metavar="RECIPE.json", required=True)
    brought.set_defaults(command=_import)

    cut = commands.add_parser("cut", help="lay designs on sheets and write files for the cutter")
    cut.add_argument("files", nargs="+", type=Path, metavar="FILE", help="recipes, or drawings")
    cut.add_argument("--sheet", required=True, metavar="WIDTHxHEIGHT", help="such as 300x600mm")
    cut.add_argument("--margin", default="5mm", metavar="LENGTH", help="that the rollers need")
    cut.add_argument("--spacing", default="3mm", metavar="LENGTH", help="between what is cut")
    cut.add_argument("--material", metavar="NAME", help="another material than the recipe's")
    cut.add_argument("--machine", default="Drag knife", metavar="NAME")
    cut.add_argument("--copies", type=int, default=1, metavar="N")
    cut.add_argument(
        "--to", choices=("svg", "dxf", "dxf-r12", "pdf", "eps", "hpgl", "png"), default="hpgl",
        help="the kind of the files; HP-GL unless said",
    )  # fmt: skip
    cut.add_argument(
        "--tolerance", default="0.02mm", metavar="LENGTH", help="of chords, where files have no curves"
    )
    cut.add_argument(
        "--lines", nargs="?", const="0.25mm", metavar="LENGTH",
        help="draw lines to be cut so wide (0.25mm unless said), not areas, in SVG, PDF and EPS; "
        "0 for areas; as the machine wants it unless said",
    )  # fmt: skip
    cut.add_argument("--nest", action="store_true", help="arrange closely, to use little film")
    cut.add_argument(
        "--turns", choices=("none", "half", "quarter", "any"), default="none",
        help="how --nest may turn what is cut; half keeps the grain",
    )  # fmt: skip
    cut.add_argument(
        "--boxes", choices=("none", "each", "sheet"), default="none", help="boxes that help weeding"
    )
    cut.add_argument("-o", "--output", type=Path, metavar="DIR", required=True)
    cut.add_argument("--report", type=Path, metavar="OUT.json", help="figures as JSON")
    _takes_ready(cut)
    cut.set_defaults(command=_cut)

    simulate = commands.add_parser(
        "simulate", help="say what comes off a sheet; exit 1 when it is not what was promised"
    )
    simulate.add_argument("file", type=Path, metavar="FILE.plt|FILE.svg")
    simulate.add_argument("--promised", type=Path, metavar="FILE.svg", help="the drawing that was promised")
    simulate.add_argument("--blade-offset", default="0", metavar="LENGTH", help="how far the tip trails")
    simulate.add_argument("--kerf", default="0", metavar="LENGTH", help="what a beam or saw takes away")
    simulate.add_argument("--holds", default="0", metavar="LENGTH", help="what the material holds")
    simulate.add_argument("--report", type=Path, metavar="OUT.json", help="figures as JSON")
    simulate.set_defaults(command=_simulate)

    shapes = commands.add_parser("shapes", help="list the shape library with its parameters")
    shapes.add_argument("--json", action="store_true")
    shapes.set_defaults(command=_shapes)

    faces = commands.add_parser("faces", help="list the faces that ship with Fulgen")
    faces.add_argument("--json", action="store_true")
    faces.add_argument("--rate", action="store_true", help="measures how each face joins as it is set")
    faces.set_defaults(command=_faces)
    return parser


def _takes_lettering(parser: argparse.ArgumentParser, join: str, marks: str) -> None:
    """What can be said of words, wherever they go; ``join`` and ``marks`` are as is usual there."""
    parser.add_argument("--list", type=Path, metavar="FILE", help="a file with one text a line")
    parser.add_argument("--out-dir", type=Path, metavar="DIR", help="where the files of a list go")
    parser.add_argument(
        "--face", default="Pacifico", metavar="NAME|PATH", help="a shipped face or a font file"
    )
    parser.add_argument("--weight", type=int, help="the weight, such as 400 or 700")
    parser.add_argument(
        "--axis", action="append", default=[], metavar="TAG=VALUE", help="an axis of a variable face"
    )
    parser.add_argument(
        "--feature", action="append", default=[], metavar="TAG=on|off", help="a feature of the face"
    )
    parser.add_argument(
        "--spacing", metavar="LENGTH|N%", default="0", help="between letters, in mm, in, or %% of the size"
    )
    parser.add_argument(
        "--join", choices=("set", "auto"), default=join,
        help="set: letters as the face sets them; auto: brought together, one piece to a word; "
        f"{join} unless said",
    )  # fmt: skip
    parser.add_argument("--neck", metavar="LENGTH", help="how wide every joint is to be; 1.2mm unless said")
    parser.add_argument(
        "--tight", type=float, default=0.5, metavar="N",
        help="how letters are joined: 0 as drawn, 1 tightly, 0.5 unless said",
    )  # fmt: skip
    parser.add_argument("--smooth", metavar="LENGTH", default="0", help="rounds the notches at joints")
    parser.add_argument(
        "--marks", choices=("keep", "lower", "bridge"), default=marks,
        help="dots and accents: kept apart, lowered into their letters, or tied to them by a bar; "
        f"{marks} unless said",
    )  # fmt: skip
    parser.add_argument(
        "--tie", action="store_true", help="one piece whatever it takes: bridges for all that is loose"
    )
    parser.add_argument(
        "--thicken", metavar="LENGTH", default="0", help="moves every edge outwards, or inwards with -0.1mm"
    )
    parser.add_argument(
        "--slant", type=float, default=0.0, metavar="DEGREES", help="letters lean to the right by so much"
    )
    parser.add_argument(
        "--corners", choices=("round", "mitred"), default="round", help="how thickened corners are drawn"
    )
    parser.add_argument(
        "--material",
        metavar="NAME",
        help="what it is cut from: its limits, and its neck unless --neck is given",
    )
    parser.add_argument("--mirror", action="store_true", help="cut from the back")
    parser.add_argument("-o", "--output", type=Path, metavar="OUT.svg")
    parser.add_argument(
        "--report", type=Path, metavar="OUT.json", help="figures as JSON; of a list also as CSV, a row a text"
    )
    _takes_ready(parser, unless_said=join == "auto")


def _takes_ready(parser: argparse.ArgumentParser, unless_said: bool = False) -> None:
    """What is done about what the material would not hold."""
    parser.add_argument(
        "--ready",
        action=argparse.BooleanOptionalAction,
        default=unless_said,
        help="make thin strokes, weak necks and small holes ready to cut",
    )
    parser.add_argument("--anyway", action="store_true", help="write it though it is not ready to cut")


def _letter(options: argparse.Namespace) -> None:
    _written(options, None if options.text is None else (options.text.replace("\\n", "\n"),))


def _frame(options: argparse.Namespace) -> None:
    _written(options, None if options.text is None else tuple(t.replace("\\n", "\n") for t in options.text))


def _written(options: argparse.Namespace, texts: tuple[str, ...] | None) -> None:
    """Writes the file of some texts, or those of a list."""
    recipe_for, faces = _recipe_maker(options)
    if options.list:
        if texts is not None or options.output:
            raise Problem(
                "usage", "--list writes files of its own.", "Leave out the text and -o; give --out-dir."
            )
        if not options.out_dir:
            raise Problem("usage", "--list needs a folder for its files.", "Add --out-dir DIR.")
        _letter_list(options)
        return
    if texts is None or not options.output:
        framed = options.command is _frame
        raise Problem(
            "usage",
            "There is no text or no output file.",
            'Try: ./fulgen frame "name ring" --text "Piers" -o ring.svg'
            if framed
            else 'Try: ./fulgen letter "Willowmere" --width 7in -o name.svg',
        )
    from fulgen.recipe.evaluate import evaluate

    with within(BUDGET_S):
        evaluation = evaluate(recipe_for(*texts), faces).whole()
        _write_results(evaluation, options.output, options)


def _import(options: argparse.Namespace) -> None:
    from fulgen.formats.artwork import MAX_FILE_BYTES, read_artwork
    from fulgen.recipe.model import Recipe
    from fulgen.recipe.versions import to_store

    data = _read_bytes(options.drawing, MAX_FILE_BYTES + 1)
    with within(BUDGET_S):
        found = read_artwork(data, options.drawing.name, options.page, options.units)
        stored = to_store(Recipe(parts=(found.artwork,)))
    _write_text(options.output, stored + "\n")
    size = f"{found.width_mm:.2f} × {found.height_mm:.2f} mm"
    if not found.size_stated:
        size += "; the file does not say its size: check it, or give --units"
    for note in (f"Read at {size}.", *found.notes):
        print(note, file=sys.stderr)


def _frames(options: argparse.Namespace) -> None:
    from fulgen.framing.frames import FRAMES

    if options.json:
        rows = [
            {
                "name": form.name,
                "says": form.says,
                "ratio": form.ratio,
                "uses": list(form.uses),
                "most_names": form.most_names,
                "has_initial": form.has_initial,
                "measures": [asdict(measure) for measure in form.measures],
            }
            for form in FRAMES.values()
        ]
        print(json.dumps(rows, indent=2))
        return
    for form in FRAMES.values():
        told = ", ".join(m.key for m in form.measures)
        print(f"{form.name:18}{form.says}; {told}")


def _shapes(options: argparse.Namespace) -> None:
    from fulgen.geometry.forms import FORMS

    if options.json:
        rows = [
            {
                "name": form.name,
                "group": form.group,
                "ratio": form.ratio,
                "parameters": [asdict(parameter) for parameter in form.parameters],
            }
            for form in FORMS.values()
        ]
        print(json.dumps(rows, indent=2))
        return
    for form in FORMS.values():
        told = ", ".join(f"{p.key} {p.low:g} to {p.high:g} ({p.usual:g})" for p in form.parameters)
        print(f"{form.name:14}{told}")


def _recipe_maker(options: argparse.Namespace) -> tuple[Callable[..., Recipe], FaceSource]:
    """A function from texts to recipe by the options given, and where its face comes from."""
    from fulgen.recipe.model import VERSION
    from fulgen.recipe.versions import recipe_from

    spacing_mm, spacing_share = _spacing(options.spacing)
    axes = dict(_axis(text) for text in options.axis)
    family, faces = _face(options.face, axes)
    chosen = _material(options.material) if options.material else None
    neck = 1.2 if chosen is None else chosen.joint_mm
    if options.neck is not None:
        neck = parse_length(options.neck, where="--neck")
    frame = _frame_asked(options) if options.command is _frame else None
    part = {
        "face": {"family": family, "weight": options.weight, "axes": axes},
        "features": dict(_feature(text) for text in options.feature),
        "spacing_mm": spacing_mm,
        "spacing_share": spacing_share,
        "join": {
            "how": options.join,
            "neck_mm": neck,
            "tight": options.tight,
            "smooth_mm": parse_length(options.smooth, where="--smooth"),
            "marks": options.marks,
            "tie": options.tie or frame is not None,
        },
        "thicken_mm": parse_length(options.thicken, where="--thicken"),
        "slant": options.slant,
        "corners": options.corners,
    }
    if frame is None:
        part |= _set_as(options)

    def recipe_for(*texts: str) -> Recipe:
        whole: dict[str, Any] = {"format": "fulgen-recipe", "version": VERSION, "mirror": options.mirror}
        if chosen:
            whole["material"] = {"name": chosen.name}
        if options.ready:
            whole["ready"] = {}
        names = [{**part, "id": f"lettering-{n}", "text": text} for n, text in enumerate(texts, 1)]
        held = [{**frame, "members": [name["id"] for name in names]}] if frame is not None else []
        return recipe_from({**whole, "parts": [*names, *held]})

    recipe_for("")  # settings are wrong or right whatever the text is
    return recipe_for, faces


def _set_as(options: argparse.Namespace) -> dict[str, Any]:
    """How large words are, and how they run."""
    measures = {"width": "width", "height": "height", "capitals": "capitals", "face_size": "face"}
    asked = next((option for option in measures if getattr(options, option)), "capitals")
    course = _course(options.on) if options.on else None
    return {
        "size": {
            "measure": measures[asked],
            "mm": parse_length(getattr(options, asked) or "25mm", where=f"--{asked.replace('_', '-')}"),
        },
        "line_spacing": options.line_spacing,
        "align": options.align or ("centre" if course else "left"),
        "course": course,
    }


def _course(text: str) -> dict[str, Any]:
    """What words run along, as it is said: "circle:60mm,inside"."""
    kind, _, rest = text.partition(":")
    kind, *more = [word.strip() for word in kind.split(",")] if not rest else [kind.strip()]
    words = [word.strip() for word in rest.split(",") if word.strip()] or more
    lengths = [word for word in words if word[:1].isdigit() or word[:1] in ".-"]
    said = set(words) - set(lengths)
    flags = {"inside", "inward", "bottom", "bent"}
    if kind not in ("circle", "arc", "wave", "down") or said - flags or (kind != "down" and not lengths):
        raise Problem(
            "usage",
            f"“{text}” is not a line to set words on.",
            "Write it like circle:60mm, arc:120mm,0.3, wave:150mm,8mm or down.",
            "--on",
        )
    course: dict[str, Any] = {"kind": kind, "letters": "bent" if "bent" in said else "turned"}
    if kind == "down":
        course["spine_mm"] = parse_length(lengths[0], where="--on") if lengths else 0.0
        return course
    course["diameter_mm" if kind == "circle" else "length_mm"] = parse_length(lengths[0], where="--on")
    if kind == "arc" and len(lengths) > 1:
        course["bulge"] = _number(lengths[1], "--on")
    if kind == "wave":
        course |= {"swing_mm": parse_length(lengths[1], where="--on")} if len(lengths) > 1 else {}
        course |= {"waves": _number(lengths[2], "--on")} if len(lengths) > 2 else {}
    course |= {"side": "inside"} if "inside" in said else {}
    course |= {"reading": "inward"} if "inward" in said else {}
    course |= {"place": 180.0} if "bottom" in said else {}
    return course


def _number(text: str, where: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise Problem("usage", f"“{text}” is not a number.", "Write it like 0.3.", where) from None


def _frame_asked(options: argparse.Namespace) -> dict[str, Any]:
    """The frame that is asked for, as a part of a recipe."""
    from fulgen.framing.frames import frame_of
    from fulgen.lettering.catalogue import find_family

    form = frame_of(options.name)
    width = parse_length(options.width or "80mm", where="--width")
    height = parse_length(options.height, where="--height") if options.height else width / form.ratio
    values = {}
    for text in options.set:
        key, _, value = text.partition("=")
        measure = next((m for m in form.measures if m.key == key), None)
        if measure is None or not value:
            keys = ", ".join(m.key for m in form.measures)
            raise Problem("usage", f"“{text}” sets nothing of a {form.name}.", f"It has: {keys}.", "--set")
        values[key] = (
            parse_length(value, where="--set") if measure.kind == "length" else _number(value, "--set")
        )
    return {
        "kind": "frame",
        "id": "frame-1",
        "form": form.name,
        "width_mm": width,
        "height_mm": height,
        "values": values,
        "holes": options.holes and "holes" in form.uses,
        "text": options.initial,
        "face": {"family": find_family(options.initial_face).slug},
        "fit": {
            "air_mm": parse_length(options.air, where="--air"),
            "depth_mm": parse_length(options.depth, where="--depth") if options.depth else None,
        },
    }


def _material(name: str) -> Material:
    """The material that a name means: the whole of it, or enough of it to tell it from others."""
    from fulgen.joining.materials import MATERIALS

    wanted = name.casefold().strip()
    exact = [m for m in MATERIALS if m.name.casefold() == wanted]
    found = exact or [m for m in MATERIALS if m.name.casefold().startswith(wanted)]
    if len(found) != 1 or not wanted:
        raise Problem(
            "usage",
            f"“{name}” is not a material.",
            f"Choose one of: {'; '.join(m.name for m in MATERIALS)}.",
            "--material",
        )
    return found[0]


def _face(name: str, axes: dict[str, float]) -> tuple[str, FaceSource]:
    from fulgen.lettering.catalogue import shipped_face

    if not _FACE_FILE.fullmatch(name):
        from fulgen.lettering.catalogue import find_family

        return find_family(name).slug, shipped_face
    from fulgen.lettering.faces import read_face

    face = read_face(Path(name), tuple(sorted(axes.items())))
    return face.name[:80], lambda _choice: face


def _spacing(text: str) -> tuple[float, float]:
    if text.strip().endswith("%"):
        try:
            return 0.0, float(text.strip()[:-1]) / 100
        except ValueError:
            raise Problem(
                "not-a-length",
                f"“{text}” is not a spacing.",
                "Type a length such as -0.4mm, or a share such as -2%.",
                "--spacing",
            ) from None
    return parse_length(text, where="--spacing"), 0.0


def _axis(text: str) -> tuple[str, float]:
    tag, _, value = text.partition("=")
    try:
        return tag, float(value)
    except ValueError:
        raise Problem(
            "usage", f"“{text}” is not an axis and a value.", "Write it like wght=650.", "--axis"
        ) from None


def _feature(text: str) -> tuple[str, bool]:
    tag, _, state = text.partition("=")
    if state not in ("", "on", "off"):
        raise Problem(
            "usage", f"“{text}” is not a feature and on or off.", "Write it like liga=off.", "--feature"
        )
    return tag, state != "off"


def _letter_list(options: argparse.Namespace) -> None:
    lines = [line.strip() for line in _read_text(options.list).splitlines()]
    texts = [line for line in lines if line]
    if not texts:
        raise Problem("no-letters", f"There are no words in {options.list.name}.", "Put one on each line.")
    if len(texts) > _MAX_LIST_LINES:
        raise Problem(
            "too-many-lines",
            f"{options.list.name} has {len(texts):,} lines; a list holds up to {_MAX_LIST_LINES:,}.",
            "Split the list.",
        )
    _make_folder(options.out_dir)
    failed = 0
    rows: list[dict[str, Any]] = []
    for done, (text, name, told) in enumerate(_each_written(options, texts), 1):
        if isinstance(told, str):
            failed += 1
            print(f"{done}/{len(texts)}  “{text[:40]}” left out: {told}", file=sys.stderr)
            rows.append({"text": text, "file": "", "left_out": told})
        else:
            print(f"{done}/{len(texts)}  {name}.svg", file=sys.stderr)
            rows.append({"text": text, "file": f"{name}.svg", "left_out": "", **told})
    if options.report:
        _write_text(options.report, _rows_as(rows, options.report.suffix))
    if failed:
        raise Problem(
            "list-incomplete",
            f"{failed} of {len(texts)} lines could not be set.",
            "The lines above say why; the other files are written.",
        )


def _rows_as(rows: Sequence[dict[str, Any]], kind: str) -> str:
    """The figures of a list, a row a text: as CSV (RFC 4180), or as JSON."""
    if kind.lower() != ".csv":
        return json.dumps(rows, indent=2, ensure_ascii=False) + "\n"
    names = dict.fromkeys(name for row in rows for name in row)
    out = io.StringIO()
    table = csv.DictWriter(out, list(names), restval="")
    table.writeheader()
    table.writerows(rows)
    return out.getvalue()


_FEW = 12
"""A list this short is done sooner than more processes are started."""


def _each_written(
    options: argparse.Namespace, texts: Sequence[str]
) -> Iterator[tuple[str, str, dict[str, Any] | str]]:
    """Writes the file of each text, on all cores; yields text, name, and its figures or what was wrong, in
    order."""
    from concurrent.futures import ProcessPoolExecutor
    from functools import partial

    from fulgen.formats.names import safe_names

    names = safe_names(texts)
    write = partial(_write_one, options)
    cores = os.cpu_count() or 1
    if cores < 2 or len(texts) <= _FEW:
        yield from zip(texts, names, map(write, texts, names), strict=True)
        return
    with ProcessPoolExecutor(cores) as pool:
        yield from zip(texts, names, pool.map(write, texts, names, chunksize=4), strict=True)


def _write_one(options: argparse.Namespace, text: str, name: str) -> dict[str, Any] | str:
    """Sets one text and writes its file; returns its figures, where they are wanted, or what is wrong."""
    from fulgen.recipe.evaluate import evaluate
    from fulgen.report import summary

    recipe_for, faces = _recipe_maker(options)
    try:
        with within(BUDGET_S):
            evaluation = evaluate(recipe_for(text), faces).whole()
            _write_outline(evaluation, options.out_dir / f"{name}.svg", options.anyway)
            return summary(evaluation) if options.report else {}
    except Problem as problem:
        return str(problem)


def _build(options: argparse.Namespace) -> None:
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.versions import read_recipe

    with within(BUDGET_S):
        evaluation = evaluate(_readied(read_recipe(_read_text(options.recipe)), options)).whole()
        _write_results(evaluation, options.output, options)


def _pattern(options: argparse.Namespace) -> None:
    from fulgen.formats.pattern import write_pattern
    from fulgen.readiness.gate import look_whether_ready
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.versions import read_recipe

    with within(BUDGET_S):
        evaluation = evaluate(_readied(read_recipe(_read_text(options.recipe)), options)).whole()
        data = write_pattern(options.recipe.stem, evaluation, options.paper)
        if not options.anyway:
            look_whether_ready(evaluation)
    _write_bytes(options.output, data)


def _readied(recipe: Recipe, options: argparse.Namespace) -> Recipe:
    """The recipe, made ready where that is asked for."""
    from fulgen.recipe.changes import readied

    return readied(recipe) if options.ready else recipe


def _check(options: argparse.Namespace) -> int:
    from fulgen.readiness.findings import blocking, findings
    from fulgen.readiness.mended import counted, counts
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.model import MaterialChoice
    from fulgen.recipe.versions import read_recipe
    from fulgen.report import report

    recipe = read_recipe(_read_text(options.recipe))
    if options.material:
        choice = MaterialChoice(name=_material(options.material).name)
        recipe = recipe.model_copy(update={"material": choice})
    with within(BUDGET_S):
        evaluation = evaluate(_readied(recipe, options)).whole()
        found = findings(evaluation)
    if evaluation.recipe.ready and not options.json:
        for kind, count in counts(evaluation).items():
            print(f"{'mended':8}{counted(kind, count)}.")
    if options.json:
        print(json.dumps(report(evaluation)["findings"], indent=2, ensure_ascii=False))
    else:
        for finding in found:
            state = "known" if finding.accepted else "blocks" if finding.blocks else "look"
            remedy = f"  [{finding.remedy.label}]" if finding.remedy else ""
            print(f"{state:8}{finding.what(recipe.unit)}{remedy}")
        for line in _said(evaluation):
            print(f"{'look':8}{line}")
    stops = len(blocking(found))
    if not options.json:
        said = "Clear to cut" if not stops else f"{stops} to repair before the cut"
        print(f"{said} ({recipe.material.name}).")
    return BLOCKED if stops else 0


def _cut(options: argparse.Namespace) -> int:
    from fulgen.formats.drawn_sheet import about_all, drawn_sheet
    from fulgen.formats.names import safe_names
    from fulgen.formats.sheet_files import cut_file, write_file
    from fulgen.recipe.cutting import CutPlan
    from fulgen.sheet.machines import machine
    from fulgen.sheet.nest import nested
    from fulgen.sheet.sheets import LaidSheet, Sheet, laid_out, with_helps

    chosen = machine(options.machine)
    margin, spacing, tolerance = (
        _length_within(text, option, least, most)
        for text, option, least, most in (
            (options.margin, "--margin", 0.0, 1000.0),
            (options.spacing, "--spacing", 0.0, 1000.0),
            (options.tolerance, "--tolerance", 0.001, 1.0),
        )
    )
    sheet = Sheet(*_sheet_size(options.sheet), margin, spacing)
    hairline = chosen.hairline_mm
    if options.lines is not None:
        hairline = _length_within(options.lines, "--lines", 0.0, 5.0)
    figures: list[dict[str, Any]] = []
    files = []
    with within(BUDGET_S):
        motifs, abouts, stops = _motifs(options)
        if stops and not options.anyway:
            print("fulgen: make it ready with --ready, or cut it with --anyway.", file=sys.stderr)
            return BLOCKED
        plan = CutPlan(boxes=options.boxes)
        laid_sheets = laid_out(motifs, lambda _film: sheet, plan)
        if options.nest:
            by_film = {film: [m for s in laid_sheets if s.film == film for m in s.motifs]
                       for film in dict.fromkeys(s.film for s in laid_sheets)}  # fmt: skip
            laid_sheets = [
                with_helps(LaidSheet(film, sheet, tuple(own)), plan)
                for film, all_of_it in by_film.items()
                for own in nested(all_of_it, sheet, options.turns)
            ]
        names = safe_names([f"sheet {n} {laid.film}" for n, laid in enumerate(laid_sheets, 1)])
        for laid, name in zip(laid_sheets, names, strict=True):
            job = laid.job(chosen)
            designs = list(dict.fromkeys(one.motif.design for one in laid.motifs))
            drawn = drawn_sheet(name, job, about_all([abouts[d] for d in designs], laid.film), hairline)
            # No file is handed out before its sheet was cut on the simulated machine.
            plotted, told = cut_file(drawn)
            file = plotted if options.to == "hpgl" else write_file(drawn, options.to, tolerance)
            files.append(file)
            figures.append({
                "file": file.name, "film": laid.film, "motifs": len(laid.motifs),
                "promised": told.promised, "came_off": told.came_off,
                "cut_length_mm": round(job.length_mm, 1), "way_between_mm": round(job.way_mm, 1),
                "used": round(laid.used, 4),
            })  # fmt: skip
    _make_folder(options.output)
    for file in files:
        _write_bytes(options.output / file.name, file.data)
    for one in figures:
        print(f"{one['file']}  {_counted(one['promised'], 'piece')}, {one['used']:.0%} of the sheet used")
    if options.report:
        noted = {"sheets": figures, "cut_anyway": stops}
        _write_text(options.report, json.dumps(noted, indent=2) + "\n")
    return 0


def _sheet_size(text: str) -> tuple[float, float]:
    """300x600mm, 12x24in, 300mm x 2m."""
    width, cross, height = text.lower().replace("×", "x").partition("x")
    if not cross:
        raise Problem("usage", f"“{text}” is not a size.", "Give both sides, such as 300x600mm.", "--sheet")
    unit: Unit = "in" if height.strip().endswith(("in", '"')) else "mm"
    return parse_length(width, unit, "--sheet"), parse_length(height, unit, "--sheet")


def _motifs(options: argparse.Namespace) -> tuple[list[Motif], dict[str, About], int]:
    """What is cut from each film of the files, as it is cut, and what is to be said of each design; and how
    many findings block that, which are told."""
    from fulgen.formats.artwork import MAX_FILE_BYTES, read_artwork
    from fulgen.formats.drawn_sheet import about_of
    from fulgen.readiness.findings import blocking, findings
    from fulgen.readiness.gate import loose_words
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.model import MaterialChoice, Recipe
    from fulgen.recipe.versions import read_recipe
    from fulgen.sheet.motifs import motifs_of

    motifs, abouts, stops = [], {}, 0
    for path in options.files:
        if path.suffix.lower() == ".json":
            recipe = read_recipe(_read_text(path))
        else:
            drawing = read_artwork(_read_bytes(path, MAX_FILE_BYTES + 1), path.name, 1, None)
            recipe = Recipe(parts=(drawing.artwork,))
        if options.material:
            choice = MaterialChoice(name=_material(options.material).name)
            recipe = recipe.model_copy(update={"material": choice})
        evaluation = evaluate(_readied(recipe, options)).whole()
        for finding in blocking(findings(evaluation)):
            print(f"fulgen: {path.name}: {finding.what(recipe.unit)}", file=sys.stderr)
            stops += 1
        for word in loose_words(evaluation):
            print(f"fulgen: {path.name}: {word.what}", file=sys.stderr)
        if recipe.mirror != recipe.material_named(recipe.material.name).mirrored:
            said, usual = (
                ("is mirrored", "as it is seen") if recipe.mirror else ("is not mirrored", "mirrored")
            )
            print(
                f"fulgen: {path.name} {said}, and {recipe.material.name} is cut {usual}: make sure.",
                file=sys.stderr,
            )
        motifs += motifs_of(path.stem, evaluation, recipe.cut, options.copies)
        abouts[path.stem] = about_of(path.stem, evaluation)
    return motifs, abouts, stops


def _simulate(options: argparse.Namespace) -> int:
    from fulgen.cutter.comes_off import comes_off, compared, tears
    from fulgen.formats.hpgl import MAX_FILE_BYTES, read_strokes
    from fulgen.formats.svg_in import read_cuts
    from fulgen.geometry.polygons import count
    from fulgen.sheet.proof import tips_of
    from fulgen.sheet.sheets import CUT_TO_MM
    from fulgen.sheet.strokes import WEEDING_PEN

    offset = _length_within(options.blade_offset, "--blade-offset", 0.0, 5.0)
    kerf = _length_within(options.kerf, "--kerf", 0.0, 5.0)
    holds = _length_within(options.holds, "--holds", 0.0, 50.0)
    data, name = _read_bytes(options.file, MAX_FILE_BYTES + 1), options.file.name
    told = None
    with within(BUDGET_S):
        if name.lower().endswith(".svg"):
            paths, promised = read_cuts(data, name, CUT_TO_MM)
            strokes = [(1, path) for path in paths]
        else:
            strokes, promised = read_strokes(data, name), []
        if options.promised:
            shown = _read_bytes(options.promised, MAX_FILE_BYTES + 1)
            promised = read_cuts(shown, options.promised.name, CUT_TO_MM)[1]
        real, helps = tips_of(strokes, offset)
        came = comes_off(real, kerf, helps)
        if promised:
            told = compared(promised, came, [path for pen, path in strokes if pen != WEEDING_PEN])
        thin = tears(came.pieces, holds) if holds else []
    ends = came.open_ends if told is None else told.nicks
    print(f"{_counted(len(came.pieces), 'piece')} off the sheet, {_counted(len(came.holes), 'hole')} weeded.")
    for x, y in ends:
        print(f"look    A cut ends in the material at {show_length(x)}, {show_length(y)}.")
    for says, regions in () if told is None else (
        ("did not come off as promised", told.missing), ("was not promised", told.others)
    ):  # fmt: skip
        for x, y, right, bottom in (region.bounds for region in regions):
            size = f"{show_length(right - x)} × {show_length(bottom - y)}"
            print(f"look    A piece of {size} at {show_length(x)}, {show_length(y)} {says}.")
    for x, y, _, _ in (place.bounds for place in thin):
        print(f"look    It is thinner than the material holds at {show_length(x)}, {show_length(y)}.")
    if told is not None:
        print(f"Promised {told.promised}, came off {told.came_off}.")
    if options.report:
        figures = {
            "pieces": [{"area_mm2": round(piece.area, 3), "holes": count(piece)[1]} for piece in came.pieces],
            "open_ends_mm": [[round(x, 3), round(y, 3)] for x, y in came.open_ends],
            "tears_mm": [[round(x, 3), round(y, 3)] for x, y, _, _ in (place.bounds for place in thin)],
            "promised": None if told is None else told.promised,
            "as_promised": None if told is None else told.is_kept,
        }
        _write_text(options.report, json.dumps(figures, indent=2) + "\n")
    return BLOCKED if ends or thin or (told is not None and not told.is_kept) else 0


def _counted(count: int, thing: str) -> str:
    return f"{count} {thing}" if count == 1 else f"{count} {thing}s"


def _length_within(text: str, option: str, least: float, most: float) -> float:
    mm = parse_length(text, where=option)
    if not least <= mm <= most:
        raise Problem(
            "out-of-range",
            f"{show_length(mm)} is not between {least:g} mm and {most:g} mm.",
            "Type a length in this range.",
            option,
        )
    return mm


def _lost(evaluation: Evaluation) -> list[str]:
    """What is to be said of touch-ups that no longer find their place."""
    kinds = [(number + 1, evaluation.recipe.touch_ups[number].kind) for number in evaluation.lost]
    return [f"Touch-up {n} ({kind}) no longer finds its place, and was left out." for n, kind in kinds]


def _said(evaluation: Evaluation) -> list[str]:
    """What is to be said of what was made: what was asked and is not so, and what found no place."""
    unmet = [f"{one.problem.what} {one.problem.todo}" for one in evaluation.unmet]
    return [*unmet, *_lost(evaluation)]


def _faces(options: argparse.Namespace) -> None:
    from fulgen.lettering.catalogue import families

    rows: list[dict[str, Any]] = [
        {
            "name": family.name,
            "kind": family.kind,
            "weights": list(family.numbered_weights),
            "axes": [asdict(axis) for axis in family.axes],
            "features": [feature.tag for feature in family.face().features()],
            "letters": len(family.letters),
        }
        for family in families().values()
    ]  # fmt: skip
    if options.rate:
        _add_ratings(rows)
    if options.json:
        print(json.dumps(rows, indent=2, ensure_ascii=False))
        return
    for row in rows:
        axes = ", ".join(f"{a['name'].lower()} {a['low']:g} to {a['high']:g}" for a in row["axes"])
        weights = ", ".join(map(str, row["weights"]))
        about = axes or "weight " + weights
        if options.rate:
            about = (
                f"{row['joins']:15} {row['small_share']:4.0%} of small letters, "
                f"{row['capital_share']:4.0%} after a capital, "
                f"strokes from {row['thinnest_stroke']:.3f} of the size"
            )
        print(f"{row['name']:24} {row['kind']:10} {about}")


def _add_ratings(rows: list[dict[str, Any]]) -> None:
    """Adds to each row how the face joins, worked out on all cores."""
    from concurrent.futures import ProcessPoolExecutor

    with ProcessPoolExecutor() as pool:
        for row, rating in zip(rows, pool.map(_rated, [row["name"] for row in rows]), strict=True):
            row.update(rating)


def _rated(name: str) -> dict[str, Any]:
    from fulgen.joining.rating import rate
    from fulgen.lettering.catalogue import find_family

    rating = rate(find_family(name).face())
    return {
        "joins": rating.words,
        "small_share": round(rating.small, 4),
        "capital_share": round(rating.capital, 4),
        "thinnest_stroke": round(rating.thinnest, 4),
    }


def _write_results(evaluation: Evaluation, output: Path, options: argparse.Namespace) -> None:
    from fulgen.readiness.gate import loose_words
    from fulgen.report import report

    _write_outline(evaluation, output, options.anyway)
    for line in (*_said(evaluation), *(word.what for word in loose_words(evaluation))):
        print(f"fulgen: {line}", file=sys.stderr)
    if options.report:
        figures = json.dumps(report(evaluation), indent=2, ensure_ascii=False)
        _write_text(options.report, figures + "\n")


def _write_outline(evaluation: Evaluation, output: Path, anyway: bool) -> None:
    """Writes the outline; nothing of one that is not ready to cut, unless that is asked for."""
    from fulgen.formats.svg import write_svg
    from fulgen.readiness.gate import faults

    outline = write_svg(evaluation)
    if not anyway:
        for stop in faults(evaluation):
            raise Problem(
                "at-gate", stop.what, "Make it ready with --ready, or write it with --anyway.", "--ready"
            )
    _write_text(output, outline)


_MAX_TEXT_BYTES = 8 * 2**20


def _read_text(path: Path) -> str:
    data = _read_bytes(path, _MAX_TEXT_BYTES + 1)
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


def _read_bytes(path: Path, most: int) -> bytes:
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


def _write_text(path: Path, text: str) -> None:
    _write_bytes(path, text.encode())


def _write_bytes(path: Path, data: bytes) -> None:
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


def _make_folder(path: Path) -> None:
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Problem(
            "not-written", f"The folder {path.name} cannot be made ({error.strerror}).", "Choose another."
        ) from None


if __name__ == "__main__":
    raise SystemExit(main())
