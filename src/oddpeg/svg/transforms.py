"""Transforms → one matrix: the attribute (SVG 2 §8.5) and the properties (CSS Transforms 1 and 2), with their origin.

Attributes hold numbers without units (CSS Transforms 1 §9.1); properties need units, and commas between arguments.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from typing import Any

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg.path_data import NUMBER
from oddpeg.svg.units import length, numbers, split_values
from oddpeg.svg.values import split_at_commas, work_out

UNIT_BOX = Box(0.0, 0.0, 1.0, 1.0)
_FUNCTION = re.compile(r"\s*+,?\s*+([A-Za-z]++)\s*+\(([^()]*+)\)\s*+")
_ARGUMENTS = re.compile(rf"\s*+{NUMBER}(?:\s*,?\s*{NUMBER})*\s*+")
_LONGEST = 100_000  # characters of a transform
_DEGREES = {"deg": 1.0, "rad": 180 / math.pi, "grad": 0.9, "turn": 360.0}
_COUNTS = {"matrix": {6}, "translate": {1, 2}, "scale": {1, 2}, "rotate": {1, 3}, "skewX": {1}, "skewY": {1}}
# functions of CSS: kinds of their arguments, which are x or y lengths, angles, numbers or factors; "?" where optional
_STYLE = {
    "matrix": "nnnnnn", "translate": "xy?", "translatex": "x", "translatey": "y", "scale": "ff?", "scalex": "f",
    "scaley": "f", "rotate": "a", "skew": "aa?", "skewx": "a", "skewy": "a", "translate3d": "xyx", "translatez": "x",
    "scale3d": "fff", "scalez": "f", "rotatex": "a", "rotatey": "a", "rotatez": "a",
}  # fmt: skip


def rotation(degrees: float, at: complex = 0j) -> Matrix:
    """Return a rotation about a point."""
    angle = math.radians(degrees)
    cos, sin = math.cos(angle), math.sin(angle)
    if degrees % 90 == 0:  # quarter turns are exact: no dust on the designer's grid
        cos, sin = float(round(cos)), float(round(sin))
    turn = Matrix(cos, sin, -sin, cos)
    return Matrix(e=at.real, f=at.imag).compose(turn).compose(Matrix(e=-at.real, f=-at.imag)) if at else turn


def _one(name: str, v: Sequence[float]) -> Matrix:
    """Return the matrix of a function; of functions in space their effect in the plane."""
    match name:
        case "matrix":
            return Matrix(*v)
        case "translate" | "translate3d":
            return Matrix(e=v[0], f=v[1] if len(v) > 1 else 0.0)
        case "translatex":
            return Matrix(e=v[0])
        case "translatey":
            return Matrix(f=v[0])
        case "scale" | "scale3d":
            return Matrix(a=v[0], d=v[1] if len(v) > 1 else v[0])
        case "scalex":
            return Matrix(a=v[0])
        case "scaley":
            return Matrix(d=v[0])
        case "rotate" | "rotatez":
            return rotation(v[0], complex(*v[1:]) if len(v) == 3 else 0j)
        case "rotatex":
            return Matrix(d=math.cos(math.radians(v[0])))
        case "rotatey":
            return Matrix(a=math.cos(math.radians(v[0])))
        case "skewx":
            return Matrix(c=math.tan(math.radians(v[0])))
        case "skewy":
            return Matrix(b=math.tan(math.radians(v[0])))
        case "skew":
            return Matrix(b=math.tan(math.radians(v[1])) if len(v) > 1 else 0.0, c=math.tan(math.radians(v[0])))
        case _:  # along the axis of sight
            return IDENTITY


def parse_transform(text: str) -> Matrix | None:
    """Return the product of the transforms in an attribute, or None where it is not valid."""
    result, at = IDENTITY, 0
    if text.strip() in ("", "none"):
        return result
    if len(text) > _LONGEST:
        return None
    while match := _FUNCTION.match(text, at):
        name, values = match[1], numbers(match[2]) if _ARGUMENTS.fullmatch(match[2]) else []
        if len(values) not in _COUNTS.get(name, ()) or not all(map(math.isfinite, values)):
            return None
        result = result.compose(_one(name.lower(), values))
        at = match.end()
    return result if at == len(text) and all(map(math.isfinite, result)) else None


def parse_style_transform(text: str, box: Box) -> Matrix | None:
    """Return the product of the transforms in a property, or None where it is not valid. box: reference box."""
    import tinycss2

    result = IDENTITY
    if text.strip().lower() in ("", "none"):
        return result
    if len(text) > _LONGEST:
        return None
    for token in tinycss2.parse_component_value_list(text, skip_comments=True):
        if token.type == "whitespace":
            continue
        kinds = _STYLE.get(token.lower_name) if token.type == "function" else None
        if kinds is None:
            return None
        values = _arguments(split_at_commas(token.arguments), kinds, box)
        if values is None:
            return None
        result = result.compose(_one(token.lower_name, values))
    return result if all(map(math.isfinite, result)) else None


def parse_single_transform(name: str, text: str, box: Box) -> Matrix | None:
    """Return the matrix of the property `translate`, `rotate` or `scale`, or None where the value is not valid
    (CSS Transforms 2 §5). box: reference box."""
    values = split_values(text)
    if name == "rotate" and len(values) == 2:
        axes = [value.lower() for value in values if value.lower() in ("x", "y", "z")]
        name += "".join(axes)
        values = [value for value in values if value.lower() not in axes]
    elif len(values) == 3:
        name += "3d"
    return parse_style_transform(f"{name}({','.join(values)})", box)


def _arguments(parts: Sequence[Sequence[Any]], kinds: str, box: Box) -> list[float] | None:
    """Return the values of a function's arguments; None where one is wrong or missing. kinds: as in `_STYLE`."""
    wanted = kinds.rstrip("?")
    least = len(wanted) - (kinds != wanted)
    if not least <= len(parts) <= len(wanted):
        return None
    values = [_argument(part, kind, box) for part, kind in zip(parts, wanted, strict=False)]
    known = [value for value in values if value is not None]
    return known if len(known) == len(values) else None


def _argument(part: Sequence[Any], kind: str, box: Box) -> float | None:
    import tinycss2

    text = tinycss2.serialize(part).strip()
    if kind == "a":
        return parse_angle(text)
    if kind in "xy":
        plain = _ARGUMENTS.fullmatch(text) and float(text)
        return None if plain else length(text, box.width if kind == "x" else box.height)
    if kind == "n" and "%" in text:
        return None
    return _measured(text, lambda value, unit: {"": value, "%": value / 100}.get(unit))


def parse_angle(text: str, plain: bool = False) -> float | None:
    """Return an angle in degrees, or None where it is not one. plain: a number without a unit is one of degrees."""

    def degrees(value: float, unit: str) -> float | None:
        if not unit:
            return value if plain or value == 0 else None
        return value * _DEGREES[unit] if unit in _DEGREES else None

    return _measured(text, degrees)


def _measured(text: str, measure: Callable[[float, str], float | None]) -> float | None:
    """Return a value with a unit, in functions of CSS or plain."""
    if "(" in text:
        return work_out(text, measure)
    match = re.fullmatch(rf"({NUMBER})([a-zA-Z]*|%)", text)
    return measure(float(match[1]), match[2].lower()) if match else None


_SIDES = {
    "left": ("x", "0%"),
    "right": ("x", "100%"),
    "top": ("y", "0%"),
    "bottom": ("y", "100%"),
    "center": ("", "50%"),
}


def parse_origin(text: str, box: Box, attribute: bool = True) -> complex | None:
    """Return the point that `transform-origin` names, or None where it is not valid (CSS Transforms 1 §5).

    box: reference box; attribute: lengths may omit their units.
    """
    words = split_values(text)
    if not 1 <= len(words) <= 3 or (len(words) == 3 and length(words[2]) is None):
        return None
    places = [_SIDES.get(word.lower(), ("", word)) for word in words[:2]]
    if places[0][0] == "y" or (len(places) > 1 and places[1][0] == "x"):
        if len(places) > 1 and not all(word.lower() in _SIDES for word in words[:2]):
            return None  # lengths stand in the order of x and y
        places.reverse()
        if len(places) == 1:
            places.insert(0, ("", "50%"))
    if len(places) == 1:
        places.append(("", "50%"))
    if places[0][0] == "y" or places[1][0] == "x":
        return None
    if not attribute and any(_ARGUMENTS.fullmatch(value) and float(value) for _, value in places):
        return None
    x, y = length(places[0][1], box.width), length(places[1][1], box.height)
    return None if x is None or y is None else complex(box.x + x, box.y + y)
