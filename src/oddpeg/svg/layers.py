"""Drawings as layers: runs of shapes that are outlined as one.

A font without colours has one layer for each icon, its silhouette; with colours there is one for each run of one
paint, in paint order.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain
from typing import NamedTuple

from oddpeg.geometry.boxes import Box
from oddpeg.svg.model import Drawing, Effect, Paint, Shape


class Layer(NamedTuple):
    """What is outlined as one.

    Attributes:
        box: the drawing's frame, in user units.
        shapes: in paint order.
        paint: of the whole layer, None for a silhouette, in which white erases.
        window: what goes onto the em in the frame's place, in user units; None for the frame.
    """

    box: Box
    shapes: Sequence[Shape]
    paint: Paint | None = None
    window: Box | None = None


def silhouette(drawing: Drawing) -> Layer:
    """Return everything that a drawing paints as one layer."""
    return Layer(drawing.box, drawing.shapes)


def paint_layers(drawing: Drawing) -> list[Layer]:
    """Return a drawing's layers of one paint each, in paint order. White is a colour here like any other."""
    layers: list[Layer] = []
    for paint, shape in chain.from_iterable(map(_parts, drawing.shapes)):
        if layers and layers[-1].paint == paint:
            layers[-1] = layers[-1]._replace(shapes=[*layers[-1].shapes, shape])
        else:
            layers.append(Layer(drawing.box, [shape], paint))
    return layers


def _parts(shape: Shape) -> list[tuple[Paint, Shape]]:
    """Return a shape's fill and stroke, each as a shape of its own that adds ink, in paint order."""
    parts: list[tuple[Paint, Shape]] = []
    if shape.fill is not None:
        ink = shape.fill._replace(effect=Effect.INK)
        parts.append((ink, Shape(shape.path, shape.matrix, ink, shape.even_odd, clips=shape.clips)))
    if shape.stroke is not None:
        ink = shape.stroke.paint._replace(effect=Effect.INK)
        stroke = shape.stroke._replace(paint=ink)
        parts.append((ink, Shape(shape.path, shape.matrix, None, shape.even_odd, stroke, clips=shape.clips)))
    return parts[::-1] if shape.stroke_first else parts
