"""CSV glyph map: one line for each icon, for spreadsheets. Source: RFC 4180."""

from __future__ import annotations

import csv
import io

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind

COLUMNS = (
    "name", "codepoint", "hex", "character", "source", "aliases", "tags", "advance", "title", "licence", "credit",
)  # fmt: skip
_FORMULA = frozenset("=+-@\t\r")  # what begins a formula; no icon's name does


def _cell(value: object) -> object:
    return f"'{value}" if isinstance(value, str) and len(value) > 1 and value[0] in _FORMULA else value


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the map; aliases and tags are separated by `; `. A cell that a spreadsheet would compute as a formula
    begins with an apostrophe, which spreadsheets read as the mark of plain text."""
    out = io.StringIO()
    if context.options.get("bom"):
        out.write("\ufeff")
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for i in icon_set.icons:
        table.writerow(
            [
                _cell(v)
                for v in (
                    i.name,
                    i.codepoint,
                    i.hex,
                    i.character,
                    i.source,
                    "; ".join(i.aliases),
                    "; ".join(i.tags),
                    i.advance,
                    i.title,
                    i.licence,
                    i.credit,
                )
            ]
        )
    return out.getvalue()


KIND = OutputKind(
    "csv",
    "glyph map as a table",
    "for spreadsheets",
    "{stem}.csv",
    write,
    rank=4,
    options={"bom": Option(False, "a byte order mark before it, by which some spreadsheets know UTF-8")},
)
