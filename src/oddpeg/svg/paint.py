"""Paint values: the effect of a `fill` or `stroke` on the silhouette.

Covers paint syntax of SVG 2 §13.2, and what the paints of a whole drawing mean for each other.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.svg.model import Colour, Effect, Shape

_OPAQUE = re.compile(r"#(?:[0-9a-f]{3}|[0-9a-f]{6})")
_URL = re.compile(r"""url\(\s*+["']?([^"')]*+)["']?\s*+\)\s*+(.*)""", re.S)
_BLACK = Colour(0, 0, 0)
_LONGEST = 4000  # characters of a paint


class PaintValue(NamedTuple):
    """A parsed paint.

    Attributes:
        effect: None paints nothing.
        colour: None follows the text.
        alpha: 0 to 1.
        server: the id of a gradient or pattern.
        understood: whether the text is a paint at all.
        light: luminance for masks, 0 to 1.
    """

    effect: Effect | None
    colour: Colour | None = None
    alpha: float = 1.0
    server: str = ""
    understood: bool = True
    light: float = 0.0


@lru_cache(maxsize=4096)
def parse_paint(text: str, current: str) -> PaintValue:
    """Return the meaning of a paint. current: the value of the `color` property, empty for that of the text."""
    word = text.strip()
    if len(word) > _LONGEST:
        return PaintValue(Effect.INK, understood=False)
    flat = word.lower()
    if flat in ("none", "transparent"):
        return PaintValue(None)
    if flat in ("context-fill", "context-stroke"):
        return PaintValue(Effect.INK)
    if flat == "currentcolor":
        inner = current.strip().lower()
        return PaintValue(Effect.INK) if inner in ("", "currentcolor") else parse_paint(current, "")
    if match := _URL.match(word):
        fallback = match[2].strip()
        after = parse_paint(fallback, current) if fallback else PaintValue(None)
        return after._replace(server=match[1].lstrip("#") or "?", understood=True, light=0.0)
    return _colour_value(flat)


def colour_of(text: str) -> Colour | None:
    """Return a CSS colour; None for other texts, and for colours that depend on another one."""
    flat = text.strip().lower()
    if flat == "transparent" or flat == "currentcolor" or "url(" in flat or len(flat) > _LONGEST:
        return None
    value = _colour_value(flat)
    return value.colour if value.understood else None


def _colour_value(flat: str) -> PaintValue:
    if _OPAQUE.fullmatch(flat):  # nearly every colour in a drawing
        width = len(flat) // 3
        red, green, blue = (int(flat[i : i + width].ljust(2, flat[i]), 16) for i in range(1, len(flat), width))
        effect = Effect.WHITE if set(flat) == {"#", "f"} else Effect.INK
        return PaintValue(effect, Colour(red, green, blue), light=_light(red / 255, green / 255, blue / 255))
    from oddpeg.svg.colours import parse_colour

    rgba = parse_colour(flat)
    if rgba is None:
        return PaintValue(Effect.INK, understood=False)
    if rgba.alpha <= 0:
        return PaintValue(None, alpha=0.0)
    channels = rgba[:3]
    red, green, blue = (round(255 * min(max(v, 0.0), 1.0)) for v in channels)
    effect = Effect.WHITE if min(channels) >= 0.999 else Effect.INK
    return PaintValue(effect, Colour(red, green, blue, rgba.alpha), rgba.alpha, light=_light(*channels))


def light_of(colour: Colour | None) -> float:
    """Return the luminance of a colour; that of the text counts as black."""
    return 0.0 if colour is None else _light(colour.red / 255, colour.green / 255, colour.blue / 255)


def _light(red: float, green: float, blue: float) -> float:
    """Return luminance as masks weigh it (CSS Masking 1 §7.10)."""
    return 0.2125 * red + 0.7154 * green + 0.0721 * blue


def settle_white(shapes: list[Shape], notes: list[Diagnostic]) -> None:
    """Let white erase the paint beneath it, unless everything is white: then white is the ink."""
    paints = [paint for shape in shapes for paint in shape.paints]
    effects = {p.effect for p in paints}
    if Effect.WHITE not in effects:
        return
    if Effect.INK in effects:
        notes.append(Diagnostic("white-erases", "mixes white with other colours: white was taken as an eraser"))
        return
    notes.append(Diagnostic("white-ink", "is all white: white was taken as the ink"))
    for shape in shapes:
        shape.fill = shape.fill and shape.fill._replace(effect=Effect.INK)
        shape.stroke = shape.stroke and shape.stroke._replace(paint=shape.stroke.paint._replace(effect=Effect.INK))


def settle_black(shapes: list[Shape]) -> None:
    """Let unspecified paint be black in a drawing with colours (SVG 2 §13.2); in others it follows the text."""
    if any(paint.colour is not None or paint.gradient is not None for shape in shapes for paint in shape.paints):
        for shape in shapes:
            if shape.fill is not None and not shape.fill.specified:
                shape.fill = shape.fill._replace(colour=_BLACK)
