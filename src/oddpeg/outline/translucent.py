"""Translucent paint in silhouettes: solid ink, or omitted.

With `Translucent.AUTO`, paint is omitted where it would hide more opaque paint: a faint background behind an emblem, or
the faint inside of a line drawing. All other paint is solid.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.arrays import Floats, Ints, Points
from oddpeg.geometry.ragged import ragged_index
from oddpeg.outline.batch import outline_layers
from oddpeg.outline.model import Options, Outline
from oddpeg.outline.placement import Em
from oddpeg.svg.layers import Layer
from oddpeg.svg.model import Drawing, Effect, Paint, Translucent
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.reader import read_drawing

_EM = Em(2048, 0.0)
_BESIDE = _EM.units / 200  # how near translucent ink beside an edge must be to hide it
_SPACING = _EM.units / 64  # between the places at which edges are looked at
_HIDDEN = 0.4  # share of a contour beside translucent ink; beyond it, the contour counts as hidden
_SHARE_OF_PIECE = 0.02  # share of a hidden contour; beyond it, a piece is omitted
_AS_OPAQUE = 0.98  # of the opacity of the most opaque paint: as opaque as that
_ERASES = 0.5  # opacity from which white erases
_MOST_PIECES = 48  # of a drawing; the rest is judged as one
_MOST_SAMPLES = 1 << 21  # pairs of a place and an edge level with it; the richest emblem of 542 flags has 37,000

_PIECES_OF_CURVE = 4  # straight ones

_OPACITY = "has a gradient of partial opacity, and a font knows only ink"
_CURE = "make it solid or remove it, or set icons.translucent"
_FATES = {  # by whether some is omitted, and some is not
    (False, True): "taken as solid",
    (True, False): "omitted, since it would hide opaque paint",
    (True, True): "omitted where it would hide opaque paint, and taken as solid elsewhere",
}


class _PaintKey(NamedTuple):
    """Key of a paint in a drawing: the number of its shape, and fill or stroke."""

    shape: int
    stroke: bool


class _Tones(NamedTuple):
    """The paints of a drawing, sorted by opacity and effect.

    Attributes:
        opaque: paints that must not be hidden.
        translucent: paints that may be omitted.
        erasing: white paints that erase.
        vanishing: white paints that are too faint to erase.
    """

    opaque: set[_PaintKey]
    translucent: list[_PaintKey]
    erasing: set[_PaintKey]
    vanishing: set[_PaintKey]

    def pieces(self) -> list[set[_PaintKey]]:
        """Return the translucent paints, in groups that are judged as one."""
        if not self.opaque:
            return []
        single = [{key} for key in self.translucent[:_MOST_PIECES]]
        rest = set(self.translucent[_MOST_PIECES:])
        return [*single, rest] if rest else single

    @staticmethod
    def of(drawing: Drawing) -> _Tones:
        paints = _paints(drawing)
        top = max((paint.opacity for paint in paints.values() if paint.effect is Effect.INK), default=1.0)
        ink = {key: paint.opacity for key, paint in paints.items() if paint.effect is Effect.INK}
        white = {key: paint.opacity for key, paint in paints.items() if paint.effect is Effect.WHITE}
        opaque = {key for key, opacity in ink.items() if opacity >= _AS_OPAQUE * top}
        erasing = {key for key, opacity in white.items() if opacity >= _ERASES}
        return _Tones(opaque, [key for key in ink if key not in opaque], erasing, white.keys() - erasing)


def settle_translucent(drawings: Sequence[Drawing], how: Translucent) -> None:
    """Change the translucent paint of drawings in place, and complete the notes on it. Omitted paint gets
    `Effect.NONE`; with `Translucent.DROP` it is removed."""
    concerned = [drawing for drawing in drawings if _is_translucent(drawing)]
    hiding = _hiding(concerned) if how is Translucent.AUTO else []
    for number, drawing in enumerate(concerned):
        translucent = {key for key, paint in _paints(drawing).items() if paint.opacity < 1}
        if how is Translucent.AUTO:
            omitted = hiding[number]
            paints = _paints(drawing)
            _repaint(drawing, {key: paints[key]._replace(effect=Effect.NONE) for key in omitted})
        else:
            omitted = translucent if how is Translucent.DROP else set()
            _repaint(drawing, dict.fromkeys(omitted))
        fate = _FATES[bool(omitted), bool(translucent - omitted) or not translucent]
        _tell(drawing, "omitted" if how is Translucent.DROP and omitted else fate)


def read_settled(data: bytes | SvgDocument, how: Translucent) -> Drawing:
    """Return the drawing in an SVG file, its translucent paint settled. Raise `DrawingError` where it cannot be read.

    data: the file's bytes, or the parsed file; how: the treatment of translucent paint.
    """
    drawing = read_drawing(data)
    settle_translucent([drawing], how)
    return drawing


def _is_translucent(drawing: Drawing) -> bool:
    return any(note.code == "partial-opacity" for note in drawing.notes) or any(
        paint.opacity < 1 for paint in _paints(drawing).values()
    )


def _paints(drawing: Drawing) -> dict[_PaintKey, Paint]:
    paints = {}
    for number, shape in enumerate(drawing.shapes):
        if shape.fill is not None:
            paints[_PaintKey(number, False)] = shape.fill
        if shape.stroke is not None:
            paints[_PaintKey(number, True)] = shape.stroke.paint
    return paints


def _repaint(drawing: Drawing, paints: Mapping[_PaintKey, Paint | None]) -> None:
    """Replace paints; None removes one."""
    for key, paint in paints.items():
        shape = drawing.shapes[key.shape]
        if not key.stroke:
            shape.fill = paint
        elif shape.stroke is not None:
            shape.stroke = shape.stroke._replace(paint=paint) if paint is not None else None


def _tell(drawing: Drawing, fate: str) -> None:
    notes = [note for note in drawing.notes if note.code == "partial-opacity"]
    if not notes:  # the stops of a gradient
        drawing.notes.append(Diagnostic("partial-opacity", f"{_OPACITY}; it was {fate}", _CURE))
    for note in notes:
        drawing.notes[drawing.notes.index(note)] = note._replace(what=f"{note.what}; it was {fate}")


def _hiding(drawings: Sequence[Drawing]) -> list[set[_PaintKey]]:
    """Return the paints of each drawing that would hide more opaque ones."""
    tones = [_Tones.of(drawing) for drawing in drawings]
    pieces = [tone.pieces() for tone in tones]
    layers = []
    for drawing, tone, groups in zip(drawings, tones, pieces, strict=True):
        if groups:
            layers += [_layer(drawing, keys, tone.erasing) for keys in (tone.opaque, *groups)]
    outlines = iter(outline_layers(layers, Options(_EM)))
    hiding: list[set[_PaintKey]] = []
    for tone, groups in zip(tones, pieces, strict=True):
        hidden = set(tone.vanishing)
        if groups:
            opaque = next(outlines)
            hides = _hides(opaque, [next(outlines) for _ in groups])
            hidden.update(*(group for group, hide in zip(groups, hides, strict=True) if hide))
        hiding.append(hidden)
    return hiding


def _layer(drawing: Drawing, inked: Set[_PaintKey], erasing: Set[_PaintKey]) -> Layer:
    """Return a layer of some inked and all erasing paints of a drawing."""
    kept = inked | erasing
    shapes = []
    for number in sorted({key.shape for key in kept}):
        shape = drawing.shapes[number]
        fill = shape.fill if (number, False) in kept else None
        shapes.append(replace(shape, fill=fill, stroke=shape.stroke if (number, True) in kept else None))
    return Layer(drawing.box, shapes, drawing=id(drawing))


def _hides(opaque: Outline, pieces: Sequence[Outline]) -> list[bool]:
    """Return which pieces take part in hiding a contour of the opaque ink; none in a scribble of too many edges."""
    if not len(opaque.on):
        return [False] * len(pieces)
    places, contour, weight = _outer_sides(opaque)
    order = np.argsort(places.imag)
    places, contour, weight = places.take(order), contour.take(order), weight.take(order)
    edges = [_edges(piece) for piece in pieces]
    if sum(int(_levels(places, *both)[1].sum()) for both in edges) > _MOST_SAMPLES:
        return [False] * len(pieces)
    covered = np.array([_winding(places, *both) != 0 for both in edges])
    whole = np.bincount(contour, weight)
    lost = np.bincount(contour, weight * covered.any(axis=0)) > _HIDDEN * whole
    shares = [np.bincount(contour, weight * row) / whole for row in covered]
    return [bool((share[lost] > _SHARE_OF_PIECE).any()) for share in shares]


def _edges(outline: Outline) -> tuple[Points, Points]:
    """Return the two ends of each straight edge of an outline."""
    if not len(outline.on):
        return np.zeros(0, np.complex128), np.zeros(0, np.complex128)
    return outline.contours.segments().flattened(_PIECES_OF_CURVE)


def _outer_sides(outline: Outline) -> tuple[Points, Ints, Floats]:
    """Return sample points just outside the ink along its edges; the contour of each, and the length of edge that it
    represents."""
    segments = outline.contours.segments()
    start, end = segments.flattened(_PIECES_OF_CURVE)
    contour = np.repeat(segments.contour, _PIECES_OF_CURVE)
    length = np.abs(end - start)
    steps = np.maximum(1, np.ceil(length / _SPACING)).astype(np.int64)
    edge, position = ragged_index(steps)
    along = (position + 0.5) / steps[edge]
    way = np.divide(end - start, length, out=np.zeros_like(start), where=length > 0)
    points = start[edge] + (end - start)[edge] * along + 1j * _BESIDE * way[edge]  # outer contours run clockwise
    _, ordinal = np.unique(contour[edge], return_inverse=True)
    return points, ordinal.astype(np.int64), (length / steps)[edge]


def _levels(points: Points, start: Points, end: Points) -> tuple[Ints, Ints]:
    """Return for each edge the first of the points (n,), which are sorted by height, that lies level with it, and how
    many do."""
    first = np.searchsorted(points.imag, np.minimum(start.imag, end.imag))
    return first, np.searchsorted(points.imag, np.maximum(start.imag, end.imag)) - first


def _winding(points: Points, start: Points, end: Points) -> Ints:
    """Return how often edges wind around points (n,), which are sorted by height."""
    first, count = _levels(points, start, end)
    edge, position = ragged_index(count)
    point = first.take(edge) + position
    a, b = start.take(edge), end.take(edge)
    upward = b.imag > a.imag
    on_the_left = ((b - a) * np.conj(points.take(point) - a)).imag < 0
    turns = np.where(upward & on_the_left, 1, np.where(~upward & ~on_the_left, -1, 0))
    return np.bincount(point, weights=turns, minlength=len(points)).astype(np.int64)
