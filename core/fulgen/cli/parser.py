"""The options of the command line. Commands import what is heavy where they use it, so help and mistakes
answer at once."""

from __future__ import annotations

import argparse
import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn, TypeAlias

from fulgen.cli.checking import check_recipe
from fulgen.cli.cutting import cut_sheets, simulate_file
from fulgen.cli.libraries import list_faces, list_frames, list_shapes
from fulgen.cli.ordering import make_order
from fulgen.cli.output import REFUSED
from fulgen.cli.writing import build_recipe, import_drawing, write_frame, write_letter, write_pattern_file
from fulgen.sheet.file_kinds import FILE_KINDS, MACHINE_FILE

if TYPE_CHECKING:
    Commands: TypeAlias = "argparse._SubParsersAction[_Parser]"

_NEGATIVE = re.compile(r"-[\d.,].*")


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(f"fulgen: {message} (see ./fulgen {self.prog.split()[-1]} --help)", file=sys.stderr)
        raise SystemExit(REFUSED)


def hold_negative_values(arguments: list[str]) -> list[str]:
    """Ties "-0.4mm" to the option before it, or argparse would read it as an option."""
    held: list[str] = []
    for argument in arguments:
        if held and held[-1].startswith("--") and "=" not in held[-1] and _NEGATIVE.fullmatch(argument):
            held[-1] += "=" + argument
        else:
            held.append(argument)
    return held


def argument_parser() -> argparse.ArgumentParser:
    """All commands, each with its options."""
    parser = _Parser(prog="fulgen", description="Typed lettering as single cuttable outlines.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=_Parser)
    for add in _COMMANDS:
        add(commands)
    return parser


def _letter_command(commands: Commands) -> None:
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
    letter.set_defaults(command=write_letter, framed=False)


def _frame_command(commands: Commands) -> None:
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
    frame.set_defaults(command=write_frame, framed=True)


def _frames_command(commands: Commands) -> None:
    frames = commands.add_parser("frames", help="list the frames with what can be set of them")
    frames.add_argument("--json", action="store_true")
    frames.set_defaults(command=list_frames)


def _build_command(commands: Commands) -> None:
    build = commands.add_parser("build", help="write the SVG of a recipe")
    build.add_argument("recipe", type=Path, metavar="RECIPE.json")
    build.add_argument("-o", "--output", type=Path, metavar="OUT.svg", required=True)
    build.add_argument("--report", type=Path, metavar="OUT.json")
    _takes_ready(build)
    build.set_defaults(command=build_recipe)


def _pattern_command(commands: Commands) -> None:
    pattern = commands.add_parser("pattern", help="write a recipe as a PDF to print at true size")
    pattern.add_argument("recipe", type=Path, metavar="RECIPE.json")
    pattern.add_argument("--paper", choices=("a4", "letter"), default="a4", help="a4 unless said")
    pattern.add_argument("-o", "--output", type=Path, metavar="OUT.pdf", required=True)
    _takes_ready(pattern)
    pattern.set_defaults(command=write_pattern_file)


def _check_command(commands: Commands) -> None:
    check = commands.add_parser("check", help="say what would go wrong in a recipe; exit 1 while it would")
    check.add_argument("recipe", type=Path, metavar="RECIPE.json")
    check.add_argument("--material", metavar="NAME", help="check for another material than the recipe's")
    check.add_argument("--json", action="store_true", help="the findings as JSON")
    check.add_argument("--ready", action="store_true", help="say what making it ready does, and check that")
    check.set_defaults(command=check_recipe)


def _import_command(commands: Commands) -> None:
    brought = commands.add_parser("import", help="read a drawing (SVG, PDF, DXF) as a recipe")
    brought.add_argument("drawing", type=Path, metavar="FILE")
    brought.add_argument("--page", type=int, default=1, metavar="N", help="the page of a PDF")
    brought.add_argument(
        "--units", choices=("mm", "in"), help="what its numbers mean, where the file does not say"
    )
    brought.add_argument("-o", "--output", type=Path, metavar="RECIPE.json", required=True)
    brought.set_defaults(command=import_drawing)


def _cut_command(commands: Commands) -> None:
    cut = commands.add_parser("cut", help="lay designs on sheets and write files for the cutter")
    cut.add_argument("files", nargs="+", type=Path, metavar="FILE", help="recipes, or drawings")
    cut.add_argument("--sheet", required=True, metavar="WIDTHxHEIGHT", help="such as 300x600mm")
    cut.add_argument("--margin", default="5mm", metavar="LENGTH", help="that the rollers need")
    cut.add_argument("--spacing", default="3mm", metavar="LENGTH", help="between what is cut")
    cut.add_argument("--material", metavar="NAME", help="another material than the recipe's")
    cut.add_argument("--machine", default="Drag knife", metavar="NAME")
    cut.add_argument("--copies", type=int, default=1, metavar="N")
    cut.add_argument(
        "--to", choices=[kind.key for kind in FILE_KINDS], default=MACHINE_FILE,
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
    cut.set_defaults(command=cut_sheets)


def _simulate_command(commands: Commands) -> None:
    simulate = commands.add_parser(
        "simulate", help="say what comes off a sheet; exit 1 when it is not what was promised"
    )
    simulate.add_argument("file", type=Path, metavar="FILE.plt|FILE.svg")
    simulate.add_argument("--promised", type=Path, metavar="FILE.svg", help="the drawing that was promised")
    simulate.add_argument("--blade-offset", default="0", metavar="LENGTH", help="how far the tip trails")
    simulate.add_argument("--kerf", default="0", metavar="LENGTH", help="what a beam or saw takes away")
    simulate.add_argument("--holds", default="0", metavar="LENGTH", help="what the material holds")
    simulate.add_argument("--report", type=Path, metavar="OUT.json", help="figures as JSON")
    simulate.set_defaults(command=simulate_file)


def _shapes_command(commands: Commands) -> None:
    shapes = commands.add_parser("shapes", help="list the shape library with its parameters")
    shapes.add_argument("--json", action="store_true")
    shapes.set_defaults(command=list_shapes)


def _faces_command(commands: Commands) -> None:
    faces = commands.add_parser("faces", help="list the faces that ship with Fulgen")
    faces.add_argument("--json", action="store_true")
    faces.add_argument("--rate", action="store_true", help="measures how each face joins as it is set")
    faces.set_defaults(command=list_faces)


def _order_command(commands: Commands) -> None:
    order = commands.add_parser("order", help="make a list of names from a design, and lay them on sheets")
    order.add_argument("design", type=Path, metavar="DESIGN.json")
    order.add_argument("list", type=Path, metavar="LIST", help="names as CSV, XLSX, or one a line")
    order.add_argument("--sheet", required=True, metavar="WIDTHxHEIGHT", help="such as 600mmx10m")
    order.add_argument("--margin", default="5mm", metavar="LENGTH", help="that the rollers need")
    order.add_argument("--spacing", default="3mm", metavar="LENGTH", help="between what is cut")
    order.add_argument(
        "--field", action="append", default=[], metavar="COLUMN=FIELD",
        help="what a column says: a part's id, Film, Face, Size or How many",
    )  # fmt: skip
    order.add_argument("--within", metavar="WIDTHxHEIGHT", help="how large a row may be")
    order.add_argument("--narrower", default="0%", metavar="N%", help="letters may be narrower by so much")
    order.add_argument("--smaller", default="0%", metavar="N%", help="words may be smaller by so much")
    order.add_argument("--two-lines", action="store_true", help="words may be set in two lines")
    order.add_argument("--other-face", action="append", default=[], metavar="NAME", help="faces to be tried")
    order.add_argument("--ready", action="store_true", help="every row is made ready to cut")
    order.add_argument("--nest", action="store_true", help="arrange closely, to use little film")
    order.add_argument("--turns", choices=("none", "half", "quarter", "any"), help="half unless said")
    order.add_argument(
        "--numbers", choices=("none", "draw", "score"), default="none",
        help="numbers in the waste beside the pieces",
    )  # fmt: skip
    order.add_argument("--machine", default="Drag knife", metavar="NAME")
    order.add_argument("--to", choices=[kind.key for kind in FILE_KINDS], default=MACHINE_FILE)
    order.add_argument("--proof", action="store_true", help="writes a PDF with every name, to be signed")
    order.add_argument("-o", "--output", type=Path, metavar="DIR", required=True)
    order.add_argument("--report", type=Path, metavar="OUT.json", help="figures as JSON")
    order.set_defaults(command=make_order)


_COMMANDS = (
    _letter_command,
    _frame_command,
    _frames_command,
    _build_command,
    _pattern_command,
    _check_command,
    _import_command,
    _cut_command,
    _order_command,
    _simulate_command,
    _shapes_command,
    _faces_command,
)


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
