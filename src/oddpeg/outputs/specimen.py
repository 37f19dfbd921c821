"""Specimen: one self-contained page that shows every icon with its name and codepoint."""

from __future__ import annotations

import base64

from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.render import render


def specimen(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the page; the font is carried inside it, so it works from disk and offline."""
    return render(
        "specimen.html.jinja", c=catalogue, font=base64.b64encode(around.embed).decode("ascii"), sizes=around.sizes
    )
