"""IconSet as Markdown: every icon with its drawing, name and codepoint. Source: CommonMark, tables of GitHub
Flavored Markdown."""

from __future__ import annotations

import posixpath
import re

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.render import render_kind


def plain(text: str) -> str:
    """Return a text that is nothing but text in a table's cell."""
    return re.sub(r"([\\`*_{}\[\]<>()#+!|~&$-])", r"\\\1", " ".join(text.split()))


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the page. It shows the drawings themselves, from where they lie: most places refuse pictures within a
    page."""
    here = posixpath.dirname(context.file)
    rows = [
        (
            url_path(posixpath.relpath(icon.source, here or ".")),
            plain(icon.name),
            icon.hex.upper(),
            plain(", ".join(icon.aliases)),
            plain(", ".join(icon.tags)),
            plain(icon.title),
        )
        for icon in icon_set.icons
    ]
    return render_kind("markdown.jinja", icon_set, rows=rows, family=plain(icon_set.family))


KIND = OutputKind(
    "markdown", "table of icons with pictures and codepoints", "for a wiki or a repository", "{stem}.md", write, rank=8
)
