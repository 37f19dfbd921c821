"""Sass: a map of names and a mixin that draws an icon in rules of one's own."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import css_identifier
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.render import render_kind


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the partial."""
    return render_kind("scss.jinja", catalogue, urls=around.urls)


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return what to paste into a rule."""
    return [Line("scss", f'@include {css_identifier(catalogue.prefix)}-before("{icon.name}");')]


KIND = Kind(
    "scss",
    "map of names, mixin to use an icon in own rules",
    "import it into your own sheet",
    "_{stem}.scss",
    write,
    lines,
    rank=7,
)
