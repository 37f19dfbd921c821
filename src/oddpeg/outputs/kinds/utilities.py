"""Utility classes for frameworks that make their CSS from the classes that they find in use.

Source: the at-rule `@utility` of such frameworks; the rules in it are those of the stylesheet (CSS Fonts 4, CSS
Content 3 §1.2, CSS Nesting 1).
"""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_string, url_path
from oddpeg.outputs.face_rules import default_weight, face_classes, face_rules, inherits_weight, palette_rules
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.kinds import css
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the stylesheet that a framework imports."""
    return render_kind(
        "utilities.jinja",
        icon_set,
        rules=face_rules(icon_set, _sources(context)),
        faces=face_classes(icon_set),
        weight=default_weight(icon_set),
        inherits=inherits_weight(icon_set),
        palettes=palette_rules(icon_set),
        options=css.KIND.options_with_defaults({}),
    )


def _sources(context: OutputContext) -> dict[str, dict[str, str]]:
    """Return for each face font format → URL."""
    address = str(context.options.get("font_url") or "")
    lead = address if not address or address.endswith("/") else f"{address}/"
    return {face.name: {f: lead + url for f, url in face.urls.items()} for face in context.faces}


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the import in a style sheet at the project's root."""
    return [Snippet("css", f"@import {css_string('./' + url_path(context.file))};")]


KIND = OutputKind(
    "utilities",
    "utility classes for frameworks that make their CSS from the classes in use",
    "import it in the framework's style sheet",
    "{stem}-utilities.css",
    write,
    lambda icon_set, context, icon: css.snippets(icon_set, context, icon)[:-1],
    setup=setup,
    needs=needs("woff2", "woff", "ttf"),
    references=css.references,
    rank=3,
    options={
        "font_url": Option("", "the address that its fonts are served from, where the framework does not follow URLs")
    },
)
