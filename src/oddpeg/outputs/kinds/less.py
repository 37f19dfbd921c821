"""Less: a map of names and a mixin that draws an icon in rules of one's own. Names in maps are ASCII letters, digits
and hyphens."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import css_identifier
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.naming import Entry, entries, identifiers
from oddpeg.outputs.render import render_kind


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the sheet to import."""
    return render_kind("less.jinja", catalogue, urls=around.urls, entries=_entries(catalogue))


def _entries(catalogue: Catalogue) -> list[Entry]:
    return entries(catalogue, "-".join, digit="")


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return what to paste into a rule."""
    identifier = identifiers("less", catalogue, _entries)[icon.name]
    return [Line("less", f'.{css_identifier(catalogue.prefix)}-before("{identifier}");')]


KIND = Kind(
    "less",
    "map of names, mixin to use an icon in own rules",
    "import it into your own sheet",
    "{stem}.less",
    write,
    lines,
    rank=7,
)
