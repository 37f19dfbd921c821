"""Specimen: one self-contained page that shows every icon with its name and codepoint."""

from __future__ import annotations

import base64

from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind
from oddpeg.outputs.render import render

_SAMPLES = 4  # icons shown at every size, spread over the set


def specimen(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the page; the font is carried inside it, so it works from disk and offline."""
    icons = catalogue.icons
    square = [i for i in icons if i.advance <= catalogue.units_per_em] or list(icons)
    samples = square[:: max(1, len(square) // _SAMPLES)][:_SAMPLES]
    font = base64.b64encode(around.embed).decode("ascii")
    return render("specimen.html.jinja", c=catalogue, font=font, sizes=around.sizes, samples=samples)


KIND = Kind("specimen", "one page that shows every icon; works from disk", "open it in a browser", "{stem}-specimen.html", specimen,
            rank=5, carries=lambda options: ("woff2",))  # fmt: skip
