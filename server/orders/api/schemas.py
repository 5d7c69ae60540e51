"""What the calls about orders take and give."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from designs.api.jobs import JobOut
from fulgen.frozen import WHOLE, Flag
from fulgen.orders.fields import FieldKind
from fulgen.orders.lists import MOST_BYTES, MOST_LETTERS, MOST_ROWS
from fulgen.orders.plan import OrderPlan
from fulgen.orders.working import State
from fulgen.sheet.file_kinds import FileKind
from fulgen.units import Unit
from orders.models import Stage

Line = Annotated[str, Field(max_length=400)]
Number = Annotated[int, Field(ge=1, le=2**31 - 1), WHOLE]
Count = Annotated[int, Field(ge=0, le=2**53), WHOLE]
Cell = Annotated[str, Field(max_length=MOST_LETTERS)]
Values = Annotated[dict[Annotated[str, Field(max_length=80)], Cell], Field(max_length=60)]
"""What a row says, by the keys of fields."""


class FieldOut(Schema):
    """What a row may say, by its key: its kind, what it is called, and what the design itself says there."""

    key: str
    kind: FieldKind
    heading: str
    as_designed: str


class Counts(Schema):
    """How many rows there are, by their states; waiting: not worked out as they are now. cut: so many have
    all their copies cut. look_again: so many have changed since they were looked at."""

    rows: int = 0
    waiting: int = 0
    as_designed: int = 0
    gave_way: int = 0
    cannot_be_made: int = 0
    empty: int = 0
    look_again: int = 0


class OrderCard(Schema):
    """An order as it is listed: with the pictures of a few rows, by their addresses."""

    id: UUID
    name: str
    customer: str
    due: date | None
    stage: Stage
    design: UUID
    design_name: str
    changed: datetime
    counts: Counts
    sheets_cut: int
    pictures: list[str]


class OrderOut(OrderCard):
    """An order, opened: what is asked for, the fields of its design, the films that it has, and whether its
    rows are being worked out. edit is what a save is based on."""

    plan: OrderPlan
    fields: list[FieldOut]
    unit: Unit
    films: list[str]
    in_frame: bool
    edit: int
    stopped: bool
    workers: int


class NewOrder(Schema):
    design: UUID


class SaveOrder(Schema):
    """What is asked for; based_on is the edit that was changed."""

    name: Line
    customer: Line = ""
    due: date | None = None
    stage: Stage = Stage.DRAFT
    plan: OrderPlan
    based_on: Count


class RowOut(Schema):
    """A row: what it says, what is to be known of it, and what it came to. picture is an address, which
    changes with the picture; change is what a change is based on. by_hand: it was opened and changed by
    hand. cut: so many copies of it are on sheets that were cut."""

    number: int
    values: dict[str, str]
    notes: list[str]
    state: State | Literal[""]
    reasons: list[str]
    width_mm: float
    height_mm: float
    pieces: int
    films: list[str]
    picture: str
    by_hand: bool
    cut: int
    looked: bool
    look_again: bool
    removed: bool
    change: int


class RowsOut(Schema):
    """The rows that have changed since the change that was asked for, and how many all are."""

    change: int
    edit: int
    counts: Counts
    working: bool
    stopped: bool
    workers: int
    rows: list[RowOut]


class RowsIn(Schema):
    rows: Annotated[list[Values], Field(max_length=MOST_ROWS)]


class RowIn(Schema):
    values: Values
    based_on: Count


class NumbersIn(Schema):
    numbers: Annotated[list[Number], Field(max_length=MOST_ROWS)]


class PastedIn(Schema):
    """A list as it was pasted: one name a line, or the cells of a spreadsheet."""

    order: UUID
    text: Annotated[str, Field(max_length=MOST_BYTES)]


class ColumnOut(Schema):
    """A column of a list: its heading, the key of the field that it says ("" for none), and some of its
    cells."""

    heading: str
    field: str
    samples: list[str]


class ListOut(Schema):
    """A list as it was read: its columns, and all its cells, row by row."""

    columns: list[ColumnOut]
    rows: list[list[str]]


class OpenedRow(Schema):
    design: UUID


class OrderIn(Schema):
    order: UUID


class LaidRow(Schema):
    """A copy of a row on a sheet: of which row and film, where its middle lies, in mm, and how it is turned,
    in degrees clockwise."""

    row: int
    copy_number: int
    motif: str
    x: float
    y: float
    turn: float


class RowMotif(Schema):
    """What is cut of a row from one film: its outline and its number, about its middle, in mm."""

    key: str
    row: int
    film: str
    d: str
    marks: str
    width: float
    height: float


class OrderSheetOut(Schema):
    """A sheet to be cut, by a key that changes with how it is cut. room_left_mm: at its end. held: it waits
    until it is full."""

    key: str
    number: int
    film: str
    film_name: str
    material: str
    roll: bool
    width_mm: float
    height_mm: float
    margin_mm: float
    laid: list[LaidRow]
    pieces: int
    used: float
    room_left_mm: float
    held: bool
    cut_length_mm: float
    seconds: float


class CutRow(Schema):
    """What came off of a row on a sheet: so many copies were promised, so many are not as promised."""

    row: int
    copies: int
    not_as_promised: int


class CutSheetOut(Schema):
    """A sheet that was sent to the cutter, or is said to be cut, with the job of it. known: whether the
    machine tells what came off."""

    number: int
    film: str
    film_name: str
    width_mm: float
    height_mm: float
    copies: int
    made: datetime
    job: JobOut | None
    known: bool
    rows: list[CutRow]


class OrderSheetsOut(Schema):
    """All sheets of an order: those that are to be cut, and those that were. left_out: rows that cannot be
    made."""

    motifs: list[RowMotif]
    sheets: list[OrderSheetOut]
    cut: list[CutSheetOut]
    left_out: int
    machine: str


class OrderFilesIn(OrderIn):
    """Files of all sheets, or of one; of one kind, or of all that the machine reads."""

    kind: FileKind | None = None
    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE] | None = None


class PickListIn(OrderIn):
    to: Literal["csv", "pdf"] = "pdf"


class SheetIn(OrderIn):
    """A sheet as it was shown, by its place among those to be cut and its key."""

    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE]
    key: Annotated[str, Field(max_length=40)]


class OrderJobIn(SheetIn):
    """A sheet to be sent to the cutter. job is made by whoever asks: asked twice, it is one job."""

    job: UUID


class StopIn(Schema):
    stopped: Flag


class VersionOut(Schema):
    """An order as it was: what was changed then, how many rows it had, and its own name."""

    id: int
    what: str
    name: str
    rows: int
    made: datetime
    words: list[str]


class VersionName(Schema):
    name: Annotated[str, Field(max_length=80)]
