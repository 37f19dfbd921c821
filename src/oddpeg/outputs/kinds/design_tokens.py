"""Design tokens: the family, the codepoints, the sizes and the colours of the config. Source: Design Tokens Community
Group, Format Module (2025.10): types fontFamily, number, dimension and color."""

from __future__ import annotations

import re

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.scripts import json_text
from oddpeg.svg.colours import parse_colour

_LENGTH = re.compile(r"(\d*\.?\d+)(px|rem)")


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the tokens in one group, called like the prefix of classes."""
    group: dict[str, object] = {
        "family": {"$type": "fontFamily", "$value": icon_set.family},
        "codepoint": {"$type": "number", **{icon.name: _icon(icon) for icon in icon_set.icons}},
    }
    if sizes := {name: token for name, value in icon_set.sizes if (token := _size(value))}:
        group["size"] = {"$type": "dimension", **sizes}
    if colours := {name: token for name, value in icon_set.colours if (token := _colour(value))}:
        group["colour"] = {"$type": "color", **colours}
    return json_text({icon_set.prefix: group})


def _icon(icon: Icon) -> dict[str, object]:
    about = {"$description": icon.title} if icon.title else {}
    return {"$value": icon.codepoint, **about, "$extensions": {"oddpeg": {"character": icon.character}}}


def _size(value: str) -> dict[str, object]:
    """Return a token of a size; empty for units that the format does not have."""
    match = _LENGTH.fullmatch(value.strip())
    return {"$value": {"value": float(match[1]), "unit": match[2]}} if match else {}


def _colour(value: str) -> dict[str, object]:
    """Return a token of a colour; empty for one that depends on the page."""
    colour = parse_colour(value)
    if colour is None:
        return {}
    red, green, blue, alpha = colour
    parts = [round(channel, 4) for channel in (red, green, blue)]
    more = {"alpha": round(alpha, 4)} if alpha < 1 else {}
    return {"$value": {"colorSpace": "srgb", "components": parts, **more}}


KIND = OutputKind(
    "design-tokens",
    "tokens of the family, the codepoints, and the config's sizes and colours",
    "for tools that read the open format of design tokens",
    "{stem}.tokens.json",
    write,
    rank=9,
)
