"""Shape elements → painted shapes: geometry, paint, stroke, opacity."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg import basic_shapes as basics
from oddpeg.svg.cascade import Cascade, inherit, size_of_font
from oddpeg.svg.document import line_of, local_name
from oddpeg.svg.gradients import brightest, can_paint, placed, read_gradient
from oddpeg.svg.model import INK, Clip, Effect, Gradient, Paint, Path, Shape, Stroke
from oddpeg.svg.paint import PaintValue, parse_paint
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.path_data import MAX_SEGMENTS, PathFault, parse_path
from oddpeg.svg.path_geometry import path_length
from oddpeg.svg.properties import GEOMETRY, INHERITED, WARNED, WIDE, changes_nothing, valid_value
from oddpeg.svg.strokes import read_stroke
from oddpeg.svg.units import diagonal, length
from oddpeg.svg.values import Variables
from oddpeg.svg.viewport import view_box

if TYPE_CHECKING:
    from lxml import etree

_NO_LENGTH = frozenset(("", "none", "auto", "normal"))
_LENGTHS = ("stroke-width", "stroke-dasharray", "stroke-dashoffset", "opacity", "fill-opacity", "stroke-opacity")
# by property: code of the message about a value that is not valid
_IGNORED_CODES = {
    "fill": "unknown-paint",
    "stroke": "unknown-paint",
    "transform": "bad-transform",
    **dict.fromkeys((*_LENGTHS, *GEOMETRY), "bad-length"),
}
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


class ShapeReader:
    """Collects the shapes of one document.

    Attributes:
        keep_faint: paint of partial opacity counts as solid ink, else as none.
        cascade: the styles at the place of the walk.
    """

    def __init__(self, document: SvgDocument, keep_faint: bool, box: Box) -> None:
        """box: the drawing's frame."""
        self.document = document
        self.root = document.root
        self.keep_faint = keep_faint
        self.box = box
        self.cascade = document.cascade
        self.shapes: list[Shape] = []
        self.notes: list[Diagnostic] = []
        self.segments = 0
        self.variables = Variables()
        self.gradients: dict[etree._Element, Gradient | None] = {}

    @contextlib.contextmanager
    def styled_by(self, cascade: Cascade) -> Iterator[None]:
        """Take declarations from another cascade for a while."""
        outer, self.cascade = self.cascade, cascade
        try:
            yield
        finally:
            self.cascade = outer

    @cached_property
    def ids(self) -> dict[str, etree._Element]:
        """Elements by id, the first where several share one."""
        by_id: dict[str, etree._Element] = {}
        for element in self.root.iter():
            if name := element.get("id"):
                by_id.setdefault(name, element)
        return by_id

    def declared(self, element: etree._Element, parent: dict[str, str]) -> dict[str, str]:
        """Return the declarations for an element, variables replaced; add notes on ignored ones. parent: the inherited
        properties."""
        declared = self.with_values(self.cascade.declared(element), parent)
        for name, text in self.cascade.ignored.get(element, ()):
            code = _IGNORED_CODES.get(name, "property-ignored")
            message = f"has a {name} that is not understood: {text[:60]!r}; it was ignored"
            self.note(code, message, "correct the value", element)
        for name in WARNED.keys() & declared.keys():
            if not changes_nothing(name, declared[name]):
                message = f"has the style property {name}: {declared[name][:60]}, which was ignored"
                code = "animation" if name.startswith("animation") else "property-ignored"
                self.note(code, message, "draw what it does, or remove it", element)
        return declared

    def with_values(self, declared: dict[str, str], parent: dict[str, str]) -> dict[str, str]:
        """Return declarations with variables replaced by their values, the element's own or inherited; a reference to
        an unknown variable makes a declaration invalid (CSS Variables 1 §3.1)."""
        if not any("var(" in value for value in declared.values()):
            return declared
        known = {**parent, **declared}
        substituted = {}
        for name, value in declared.items():
            if name.startswith("--") or "var(" not in value:
                substituted[name] = value
                continue
            text = self.variables.resolve(value, known)
            valid = None if text is None else valid_value(name, text, False)
            if valid is not None and (name in INHERITED or valid not in WIDE):
                substituted[name] = valid
        return substituted

    def length(
        self, name: str, text: str | None, whole: float, element: etree._Element, em: float = 16.0
    ) -> float | None:
        """Return a length in user units; None where it is absent, or not understood, which is noted."""
        value = length(text, whole, em)
        if value is None and text is not None and text.strip().lower() not in _NO_LENGTH:
            message = f"has a {name} that is not understood: {text[:60]!r}; it was ignored"
            self.note("bad-length", message, "write it as a plain number", element)
        return value

    def viewport_of(self, element: etree._Element) -> tuple[float, float]:
        """Return the size that percentages in a resource refer to: of the frame around it in the file."""
        frames = [e for e in element.iterancestors() if local_name(e) in ("svg", "symbol")]
        size = self.box.width, self.box.height
        for frame in reversed(frames[:-1]):
            box = view_box(frame)
            size = (
                (box.width, box.height)
                if box
                else (
                    length(frame.get("width") or "100%", size[0]) or 0.0,
                    length(frame.get("height") or "100%", size[1]) or 0.0,
                )
            )
        return size

    def note(self, code: str, text: str, cure: str = "", element: etree._Element | None = None) -> None:
        line = line_of(element) if element is not None else None
        if not any(n.code == code and n.what == text for n in self.notes):
            self.notes.append(Diagnostic(code, text, cure, line=line))

    def opacity(self, text: str, which: str, element: etree._Element) -> bool:
        """Whether something of this opacity counts; partial opacity is noted."""
        value = self.length(which, text, 1.0, element)
        if value is None or value >= 1:
            return True
        if value <= 0:
            return False
        fate = "taken as solid" if self.keep_faint else "ignored"
        self.note(
            "partial-opacity",
            f"has {which} {text.strip()}; a font knows only ink, so it was {fate}",
            "make it solid or remove it, or set icons.translucent",
            element,
        )
        return self.keep_faint

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
            fill, stroke = (
                fill and placed(fill, path, matrix),
                stroke._replace(paint=placed(stroke.paint, path, matrix)),
            )
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
        w, h = place.viewport
        declared = self.with_values(self.cascade.declared(element), place.style)
        if name == "path":
            try:
                return parse_path(_path_text(declared.get("d"), element.get("d") or ""))
            except PathFault as fault:
                self.note(
                    "bad-path",
                    f"has path data that is wrong at character {fault.at}: {fault.reason}; what comes before was kept",
                    "draw that path again",
                    element,
                )
                return fault.path
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

    def around(self, element: etree._Element) -> dict[str, str]:
        """Return the properties that an element inherits from its ancestors in the file, wherever it is referred to
        from."""
        style: dict[str, str] = {}
        for ancestor in reversed([*element.iterancestors()]):
            declared = self.with_values(self.document.cascade.declared(ancestor), style)
            style = inherit(style, without_colour(declared) if ancestor is self.root else declared)
        return style

    def computed(self, element: etree._Element) -> dict[str, str]:
        """Return the properties of an element that is not painted itself: inherited and declared ones."""
        style, parent = self.around(element), element.getparent()
        declared = self.with_values(self.document.cascade.declared(element), style)
        above = {} if parent is None else self.document.cascade.declared(parent)
        taken = {name: above[name] for name, value in declared.items() if value == "inherit" and name in above}
        return {**inherit(style, declared), **declared, **taken}

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


def without_colour(declared: dict[str, str]) -> dict[str, str]:
    """Return the declarations for the outermost element without its `color`: it takes that of the text."""
    return {name: value for name, value in declared.items() if name != "color" or value == "transparent"}


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
