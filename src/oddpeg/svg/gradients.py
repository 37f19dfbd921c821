"""Gradient elements → gradients, which inherit by `href`. Source: SVG 2 §14.2."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

from oddpeg.geometry.matrix import IDENTITY
from oddpeg.svg.cascade import Cascade
from oddpeg.svg.document import local_name, reference
from oddpeg.svg.model import Gradient, Stop
from oddpeg.svg.paint import parse_paint
from oddpeg.svg.transforms import parse_transform
from oddpeg.svg.units import diagonal, length

if TYPE_CHECKING:
    from lxml import etree

_DEEPEST = 8  # gradients that take after each other
_LINE = (("x1", "0%", "x"), ("y1", "0%", "y"), ("x2", "100%", "x"), ("y2", "0%", "y"))
_CIRCLES = (("cx", "50%", "x"), ("cy", "50%", "y"), ("r", "50%", "d"), ("fr", "0%", "d"))


def read_gradient(
    element: etree._Element,
    ids: Mapping[str, etree._Element],
    viewport: tuple[float, float],
    colour: str,
    cascade: Cascade,
) -> Gradient | None:
    """Return the gradient that an element describes; None if it has no stops and paints nothing.

    Args:
        ids: the document's elements by id.
        viewport: size that percentages refer to, in user units.
        colour: value of the `color` property at the painted element.
        cascade: styles of the document.
    """
    chain = list(_chain(element, ids))
    stops = next((stops_of_one for one in chain if (stops_of_one := _stops(one, colour, cascade))), None)
    if stops is None:
        return None
    by_box = _attribute(chain, "gradientUnits", "objectBoundingBox").strip() != "userSpaceOnUse"
    width, height = (1.0, 1.0) if by_box else viewport
    whole = {"x": width, "y": height, "d": 1.0 if by_box else diagonal(width, height)}

    def measure(name: str, default: str, direction: str) -> float:
        value = length(_attribute(chain, name, default), whole[direction])
        return (length(default, whole[direction]) or 0.0) if value is None else value

    radial = local_name(element) == "radialGradient"
    if radial:
        cx, cy, r, fr = (measure(*one) for one in _CIRCLES)
        fx, fy = (
            value if (value := length(_attribute(chain, name, ""), whole[axis])) is not None else centre
            for name, axis, centre in (("fx", "x", cx), ("fy", "y", cy))
        )
        points: tuple[float, ...] = (fx, fy, fr, cx, cy, r)
    else:
        points = tuple(measure(*one) for one in _LINE)
    matrix = parse_transform(_attribute(chain, "gradientTransform", "")) or IDENTITY
    spread = _attribute(chain, "spreadMethod", "pad").strip()
    return Gradient(radial, points, stops, spread if spread in ("reflect", "repeat") else "pad", matrix, by_box)


def _chain(element: etree._Element, ids: Mapping[str, etree._Element]) -> Iterator[etree._Element]:
    """Yield a gradient, the one that it takes after, and so on."""
    for _ in range(_DEEPEST):
        yield element
        following = ids.get(reference(element))
        if following is None or local_name(following) not in ("linearGradient", "radialGradient"):
            return
        element = following


def _attribute(chain: list[etree._Element], name: str, default: str) -> str:
    return next((value for one in chain if (value := one.get(name)) is not None), default)


def _stops(element: etree._Element, colour: str, cascade: Cascade) -> tuple[Stop, ...]:
    """Return an element's own stops; offsets never fall (SVG 2 §14.2.4.2)."""
    stops: list[Stop] = []
    for child in element:
        if local_name(child) != "stop":
            continue
        style = cascade.declared(child)
        paint = parse_paint(style.get("stop-color", "black"), colour)
        opacity = length(style.get("stop-opacity", "1"), 1.0)
        offset = min(1.0, max(0.0, length(child.get("offset") or "0", 1.0) or 0.0))
        alpha = min(1.0, max(0.0, 1.0 if opacity is None else opacity)) * (paint.alpha if paint.effect else 0.0)
        opaque = paint.colour and paint.colour._replace(alpha=1.0)
        stops.append(Stop(max(offset, stops[-1].offset if stops else 0.0), opaque, alpha))
    return tuple(stops)
