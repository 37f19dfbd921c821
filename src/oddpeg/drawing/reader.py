"""SVG bytes → `Drawing`: the walk over the element tree.

Knows: nesting, what each element contributes, limits against runaway files. What it meets and does
not understand becomes a note. Does not know: geometry beyond matrices, the em, files.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

from oddpeg.drawing import basics
from oddpeg.drawing.cascade import Cascade, inherit
from oddpeg.drawing.document import line_of, local_name, parse_document, reference
from oddpeg.drawing.model import IDENTITY, Clip, Drawing, Matrix, Note, Paint, Path, Shape, Stroke, Unusable
from oddpeg.drawing.paint import PaintValue, parse_paint
from oddpeg.drawing.pathdata import PathFault, parse_path
from oddpeg.drawing.strokes import read_stroke
from oddpeg.drawing.transforms import parse_transform
from oddpeg.drawing.units import diagonal, length
from oddpeg.drawing.viewport import drawing_box, fit_box, view_box

if TYPE_CHECKING:
    from lxml import etree

MAX_ELEMENTS = 20_000  # visited, counting every time a `use` repeats one
MAX_DEPTH = 300
MAX_SEGMENTS = 50_000

_SHAPES = frozenset(("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"))
_MARKERS = frozenset(("marker", "marker-start", "marker-mid", "marker-end"))
_SILENT = frozenset(
    ["defs", "symbol", "clipPath", "mask", "marker", "linearGradient", "radialGradient", "pattern", "filter", "style", "title", "desc", "metadata", "script", "view", "animate", "animateTransform", "animateMotion", "set", "mpath", "cursor", "font", "font-face", "color-profile", "hatch", "solidcolor"]
)
_OWN_EFFECTS = frozenset(("transform", "opacity", "mask", "filter", "clip-path"))
_ANIMATED = frozenset(("animate", "animateTransform", "animateMotion", "set"))


@dataclass(frozen=True, slots=True)
class _Place:
    """Where the walk stands: what is inherited, how user units map to the drawing, what limits it."""

    style: dict[str, str]
    matrix: Matrix
    viewport: tuple[float, float]
    clips: tuple[Clip, ...] = ()
    depth: int = 0
    uses: tuple[str, ...] = ()


class _Walk:
    """One reading of one document."""

    def __init__(self, root: etree._Element) -> None:
        self.root = root
        self.cascade = Cascade(root)
        self.shapes: list[Shape] = []
        self.notes: list[Note] = []
        self.visited = 0
        self.segments = 0

    @cached_property
    def ids(self) -> dict[str, etree._Element]:
        """Elements by id, the first where several share one."""
        found: dict[str, etree._Element] = {}
        for element in self.root.iter():
            if name := element.get("id"):
                found.setdefault(name, element)
        return found

    def note(self, code: str, text: str, cure: str = "", element: etree._Element | None = None) -> None:
        line = line_of(element) if element is not None else None
        if not any(n.code == code and n.text == text for n in self.notes):
            self.notes.append(Note(code, text, cure, line))

    # -- the walk ---------------------------------------------------------------------------

    def element(self, element: etree._Element, place: _Place) -> None:
        """Draw one element and what is inside it."""
        name = local_name(element)
        if not name or name in _SILENT:
            if name in _ANIMATED:
                self.note("animation", "is animated; its first frame was taken", "", element)
            return
        self._count(place)
        declared = self.cascade.declared(element)
        if declared.get("display", "").strip() == "none":
            return
        inside = self._enter(element, declared, place)
        if inside is None:
            return
        if name in _SHAPES:
            self._shape(element, name, inside)
        elif name in ("g", "a"):
            self._children(element, inside)
        elif name == "svg":
            self._frame(element, inside, inside.viewport)
        elif name == "use":
            self._use(element, inside)
        elif name == "switch":
            self._switch(element, inside)
        elif name in ("text", "tspan", "textPath"):
            self.note("text", "holds text, which has no outline of its own",
                      "convert the text to outlines in the drawing program", element)  # fmt: skip
        elif name in ("image", "foreignObject", "video", "canvas", "iframe"):
            self.note("bitmap", f"holds <{name}>, which cannot become an outline", "trace it, or draw it as shapes", element)
        else:
            self.note("unknown-element", f"holds <{name}>, which was left out", "remove it, or draw it as shapes", element)

    def _count(self, place: _Place) -> None:
        self.visited += 1
        if self.visited > MAX_ELEMENTS or place.depth > MAX_DEPTH:
            raise Unusable(
                Note("runaway", f"has more than {MAX_ELEMENTS:,} elements, or nests deeper than {MAX_DEPTH}",
                     "simplify the drawing; look for <use> elements that repeat each other")
            )  # fmt: skip

    def _enter(self, element: etree._Element, declared: dict[str, str], place: _Place) -> _Place | None:
        """Return the place inside an element, or None where nothing in it can show."""
        style = inherit(place.style, declared)
        if _OWN_EFFECTS.isdisjoint(declared):  # most elements only set paint
            return _Place(style, place.matrix, place.viewport, place.clips, place.depth + 1, place.uses)
        matrix = place.matrix
        if text := declared.get("transform"):
            own = parse_transform(text)
            if own is None:
                self.note("bad-transform", f"has a transform that is not valid: {text!r}",
                          "mend it; the shape was left where it stands without", element)  # fmt: skip
            else:
                matrix = matrix.then_inside(self._about_origin(own, declared, place))
        if not matrix.is_usable():
            return None
        if not self._opacity(declared.get("opacity", "1"), "opacity", element):
            return None
        for effect in ("mask", "filter"):
            if declared.get(effect, "none").strip() not in ("none", ""):
                self.note(effect, f"has a {effect}, which was left out", "apply it in the drawing program", element)
        clips = place.clips
        clip = declared.get("clip-path", "none").strip()
        if clip not in ("none", ""):
            clips = self._clip(clip, element, replace(place, matrix=matrix))
        return _Place(style, matrix, place.viewport, clips, place.depth + 1, place.uses)

    def _about_origin(self, own: Matrix, declared: dict[str, str], place: _Place) -> Matrix:
        words = declared.get("transform-origin", "").split()
        named = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
        lengths = [
            length(named.get(word, word), whole) for word, whole in zip(words[:2], place.viewport, strict=False)
        ]
        if not lengths or None in lengths:
            return own
        x = lengths[0] or 0.0
        y = (lengths[1] if len(lengths) > 1 else place.viewport[1] / 2) or 0.0
        return Matrix(e=x, f=y).then_inside(own).then_inside(Matrix(e=-x, f=-y))

    def _opacity(self, text: str, which: str, element: etree._Element) -> bool:
        """Whether something of this opacity shows; partial opacity is kept as solid ink and noted."""
        value = length(text, 1.0)
        if value is None or value >= 1:
            return True
        if value <= 0:
            return False
        self.note("partial-opacity", f"has {which} {text.strip()}; a font knows only ink, so it was taken as solid",
                  "make it solid or remove it", element)  # fmt: skip
        return True

    def _children(self, element: etree._Element, place: _Place) -> None:
        for child in element:
            self.element(child, place)

    def _switch(self, element: etree._Element, place: _Place) -> None:
        for child in element:
            language = child.get("systemLanguage")
            if not local_name(child) or child.get("requiredExtensions"):
                continue
            if language is None or any(w.strip().lower().startswith("en") for w in language.split(",")):
                self.element(child, place)
                return

    # -- frames and references --------------------------------------------------------------

    def _frame(self, element: etree._Element, place: _Place, default: tuple[float, float]) -> None:
        """A nested `svg` or an instance of a `symbol`: its own viewport, clipped to it."""
        w, h = place.viewport
        x, y = length(element.get("x"), w) or 0.0, length(element.get("y"), h) or 0.0
        if local_name(element) == "symbol":
            x = y = 0.0
            width, height = default
        else:
            width = length(element.get("width") or "100%", w) or 0.0
            height = length(element.get("height") or "100%", h) or 0.0
            if default != place.viewport:
                width, height = default
        if width <= 0 or height <= 0:
            return
        box = view_box(element)
        if box is not None and (box[2] <= 0 or box[3] <= 0):
            return
        inner = fit_box(box, x, y, width, height, element.get("preserveAspectRatio") or "") if box else Matrix(e=x, f=y)
        clips = place.clips
        if self.cascade.declared(element).get("overflow", "hidden") not in ("visible", "auto"):
            frame = basics.rect(lambda key, _: {"x": x, "y": y, "width": width, "height": height}.get(key))
            clips = (*clips, Clip((Shape(frame, place.matrix),)))
        viewport = (box[2], box[3]) if box else (width, height)
        self._children(element, replace(place, matrix=place.matrix.then_inside(inner), viewport=viewport, clips=clips))

    def _use(self, element: etree._Element, place: _Place) -> None:
        name = reference(element)
        target = self.ids.get(name)
        if target is None:
            self.note("missing-reference", f"uses {name or 'another file'!r}, which is not in this file",
                      "put what it points to into the file", element)  # fmt: skip
            return
        if name in place.uses:
            self.note("reference-loop", f"uses {name!r} inside itself; the inner use was left out", "remove it", element)
            return
        w, h = place.viewport
        shift = Matrix(e=length(element.get("x"), w) or 0.0, f=length(element.get("y"), h) or 0.0)
        inside = replace(place, matrix=place.matrix.then_inside(shift), uses=(*place.uses, name))
        kind = local_name(target)
        if kind not in ("symbol", "svg"):
            self.element(target, inside)
            return
        self._count(inside)
        declared = self.cascade.declared(target)
        entered = self._enter(target, declared, inside)
        if entered is None or declared.get("display", "").strip() == "none":
            return
        size = (
            length(element.get("width") or target.get("width") or "100%", w) or 0.0,
            length(element.get("height") or target.get("height") or "100%", h) or 0.0,
        )
        self._frame(target, entered, size)

    def _clip(self, text: str, element: etree._Element, place: _Place) -> tuple[Clip, ...]:
        """Return the clips that hold once `clip-path` is added (CSS Masking 1 §5)."""
        target = self.ids.get(text.partition("#")[2].rstrip("\"') "))
        if not text.startswith("url(") or target is None or local_name(target) != "clipPath":
            self.note("clip-path", f"has a clip-path that was left out: {text!r}", "apply it in the drawing program", element)
            return place.clips
        if target.get("clipPathUnits") == "objectBoundingBox":
            self.note("clip-path", "has a clip path in bounding-box units, which was left out",
                      "apply the clip in the drawing program", element)  # fmt: skip
            return place.clips
        name = "clip " + (target.get("id") or "")
        if name in place.uses:
            return place.clips
        declared = self.cascade.declared(target)
        start = replace(place, style={}, clips=(), uses=(*place.uses, name), depth=place.depth + 1)
        inside = self._enter(target, declared, start)
        if inside is None:
            return (*place.clips, Clip(()))
        outer, self.shapes = self.shapes, []
        try:
            for child in target:
                if local_name(child) in _SHAPES or local_name(child) == "use":
                    self.element(child, replace(inside, clips=()))
            found = self.shapes
        finally:
            self.shapes = outer
        return (*place.clips, Clip(tuple(found), inside.clips))

    # -- shapes -----------------------------------------------------------------------------

    def _shape(self, element: etree._Element, name: str, place: _Place) -> None:
        style = place.style
        if style.get("visibility", "visible").strip() in ("hidden", "collapse"):
            return
        path = self._path(element, name, place)
        if not path:
            return
        self.segments += len(path.degrees)
        if self.segments > MAX_SEGMENTS:
            raise Unusable(Note("runaway", f"has more than {MAX_SEGMENTS:,} segments", "simplify the drawing", line_of(element)))
        if place.uses and any(use.startswith("clip ") for use in place.uses):
            rule = style.get("clip-rule", "nonzero").strip() == "evenodd"
            self.shapes.append(Shape(path, place.matrix, Paint.INK, rule, None, False, place.clips))
            return
        fill = self._paint("fill", style, element)
        stroke = self._stroke(style, element, place)
        matrix = place.matrix
        if stroke and self.cascade.declared(element).get("vector-effect", "").strip() == "non-scaling-stroke":
            path, matrix = _moved(path, matrix), IDENTITY
        marked = not _MARKERS.isdisjoint(style) and name in ("path", "line", "polyline", "polygon")
        if marked and any(style.get(marker, "none").strip() not in ("none", "") for marker in _MARKERS):
            self.note("marker", "has markers (arrow heads and the like), which were left out",
                      "convert them to shapes in the drawing program", element)  # fmt: skip
        if fill is None and stroke is None:
            return
        order = style.get("paint-order", "").split()
        even_odd = style.get("fill-rule", "nonzero").strip() == "evenodd"
        self.shapes.append(Shape(path, matrix, fill, even_odd, stroke, bool(order) and order[0] == "stroke", place.clips))

    def _path(self, element: etree._Element, name: str, place: _Place) -> Path:
        w, h = place.viewport
        if name == "path":
            try:
                return parse_path(element.get("d") or "")
            except PathFault as fault:
                self.note("bad-path", f"has path data that is wrong at character {fault.at}: {fault.reason}; "
                          "what comes before was kept", "draw that path again", element)  # fmt: skip
                return fault.path
        whole = {"x": w, "y": h, "d": diagonal(w, h)}

        def measure(key: str, direction: str) -> float | None:
            return length(element.get(key), whole[direction])

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

    def _paint(self, which: str, style: dict[str, str], element: etree._Element) -> Paint | None:
        value = parse_paint(style.get(which, "black" if which == "fill" else "none"), style.get("color", "black"))
        if not value.understood:
            self.note("unknown-paint", f"has a {which} that is not understood: {style.get(which)!r}; taken as ink",
                      "use a plain colour", element)  # fmt: skip
        if value.server:
            value = self._served(value, element)
        if value.paint is None or not self._opacity(style.get(which + "-opacity", "1"), which + "-opacity", element):
            return None
        if value.alpha < 1:
            self._opacity(str(round(value.alpha, 3)), which + " of opacity", element)
        return value.paint

    def _served(self, value: PaintValue, element: etree._Element) -> PaintValue:
        target = self.ids.get(value.server)
        if target is None or local_name(target) not in ("linearGradient", "radialGradient", "pattern"):
            return value
        self.note("gradient", "is painted with a gradient or pattern, which was taken as solid ink", "", element)
        return PaintValue(Paint.INK)

    def _stroke(self, style: dict[str, str], element: etree._Element, place: _Place) -> Stroke | None:
        if "stroke" not in style:
            return None
        paint = self._paint("stroke", style, element)
        return None if paint is None else read_stroke(style, paint, place.viewport)


def _moved(path: Path, m: Matrix) -> Path:
    """Return a path with a matrix applied to its coordinates."""
    xs, ys = path.coords[0::2], path.coords[1::2]
    coords = [v for x, y in zip(xs, ys, strict=True) for v in (m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)]
    return Path(coords, path.degrees, path.starts, path.closed)


def _title(root: etree._Element) -> str:
    for child in root:
        if local_name(child) == "title":
            return " ".join("".join(str(part) for part in child.itertext()).split())
    return ""


def _settle_white(shapes: list[Shape], notes: list[Note]) -> None:
    """White erases what lies beneath it, unless everything is white: then white is the ink."""
    paints = [p for s in shapes for p in (s.fill, s.stroke.paint if s.stroke else None) if p is not None]
    if Paint.WHITE not in paints:
        return
    if Paint.INK in paints:
        notes.append(Note("white-erases", "mixes white with other colours: white was taken as an eraser"))
        return
    notes.append(Note("white-ink", "is all white: white was taken as the ink"))
    for shape in shapes:
        shape.fill = shape.fill and Paint.INK
        shape.stroke = shape.stroke and replace(shape.stroke, paint=Paint.INK)


def read_drawing(data: bytes) -> Drawing:
    """Return the drawing in an SVG file's bytes; raise `Unusable` where none can be had."""
    root = parse_document(data)
    box, notes = drawing_box(root)
    walk = _Walk(root)
    walk.notes += notes
    walk.notes += [
        Note("style-rule", f"has a style rule that was left out: {rule}", "write its effect into the shapes")
        for rule in sorted(walk.cascade.unread)
    ]
    declared = walk.cascade.declared(root)
    start = _Place({}, IDENTITY, (box[2], box[3]))
    if declared.get("display", "").strip() != "none":
        entered = walk._enter(root, declared, start)
        if entered is not None:
            walk._children(root, entered)
    if not walk.shapes:
        cures = [n for n in walk.notes if n.code in ("text", "bitmap")]
        raise Unusable(cures[0] if cures else Note("no-ink", "draws nothing", "check that its shapes have a fill or a stroke"))
    _settle_white(walk.shapes, walk.notes)
    return Drawing(box, walk.shapes, walk.notes, _title(root))
