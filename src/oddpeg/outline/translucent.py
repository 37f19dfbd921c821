"""Translucent paint in silhouettes, which know only ink: solid, or omitted.

By itself (`Translucent.AUTO`), paint is omitted where it would hide more opaque paint: a faint ground under an emblem,
the faint inside of a line drawing. Anything else is solid: it may be all there is.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
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
_HIDDEN = 0.4  # share of a contour: beyond it, the contour cannot be made out
_SHARE_OF_PIECE = 0.02  # of a contour: beyond it, a piece takes part in hiding it
_AS_OPAQUE = 0.98  # of the opacity of the most opaque paint: as opaque as that
_ERASES = 0.5  # opacity from which white erases
_MOST_PIECES = 48  # of a drawing; the rest is judged as one
_MOST_SAMPLES = 1 << 22  # places × edges looked at together

_PIECES_OF_CURVE = 4  # straight ones

_OPACITY = "has a gradient of partial opacity, and a font knows only ink"
_CURE = "make it solid or remove it, or set icons.translucent"
_FATES = {  # by whether some is omitted, and some is not
    (False, True): "taken as solid",
    (True, False): "omitted, since it would hide opaque paint",
    (True, True): "omitted where it would hide opaque paint, and taken as solid elsewhere",
}


class _Spot(NamedTuple):
    """The place of a paint in a drawing: the number of its shape, and which of its two paints."""

    shape: int
    stroke: bool


class _Tones(NamedTuple):
    """The paints of a drawing by what they may do.

    Attributes:
        opaque: paints that must not be hidden.
        translucent: paints that may be omitted.
        erasing: white paints that erase.
        vanishing: white paints that are too faint to erase.
    """

    opaque: set[_Spot]
    translucent: list[_Spot]
    erasing: set[_Spot]
    vanishing: set[_Spot]

    def pieces(self) -> list[set[_Spot]]:
        """Return the translucent paints, in groups that are judged as one."""
        if not self.opaque:
            return []
        single = [{spot} for spot in self.translucent[:_MOST_PIECES]]
        rest = set(self.translucent[_MOST_PIECES:])
        return [*single, rest] if rest else single

    @staticmethod
    def of(drawing: Drawing) -> _Tones:
        paints = _paints(drawing)
        top = max((paint.opacity for paint in paints.values() if paint.effect is Effect.INK), default=1.0)
        ink = {spot: paint.opacity for spot, paint in paints.items() if paint.effect is Effect.INK}
        white = {spot: paint.opacity for spot, paint in paints.items() if paint.effect is Effect.WHITE}
        opaque = {spot for spot, opacity in ink.items() if opacity >= _AS_OPAQUE * top}
        erasing = {spot for spot, opacity in white.items() if opacity >= _ERASES}
        return _Tones(opaque, [spot for spot in ink if spot not in opaque], erasing, white.keys() - erasing)


def settle_translucent(drawings: Sequence[Drawing], how: Translucent) -> None:
    """Decide about the translucent paint of drawings, and complete their notes on it. Paint that silhouettes leave out
    gets `Effect.NONE`; with `Translucent.DROP` it is removed."""
    concerned = [drawing for drawing in drawings if _is_translucent(drawing)]
    hiding = _hiding(concerned) if how is Translucent.AUTO else []
    for number, drawing in enumerate(concerned):
        translucent = {spot for spot, paint in _paints(drawing).items() if paint.opacity < 1}
        if how is Translucent.AUTO:
            omitted = hiding[number]
            _repaint(drawing, {spot: paint._replace(effect=Effect.NONE) for spot, paint in _paints(drawing).items()
                               if spot in omitted})  # fmt: skip
        else:
            omitted = translucent if how is Translucent.DROP else set()
            _repaint(drawing, dict.fromkeys(omitted))
        fate = _FATES[bool(omitted), bool(translucent - omitted) or not translucent]
        _tell(drawing, "omitted" if how is Translucent.DROP and omitted else fate)


def read_settled(data: bytes | SvgDocument, how: Translucent) -> Drawing:
    """Return the drawing in an SVG file as it is outlined; raise `DrawingError` where it cannot be read."""
    drawing = read_drawing(data)
    settle_translucent([drawing], how)
    return drawing


def _is_translucent(drawing: Drawing) -> bool:
    return any(note.code == "partial-opacity" for note in drawing.notes) or any(
        paint.opacity < 1 for paint in _paints(drawing).values()
    )


def _paints(drawing: Drawing) -> dict[_Spot, Paint]:
    paints = {}
    for number, shape in enumerate(drawing.shapes):
        if shape.fill is not None:
            paints[_Spot(number, False)] = shape.fill
        if shape.stroke is not None:
            paints[_Spot(number, True)] = shape.stroke.paint
    return paints


def _repaint(drawing: Drawing, paints: Mapping[_Spot, Paint | None]) -> None:
    """Change the paints at some places; None removes one."""
    for spot, paint in paints.items():
        shape = drawing.shapes[spot.shape]
        if not spot.stroke:
            shape.fill = paint
        elif shape.stroke is not None:
            shape.stroke = shape.stroke._replace(paint=paint) if paint is not None else None


def _tell(drawing: Drawing, fate: str) -> None:
    notes = [note for note in drawing.notes if note.code == "partial-opacity"]
    if not notes:  # the stops of a gradient
        drawing.notes.append(Diagnostic("partial-opacity", f"{_OPACITY}; it was {fate}", _CURE))
    for note in notes:
        drawing.notes[drawing.notes.index(note)] = note._replace(what=f"{note.what}; it was {fate}")


def _hiding(drawings: Sequence[Drawing]) -> list[set[_Spot]]:
    """Return for each drawing the paints that would hide more opaque ones."""
    tones = [_Tones.of(drawing) for drawing in drawings]
    pieces = [tone.pieces() for tone in tones]
    layers = []
    for drawing, tone, groups in zip(drawings, tones, pieces, strict=True):
        if groups:
            layers += [_layer(drawing, spots, tone.erasing) for spots in (tone.opaque, *groups)]
    outlines = iter(outline_layers(layers, Options(_EM)))
    hiding: list[set[_Spot]] = []
    for tone, groups in zip(tones, pieces, strict=True):
        hidden = set(tone.vanishing)
        if groups:
            opaque = next(outlines)
            hides = _hides(opaque, [next(outlines) for _ in groups])
            hidden.update(*(group for group, hide in zip(groups, hides, strict=True) if hide))
        hiding.append(hidden)
    return hiding


def _layer(drawing: Drawing, inked: Set[_Spot], erasing: Set[_Spot]) -> Layer:
    """Return some paints of a drawing, and the white ones that erase."""
    kept = inked | erasing
    shapes = []
    for number in sorted({spot.shape for spot in kept}):
        shape = drawing.shapes[number]
        fill = shape.fill if (number, False) in kept else None
        shapes.append(replace(shape, fill=fill, stroke=shape.stroke if (number, True) in kept else None))
    return Layer(drawing.box, shapes)


def _hides(opaque: Outline, pieces: Sequence[Outline]) -> list[bool]:
    """Return which pieces take part in hiding a contour of the opaque ink."""
    if not len(opaque.on):
        return [False] * len(pieces)
    places, contour, weight = _outer_sides(opaque)
    covered = np.array([_inside(places, piece) for piece in pieces])
    whole = np.bincount(contour, weight)
    lost = np.bincount(contour, weight * covered.any(axis=0)) > _HIDDEN * whole
    shares = [np.bincount(contour, weight * row) / whole for row in covered]
    return [bool((share[lost] > _SHARE_OF_PIECE).any()) for share in shares]


def _outer_sides(outline: Outline) -> tuple[Points, Ints, Floats]:
    """Return places just outside the ink, along its edges: the points, the contour of each, and the length of edge that
    each represents."""
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


def _inside(points: Points, outline: Outline) -> Bools:
    """Return which points (n,) lie in the ink of an outline."""
    inside = np.zeros(len(points), dtype=bool)
    if not len(outline.on):
        return inside
    start, end = outline.contours.segments().flattened(_PIECES_OF_CURVE)
    rows = max(1, _MOST_SAMPLES // len(start))
    for first in range(0, len(points), rows):
        z = points[first : first + rows, None]
        up, down = (start.imag <= z.imag) & (end.imag > z.imag), (end.imag <= z.imag) & (start.imag > z.imag)
        side = ((end - start) * np.conj(z - start)).imag  # negative: the point lies to the left of the edge
        inside[first : first + rows] = (up & (side < 0)).sum(axis=1) != (down & (side > 0)).sum(axis=1)
    return inside
