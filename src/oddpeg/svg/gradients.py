"""Gradient elements → gradients, which inherit by `href`. Source: SVG 2 §14.2."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import TYPE_CHECKING

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg.document import local_name, reference
from oddpeg.svg.model import Gradient, Paint, Path, Shape, Stop
from oddpeg.svg.paint import light_of, parse_paint
from oddpeg.svg.path_geometry import bounds
from oddpeg.svg.transforms import parse_style_transform, parse_transform
from oddpeg.svg.units import diagonal, length

if TYPE_CHECKING:
    from lxml import etree

Computed = Callable[["etree._Element"], Mapping[str, str]]  # the properties of an element

_DEEPEST = 8  # gradients that take after each other
_LINE = (("x1", "0%", "x"), ("y1", "0%", "y"), ("x2", "100%", "x"), ("y2", "0%", "y"))
_CIRCLES = (("cx", "50%", "x"), ("cy", "50%", "y"), ("r", "50%", "d"), ("fr", "0%", "d"))


def read_gradient(
    element: etree._Element, ids: Mapping[str, etree._Element], viewport: tuple[float, float], computed: Computed
) -> Gradient | None:
    """Return the gradient that an element describes; None if it has no stops and paints nothing.

    Args:
        ids: the document's elements by id.
        viewport: size that percentages refer to, in user units.
        computed: the properties of an element.
    """
    chain = list(_chain(element, ids))
    stops = next((stops_of_one for one in chain if (stops_of_one := _stops(one, computed))), None)
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
        points: tuple[float, ...] = (fx, fy, max(fr, 0.0), cx, cy, r)
    else:
        points = tuple(measure(*one) for one in _LINE)
    if r <= 0 if radial else points[:2] == points[2:]:  # SVG 2 §14.2.2 and 14.2.3: then the last stop paints all
        stops = stops[-1:]
    frame = Box(0.0, 0.0, width, height)
    matrix = next((m for one in chain if (m := _transform(one, computed, frame)) is not None), IDENTITY)
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


def _transform(element: etree._Element, computed: Computed, box: Box) -> Matrix | None:
    """Return the transform that a gradient itself has; None where it has none that is valid."""
    style = computed(element).get("transform")
    if style is not None:
        return parse_style_transform(style, box)
    text = element.get("gradientTransform") or ""
    return parse_transform(text) if text.strip() else None


def _attribute(chain: list[etree._Element], name: str, default: str) -> str:
    return next((value for one in chain if (value := one.get(name)) is not None), default)


def _stops(element: etree._Element, computed: Callable[[etree._Element], Mapping[str, str]]) -> tuple[Stop, ...]:
    """Return an element's own stops; offsets never fall (SVG 2 §14.2.4.2)."""
    stops: list[Stop] = []
    for child in element:
        if local_name(child) != "stop":
            continue
        style = computed(child)
        paint = parse_paint(style.get("stop-color", "black"), style.get("color", ""))
        opacity = length(style.get("stop-opacity", "1"), 1.0)
        offset = min(1.0, max(0.0, length(child.get("offset") or "0", 1.0) or 0.0))
        alpha = min(1.0, max(0.0, 1.0 if opacity is None else opacity)) * (paint.alpha if paint.effect else 0.0)
        opaque = paint.colour and paint.colour._replace(alpha=1.0)
        stops.append(Stop(max(offset, stops[-1].offset if stops else 0.0), opaque, alpha))
    return tuple(stops)


def placed(paint: Paint, path: Path, matrix: Matrix) -> Paint:
    """Return a paint for a path whose coordinates were mapped by a matrix. path: before that."""
    gradient = paint.gradient
    if gradient is None:
        return paint
    if gradient.by_box and (box := bounds([Shape(path, IDENTITY)], IDENTITY)) is not None:
        matrix = matrix.compose(Matrix(box.width, 0, 0, box.height, box.x, box.y))
    return paint._replace(gradient=gradient._replace(matrix=matrix.compose(gradient.matrix), by_box=False))


def can_paint(gradient: Gradient, path: Path) -> bool:
    """Return whether a gradient has a place: its transform can be inverted, and the box that it refers to has area."""
    if not gradient.matrix.is_invertible():
        return False
    box = bounds([Shape(path, IDENTITY)], IDENTITY) if gradient.by_box else None
    return not gradient.by_box or (box is not None and min(box.width, box.height) > 1e-9)


def brightest(gradient: Gradient | None) -> float:
    """Return the light of a gradient's brightest stop: a mask that fades out still shows where it is brightest. A
    pattern counts as light."""
    return 1.0 if gradient is None else max(light_of(stop.colour) * stop.alpha for stop in gradient.stops)
