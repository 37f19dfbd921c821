"""Whether a file is one that Odd Peg wrote, by its own content."""

from __future__ import annotations

import base64
import json

from oddpeg.font.read.unpack import woff2_tables, woff_tables
from oddpeg.font.write.info import MAKER
from oddpeg.merges import holds_conflict, merge_sides
from oddpeg.outputs.kinds.csv import COLUMNS

MARK = "Odd Peg"  # in every generated text, near its beginning or end
_NEAR = 4096  # bytes


def is_generated(data: bytes) -> bool:
    """Return whether bytes carry the mark of generated files."""
    try:
        return (
            MARK.encode() in data[:_NEAR]
            or MARK.encode() in data[-_NEAR:]
            or b" icons, by licence.\n" in data[:_NEAR]  # credits
            or data.removeprefix("\ufeff".encode()).startswith(",".join(COLUMNS).encode())
            or _font_is_ours(data)
            or _json_is_ours(data)
        )
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return False


def _font_is_ours(data: bytes) -> bool:
    """Return whether a font names us in its unique identifier (`name` ID 3), which is text of two bytes a letter."""
    wanted = MAKER.encode("utf-16-be")
    match data[:4]:
        case b"\x00\x01\x00\x00":
            return wanted in data
        case b"wOF2":
            return wanted in woff2_tables(data)
        case b"wOFF":
            return any(tag == b"name" and wanted in table for tag, table in woff_tables(data))
        case _:  # EOT holds a font as it is, after a header of its own
            return data[34:36] == b"LP" and wanted in data


def _json_is_ours(data: bytes) -> bool:
    """Return whether a JSON object is a generated glyph map, or holds the file names and fonts of the output base64."""
    if holds_conflict(text := data.decode()):
        return all(_json_is_ours(side.encode()) for side in merge_sides(text))
    plain = text.removeprefix("export default ").rstrip(";\n")
    if not plain.startswith("{"):
        return False
    values = json.loads(plain)
    if {"family", "units_per_em", "icons"} <= values.keys():
        return all({"name", "codepoint", "hex", "source", "advance"} <= icon.keys() for icon in values["icons"])
    return bool(values) and all(_font_is_ours(base64.b64decode(value, validate=True)) for value in values.values())
