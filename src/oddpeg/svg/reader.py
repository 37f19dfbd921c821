"""SVG bytes → `Drawing`: the walk over the element tree. Unknown constructs become notes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg.cascade import inherit
from oddpeg.svg.document import local_name, reference
from oddpeg.svg.model import Clip, Drawing, Effect, Shape
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.properties import TRANSFORMS
from oddpeg.svg.resources import ResourceReader, frame_path
from oddpeg.svg.shapes import SHAPES, WalkState
from oddpeg.svg.texts import texts_of
from oddpeg.svg.transforms import parse_transform
from oddpeg.svg.units import length
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
_OWN_EFFECTS = frozenset(("transform", "opacity", "mask", "filter", "clip-path", *TRANSFORMS))
_ANIMATED = frozenset(("animate", "animateTransform", "animateMotion", "set"))


class _Walk(ResourceReader):
    """One reading of one document."""

    visited = 0

    # -- the walk ---------------------------------------------------------------------------

    def element(self, element: etree._Element, place: WalkState) -> None:
        """Draw one element and its children."""
        name = local_name(element)
        if not name or name in _SILENT:
            if name in _ANIMATED:
                self.note("animation", "is animated; its first frame was taken", "", element)
            return
        self._count(place)
        declared = self.declared(element, place.style)
        if declared.get("display", "").strip() == "none":
            return
        inside = self.enter(element, declared, place)
        if inside is None:
            return
        before = len(self.shapes)
        self._content(element, name, inside)
        self.limit(element, declared, inside, before)

    def _content(self, element: etree._Element, name: str, inside: WalkState) -> None:
        if name in SHAPES:
            self.shape(element, name, inside)
            if not _MARKERS.isdisjoint(inside.style) and not inside.mode:
                self.markers(element, name, inside)
        elif name in ("g", "a"):
            self.children(element, inside)
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
            self.note("bitmap", f"holds <{name}>, which cannot be converted", "trace it, or draw it as shapes", element)
        else:
            self.note(
                "unknown-element", f"holds <{name}>, which was ignored", "remove it, or draw it as shapes", element
            )

    def _count(self, place: WalkState) -> None:
        self.visited += 1
        if self.visited > MAX_ELEMENTS or place.depth > MAX_DEPTH:
            raise DrawingError(
                Diagnostic(
                    "runaway",
                    f"has more than {MAX_ELEMENTS:,} elements, or nests deeper than {MAX_DEPTH}",
                    "simplify the drawing; look for <use> elements that repeat each other",
                )
            )

    def enter(self, element: etree._Element, declared: dict[str, str], place: WalkState) -> WalkState | None:
        """Return the place inside an element, or None where nothing in it can show."""
        style = inherit(place.style, declared)
        if _OWN_EFFECTS.isdisjoint(declared):  # most elements only set paint
            return place._replace(style=style, depth=place.depth + 1)
        matrix = place.matrix
        if text := _transform_text(declared):
            transform = parse_transform(text)
            if declared.get("transform-box", "view-box").strip().lower() not in ("view-box", "initial", "unset", ""):
                message = f"has the style property transform-box: {declared['transform-box'][:60]}, which was ignored"
                self.note("property-ignored", message, "apply the transform to the coordinates", element)
            if transform is None:
                self.note(
                    "bad-transform",
                    f"has a transform that is not valid: {text[:80]!r}",
                    "correct it; the shape was left where it stands without",
                    element,
                )
            else:
                matrix = matrix.compose(self._about_origin(transform, declared, place))
        if not matrix.is_invertible():
            return None
        if not self.opacity(declared.get("opacity", "1"), "opacity", element):
            return None
        if declared.get("filter", "none").strip() not in ("none", ""):
            self.note("filter", "has a filter, which was ignored", "apply it in the drawing program", element)
        opacity = length(declared.get("opacity", "1"), 1.0)
        alpha = place.alpha * (1.0 if opacity is None else min(1.0, max(0.0, opacity)))
        return place._replace(style=style, matrix=matrix, depth=place.depth + 1, alpha=alpha)

    def _about_origin(self, transform: Matrix, declared: dict[str, str], place: WalkState) -> Matrix:
        words = declared.get("transform-origin", "").split()
        named = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
        lengths = [length(named.get(word, word), whole) for word, whole in zip(words[:2], place.viewport, strict=False)]
        if not lengths or None in lengths:
            return transform
        x = lengths[0] or 0.0
        y = (lengths[1] if len(lengths) > 1 else place.viewport[1] / 2) or 0.0
        return Matrix(e=x, f=y).compose(transform).compose(Matrix(e=-x, f=-y))

    def children(self, element: etree._Element, place: WalkState) -> None:
        for child in element:
            self.element(child, place)

    def _switch(self, element: etree._Element, place: WalkState) -> None:
        for child in element:
            language = child.get("systemLanguage")
            if not local_name(child) or child.get("requiredExtensions"):
                continue
            if language is None or any(w.strip().lower().startswith("en") for w in language.split(",")):
                self.element(child, place)
                return

    # -- frames and references --------------------------------------------------------------

    def _frame(self, element: etree._Element, place: WalkState, default: tuple[float, float]) -> None:
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
        if box is not None and (box[2] < 1e-9 or box[3] < 1e-9):
            return
        inner = fit_box(box, x, y, width, height, element.get("preserveAspectRatio") or "") if box else Matrix(e=x, f=y)
        clips = place.clips
        if self.cascade.declared(element).get("overflow", "hidden") not in ("visible", "auto"):
            clips = (*clips, Clip((Shape(frame_path(x, y, width, height), place.matrix),)))
        viewport = (box[2], box[3]) if box else (width, height)
        self.children(element, place._replace(matrix=place.matrix.compose(inner), viewport=viewport, clips=clips))

    def _use(self, element: etree._Element, place: WalkState) -> None:
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
            self.note("reference-loop", f"uses {name!r} inside itself; the inner use was ignored", "remove it", element)
            return
        w, h = place.viewport
        shift = Matrix(e=length(element.get("x"), w) or 0.0, f=length(element.get("y"), h) or 0.0)
        inside = place._replace(matrix=place.matrix.compose(shift), uses=(*place.uses, name))
        kind = local_name(target)
        if kind not in ("symbol", "svg"):
            self.element(target, inside)
            return
        self._count(inside)
        declared = self.declared(target, inside.style)
        entered = self.enter(target, declared, inside)
        if entered is None or declared.get("display", "").strip() == "none":
            return
        size = (
            length(element.get("width") or target.get("width") or "100%", w) or 0.0,
            length(element.get("height") or target.get("height") or "100%", h) or 0.0,
        )
        before = len(self.shapes)
        self._frame(target, entered, size)
        self.limit(target, declared, entered, before)


def _transform_text(declared: Mapping[str, str]) -> str:
    """Return an element's transforms as one list: the individual properties first (CSS Transforms 2 §8)."""
    parts = []
    for name in TRANSFORMS:
        value = declared.get(name, "none").strip()
        if value.lower() not in ("none", "", "initial", "unset", "inherit"):
            parts.append(f"{name}({value})")
    whole = declared.get("transform", "").strip()
    return " ".join([*parts, whole] if whole != "none" else parts)


def _settle_white(shapes: list[Shape], notes: list[Diagnostic]) -> None:
    """Let white erase the paint beneath it, unless everything is white: then white is the ink."""
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
    """Return the drawing in an SVG file; raise `DrawingError` where it cannot be read.

    data: the file's bytes, or the file as it was parsed already; keep_faint: paint of partial opacity counts as solid
    ink, else as nothing.
    """
    document = SvgDocument(data) if isinstance(data, bytes) else data
    try:
        return _read(document, keep_faint)
    except RecursionError:
        message, cure = "nests its elements and references too deeply", "ungroup what need not be grouped"
        raise DrawingError(Diagnostic("runaway", message, cure)) from None


def _read(document: SvgDocument, keep_faint: bool) -> Drawing:
    root = document.root
    box, notes = drawing_box(root)
    walk = _Walk(document, keep_faint)
    walk.notes += notes
    walk.notes += [
        Diagnostic("style-rule", f"has a style rule that was ignored: {rule}", "write its effect into the shapes")
        for rule in sorted(walk.cascade.unread)
    ]
    if document.links_styles:
        walk.note("style-rule", "links to a style sheet of its own, which was not read", "put its rules into the file")
    declared = walk.declared(root, {})
    start = WalkState({}, IDENTITY, (box[2], box[3]))
    if declared.get("display", "").strip() != "none":
        entered = walk.enter(root, declared, start)
        if entered is not None:
            walk.children(root, entered)
            walk.limit(root, declared, entered, 0)
    if not walk.shapes:
        cures = [n for n in walk.notes if n.code in ("text", "bitmap", "bad-path")]
        raise DrawingError(
            cures[0]
            if cures
            else Diagnostic("no-ink", "draws nothing", "check that its shapes have a fill or a stroke")
        )
    _settle_white(walk.shapes, walk.notes)
    return Drawing(box, walk.shapes, walk.notes, *texts_of(root))
