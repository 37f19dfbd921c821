"""SVG bytes → `Drawing`: the walk over the element tree.

Knows: nesting, what each element contributes, limits against runaway files. What it meets and does
not understand becomes a note. Does not know: geometry beyond matrices, the em, files.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg import basic_shapes as basics
from oddpeg.svg.cascade import inherit
from oddpeg.svg.document import local_name, reference
from oddpeg.svg.model import Clip, Drawing, Effect, Path, Shape
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.path_geometry import bounds, vertices
from oddpeg.svg.shapes import SHAPES, Place, ShapeReader
from oddpeg.svg.texts import texts_of
from oddpeg.svg.transforms import parse_transform
from oddpeg.svg.units import diagonal, length, numbers
from oddpeg.svg.viewport import drawing_box, fit_box, view_box

if TYPE_CHECKING:
    from lxml import etree

MAX_ELEMENTS = 20_000  # visited, counting every time a `use` repeats one
MAX_DEPTH = 300

_MARKERS = frozenset(("marker", "marker-start", "marker-mid", "marker-end"))
_SILENT = frozenset(
    [
        "defs",
        "symbol",
        "clipPath",
        "mask",
        "marker",
        "linearGradient",
        "radialGradient",
        "pattern",
        "filter",
        "style",
        "title",
        "desc",
        "metadata",
        "script",
        "view",
        "animate",
        "animateTransform",
        "animateMotion",
        "set",
        "mpath",
        "cursor",
        "font",
        "font-face",
        "color-profile",
        "hatch",
        "solidcolor",
    ]
)
_OWN_EFFECTS = frozenset(("transform", "opacity", "mask", "filter", "clip-path"))
_ANIMATED = frozenset(("animate", "animateTransform", "animateMotion", "set"))


class _Walk(ShapeReader):
    """One reading of one document."""

    visited = 0

    # -- the walk ---------------------------------------------------------------------------

    def element(self, element: etree._Element, place: Place) -> None:
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
        before = len(self.shapes)
        self._content(element, name, inside)
        self._limit(element, declared, inside, before)

    def _content(self, element: etree._Element, name: str, inside: Place) -> None:
        if name in SHAPES:
            self.shape(element, name, inside)
            if not _MARKERS.isdisjoint(inside.style) and not inside.mode:
                self._markers(element, name, inside)
        elif name in ("g", "a"):
            self._children(element, inside)
        elif name == "svg":
            self._frame(element, inside, inside.viewport)
        elif name == "use":
            self._use(element, inside)
        elif name == "switch":
            self._switch(element, inside)
        elif name in ("text", "tspan", "textPath"):
            self.note(
                "text",
                "holds text, which has no outline of its own",
                "convert the text to outlines in the drawing program",
                element,
            )
        elif name in ("image", "foreignObject", "video", "canvas", "iframe"):
            self.note(
                "bitmap", f"holds <{name}>, which cannot become an outline", "trace it, or draw it as shapes", element
            )
        else:
            self.note(
                "unknown-element", f"holds <{name}>, which was left out", "remove it, or draw it as shapes", element
            )

    def _count(self, place: Place) -> None:
        self.visited += 1
        if self.visited > MAX_ELEMENTS or place.depth > MAX_DEPTH:
            raise DrawingError(
                Diagnostic(
                    "runaway",
                    f"has more than {MAX_ELEMENTS:,} elements, or nests deeper than {MAX_DEPTH}",
                    "simplify the drawing; look for <use> elements that repeat each other",
                )
            )

    def _enter(self, element: etree._Element, declared: dict[str, str], place: Place) -> Place | None:
        """Return the place inside an element, or None where nothing in it can show."""
        style = inherit(place.style, declared)
        if _OWN_EFFECTS.isdisjoint(declared):  # most elements only set paint
            return Place(style, place.matrix, place.viewport, place.clips, place.depth + 1, place.uses, place.mode)
        matrix = place.matrix
        if text := declared.get("transform"):
            own = parse_transform(text)
            if own is None:
                self.note(
                    "bad-transform",
                    f"has a transform that is not valid: {text!r}",
                    "mend it; the shape was left where it stands without",
                    element,
                )
            else:
                matrix = matrix.compose(self._about_origin(own, declared, place))
        if not matrix.is_invertible():
            return None
        if not self.opacity(declared.get("opacity", "1"), "opacity", element):
            return None
        if declared.get("filter", "none").strip() not in ("none", ""):
            self.note("filter", "has a filter, which was left out", "apply it in the drawing program", element)
        return Place(style, matrix, place.viewport, place.clips, place.depth + 1, place.uses, place.mode)

    def _about_origin(self, own: Matrix, declared: dict[str, str], place: Place) -> Matrix:
        words = declared.get("transform-origin", "").split()
        named = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
        lengths = [length(named.get(word, word), whole) for word, whole in zip(words[:2], place.viewport, strict=False)]
        if not lengths or None in lengths:
            return own
        x = lengths[0] or 0.0
        y = (lengths[1] if len(lengths) > 1 else place.viewport[1] / 2) or 0.0
        return Matrix(e=x, f=y).compose(own).compose(Matrix(e=-x, f=-y))

    def _children(self, element: etree._Element, place: Place) -> None:
        for child in element:
            self.element(child, place)

    def _switch(self, element: etree._Element, place: Place) -> None:
        for child in element:
            language = child.get("systemLanguage")
            if not local_name(child) or child.get("requiredExtensions"):
                continue
            if language is None or any(w.strip().lower().startswith("en") for w in language.split(",")):
                self.element(child, place)
                return

    # -- frames and references --------------------------------------------------------------

    def _frame(self, element: etree._Element, place: Place, default: tuple[float, float]) -> None:
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
            clips = (*clips, Clip((Shape(_frame_path(x, y, width, height), place.matrix),)))
        viewport = (box[2], box[3]) if box else (width, height)
        self._children(element, place._replace(matrix=place.matrix.compose(inner), viewport=viewport, clips=clips))

    def _use(self, element: etree._Element, place: Place) -> None:
        name = reference(element)
        target = self.ids.get(name)
        if target is None:
            self.note(
                "missing-reference",
                f"uses {name or 'another file'!r}, which is not in this file",
                "put what it points to into the file",
                element,
            )
            return
        if name in place.uses:
            self.note(
                "reference-loop", f"uses {name!r} inside itself; the inner use was left out", "remove it", element
            )
            return
        w, h = place.viewport
        shift = Matrix(e=length(element.get("x"), w) or 0.0, f=length(element.get("y"), h) or 0.0)
        inside = place._replace(matrix=place.matrix.compose(shift), uses=(*place.uses, name))
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
        before = len(self.shapes)
        self._frame(target, entered, size)
        self._limit(target, declared, entered, before)

    # -- limits and markers -----------------------------------------------------------------

    def _limit(self, element: etree._Element, declared: dict[str, str], place: Place, before: int) -> None:
        """Limit the shapes drawn since `before` by the element's clip-path and mask (CSS Masking 1 §5 and §6)."""
        for kind in ("clip-path", "mask"):
            text = declared.get(kind, "none").strip()
            if text in ("none", "") or len(self.shapes) == before:
                continue
            target = self._pointed(text)
            wanted = "clipPath" if kind == "clip-path" else "mask"
            if target is None or local_name(target) != wanted:
                self.note(kind, f"has a {kind} that was left out: {text!r}", "apply it in the drawing program", element)
                continue
            clip = self._region(target, place, self.shapes[before:])
            if clip is not None:
                for shape in self.shapes[before:]:
                    shape.clips = (*shape.clips, clip)

    def _pointed(self, text: str) -> etree._Element | None:
        """Return the element that a value like url(#name) points to, or None."""
        return self.ids.get(text.partition("#")[2].rstrip("\"') ")) if text.startswith("url(") else None

    def _region(self, target: etree._Element, place: Place, limited: list[Shape]) -> Clip | None:
        """Return what a clipPath or mask lets show of some shapes; None where it refers to itself."""
        name = "limit " + (target.get("id") or "")
        if name in place.uses:
            return None
        matrix, clip = place.matrix, local_name(target) == "clipPath"
        if target.get("clipPathUnits" if clip else "maskContentUnits") == "objectBoundingBox":
            box = bounds(limited, matrix)
            if box is None or not box[2] or not box[3]:
                return Clip(())
            matrix = matrix.compose(Matrix(box[2], 0, 0, box[3], box[0], box[1]))
        declared = self.cascade.declared(target)
        kind = "alpha" if "alpha" in (target.get("mask-type") or target.get("style") or "") else "mask"
        start = Place(
            self._around(target),
            matrix,
            place.viewport,
            (),
            place.depth + 1,
            (*place.uses, name),
            "clip" if clip else kind,
        )
        inside = self._enter(target, declared, start)
        if inside is None:
            return Clip(())
        outer, self.shapes = self.shapes, []
        try:
            for child in target:
                if not clip or local_name(child) in SHAPES or local_name(child) == "use":
                    self.element(child, inside)
            self._limit(
                target, declared, start, 0
            )  # in the space of what refers to it: its own transform plays no part
            return Clip(tuple(self.shapes))
        finally:
            self.shapes = outer

    def _around(self, element: etree._Element) -> dict[str, str]:
        """Return what an element inherits from its ancestors in the file, wherever it is referred to from."""
        style: dict[str, str] = {}
        for ancestor in reversed(list(element.iterancestors())):
            style = inherit(style, self.cascade.declared(ancestor))
        return style

    def _markers(self, element: etree._Element, name: str, place: Place) -> None:
        """Draw the markers of a path (SVG 2 §13.7)."""
        if name not in ("path", "line", "polyline", "polygon"):
            return
        spots = vertices(self.path(element, name, place))
        both = place.style.get("marker", "none")
        for number, (at, angle) in enumerate(spots):
            kind = "marker-start" if number == 0 else "marker-end" if number == len(spots) - 1 else "marker-mid"
            text = place.style.get(kind, both).strip()
            target = self._pointed(text)
            if text.startswith("url(") and target is None:
                self.note(
                    "missing-reference",
                    f"has markers, but {text} is not in this file",
                    "put the marker into the file",
                    element,
                )
            if target is not None and local_name(target) == "marker":
                self._marker(
                    target,
                    place,
                    at,
                    angle + (180 if number == 0 and target.get("orient") == "auto-start-reverse" else 0),
                )

    def _marker(self, target: etree._Element, place: Place, at: complex, angle: float) -> None:
        name = "marker " + (target.get("id") or "")
        if name in place.uses:
            return
        w, h = place.viewport
        width, height = (
            length(target.get("markerWidth") or "3", w) or 0.0,
            length(target.get("markerHeight") or "3", h) or 0.0,
        )
        box = view_box(target)
        if width <= 0 or height <= 0 or (box and (box[2] <= 0 or box[3] <= 0)):
            return
        orient = target.get("orient") or "0"
        turn = angle if orient.startswith("auto") else (numbers(orient) or [0.0])[0]
        matrix = place.matrix.compose(Matrix(e=at.real, f=at.imag)).compose(
            parse_transform(f"rotate({turn!r})") or IDENTITY
        )
        if target.get("markerUnits") != "userSpaceOnUse":
            thick = length(place.style.get("stroke-width", "1"), diagonal(w, h)) or 0.0
            matrix = matrix.compose(Matrix(a=thick, d=thick))
        fit = fit_box(box, 0, 0, width, height, target.get("preserveAspectRatio") or "") if box else IDENTITY
        x, y = length(target.get("refX")) or 0.0, length(target.get("refY")) or 0.0
        matrix = matrix.compose(Matrix(e=-(fit.a * x + fit.e), f=-(fit.d * y + fit.f)))
        if not matrix.is_invertible():
            return
        declared = self.cascade.declared(target)
        clips = place.clips
        if declared.get("overflow", "hidden") not in ("visible", "auto"):
            clips = (*clips, Clip((Shape(_frame_path(0.0, 0.0, width, height), matrix),)))
        style = inherit(self._around(target), declared)
        inner = Place(
            style,
            matrix.compose(fit),
            (box[2], box[3]) if box else (width, height),
            clips,
            place.depth + 1,
            (*place.uses, name),
        )
        self._children(target, inner)


def _frame_path(x: float, y: float, width: float, height: float) -> Path:
    return basics.rect(lambda key, _: {"x": x, "y": y, "width": width, "height": height}.get(key))


def _settle_white(shapes: list[Shape], notes: list[Diagnostic]) -> None:
    """White erases what lies beneath it, unless everything is white: then white is the ink."""
    paints = [p for s in shapes for p in (s.fill, s.stroke.paint if s.stroke else None) if p is not None]
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


def read_drawing(data: bytes | SvgDocument, keep_faint: bool = True) -> Drawing:
    """Return the drawing in an SVG file; raise `DrawingError` where none can be had.

    data: the file's bytes, or the file as it was parsed already; keep_faint: paint of partial opacity counts as solid
    ink, else as nothing.
    """
    document = SvgDocument(data) if isinstance(data, bytes) else data
    root = document.root
    box, notes = drawing_box(root)
    walk = _Walk(document, keep_faint)
    walk.notes += notes
    walk.notes += [
        Diagnostic("style-rule", f"has a style rule that was left out: {rule}", "write its effect into the shapes")
        for rule in sorted(walk.cascade.unread)
    ]
    declared = walk.cascade.declared(root)
    start = Place({}, IDENTITY, (box[2], box[3]))
    if declared.get("display", "").strip() != "none":
        entered = walk._enter(root, declared, start)
        if entered is not None:
            walk._children(root, entered)
            walk._limit(root, declared, entered, 0)
    if not walk.shapes:
        cures = [n for n in walk.notes if n.code in ("text", "bitmap", "bad-path")]
        raise DrawingError(
            cures[0]
            if cures
            else Diagnostic("no-ink", "draws nothing", "check that its shapes have a fill or a stroke")
        )
    _settle_white(walk.shapes, walk.notes)
    return Drawing(box, walk.shapes, walk.notes, *texts_of(root))
