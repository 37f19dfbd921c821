"""Paint values: what a `fill` or `stroke` does to the silhouette.

Knows: paint syntax of SVG 2 §13.2 and CSS colours (through tinycss2). Does not know: elements.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

from oddpeg.svg.model import Paint

_OPAQUE = re.compile(r"#(?:[0-9a-f]{3}|[0-9a-f]{6})")
_URL = re.compile(r"""\s*url\(\s*["']?([^"')]*)["']?\s*\)\s*(.*)""", re.S)


class PaintValue(NamedTuple):
    """A parsed paint: `paint` None paints nothing; `server` names a gradient or pattern; alpha and light (for masks)
    0 to 1."""

    paint: Paint | None
    alpha: float = 1.0
    server: str = ""
    understood: bool = True
    light: float = 0.0


@lru_cache(maxsize=4096)
def parse_paint(text: str, current: str) -> PaintValue:
    """Return what a paint means. `current` is the value of the `color` property."""
    word = text.strip()
    flat = word.lower()
    if flat in ("none", "transparent"):
        return PaintValue(None)
    if flat in ("black", "#000", "#000000", "context-fill", "context-stroke"):
        return PaintValue(Paint.INK)
    if flat == "currentcolor":
        inner = current.strip().lower()
        # an icon's current colour is whatever the text around it has: white only by chance
        return PaintValue(None) if inner == "transparent" else PaintValue(Paint.INK)
    if match := _URL.match(word):
        fallback = match[2].strip()
        after = parse_paint(fallback, current) if fallback else PaintValue(None)
        return PaintValue(after.paint, after.alpha, match[1].lstrip("#") or "?")
    return _colour(flat)


def _colour(flat: str) -> PaintValue:
    if _OPAQUE.fullmatch(flat):  # nearly every colour in a drawing
        width = len(flat) // 3
        shades = [int(flat[i : i + width].ljust(2, flat[i]), 16) / 255 for i in range(1, len(flat), width)]
        return PaintValue(Paint.WHITE if set(flat) == {"#", "f"} else Paint.INK, light=_light(*shades))
    from tinycss2.color4 import parse_color

    rgba = parse_color(flat)
    if rgba is None or isinstance(rgba, str):
        return PaintValue(Paint.INK, understood=False)
    alpha = float(rgba.alpha)
    if alpha <= 0:
        return PaintValue(None, 0.0)
    red, green, blue = (float(v) for v in rgba.to("srgb").coordinates)
    white = min(red, green, blue) >= 0.999
    return PaintValue(Paint.WHITE if white else Paint.INK, alpha, light=_light(red, green, blue))


def _light(red: float, green: float, blue: float) -> float:
    """Return luminance as masks weigh it (CSS Masking 1 §7.10)."""
    return 0.2125 * red + 0.7154 * green + 0.0721 * blue
