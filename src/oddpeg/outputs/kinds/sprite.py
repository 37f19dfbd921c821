"""Sprite: one SVG with a symbol for each icon, for places where a font is wrong. Source: SVG 2 §5.5, §5.6."""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import url_path, xml_text
from oddpeg.outputs.kind import DRAWN_OPTIONS, OutputKind, always, drawn_size
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the sprite; symbols take the colour of the text around them."""
    return render_kind("sprite.svg.jinja", icon_set.at_size(drawn_size(context)))


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the lines for a page."""
    return [
        Snippet(
            "sprite",
            '<svg width="1em" height="1em" aria-hidden="true"><use'
            f' href="{xml_text(url_path(context.file))}#{xml_text(icon.name)}"/></svg>',
        )
    ]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the file's fragments."""
    file = context.file.rpartition("/")[2]
    return [ReferenceForm(NameShape.FRAGMENT, f"{file}#", {icon.name: icon.name for icon in icon_set.icons})]


KIND = OutputKind(
    "sprite",
    "one SVG with a symbol for each icon",
    "for places where a font is wrong",
    "{stem}-sprite.svg",
    write,
    snippets,
    hash_in_name=True,
    references=references,
    rank=8,
    shows_drawings=always,
    options=DRAWN_OPTIONS,
)
