"""Drawings, one for each feature of SVG that is drawn, and how an independent renderer is given them."""

from __future__ import annotations

from support.data import table

_DATA = table("gallery")
GALLERY: dict[str, str] = _DATA["drawings"]


def drawings() -> dict[str, tuple[str, str]]:
    """Return (viewBox, body) of every drawing, by name."""
    return {**{name: ("0 0 24 24", body) for name, body in GALLERY.items()}, **_DATA["frames"]}


def plain_svg(name: str, size: str) -> str:
    """Return a drawing as the independent renderer is given it."""
    box, body = drawings()[name]
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="{box}">{_DATA["plainly"].get(name, body)}</svg>'
