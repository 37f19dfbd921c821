"""Paint in colours for drawings made up from the grammar: colours in every syntax, gradients in every form."""

from __future__ import annotations

from random import Random
from typing import Protocol

_COLOURS = (
    "red", "Gold", "#08f", "#0a0c", "#c0ffee", "#804000", "rgb(200,30,90)", "rgb(20% 60% 80%)", "rgba(10, 120, 90, .5)",
    "rgb(90 20 200 / 60%)", "hsl(200 80% 40%)", "hsla(30, 90%, 50%, 0.7)", "hsl(.3turn 60% 45%)", "hwb(300 20% 10%)",
    "lab(55% 60 40)", "lch(60% 30 250deg)", "oklab(0.6 0.1 -0.1)", "oklch(70% .15 140)", "color(srgb 0.9 0.4 0)",
    "color(display-p3 0.4 0.6 0.5)", "currentColor", "CurrentColor", "teal", "white", "black", "var(--ink, orchid)",
    "color-mix(in srgb, red 40%, blue)", "transparent",
)  # fmt: skip
# browsers mix stops in other spaces than sRGB where a colour is in one
_STOP_COLOURS = tuple(name for name in _COLOURS if not name.startswith(("color", "lab", "lch", "ok")))
_WIDE = ("inherit", "initial", "unset")
_ALPHAS = ("1", ".5", "40%", "0.8", "0", "2", "75%")


class Pen(Protocol):
    """The part of a drawing's state that paint needs."""

    @property
    def random(self) -> Random: ...
    @property
    def defs(self) -> list[str]: ...
    def chance(self, share: float) -> bool: ...
    def between(self, low: float, high: float) -> float: ...
    def name(self) -> str: ...


def paint(pen: Pen, opaque: bool) -> str:
    """Return a value of `fill` or `stroke`. opaque: solid colours only."""
    if not opaque and pen.chance(0.4):
        fallback = pen.random.choice(("", "", " none", " red"))
        return f"url(#{gradient(pen)}){fallback}" if pen.chance(0.95) else f"url(#nowhere){fallback or ' green'}"
    return pen.random.choice((*_COLOURS, "none", *_WIDE))


def opacities(pen: Pen) -> dict[str, str]:
    """Return opacities of paint, with their values."""
    names = [name for name in ("fill-opacity", "stroke-opacity") if pen.chance(0.15)]
    return {name: pen.random.choice(_ALPHAS) for name in names}


# ranges of coordinates, in shares: lines and circles that browsers need not paint with stripes below a pixel
_SHARES = {"x1": (0, 0.35), "y1": (0, 0.35), "x2": (0.55, 1), "y2": (0, 1), "r": (0.3, 0.7), "cx": (0.4, 0.6),
           "cy": (0.4, 0.6), "fr": (0, 0.2), "fx": (0.35, 0.6), "fy": (0.35, 0.6)}  # fmt: skip


def gradient(pen: Pen, alone: bool = True) -> str:
    """Add a gradient to the definitions; return its id. alone: no other takes its coordinates."""
    name, kind = pen.name(), pen.random.choice(("linearGradient", "radialGradient"))
    units = pen.random.choice(("", "", "objectBoundingBox", "userSpaceOnUse", "userSpaceOnUse", "bogus"))
    size = 24.0 if units == "userSpaceOnUse" else 1.0
    attributes = {"id": name}
    if units:
        attributes["gradientUnits"] = units
    keys = ("x1", "y1", "x2", "y2") if kind[0] == "l" else ("cx", "cy", "r", "fx", "fy", "fr")
    parent = gradient(pen, False) if pen.chance(0.25) else ""
    for key in keys:
        if pen.chance(0.5):
            share = pen.between(*_SHARES[key])
            plain = alone and not parent and pen.chance(0.6)  # shares fit any units
            attributes[key] = f"{share * size:g}" if plain else f"{share * 100:g}%"
    if pen.chance(0.3):
        attributes["spreadMethod"] = pen.random.choice(("pad", "reflect", "repeat", "bogus"))
    if pen.chance(0.3):
        middle = f"{size / 2:g}"
        attributes["gradientTransform"] = pen.random.choice((
            f"rotate({pen.between(-90, 90)} {middle} {middle})", f"translate({pen.between(-0.3, 0.3) * size:g})",
            f"scale({pen.between(0.5, 1.4)} {pen.between(0.5, 1.4)})", f"skewX({pen.between(-20, 20)})",
            "matrix(1 0 0", "rotate(20deg)",
        ))  # fmt: skip
    stops = _stops(pen)
    if parent:  # stops, and at times more, from another one
        attributes[pen.random.choice(("href", "xlink:href"))] = f"#{parent}" if pen.chance(0.9) else "#nowhere"
        stops = stops if pen.chance(0.2) else ""
    texts = " ".join(f'{key}="{value}"' for key, value in attributes.items())
    pen.defs.append(f"<{kind} {texts}>{stops}</{kind}>")
    return name


def _stops(pen: Pen) -> str:
    """Return the stops of a gradient: two or more, since browsers paint cones of one stop in other ways."""
    stops = []
    for number in range(pen.random.choice((2, 2, 2, 3, 3, 4))):
        properties = {"stop-color": pen.random.choice(_STOP_COLOURS)} if pen.chance(0.9) else {}
        if pen.chance(0.3):
            properties["stop-opacity"] = pen.random.choice((*_ALPHAS, "inherit", "bogus"))
        offset = pen.random.choice((0.0, 0.25, 0.5, 0.75, 1.0)) if pen.chance(0.3) else min(1.0, number / 2)
        attributes = {"offset": f"{offset * 100:g}%" if pen.chance(0.5) else f"{offset:g}"} if pen.chance(0.9) else {}
        styles: dict[str, str] = {}
        for key, value in properties.items():
            (styles if pen.chance(0.4) else attributes)[key] = value
        if styles:
            attributes["style"] = ";".join(f"{key}:{value}" for key, value in styles.items())
        stops.append("<stop " + " ".join(f'{key}="{value}"' for key, value in attributes.items()) + "/>")
    return "".join(stops)
