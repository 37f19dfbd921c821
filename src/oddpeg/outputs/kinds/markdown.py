"""Catalogue as Markdown: every icon with its drawing, name and codepoint. Source: CommonMark, tables of GitHub
Flavored Markdown."""

from __future__ import annotations

import posixpath
import re

from oddpeg.iconset.model import Catalogue, Surroundings
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.kind import Kind
from oddpeg.outputs.render import render_kind


def plain(text: str) -> str:
    """Return a text that is nothing but text in a table's cell."""
    return re.sub(r"([\\`*_{}\[\]<>()#+!|~&$-])", r"\\\1", " ".join(text.split()))


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the page. It shows the drawings themselves, from where they lie: most places refuse pictures within a
    page."""
    here = posixpath.dirname(around.file)
    rows = [
        (
            url_path(posixpath.relpath(icon.source, here or ".")),
            plain(icon.name),
            icon.hex.upper(),
            plain(", ".join(icon.aliases)),
            plain(", ".join(icon.tags)),
            plain(icon.title),
        )
        for icon in catalogue.icons
    ]
    return render_kind("markdown.jinja", catalogue, rows=rows, family=plain(catalogue.family))


KIND = Kind(
    "markdown", "catalogue with pictures and codepoints", "for a wiki or a repository", "{stem}.md", write, rank=8
)
