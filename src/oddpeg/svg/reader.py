"""SVG bytes → `Drawing`: the walk over the element tree. Unknown constructs become notes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg.cascade import inherit, size_of_font
from oddpeg.svg.document import local_name, reference
from oddpeg.svg.model import Clip, Drawing, Shape
from oddpeg.svg.paint import settle_black, settle_white
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.path_geometry import bounds, inverse
from oddpeg.svg.properties import TRANSFORMS
from oddpeg.svg.resources import ResourceReader, frame_path
from oddpeg.svg.shapes import SHAPES, WalkState
from oddpeg.svg.styles import without_colour
from oddpeg.svg.texts import texts_of
from oddpeg.svg.transforms import parse_origin, parse_single_transform, parse_style_transform, parse_transform
from oddpeg.svg.units import length
from oddpeg.svg.viewport import drawing_box, em_box, fit_box, view_box

if TYPE_CHECKING:
    from lxml import etree

MAX_ELEMENTS = 10_000  # visited, counting every time a `use` repeats one
MAX_DEPTH = 300

_MARKERS = frozenset(("marker-start", "marker-mid", "marker-end"))
_SILENT = frozenset(
    (
        "defs", "symbol", "clipPath", "mask", "marker", "linearGradient", "radialGradient", "pattern", "filter",
        "style", "title", "desc", "metadata", "script", "view", "animate", "animateTransform", "animateMotion", "set",
        "mpath", "cursor", "font", "font-face", "color-profile", "hatch", "solidcolor",
    )
)  # fmt: skip
_TRANSFORMED = frozenset(("transform", *TRANSFORMS))
_OWN_EFFECTS = _TRANSFORMED | {"opacity", "filter"}
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
        if not _is_wanted(element):
            return
        self._count(place)
        declared = self.declared(element, place.style)
        display = declared.get("display")
        if display == "none" or (display == "contents" and name in SHAPES):
            return
        inside = self.enter(element, declared, place)
        if inside is None:
            return
        before = len(self.shapes)
        self._content(element, name, inside)
        self.limit(element, declared, inside, before)

    def _content(self, element: etree._Element, name: str, inside: WalkState) -> None:
        if name in SHAPES:
            if _MARKERS.isdisjoint(inside.style) or inside.mode:
                self.shape(element, name, inside)
            else:
                self.marked_shape(element, name, inside)
        elif name in ("g", "a"):
            self.children(element, inside)
        elif name == "svg":
            self._frame(element, inside)
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
        if not _TRANSFORMED.isdisjoint(declared):
            matrix = matrix.compose(self._transform(element, declared, place._replace(style=style)))
        if not matrix.is_invertible():
            return None
        inside = place._replace(style=style, matrix=matrix, depth=place.depth + 1)
        if place.mode in ("clip", "box"):
            return inside
        if not self.opacity(declared.get("opacity", "1"), "opacity", element):
            return None
        if declared.get("filter", "none") != "none":
            self.note("filter", "has a filter, which was ignored", "apply it in the drawing program", element)
        opacity = length(declared.get("opacity", "1"), 1.0)
        return inside._replace(alpha=place.alpha * (1.0 if opacity is None else min(1.0, max(0.0, opacity))))

    def _transform(self, element: etree._Element, declared: dict[str, str], place: WalkState) -> Matrix:
        """Return the matrix of an element's transforms about their origin (CSS Transforms 2 §8)."""
        if element is self.root:
            return self._root_transform(declared)
        box, default = self._reference_box(element, declared, place)
        matrix = self._product(element, declared, box)
        origin = parse_origin(declared["transform-origin"], box) if "transform-origin" in declared else None
        at = default if origin is None else origin
        return Matrix(e=at.real, f=at.imag).compose(matrix).compose(Matrix(e=-at.real, f=-at.imag))

    def _product(self, element: etree._Element, declared: dict[str, str], box: Box) -> Matrix:
        """Return the product of an element's transforms: the individual properties first."""
        matrix = IDENTITY
        for name in TRANSFORMS:
            if declared.get(name, "none") != "none":
                matrix = matrix.compose(parse_single_transform(name, declared[name], box) or IDENTITY)
        text = declared.get("transform", "none")
        attribute = parse_transform(text) if text == (element.get("transform") or "").strip() else None
        return matrix.compose(attribute or parse_style_transform(text, box) or IDENTITY)

    def _reference_box(
        self, element: etree._Element, declared: dict[str, str], place: WalkState
    ) -> tuple[Box, complex]:
        """Return the box that percentages of transforms refer to, and the default origin (CSS Transforms 1 §8)."""
        kind = declared.get("transform-box", "view-box")
        if kind == "view-box":
            width, height = place.viewport
            # browsers put the default origin of a frame at 0 0 only inside another one
            alone = local_name(element) == "svg" and place.uses[-1:] == (element.get("id"),)
            return Box(0.0, 0.0, width, height), complex(width, height) / 2 if alone else 0j
        if kind in ("stroke-box", "border-box"):
            message = f"has the style property transform-box: {kind}, which was taken as fill-box"
            self.note("property-ignored", message, "apply the transform to the coordinates", element)
        # browsers measure the box of a frame in the units of its content
        space = self._inside_frame(element, place) if local_name(element) == "svg" else None
        box = self.box_of(element, place, space) or Box(0.0, 0.0, 0.0, 0.0)
        return box, complex(box.x, box.y)

    def _root_transform(self, declared: dict[str, str]) -> Matrix:
        """Return the matrix of the outermost element's transforms. They apply to its box on the page, about its middle,
        in px."""
        box = self.box
        scale = (length(self.root.get("width")) or box.width) / box.width
        page = Box(0.0, 0.0, box.width * scale, box.height * scale)
        matrix = self._product(self.root, declared, page)
        at = parse_origin(declared.get("transform-origin", "50% 50%"), page) or 0j
        matrix = Matrix(e=at.real, f=at.imag).compose(matrix).compose(Matrix(e=-at.real, f=-at.imag))
        out = Matrix(scale, 0.0, 0.0, scale, -box.x * scale, -box.y * scale)
        return inverse(out).compose(matrix).compose(out)

    def box_of(self, element: etree._Element, place: WalkState, space: WalkState | None = None) -> Box | None:
        """Return the box around the geometry in an element, without strokes and clips; None where there is none
        (SVG 2 §8.10). place: inside the element; space: with the user space of the box, by default that of the element.
        """
        outer, self.shapes = self.shapes, []
        try:
            self._content(element, local_name(element), place._replace(mode="box", clips=()))
            return bounds(self.shapes, (space or self.own_space(element, place)).matrix)
        finally:
            self.shapes = outer

    def own_space(self, element: etree._Element, place: WalkState) -> WalkState:
        """Return the place with the user space of an element's clips and boxes: that of a `use` moves with x and y."""
        if local_name(element) != "use":
            return place
        declared = self.with_values(self.cascade.declared(element), place.style)
        x, y = (self._size(element, declared.get(name), name, place) or 0.0 for name in ("x", "y"))
        return place._replace(matrix=place.matrix.compose(Matrix(e=x, f=y)))

    def children(self, element: etree._Element, place: WalkState) -> None:
        for child in element:
            self.element(child, place)

    def _switch(self, element: etree._Element, place: WalkState) -> None:
        child = next((one for one in element if local_name(one) and _is_wanted(one)), None)
        if child is not None:
            self.element(child, place)

    # -- frames and references --------------------------------------------------------------

    def _frame(
        self, element: etree._Element, place: WalkState, width: float | None = None, height: float | None = None
    ) -> None:
        """A nested `svg` or an instance of a `symbol`. width, height: in place of its own."""
        inside = self._inside_frame(element, place, width, height)
        if inside is not None:
            self.children(element, inside)

    def _inside_frame(
        self, element: etree._Element, place: WalkState, width: float | None = None, height: float | None = None
    ) -> WalkState | None:
        """Return the place in a frame: its own viewport, clipped to it; None where nothing in it can show."""
        w, h = place.viewport
        declared = self.with_values(self.cascade.declared(element), place.style)
        x, y = self._size(element, None, "x", place) or 0.0, self._size(element, None, "y", place) or 0.0
        own = self._size(element, None, "width", place), self._size(element, None, "height", place)
        width, height = (
            given if given is not None else whole if attribute is None else attribute
            for given, attribute, whole in zip((width, height), own, (w, h), strict=True)
        )
        box = view_box(element)
        if width <= 0 or height <= 0 or (box is not None and (box.width < 1e-9 or box.height < 1e-9)):
            return None
        inner = fit_box(box, x, y, width, height, element.get("preserveAspectRatio") or "") if box else Matrix(e=x, f=y)
        clips = place.clips
        if declared.get("overflow", "hidden") not in ("visible", "auto"):
            clips = (*clips, Clip((Shape(frame_path(x, y, width, height), place.matrix),)))
        viewport = (box.width, box.height) if box else (width, height)
        return place._replace(matrix=place.matrix.compose(inner), viewport=viewport, clips=clips)

    def _size(self, element: etree._Element, declared: str | None, name: str, place: WalkState) -> float | None:
        """Return a length of a frame or a `use`: as declared in a style, else of the attribute; None for auto."""
        text = declared or element.get(name)
        value = length(text, place.viewport[name in ("y", "height")], size_of_font(place.style))
        return None if value is None or (value < 0 and name in ("width", "height")) else value

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
        inside = self.own_space(element, place)._replace(uses=(*place.uses, name))
        with self.styled_by(self.document.cascade.within(target)):
            self._instance(element, target, inside)

    def _instance(self, element: etree._Element, target: etree._Element, inside: WalkState) -> None:
        """Draw the element that a `use` refers to."""
        if local_name(target) not in ("symbol", "svg"):
            self.element(target, inside)
            return
        self._count(inside)
        declared = self.declared(target, inside.style)
        entered = self.enter(target, declared, inside)
        if entered is None or declared.get("display") == "none":
            return
        size = (self._size(element, None, name, inside) for name in ("width", "height"))
        before = len(self.shapes)
        self._frame(target, entered, *size)
        self.limit(target, declared, entered, before)


def _is_wanted(element: etree._Element) -> bool:
    """Return whether an element's conditions hold (SVG 2 §5.7): no extensions, and English among its languages."""
    language = element.get("systemLanguage")
    return element.get("requiredExtensions") is None and (
        language is None or any(word.strip().lower().startswith("en") for word in language.split(","))
    )


def read_drawing(data: bytes | SvgDocument) -> Drawing:
    """Return the drawing in an SVG file; raise `DrawingError` where it cannot be read.

    data: the file's bytes, or the file as it was parsed already.
    """
    document = SvgDocument(data) if isinstance(data, bytes) else data
    try:
        return _read(document)
    except RecursionError:
        message, cure = "nests its elements and references too deeply", "ungroup what need not be grouped"
        raise DrawingError(Diagnostic("runaway", message, cure)) from None


def _read(document: SvgDocument) -> Drawing:
    root = document.root
    box, notes = drawing_box(root)
    walk = _Walk(document, box)
    walk.notes += notes
    walk.notes += [
        Diagnostic("style-rule", f"has a style rule that was ignored: {rule}", "write its effect into the shapes")
        for rule in sorted(walk.cascade.unread)
    ]
    if document.links_styles:
        walk.note("style-rule", "links to a style sheet of its own, which was not read", "put its rules into the file")
    declared = without_colour(walk.declared(root, {}))
    start = WalkState({}, IDENTITY, (box[2], box[3]))
    if declared.get("display") != "none":
        entered = walk.enter(root, declared, start)
        if entered is not None:
            if entered.matrix != IDENTITY:  # the frame cuts before it is transformed
                entered = entered._replace(clips=(Clip((Shape(frame_path(*box), entered.matrix),)),))
            walk.children(root, entered)
            walk.limit(root, declared, entered, 0)
    if not walk.shapes:
        cures = [n for n in walk.notes if n.code in ("text", "bitmap", "bad-path")]
        raise DrawingError(
            cures[0]
            if cures
            else Diagnostic("no-ink", "draws nothing", "check that its shapes have a fill or a stroke")
        )
    settle_white(walk.shapes, walk.notes)
    settle_black(walk.shapes)
    return Drawing(box, walk.shapes, walk.notes, *texts_of(root), em_box(root))
