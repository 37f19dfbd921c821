"""Utility classes for frameworks that make their CSS from the classes that they find in use.

Source: the at-rule `@utility` of such frameworks; the rules in it are those of the stylesheet (CSS Fonts 4, CSS
Content 3 §1.2, CSS Nesting 1).
"""

from __future__ import annotations

import posixpath

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_string, url_path
from oddpeg.outputs.face_rules import face_urls, face_values
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.kinds import css
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the stylesheet that a framework imports."""
    return render_kind(
        "utilities.jinja",
        icon_set,
        **face_values(icon_set, _urls(context)),
        display=css.KIND.options["display"].default,
    )


def _urls(context: OutputContext) -> dict[str, dict[str, str]]:
    """Return for each face font format → URL, at the address that fonts are served from."""
    address = str(context.options.get("font_url") or "")
    return {
        name: {file_format: posixpath.join(address, url) for file_format, url in urls.items()}
        for name, urls in face_urls(context).items()
    }


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
