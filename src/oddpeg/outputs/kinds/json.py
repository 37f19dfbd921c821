"""JSON glyph map: every icon with its codepoint, source and advance."""

from __future__ import annotations

import json

from oddpeg.iconset.model import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind


def json_map(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the map; fonts' whereabouts (`around`) do not matter to it."""
    icons = [
        {
            "name": icon.name,
            "codepoint": icon.codepoint,
            "hex": icon.hex,
            "source": icon.source,
            "aliases": list(icon.aliases),
            "tags": list(icon.tags),
            "advance": icon.advance,
            **{
                key: value
                for key, value in (
                    ("title", icon.title),
                    ("description", icon.description),
                    ("licence", icon.licence),
                    ("credit", icon.credit),
                )
                if value
            },
        }
        for icon in catalogue.icons
    ]
    facts = {"family": catalogue.family, "version": catalogue.version, "units_per_em": catalogue.units_per_em}
    return json.dumps({**facts, "icons": icons}, ensure_ascii=False, indent=1) + "\n"


KIND = Kind(
    "json",
    "glyph map: names, codepoints, sources, advances, aliases, tags",
    "for scripts and other tools",
    "{stem}.json",
    json_map,
    rank=4,
)
