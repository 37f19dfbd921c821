"""Less: a map of names and a mixin that draws an icon in rules of one's own. Names in maps are ASCII letters, digits
and hyphens."""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_identifier, css_string
from oddpeg.outputs.face_rules import face_urls, face_values
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.naming import Constant, entries, identifiers
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the sheet to import."""
    return render_kind(
        "less.jinja",
        icon_set,
        folder=context.font_folder,
        entries=_entries(icon_set),
        **face_values(icon_set, face_urls(context)),
    )


def _entries(icon_set: IconSet) -> list[Constant]:
    return entries(icon_set, "-".join, digit="n")


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the import of the sheet; its path is relative to the project."""
    return [Snippet("less", f"@import {css_string(context.file)};")]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the lines for a rule."""
    identifier = identifiers("less", icon_set, _entries)[icon.name]
    return [Snippet("less", f'.{css_identifier(icon_set.prefix)}-before("{identifier}");')]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the mixins that take a name."""
    names = {entry.identifier: entry.name for entry in _entries(icon_set)}
    return [ReferenceForm(NameShape.ARGUMENT, f".{css_identifier(icon_set.prefix)}-before(", names)]


KIND = OutputKind(
    "less",
    "map of names, mixin to use an icon in own rules",
    "import it into your own sheet",
    "{stem}.less",
    write,
    snippets,
    setup=setup,
    needs=needs("woff2", "woff", "ttf", "eot", "svg"),
    references=references,
    rank=7,
)
