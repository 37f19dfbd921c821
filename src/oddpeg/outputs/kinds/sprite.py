"""Sprite: one SVG with a symbol for each icon, for places where a font is wrong. Source: SVG 2 §5.5, §5.6."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import xml_text
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.render import render_kind


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the sprite; symbols take the colour of the text around them."""
    return render_kind("sprite.svg.jinja", catalogue)


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return what to paste into a page."""
    file = around.file.rpartition("/")[2]
    return [
        Line(
            "sprite",
            '<svg width="1em" height="1em" aria-hidden="true"><use'
            f' href="{xml_text(file)}#{xml_text(icon.name)}"/></svg>',
        )
    ]


KIND = Kind(
    "sprite",
    "one SVG with a symbol for each icon",
    "for places where a font is wrong",
    "{stem}-sprite.svg",
    write,
    lines,
    rank=8,
    pictures=True,
)
