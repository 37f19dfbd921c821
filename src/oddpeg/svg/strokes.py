"""Stroke properties → a `Stroke`.

Covers widths, caps, joins, dashes of SVG 2 §13.5.
"""

from __future__ import annotations

from oddpeg.svg.model import Paint, Stroke
from oddpeg.svg.units import diagonal, length, split_values

_CAPS = frozenset(("butt", "round", "square"))
_JOINS = {"miter": "miter", "round": "round", "bevel": "bevel", "miter-clip": "miter", "arcs": "miter"}


def _dashes(text: str, whole: float, font_size: float) -> tuple[float, ...]:
    if text.strip().lower() in ("", "none"):
        return ()
    lengths = [length(word, whole, font_size) for word in split_values(text)]
    values = tuple(v for v in lengths if v is not None and v >= 0)
    if len(values) != len(lengths) or sum(values) <= 0:
        return ()  # a negative length or nothing but zeros: a solid line (§13.5.6)
    return values if len(values) % 2 == 0 else values * 2


def read_stroke(
    style: dict[str, str], paint: Paint, viewport: tuple[float, float], scale: float = 1.0
) -> Stroke | None:
    """Return the stroke that a style asks for, or None where its width is nothing.

    scale: the factor between the author's path length (`pathLength`) and the real one, for dashes.
    """
    whole = diagonal(*viewport)
    font_size = length(style.get("font-size"), 16.0) or 16.0
    given = length(style.get("stroke-width"), whole, font_size)
    width = 1.0 if given is None else given
    if width <= 0:
        return None
    cap = style.get("stroke-linecap", "butt").strip()
    join = style.get("stroke-linejoin", "miter").strip()
    limit = length(style.get("stroke-miterlimit"))
    return Stroke(
        width=width,
        cap=cap if cap in _CAPS else "butt",
        join=_JOINS.get(join, "miter"),
        miter_limit=limit if limit is not None and limit >= 1 else 4.0,
        dashes=tuple(v * scale for v in _dashes(style.get("stroke-dasharray", ""), whole, font_size)),
        dash_offset=(length(style.get("stroke-dashoffset"), whole, font_size) or 0.0) * scale,
        paint=paint,
    )
