"""The `transform` attribute → one matrix.

Covers the functions of SVG 2 §8.5 / CSS Transforms 1 §9.
"""

from __future__ import annotations

import math
import re

from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg.units import numbers

_FUNCTION = re.compile(r"\s*+,?\s*+([A-Za-z]++)\s*+\(([^()]*+)\)\s*+")
_UNIT = re.compile(r"(?<=[\d.])\s?(px|deg|rad|grad|turn)", re.I)
_LONGEST = 100_000  # characters of a transform
_DEGREES = {"rad": 180 / math.pi, "grad": 0.9, "turn": 360.0}
_COUNTS = {"matrix": {6}, "translate": {1, 2}, "translatex": {1}, "translatey": {1}, "scale": {1, 2}, "scalex": {1},
           "scaley": {1}, "rotate": {1, 3}, "skewx": {1}, "skewy": {1}, "skew": {1, 2}}  # fmt: skip


def _rotation(v: list[float]) -> Matrix:
    angle = math.radians(v[0])
    cos, sin = math.cos(angle), math.sin(angle)
    if v[0] % 90 == 0:  # quarter turns are exact: no dust on the designer's grid
        cos, sin = float(round(cos)), float(round(sin))
    turn = Matrix(cos, sin, -sin, cos)
    if len(v) == 1:
        return turn
    return Matrix(e=v[1], f=v[2]).compose(turn).compose(Matrix(e=-v[1], f=-v[2]))


def _one(name: str, v: list[float]) -> Matrix:
    match name:
        case "matrix":
            return Matrix(*v)
        case "translate":
            return Matrix(e=v[0], f=v[1] if len(v) > 1 else 0.0)
        case "translatex":
            return Matrix(e=v[0])
        case "translatey":
            return Matrix(f=v[0])
        case "scale":
            return Matrix(a=v[0], d=v[-1])
        case "scalex":
            return Matrix(a=v[0])
        case "scaley":
            return Matrix(d=v[0])
        case "rotate":
            return _rotation(v)
        case "skewx":
            return Matrix(c=math.tan(math.radians(v[0])))
        case "skewy":
            return Matrix(b=math.tan(math.radians(v[0])))
        case _:  # CSS skew(x, y)
            return Matrix(b=math.tan(math.radians(v[1])) if len(v) > 1 else 0.0, c=math.tan(math.radians(v[0])))


def parse_transform(text: str) -> Matrix | None:
    """Return the product of a transform list, or None where it is not valid."""
    result, at = IDENTITY, 0
    if text.strip() in ("", "none"):
        return result
    if len(text) > _LONGEST:
        return None
    while match := _FUNCTION.match(text, at):
        name = match[1].lower()
        values = _values(match[2])
        if len(values) not in _COUNTS.get(name, ()) or not all(map(math.isfinite, values)):
            return None
        result = result.compose(_one(name, values))
        at = match.end()
    return result if at == len(text) and all(map(math.isfinite, result)) else None


def _values(text: str) -> list[float]:
    """Return the arguments of a function: lengths in user units, angles in degrees."""
    units = {unit.lower() for unit in _UNIT.findall(text)}
    values = numbers(_UNIT.sub("", text))
    turns = [_DEGREES[unit] for unit in units if unit in _DEGREES]
    return [value * turns[0] for value in values] if turns and len(units) == 1 else values
