"""Shape elements → painted shapes: geometry, paint, stroke, opacity."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg import basic_shapes as basics
from oddpeg.svg.cascade import size_of_font
from oddpeg.svg.document import line_of, local_name
from oddpeg.svg.gradients import brightest, can_paint, placed, read_gradient
from oddpeg.svg.model import INK, Clip, Effect, Gradient, Paint, Path, Shape, Stroke
from oddpeg.svg.paint import PaintValue, parse_paint
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.path_data import MAX_SEGMENTS, PathFault, parse_path
from oddpeg.svg.path_geometry import path_length
from oddpeg.svg.strokes import read_stroke
from oddpeg.svg.styles import StyleReader
from oddpeg.svg.units import diagonal, length

if TYPE_CHECKING:
    from lxml import etree

_PATH = re.compile(r"""path\(\s*+(["'])([^"']*+)\1\s*+\)""", re.I)
SHAPES = frozenset(("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"))
_SERVERS = ("linearGradient", "radialGradient", "pattern")


class WalkState(NamedTuple):
    """The state of the walk over the element tree.

    Attributes:
        style: inherited properties.
        matrix: user units → drawing.
        viewport: size that percentages refer to.
        clips: clip paths and masks that apply.
        depth: of nested elements.
        uses: elements that are being referenced, to detect cycles.
        mode: purpose of shapes: "" visible, "clip", "mask" (luminance), "alpha" (mask of type alpha), "box" (bounds).
        alpha: opacity of all elements around.
    """

    style: dict[str, str]
    matrix: Matrix
    viewport: tuple[float, float]
    clips: tuple[Clip, ...] = ()
    depth: int = 0
    uses: tuple[str, ...] = ()
    mode: str = ""
    alpha: float = 1.0


class ShapeReader(StyleReader):
    """Collects the shapes of one document."""

    def __init__(self, document: SvgDocument, box: Box) -> None:
        """box: the drawing's frame."""
        super().__init__(document, box)
        self.shapes: list[Shape] = []
        self.segments = 0
        self.gradients: dict[etree._Element, Gradient | None] = {}

    def shape(self, element: etree._Element, name: str, place: WalkState) -> None:
        style = place.style
        if style.get("visibility", "visible") != "visible" and place.mode != "box":
            return
        path = self.path(element, name, place)
        if not path:
            return
        self.segments += len(path.degrees)
        if self.segments > MAX_SEGMENTS:
            raise DrawingError(
                Diagnostic(
                    "runaway", f"has more than {MAX_SEGMENTS:,} segments", "simplify the drawing", line=line_of(element)
                )
            )
        if place.mode in ("clip", "box"):
            rule = style.get("clip-rule") == "evenodd"
            self.shapes.append(Shape(path, place.matrix, INK, rule, None, False, place.clips))
            return
        fill = self._paint("fill", style, element, place, path)
        stroke = self._stroke(style, element, place, path)
        matrix = place.matrix
        effect = self.cascade.declared(element).get("vector-effect", "none")
        if stroke and effect == "non-scaling-stroke":
            fill = fill and placed(fill, path, matrix)
            stroke = stroke._replace(paint=placed(stroke.paint, path, matrix))
            path, matrix = _moved(path, matrix), IDENTITY
        elif effect not in ("none", "non-scaling-stroke"):
            message = f"has the style property vector-effect: {effect[:60]}, which was ignored"
            self.note("property-ignored", message, "draw the shape as it should look", element)
        if fill is None and stroke is None:
            return
        order = paint_order(style)
        stroke_first = order.index("stroke") < order.index("fill")
        even_odd = style.get("fill-rule") == "evenodd"
        self.shapes.append(Shape(path, matrix, fill, even_odd, stroke, stroke_first, place.clips))

    def path(self, element: etree._Element, name: str, place: WalkState) -> Path:
        declared = self.with_values(self.cascade.declared(element), place.style)
        try:
            if name == "path":
                return parse_path(_path_text(declared.get("d"), element.get("d") or ""))
            return self._basic(element, name, declared, place)
        except PathFault as fault:
            self.note(
                "bad-path",
                f"has path data that is wrong at character {fault.at}: {fault.reason}; what comes before was kept",
                "draw that path again",
                element,
            )
            return fault.path

    def _basic(self, element: etree._Element, name: str, declared: Mapping[str, str], place: WalkState) -> Path:
        w, h = place.viewport
        whole = {"x": w, "y": h, "d": diagonal(w, h)}
        em = size_of_font(place.style)

        def measure(key: str, direction: str) -> float | None:
            return self.length(key, declared.get(key) or element.get(key), whole[direction], element, em)

        match name:
            case "rect":
                return basics.rect(measure)
            case "circle":
                return basics.circle(measure)
            case "ellipse":
                return basics.ellipse(measure)
            case "line":
                return basics.line(measure)
            case _:
                return basics.poly(element.get("points") or "", name == "polygon")

    def _paint(
        self, which: str, style: dict[str, str], element: etree._Element, place: WalkState, path: Path
    ) -> Paint | None:
        if which not in style:
            value = PaintValue(Effect.INK) if which == "fill" else PaintValue(None)
        else:
            value = parse_paint(style[which], style.get("color", ""))
        gradient = None
        target = self.ids.get(value.server) if value.server else None
        if target is not None and local_name(target) in _SERVERS:
            gradient = self.gradient(target)
            if gradient is not None and not can_paint(gradient, path):
                gradient, value = None, value._replace(server="")  # the fallback paints (SVG 2 §13.3, 14.2)
            elif gradient is None and local_name(target) != "pattern":
                return None
            else:
                message = "is painted with a gradient or pattern, which was taken as solid ink"
                self.note("gradient", message, "", element)
                value = PaintValue(Effect.INK, server=value.server, light=brightest(gradient))
        if value.effect is None or not self.opacity(style.get(which + "-opacity", "1"), which + "-opacity", element):
            return None
        if value.alpha < 1 and not self.opacity(str(round(value.alpha, 3)), which + " of opacity", element):
            return None
        if place.mode == "mask":  # light shows, dark hides
            return Paint(Effect.INK if value.light > 0.5 else Effect.WHITE)
        if place.mode == "alpha":
            return INK
        opacity = length(style.get(which + "-opacity", "1"), 1.0)
        alpha = place.alpha * (1.0 if opacity is None else min(1.0, max(0.0, opacity))) * value.alpha
        opaque = value.colour and value.colour._replace(alpha=1.0)
        return Paint(value.effect, opaque, value.server, alpha, gradient, which in style)

    def gradient(self, element: etree._Element) -> Gradient | None:
        """Return the gradient of an element; None if it is none, or has no stops."""
        if element not in self.gradients:
            is_gradient = local_name(element) != "pattern"
            read = read_gradient(element, self.ids, self.viewport_of(element), self.computed) if is_gradient else None
            self.gradients[element] = read
        return self.gradients[element]

    def _stroke(self, style: dict[str, str], element: etree._Element, place: WalkState, path: Path) -> Stroke | None:
        if "stroke" not in style:
            return None
        paint = self._paint("stroke", style, element, place, path)
        if paint is None:
            return None
        scale = 1.0
        stated = length(element.get("pathLength")) if "stroke-dasharray" in style else None
        if stated == 0:  # every dash is endless (SVG 2 §9.6.1)
            style = {**style, "stroke-dasharray": "none"}
        elif stated is not None and stated > 0:
            scale = path_length(path) / stated
        return read_stroke(style, paint, place.viewport, scale)


def paint_order(style: dict[str, str]) -> list[str]:
    """Return "fill", "stroke" and "markers" in the order of painting (SVG 2 §13.8)."""
    words = [word for word in style.get("paint-order", "").split() if word != "normal"]
    return words + [word for word in ("fill", "stroke", "markers") if word not in words]


def _path_text(style: str | None, attribute: str) -> str:
    """Return path data: of the property `d` (SVG 2 §9.3.2), which wins, else of the attribute."""
    if style is None:
        return attribute
    if style.strip().lower() == "none":
        return ""
    match = _PATH.fullmatch(style.strip())
    return match[2] if match else attribute


def _moved(path: Path, m: Matrix) -> Path:
    """Return a path with a matrix applied to its coordinates."""
    xs, ys = path.coords[0::2], path.coords[1::2]
    coords = [v for x, y in zip(xs, ys, strict=True) for v in (m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)]
    return Path(coords, path.degrees, path.starts, path.closed)
