"""JSON glyph map: every icon with its codepoint, source and advance."""

from __future__ import annotations

import json

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import OutputKind


def json_map(icon_set: IconSet, context: OutputContext) -> str:
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
        for icon in icon_set.icons
    ]
    facts = {"family": icon_set.family, "version": icon_set.version, "units_per_em": icon_set.units_per_em}
    return json.dumps({**facts, "icons": icons}, ensure_ascii=False, indent=1) + "\n"


KIND = OutputKind(
    "json",
    "glyph map: names, codepoints, sources, advances, aliases, tags",
    "for scripts and other tools",
    "{stem}.json",
    json_map,
    rank=4,
)
