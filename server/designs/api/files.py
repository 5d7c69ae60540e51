"""The kinds of files that are written and read."""

from django.http import HttpRequest
from ninja import Router, Schema

from fulgen.formats.readers import READERS
from fulgen.sheet.file_kinds import FILE_KINDS, Carries, FileKind

router = Router(tags=["files"])


class SheetKindOut(Schema):
    """A kind of file that a sheet is written to, its name, the ending of its files, and what it can hold."""

    key: FileKind
    name: str
    suffix: str
    carries: list[Carries]


class DrawingKindOut(Schema):
    """A kind of drawing that is read, and the endings of its files."""

    name: str
    suffixes: list[str]


class FileKindsOut(Schema):
    """All kinds of files."""

    written: list[SheetKindOut]
    read: list[DrawingKindOut]


@router.get("/files", response=FileKindsOut, operation_id="listFileKinds")
def list_file_kinds(request: HttpRequest) -> FileKindsOut:
    """The kinds of files that sheets are written to, and that drawings are read from."""
    written = [
        SheetKindOut(key=kind.key, name=kind.name, suffix=kind.suffix, carries=list(kind.carries))
        for kind in FILE_KINDS
    ]
    read = [DrawingKindOut(name=reader.name, suffixes=list(reader.suffixes)) for reader in READERS]
    return FileKindsOut(written=written, read=read)
