"""Sass: a map of names and a mixin that draws an icon in rules of one's own."""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_identifier
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the partial."""
    return render_kind("scss.jinja", icon_set, urls=context.urls)


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return what to paste into a rule."""
    return [Snippet("scss", f'@include {css_identifier(icon_set.prefix)}-before("{icon.name}");')]


KIND = OutputKind(
    "scss",
    "map of names, mixin to use an icon in own rules",
    "import it into your own sheet",
    "_{stem}.scss",
    write,
    snippets,
    rank=7,
)
