"""JSON glyph map: every icon with its codepoint, source and advance."""

from __future__ import annotations

from oddpeg.iconset.faces import Face
from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.scripts import json_text

SCHEMA_VERSION = 2  # of the form, which docs/glyph-map.schema.json describes; adding a key does not change it


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
            **({"faces": list(icon.faces)} if icon.faces else {}),
            **({"sizes": list(icon.sizes)} if icon.sizes else {}),
            **({"mirrored": True} if icon.name in icon_set.turned else {}),
            **({"older": list(icon.older)} if icon.older else {}),
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
    facts = {
        "family": icon_set.family,
        "version": icon_set.version,
        "units_per_em": icon_set.units_per_em,
        "schema": SCHEMA_VERSION,
        **({"faces": [_face(icon_set, face) for face in icon_set.faces]} if len(icon_set.faces) > 1 else {}),
        **({"states": states} if (states := [s.name for f in icon_set.faces for s in f.states]) else {}),
        "icons": icons,
    }
    return json_text(facts)


def _face(icon_set: IconSet, face: Face) -> dict[str, object]:
    default = icon_set.face is not None and icon_set.face.name == face.name
    return {"name": face.name, "weight": face.weight, **({"default": True} if default else {})}


KIND = OutputKind(
    "json",
    "glyph map: names, codepoints, sources, advances, aliases, tags",
    "for scripts and other tools",
    "{stem}.json",
    json_map,
    rank=4,
)
