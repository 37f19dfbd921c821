"""Whether a file is one that Odd Peg wrote, by its own content."""

from __future__ import annotations

import base64
import contextlib
import json
import struct
from collections.abc import Iterator

from oddpeg.font.info import MAKER
from oddpeg.font.unpack import inflate, unbrotli
from oddpeg.outputs.kinds.csv import COLUMNS

MARK = "Odd Peg"  # every text of ours holds it near its beginning or end
_NEAR = 4096  # bytes
_LARGEST_FONT = 64_000_000  # bytes, unpacked
_LARGEST_NAMES = 1_000_000


def is_generated(data: bytes) -> bool:
    """Return whether bytes carry the mark of what is generated here."""
    try:
        return (
            MARK.encode() in data[:_NEAR]
            or MARK.encode() in data[-_NEAR:]
            or b" icons, by licence.\n" in data[:_NEAR]  # credits
            or data.startswith(",".join(COLUMNS).encode())
            or _font_is_ours(data)
            or _json_is_ours(data)
        )
    except (ValueError, KeyError, TypeError, AttributeError, struct.error, RecursionError):
        return False


def merge_sides(text: str) -> list[str]:
    """Return both sides of a text in which version control marked conflicts."""
    sides: tuple[list[str], list[str]] = ([], [])
    into: tuple[list[str], ...] = sides
    for line in text.splitlines(keepends=True):
        match line[:7]:
            case "<<<<<<<":
                into = sides[:1]
            case "|||||||":
                into = ()
            case "=======" if into is not sides:
                into = sides[1:]
            case ">>>>>>>":
                into = sides
            case _:
                for side in into:
                    side.append(line)
    return ["".join(side) for side in sides]


def _font_is_ours(data: bytes) -> bool:
    """Return whether a font names us in its unique identifier (`name` ID 3), which is text of two bytes a letter."""
    wanted = MAKER.encode("utf-16-be")
    match data[:4]:
        case b"\x00\x01\x00\x00":
            return wanted in data
        case b"wOF2":  # the tables, one after another, are packed as one
            return any(wanted in stream for stream in _streams(data))
        case b"wOFF":
            for at in range(44, 44 + 20 * struct.unpack(">H", data[12:14])[0], 20):
                tag, offset, packed, size = struct.unpack(">4s3I", data[at : at + 16])
                if tag == b"name":
                    part = data[offset : offset + packed]
                    return wanted in (inflate(part, _LARGEST_NAMES) if packed < size else part)
            return False
        case _:  # EOT holds a font as it is, after a header of its own
            return data[34:36] == b"LP" and wanted in data


def _streams(data: bytes) -> Iterator[bytes]:
    """Yield what a WOFF2 file packs. In ours the packed stream ends the file, but for filling up to four bytes."""
    size = struct.unpack(">I", data[20:24])[0]
    for end in range(len(data), len(data) - 4, -1):
        with contextlib.suppress(ValueError):
            yield unbrotli(data[end - size : end], _LARGEST_FONT)


def _json_is_ours(data: bytes) -> bool:
    """Return whether a JSON object is a glyph map of ours, or holds file names and fonts of ours as Base64."""
    if b"\n<<<<<<< " in data:
        return all(_json_is_ours(side.encode()) for side in merge_sides(data.decode()))
    text = data.removeprefix(b"export default ").rstrip(b";\n")
    if not text.startswith(b"{"):
        return False
    values = json.loads(text)
    if {"family", "units_per_em", "icons"} <= values.keys():
        return all({"name", "codepoint", "hex", "source", "advance"} <= icon.keys() for icon in values["icons"])
    return bool(values) and all(_font_is_ours(base64.b64decode(value, validate=True)) for value in values.values())
