"""CSV glyph map: one line for each icon, for spreadsheets. Source: RFC 4180."""

from __future__ import annotations

import csv
import io

from oddpeg.iconset.model import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the map; aliases and tags are separated by `; `."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(
        ["name", "codepoint", "hex", "character", "source", "aliases", "tags", "advance", "title", "licence", "credit"]
    )
    for i in catalogue.icons:
        table.writerow(
            [
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
            ]
        )
    return out.getvalue()


KIND = Kind("csv", "glyph map as a table", "for spreadsheets", "{stem}.csv", write, rank=4)
