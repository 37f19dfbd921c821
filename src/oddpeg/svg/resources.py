"""Clip paths, masks and markers: resources that shapes refer to by `url(#…)` (CSS Masking 1, SVG 2 §13.7)."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg import basic_shapes as basics
from oddpeg.svg.cascade import inherit
from oddpeg.svg.document import local_name
from oddpeg.svg.model import Clip, Path, Shape
from oddpeg.svg.path_geometry import bounds, vertices
from oddpeg.svg.shapes import SHAPES, ShapeReader, WalkState, paint_order
from oddpeg.svg.transforms import parse_angle, rotation
from oddpeg.svg.units import diagonal, length
from oddpeg.svg.viewport import fit_box, view_box

if TYPE_CHECKING:
    from lxml import etree

MeasuredBox = Callable[[], Box | None]
_LIMITS = frozenset(("clip-path", "mask", "mask-image"))


def frame_path(x: float, y: float, width: float, height: float) -> Path:
    """Return a rectangle as a path."""
    return basics.rect(lambda key, _: {"x": x, "y": y, "width": width, "height": height}.get(key))


class ResourceReader(ShapeReader):
    """A reader of the resources that shapes refer to, given a way to read elements."""

    @abstractmethod
    def element(self, element: etree._Element, place: WalkState) -> None:
        """Draw one element and its children."""

    @abstractmethod
    def enter(self, element: etree._Element, declared: dict[str, str], place: WalkState) -> WalkState | None:
        """Return the place inside an element; None where nothing in it shows."""

    @abstractmethod
    def children(self, element: etree._Element, place: WalkState) -> None:
        """Draw the children of an element."""

    @abstractmethod
    def box_of(self, element: etree._Element, place: WalkState) -> Box | None:
        """Return the box around the geometry in an element, in its user space."""

    @abstractmethod
    def own_space(self, element: etree._Element, place: WalkState) -> WalkState:
        """Return the place with the user space of an element's clips and boxes."""

    def limit(self, element: etree._Element, declared: dict[str, str], place: WalkState, before: int) -> None:
        """Limit the shapes drawn since `before` by the element's clip-path and mask (CSS Masking 1 §5 and §6)."""
        if place.mode != "box" and not _LIMITS.isdisjoint(declared):
            measured = partial(self.box_of, element, place)
            self._limit(element, declared, self.own_space(element, place), before, measured)

    def _limit(
        self, element: etree._Element, declared: dict[str, str], place: WalkState, before: int, measured: MeasuredBox
    ) -> None:
        """Limit shapes by an element's clip-path and mask. measured: function that returns the box of the geometry that
        units refer to."""
        for kind in ("clip-path", "mask"):
            text = declared.get(kind, declared.get("mask-image", "none") if kind == "mask" else "none")
            if text == "none" or len(self.shapes) == before:
                continue
            target = self._pointed(text)
            wanted = "clipPath" if kind == "clip-path" else "mask"
            if target is None or local_name(target) != wanted:
                self.note(kind, f"has a {kind} that was ignored: {text!r}", "apply it in the drawing program", element)
                continue
            with self.styled_by(self.document.cascade):
                clip = self._region(target, place, measured)
            if clip is not None:
                area = self._mask_area(target, place, self.shapes[before:], measured) if kind == "mask" else ()
                for shape in self.shapes[before:]:
                    shape.clips = (*shape.clips, clip, *area)

    def _pointed(self, text: str) -> etree._Element | None:
        """Return the element that a value like url(#name) points to, or None."""
        return self.ids.get(text.partition("#")[2].rstrip("\"') ")) if text.startswith("url(") else None

    def _region(self, target: etree._Element, place: WalkState, measured: MeasuredBox) -> Clip | None:
        """Return the region that a clipPath or mask lets show of some shapes; None where it refers to itself."""
        name = "limit " + (target.get("id") or "")
        if name in place.uses:
            return None
        clip = local_name(target) == "clipPath"
        declared = self.cascade.declared(target)
        kind = "clip" if clip else "alpha" if declared.get("mask-type") == "alpha" else "mask"
        start = WalkState(
            self.around(target),
            place.matrix,
            self.viewport_of(target),
            depth=place.depth + 1,
            uses=(*place.uses, name),
            mode=kind,
        )
        inside = self.enter(target, declared, start) if clip else start._replace(style=inherit(start.style, declared))
        if inside is None:
            return Clip(())
        if target.get("clipPathUnits" if clip else "maskContentUnits") == "objectBoundingBox":
            box = measured()
            if box is None or not box.width or not box.height:
                return Clip(())
            by_box = Matrix(box.width, 0, 0, box.height, box.x, box.y)
            inside = inside._replace(matrix=inside.matrix.compose(by_box))
        outer, self.shapes = self.shapes, []
        try:
            for child in target:
                if not clip or local_name(child) in SHAPES or local_name(child) == "use":
                    self.element(child, inside)
            if clip:  # browsers ignore limits of a mask itself; those of a clip path are in the space of what it clips
                self._limit(target, declared, place._replace(clips=(), uses=start.uses), 0, measured)
            return Clip(tuple(self.shapes))
        finally:
            self.shapes = outer

    def _mask_area(
        self, mask: etree._Element, place: WalkState, limited: list[Shape], measured: MeasuredBox
    ) -> tuple[Clip, ...]:
        """Return the area outside of which a mask shows nothing (CSS Masking 1 §7.2: x, y, width, height)."""
        names = (("x", "-10%"), ("y", "-10%"), ("width", "120%"), ("height", "120%"))
        texts = [mask.get(name) or usual for name, usual in names]
        box = measured()
        if not any(name in mask.attrib for name, _ in names) and not any(shape.stroke for shape in limited):
            drawn = bounds(limited, place.matrix)
            if drawn is None or box is None or (drawn.width <= box.width * 1.1 and drawn.height <= box.height * 1.1):
                return ()  # the usual area holds every fill
        if mask.get("maskUnits") == "userSpaceOnUse":
            x, y, w, h = (length(t, place.viewport[i % 2]) or 0.0 for i, t in enumerate(texts))
        else:
            if box is None:
                return ()
            shares = [length(t, 1.0) or 0.0 for t in texts]
            x, y = box[0] + shares[0] * box[2], box[1] + shares[1] * box[3]
            w, h = shares[2] * box[2], shares[3] * box[3]
        return (Clip((Shape(frame_path(x, y, w, h), place.matrix),)),)

    def marked_shape(self, element: etree._Element, name: str, place: WalkState) -> None:
        """Draw a shape and its markers, in the order that `paint-order` gives."""
        before = len(self.shapes)
        self.shape(element, name, place)
        order = paint_order(place.style)
        over: list[Shape] = []
        if order[2] != "markers":
            over = self.shapes[before:]
            del self.shapes[before:]
            if order[1] == "markers":  # between fill and stroke
                parts = [(replace(shape, stroke=None), replace(shape, fill=None)) for shape in over]
                first, second = (0, 1) if order[0] == "fill" else (1, 0)
                self.shapes += [both[first] for both in parts]
                over = [both[second] for both in parts]
        self.markers(element, name, place)
        self.shapes += over

    def markers(self, element: etree._Element, name: str, place: WalkState) -> None:
        """Draw the markers of a path (SVG 2 §13.7)."""
        if name not in ("path", "line", "polyline", "polygon") or place.style.get("visibility", "visible") != "visible":
            return
        spots = vertices(self.path(element, name, place))
        thick = length(place.style.get("stroke-width", "1"), diagonal(*place.viewport)) or 0.0
        if self.cascade.declared(element).get("vector-effect") == "non-scaling-stroke":
            thick /= abs(place.matrix.determinant) ** 0.5
        for number, (at, angle) in enumerate(spots):
            kind = "marker-start" if number == 0 else "marker-end" if number == len(spots) - 1 else "marker-mid"
            text = place.style.get(kind, "none")
            target = self._pointed(text)
            if text.startswith("url(") and target is None:
                self.note(
                    "missing-reference",
                    f"has markers, but {text} is not in this file",
                    "put the marker into the file",
                    element,
                )
            if target is not None and local_name(target) == "marker":
                turn = 180 if number == 0 and target.get("orient") == "auto-start-reverse" else 0
                with self.styled_by(self.document.cascade):
                    self._marker(target, place, at, angle + turn, thick)

    def _marker(self, target: etree._Element, place: WalkState, at: complex, angle: float, thick: float) -> None:
        """Draw a marker at a vertex. angle: direction of the path, in degrees; thick: width of its stroke."""
        name = "marker " + (target.get("id") or "")
        if name in place.uses:
            return
        w, h = self.viewport_of(target)
        width, height = (
            length(target.get("markerWidth") or "3", w) or 0.0,
            length(target.get("markerHeight") or "3", h) or 0.0,
        )
        box = view_box(target)
        if width <= 0 or height <= 0 or (box and (box[2] <= 0 or box[3] <= 0)):
            return
        orient = (target.get("orient") or "0").strip()
        turn = angle if orient in ("auto", "auto-start-reverse") else parse_angle(orient, plain=True) or 0.0
        matrix = place.matrix.compose(Matrix(e=at.real, f=at.imag)).compose(rotation(turn))
        if target.get("markerUnits") != "userSpaceOnUse":
            matrix = matrix.compose(Matrix(a=thick, d=thick))
        fit = fit_box(box, 0, 0, width, height, target.get("preserveAspectRatio") or "") if box else IDENTITY
        x, y = length(target.get("refX"), w) or 0.0, length(target.get("refY"), h) or 0.0
        matrix = matrix.compose(Matrix(e=-(fit.a * x + fit.e), f=-(fit.d * y + fit.f)))
        if not matrix.is_invertible():
            return
        declared = self.cascade.declared(target)
        clips = place.clips
        if declared.get("overflow", "hidden") not in ("visible", "auto"):
            clips = (*clips, Clip((Shape(frame_path(0.0, 0.0, width, height), matrix),)))
        style = inherit(self.around(target), declared)
        inner = WalkState(style, matrix.compose(fit), (w, h), clips, place.depth + 1, (*place.uses, name))
        self.children(target, inner)
