"""Sass: a map of names and a mixin that draws an icon in rules of one's own. Source: Sass, modules."""

from __future__ import annotations

import posixpath
from collections.abc import Sequence

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_identifier, css_string, style_string
from oddpeg.outputs.face_rules import face_urls, face_values
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import WIDTH


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the partial. Nothing in it begins with the prefix: a module has a namespace."""
    use = _use(icon_set, context)
    values = face_values(icon_set, face_urls(context))
    mirrored = _list("$mirrored: ", [style_string(name) for name in sorted(icon_set.turned)])
    return render_kind("scss.jinja", icon_set, folder=context.font_folder, use=use, mirrored=mirrored, **values)


def _list(head: str, values: Sequence[str]) -> str:
    """Return a variable that is a list, as formatters have it."""
    line = f"{head}({', '.join(values)}{',' if len(values) == 1 else ''});"
    return line if len(line) <= WIDTH else f"{head}(\n  " + ",\n  ".join(values) + "\n);"


def _use(icon_set: IconSet, context: OutputContext) -> str:
    name = posixpath.basename(context.file or KIND.file_name(icon_set.naming))
    module = posixpath.join(posixpath.dirname(context.file), name.removeprefix("_").removesuffix(".scss"))
    return f"@use {css_string(module)} as {css_identifier(icon_set.prefix)};"


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that loads the module; its path is relative to the project."""
    return [Snippet("scss", _use(icon_set, context))]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the lines for a rule."""
    return [Snippet("scss", f'@include {css_identifier(icon_set.prefix)}.before("{icon.name}");')]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the mixins and functions that take a name."""
    names, prefix = icon_set.spelled, css_identifier(icon_set.prefix)
    return [ReferenceForm(NameShape.ARGUMENT, f"{prefix}.{call}(", names) for call in ("before", "character")]


KIND = OutputKind(
    "scss",
    "map of names, mixin to use an icon in own rules",
    "load it with @use in your own sheet",
    "_{stem}-mixins.scss",  # beside a stylesheet of the bundle's own name, `@use` would take that one
    write,
    snippets,
    setup=setup,
    needs=needs("woff2", "woff", "ttf", "eot", "svg"),
    references=references,
    rank=7,
)
