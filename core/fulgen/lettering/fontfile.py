"""Font files, hostile until checked, as the plain sfnt bytes that HarfBuzz reads.

TTF and OTF are sfnt already; WOFF (W3C, 2012) and WOFF2 (W3C, 2018) are sfnt compressed. A
compressed file is first unpacked into nothing with a limit, so a small file that would unpack
to gigabytes is refused before anything holds it.
"""

from __future__ import annotations

import io
import struct
import zlib

from fulgen.problem import Problem

MAX_FILE_BYTES = 12 * 2**20
MAX_UNPACKED_BYTES = 48 * 2**20
MAX_TABLES = 128
_SFNT_KINDS = (b"\x00\x01\x00\x00", b"OTTO", b"true")
_NEEDED = {b"cmap", b"head", b"hhea", b"hmtx", b"maxp"}
_OUTLINES = {b"glyf", b"CFF ", b"CFF2"}


def sfnt_bytes(data: bytes, name: str) -> bytes:
    """The file's font as sfnt. Raises Problem "bad-face", naming the file and what is wrong."""
    if len(data) > MAX_FILE_BYTES:
        raise _bad(name, f"is larger than {MAX_FILE_BYTES // 2**20} MB", "Use a smaller face file.")
    kind = data[:4]
    try:
        if kind == b"wOFF":
            data = _from_woff(data, name)
        elif kind == b"wOF2":
            data = _from_woff2(data, name)
        elif kind == b"ttcf":
            raise _bad(name, "holds several faces in one", "Save the one you want as TTF or OTF.")
        elif kind not in _SFNT_KINDS:
            raise _bad(name, "is not a font", "Choose a TTF, OTF, WOFF or WOFF2 file.")
        _check_tables(data, name)
    except (struct.error, zlib.error, ValueError, OverflowError):
        raise _broken(name) from None
    return data


def _check_tables(data: bytes, name: str) -> None:
    """Every table lies inside the file, and the ones that make letters are there."""
    (count,) = struct.unpack_from(">H", data, 4)
    if not 0 < count <= MAX_TABLES:
        raise _broken(name)
    tags = set()
    for row in range(count):
        tag, _, offset, size = struct.unpack_from(">4sLLL", data, 12 + 16 * row)
        # Tags are printable ASCII (OpenType, "Data types").
        if offset + size > len(data) or not all(0x20 <= sign < 0x7F for sign in tag):
            raise _broken(name)
        tags.add(tag)
    if not tags >= _NEEDED:
        raise _broken(name)
    if not tags & _OUTLINES:
        raise _bad(name, "has no outlines (it is made of pictures)", "Choose a face with outlines.")


def _from_woff(data: bytes, name: str) -> bytes:
    (count,) = struct.unpack_from(">H", data, 12)
    if not 0 < count <= MAX_TABLES:
        raise _broken(name)
    room = MAX_UNPACKED_BYTES
    for row in range(count):
        _, offset, packed, unpacked, _ = struct.unpack_from(">4sLLLL", data, 44 + 20 * row)
        if offset + packed > len(data):
            raise _broken(name)
        room -= unpacked
        if room < 0:
            raise _too_large(name)
        if packed < unpacked:
            unpacker = zlib.decompressobj()
            found = len(unpacker.decompress(data[offset : offset + packed], unpacked + 1))
            if found != unpacked:
                raise _broken(name)
    return _unwrapped(data, name)


def _from_woff2(data: bytes, name: str) -> bytes:
    import brotli

    count, _, _, packed = struct.unpack_from(">HHLL", data, 12)
    if not 0 < count <= MAX_TABLES:
        raise _broken(name)
    start = _woff2_directory_end(data, count)
    if start + packed > len(data):
        raise _broken(name)
    unpacker, found = brotli.Decompressor(), 0
    chunk = data[start : start + packed]
    try:
        while not unpacker.is_finished():
            block = unpacker.process(chunk, output_buffer_limit=2**20)
            if not block and not chunk:
                raise _broken(name)
            chunk = b""
            found += len(block)
            if found > MAX_UNPACKED_BYTES:
                raise _too_large(name)
    except brotli.error:
        raise _broken(name) from None
    return _unwrapped(data, name)


def _woff2_directory_end(data: bytes, count: int) -> int:
    """Where the compressed stream starts (WOFF2, section 4.1: UIntBase128 lengths)."""
    at = 48

    def length() -> None:
        nonlocal at
        for _ in range(5):
            at += 1
            if not data[at - 1] & 0x80:
                return
        raise ValueError("a length of more than five bytes")

    for _ in range(count):
        if at >= len(data):
            raise ValueError("the directory is cut off")
        flags = data[at]
        at += 1
        tag = flags & 0x3F
        if tag == 0x3F:
            tag_bytes = data[at : at + 4]
            at += 4
        else:
            tag_bytes = {10: b"glyf", 11: b"loca"}.get(tag, b"")
        if at >= len(data):
            raise ValueError("the directory is cut off")
        length()
        version = flags >> 6
        transformed = version == 0 if tag_bytes in (b"glyf", b"loca") else version != 0
        if transformed:
            length()
    return at


def _unwrapped(data: bytes, name: str) -> bytes:
    from fontTools.ttLib import TTFont

    try:
        font = TTFont(io.BytesIO(data), recalcBBoxes=False, recalcTimestamp=False)
        font.flavor = None
        out = io.BytesIO()
        font.save(out, reorderTables=False)
    except Exception:  # on broken files the reader, and the unpackers under it, fail in many ways
        raise _broken(name) from None
    if out.tell() > MAX_UNPACKED_BYTES:
        raise _too_large(name)
    return out.getvalue()


def _bad(name: str, what: str, todo: str) -> Problem:
    return Problem("bad-face", f"The face file {name} {what}.", todo)


def _broken(name: str) -> Problem:
    return _bad(name, "is damaged or cut off", "Get the file again, or choose another face.")


def _too_large(name: str) -> Problem:
    limit = MAX_UNPACKED_BYTES // 2**20
    return _bad(name, f"unpacks to more than {limit} MB", "Use a smaller face file.")
