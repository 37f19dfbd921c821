"""Stylesheet: the font face, one base class, one class per icon. Source: CSS Fonts 4, CSS Content 3 §1.2."""

from __future__ import annotations

from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.render import render


def css(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the stylesheet; fonts are offered in the order of `around.urls`."""
    return render("css.jinja", c=catalogue, urls=around.urls)
