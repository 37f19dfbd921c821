"""Clip paths, masks and markers: resources that shapes refer to by `url(#…)` (CSS Masking 1, SVG 2 §13.7)."""

from __future__ import annotations

from abc import abstractmethod
from typing import TYPE_CHECKING

from oddpeg.geometry.matrix import IDENTITY, Matrix
from oddpeg.svg import basic_shapes as basics
from oddpeg.svg.cascade import inherit
from oddpeg.svg.document import local_name
from oddpeg.svg.model import Clip, Path, Shape
from oddpeg.svg.path_geometry import bounds, vertices
from oddpeg.svg.shapes import SHAPES, ShapeReader, WalkState
from oddpeg.svg.transforms import parse_transform
from oddpeg.svg.units import diagonal, length, numbers
from oddpeg.svg.viewport import fit_box, view_box

if TYPE_CHECKING:
    from lxml import etree


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

    def limit(self, element: etree._Element, declared: dict[str, str], place: WalkState, before: int) -> None:
        """Limit the shapes drawn since `before` by the element's clip-path and mask (CSS Masking 1 §5 and §6)."""
        for kind in ("clip-path", "mask"):
            text = declared.get(kind, declared.get("mask-image", "none") if kind == "mask" else "none").strip()
            if text in ("none", "") or len(self.shapes) == before:
                continue
            target = self._pointed(text)
            wanted = "clipPath" if kind == "clip-path" else "mask"
            if target is None or local_name(target) != wanted:
                self.note(kind, f"has a {kind} that was ignored: {text!r}", "apply it in the drawing program", element)
                continue
            clip = self._region(target, place, self.shapes[before:])
            if clip is not None:
                area = self._mask_area(target, place, self.shapes[before:]) if kind == "mask" else ()
                for shape in self.shapes[before:]:
                    shape.clips = (*shape.clips, clip, *area)

    def _pointed(self, text: str) -> etree._Element | None:
        """Return the element that a value like url(#name) points to, or None."""
        return self.ids.get(text.partition("#")[2].rstrip("\"') ")) if text.startswith("url(") else None

    def _region(self, target: etree._Element, place: WalkState, limited: list[Shape]) -> Clip | None:
        """Return the region that a clipPath or mask lets show of some shapes; None where it refers to itself."""
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
        kind = "alpha" if declared.get("mask-type", "").strip().lower() == "alpha" else "mask"
        start = WalkState(
            self.around(target),
            matrix,
            place.viewport,
            (),
            place.depth + 1,
            (*place.uses, name),
            "clip" if clip else kind,
        )
        inside = self.enter(target, declared, start)
        if inside is None:
            return Clip(())
        outer, self.shapes = self.shapes, []
        try:
            for child in target:
                if not clip or local_name(child) in SHAPES or local_name(child) == "use":
                    self.element(child, inside)
            self.limit(target, declared, start, 0)  # in the space of what refers to it: its own transform plays no part
            return Clip(tuple(self.shapes))
        finally:
            self.shapes = outer

    def _mask_area(self, mask: etree._Element, place: WalkState, limited: list[Shape]) -> tuple[Clip, ...]:
        """Return the area outside of which a mask shows nothing (CSS Masking 1 §7.2: x, y, width, height)."""
        names = (("x", "-10%"), ("y", "-10%"), ("width", "120%"), ("height", "120%"))
        texts = [mask.get(name) or usual for name, usual in names]
        if not any(name in mask.attrib for name, _ in names) and not any(shape.stroke for shape in limited):
            return ()  # the usual area holds every fill
        if mask.get("maskUnits") == "userSpaceOnUse":
            x, y, w, h = (length(t, place.viewport[i % 2]) or 0.0 for i, t in enumerate(texts))
        else:
            box = bounds(limited, place.matrix)
            if box is None:
                return ()
            shares = [length(t, 1.0) or 0.0 for t in texts]
            x, y = box[0] + shares[0] * box[2], box[1] + shares[1] * box[3]
            w, h = shares[2] * box[2], shares[3] * box[3]
        return (Clip((Shape(frame_path(x, y, w, h), place.matrix),)),)

    def around(self, element: etree._Element) -> dict[str, str]:
        """Return the properties that an element inherits from its ancestors in the file, wherever it is referred to
        from."""
        style: dict[str, str] = {}
        for ancestor in reversed(list(element.iterancestors())):
            style = inherit(style, self.cascade.declared(ancestor))
        return style

    def markers(self, element: etree._Element, name: str, place: WalkState) -> None:
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

    def _marker(self, target: etree._Element, place: WalkState, at: complex, angle: float) -> None:
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
            clips = (*clips, Clip((Shape(frame_path(0.0, 0.0, width, height), matrix),)))
        style = inherit(self.around(target), declared)
        inner = WalkState(
            style,
            matrix.compose(fit),
            (box[2], box[3]) if box else (width, height),
            clips,
            place.depth + 1,
            (*place.uses, name),
        )
        self.children(target, inner)
