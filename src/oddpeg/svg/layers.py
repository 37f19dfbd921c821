"""Drawings as layers: runs of shapes that are outlined as one.

A font without colours has one layer for each icon, its silhouette; with colours there is one for each run of one
paint, in paint order.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import chain, pairwise
from typing import NamedTuple

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.svg.model import Colour, Drawing, Effect, Gradient, Paint, Shape
from oddpeg.svg.path_geometry import bounds


class Fill(NamedTuple):
    """The fill of a layer.

    Attributes:
        colour: opaque; None follows the text around the icon.
        alpha: 0 to 1.
        gradient: in place of the colour.
        matrix: units of the gradient → drawing units.
    """

    colour: Colour | None = None
    alpha: float = 1.0
    gradient: Gradient | None = None
    matrix: Matrix = Matrix()

    def flattened(self) -> Fill:
        """Return the fill as a plain colour: the mean one of a gradient; that of the text is opaque."""
        if self.gradient is None:
            return self if self.colour is not None else Fill()
        mean = _mean(self.gradient)
        return Fill(mean._replace(alpha=1.0), self.alpha * mean.alpha) if mean else Fill()

    @property
    def follows_text(self) -> bool:
        """Whether it is just the colour of the text."""
        return self == Fill()


class Layer(NamedTuple):
    """Shapes that are outlined together.

    Attributes:
        box: the drawing's frame, in user units.
        shapes: in paint order.
        fill: of the whole layer; None for a silhouette, in which white erases.
        window: box that is placed on the em instead of the frame, in user units; None for the frame.
        drawing: the same number for all layers of one drawing.
    """

    box: Box
    shapes: Sequence[Shape]
    fill: Fill | None = None
    window: Box | None = None
    drawing: int = 0


def silhouette(drawing: Drawing) -> Layer:
    """Return everything that a drawing paints as one layer."""
    return Layer(drawing.box, inked_shapes(drawing), window=drawing.em, drawing=id(drawing))


def inked_shapes(drawing: Drawing) -> list[Shape]:
    """Return what the silhouette of a drawing consists of."""
    if not any(paint.effect is Effect.NONE for shape in drawing.shapes for paint in shape.paints):
        return drawing.shapes
    shapes = []
    for shape in drawing.shapes:
        fill = shape.fill if shape.fill and shape.fill.effect is not Effect.NONE else None
        stroke = shape.stroke if shape.stroke and shape.stroke.paint.effect is not Effect.NONE else None
        if fill or stroke:
            shapes.append(replace(shape, fill=fill, stroke=stroke))
    return shapes


def ink_box(drawing: Drawing) -> Box | None:
    """Return a box in user units that holds all that the silhouette of a drawing consists of; None for nothing."""
    boxes = [piece.reach for shape in inked_shapes(drawing) for piece in pieces_of(shape, True)]
    if not boxes:
        return None
    lows, highs = (
        [min(values) for values in zip(*boxes, strict=True)],
        [max(values) for values in zip(*boxes, strict=True)],
    )
    return Box(lows[0], lows[1], highs[2] - lows[0], highs[3] - lows[1])


class Piece(NamedTuple):
    """One fill or stroke: its paint, a shape that only adds ink, and the box of that in drawing units (left, top,
    right, bottom)."""

    fill: Fill
    shape: Shape
    reach: tuple[float, float, float, float]


class _LayerRun(NamedTuple):
    """Pieces that become a layer."""

    fill: Fill
    pieces: list[Piece]


def paint_layers(drawing: Drawing, gradients: bool) -> list[Layer]:
    """Return a drawing's layers of one fill each, in paint order; none where the text's colour is the only one. White
    is a colour here like any other. A piece joins the last layer of its fill if it touches nothing painted since.

    gradients: keep them; their mean colours otherwise.
    """
    runs: list[_LayerRun] = []
    for piece in chain.from_iterable(pieces_of(shape, gradients) for shape in drawing.shapes):
        at = _joins(runs, piece)
        if at is None:
            runs.append(_LayerRun(piece.fill, [piece]))
        else:
            runs[at].pieces.append(piece)
    if all(run.fill.follows_text for run in runs):
        return []
    return [
        Layer(drawing.box, [piece.shape for piece in run.pieces], run.fill, drawing.em, id(drawing)) for run in runs
    ]


def _joins(runs: list[_LayerRun], piece: Piece) -> int | None:
    """Return the layer that a piece may join. A translucent piece joins nothing that it touches: where both overlap,
    both show."""
    for number in range(len(runs) - 1, -1, -1):
        touches = any(_meet(piece.reach, other.reach) for other in runs[number].pieces)
        if runs[number].fill == piece.fill and (piece.fill.alpha >= 1 or not touches):
            return number
        if touches:
            return None
    return None


def _meet(box: tuple[float, float, float, float], other: tuple[float, float, float, float]) -> bool:
    return box[0] <= other[2] and other[0] <= box[2] and box[1] <= other[3] and other[1] <= box[3]


def pieces_of(shape: Shape, gradients: bool) -> list[Piece]:
    """Return a shape's fill and stroke in paint order, each as a separate shape that adds ink. Without gradients there
    is no translucent colour of the text: it is opaque, or missing where it is missing in the silhouette."""
    pieces: list[Piece] = []
    if shape.fill is not None and (gradients or not _is_lost(shape.fill)):
        ink = shape.fill._replace(effect=Effect.INK)
        piece_shape = Shape(shape.path, shape.matrix, ink, shape.even_odd, clips=shape.clips)
        pieces.append(Piece(_fill_of(ink, shape, gradients), piece_shape, _reach(shape, 0.0)))
    if shape.stroke is not None and (gradients or not _is_lost(shape.stroke.paint)):
        ink = shape.stroke.paint._replace(effect=Effect.INK)
        piece_shape = Shape(
            shape.path, shape.matrix, None, shape.even_odd, shape.stroke._replace(paint=ink), clips=shape.clips
        )
        far = shape.stroke.width / 2 * max(shape.stroke.miter_limit if shape.stroke.join == "miter" else 1.0, 1.5)
        pieces.append(Piece(_fill_of(ink, shape, gradients), piece_shape, _reach(shape, far)))
    return pieces[::-1] if shape.stroke_first else pieces


def _is_lost(paint: Paint) -> bool:
    """Return whether flat layers cannot show a paint that the silhouette leaves out."""
    return paint.effect is Effect.NONE and paint.colour is None and paint.gradient is None


def _fill_of(paint: Paint, shape: Shape, gradients: bool) -> Fill:
    gradient = paint.gradient
    if gradient is None:
        fill = Fill(paint.colour, paint.alpha)
        return fill if gradients else fill.flattened()
    if len(gradient.stops) == 1:  # SVG 2 §14.2.4.2: one stop is a solid colour
        return Fill(gradient.stops[0].colour, paint.alpha * gradient.stops[0].alpha)
    if not gradients:
        return Fill(None, paint.alpha, gradient).flattened()
    placed = shape.matrix
    if gradient.by_box:
        box = bounds([shape], shape.matrix)
        assert box is not None, "a shape without a box is not painted with a gradient in units of it"
        placed = placed.compose(Matrix(box.width, 0, 0, box.height, box.x, box.y))
    return Fill(None, paint.alpha, gradient, placed.compose(gradient.matrix))


def _mean(gradient: Gradient) -> Colour | None:
    """Return the mean colour along a gradient's line, weighted by how opaque it is; None where the text gives it."""
    stops = [s for s in gradient.stops if s.colour is not None]
    if not stops:
        return None
    edges = [0.0, *((a.offset + b.offset) / 2 for a, b in pairwise(stops)), 1.0]
    weights = [max(0.0, high - low) for low, high in pairwise(edges)]
    inked = [weight * stop.alpha for weight, stop in zip(weights, stops, strict=True)]
    total = sum(inked)
    if total <= 0:
        return Colour(0, 0, 0, 0.0)
    red, green, blue = (
        round(sum(w * s.colour[channel] for w, s in zip(inked, stops, strict=True) if s.colour) / total)
        for channel in range(3)
    )
    return Colour(red, green, blue, total / (sum(weights) or 1.0))


def _reach(shape: Shape, far: float) -> tuple[float, float, float, float]:
    """Return a box in drawing units that contains a path, with `far` of its own units around it."""
    xs, ys = shape.path.coords[0::2], shape.path.coords[1::2]
    a, b, c, d, e, f = shape.matrix
    corners = [(x, y) for x in (min(xs) - far, max(xs) + far) for y in (min(ys) - far, max(ys) + far)]
    across = [a * x + c * y + e for x, y in corners]
    down = [b * x + d * y + f for x, y in corners]
    return min(across), min(down), max(across), max(down)
