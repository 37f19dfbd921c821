"""Utility classes for frameworks that make their CSS from the classes that they find in use.

Source: the at-rule `@utility` of such frameworks; the rules in it are those of the stylesheet (CSS Fonts 4, CSS
Content 3 §1.2, CSS Nesting 1).
"""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_string, url_path
from oddpeg.outputs.face_rules import face_values, font_sources
from oddpeg.outputs.kind import FONT_OPTIONS, OutputKind, embedded_formats, needs_unless_embedded
from oddpeg.outputs.kinds import css
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import module_path


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the stylesheet that a framework imports. The bundle's other files list every class, and are not searched
    for the classes in use."""
    return render_kind(
        "utilities.jinja",
        icon_set,
        **face_values(icon_set, font_sources(context)),
        others=[other.url for other in context.sibling_outputs],
        display=css.KIND.options["display"].default,
    )


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the import in a style sheet at the project's root."""
    return [Snippet("css", f"@import {css_string(module_path(url_path(context.file)))};")]


KIND = OutputKind(
    "utilities",
    "utility classes for frameworks that make their CSS from the classes in use",
    "import it in the framework's style sheet",
    "{stem}-utilities.css",
    write,
    lambda icon_set, context, icon: css.snippets(icon_set, context, icon)[:-1],
    setup=setup,
    needs=needs_unless_embedded("woff2", "woff", "ttf"),
    references=css.references,
    rank=3,
    embeds=embedded_formats,
    options=FONT_OPTIONS,
)
