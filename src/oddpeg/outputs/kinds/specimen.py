"""Specimen: one self-contained page to look at every icon, find it by words, and leave with the right line."""

from __future__ import annotations

import base64
import hashlib
import json

from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind
from oddpeg.outputs.render import render, source


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the page; the font is carried inside it, so it works from disk and offline. Its one script is named by its
    digest in the page's own security policy, so no other can run."""
    script = source("specimen.js")
    icons = [
        {"name": i.name, "character": i.character, "hex": i.hex, "title": i.title, "aliases": i.aliases, "tags": i.tags, "licence": i.licence,
         "credit": i.credit, "lines": around.lines(i.name)}
        for i in catalogue.icons
    ]  # fmt: skip
    data = json.dumps({"drop": catalogue.drop, "grid": 24, "icons": icons}).replace("<", "\\u003c")
    return render(
        "specimen.html.jinja", c=catalogue, font=base64.b64encode(around.embed).decode("ascii"), sizes=around.sizes, data=data, script=script,
        digest=base64.b64encode(hashlib.sha256(script.encode()).digest()).decode("ascii"),
    )  # fmt: skip


KIND = Kind("specimen", "one page to look, search and copy; works from disk", "open it in a browser", "{stem}-specimen.html", write,
            rank=5, carries=lambda options: ("woff2",))  # fmt: skip
