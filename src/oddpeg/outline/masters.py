"""Outlines of icons whose strokes get wider along an axis: one set of points, with their positions at both ends.

Fills are united and do not vary; strokes overlap them (`linear_strokes`). An icon in which white erases, or in which
strokes are clipped, is fixed, since its edges lie where outlines cross.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.contours import Contours
from oddpeg.geometry.ragged import run_starts
from oddpeg.outline.batch import outline_layers
from oddpeg.outline.collect import Gathering
from oddpeg.outline.linear_strokes import linear_strokes
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.placement import place
from oddpeg.outline.polygons import REACH, clamped
from oddpeg.outline.rounding import implied
from oddpeg.outline.window import ink_windows
from oddpeg.svg.layers import Layer, inked_shapes
from oddpeg.svg.model import Drawing, Effect, Shape

_MOST_POINTS = 20_000  # of one icon


class Varying(NamedTuple):
    """An outline along an axis.

    Attributes:
        outline: at the strokes' drawn widths; its contours overlap.
        masters: the same outline at each requested factor, point by point.
    """

    outline: Outline
    masters: tuple[Outline, ...]


def varying_outlines(drawings: Sequence[Drawing], options: Options) -> list[Varying | None]:
    """Return each drawing's outline at `options.masters`, factors of stroke widths; None where it has no strokes, or
    cannot be drawn this way."""
    able = [number for number, drawing in enumerate(drawings) if can_vary(drawing)]
    some = [drawings[number] for number in able]
    windows = ink_windows(some, options) if options.fit == "ink" else [None] * len(some)
    layers = [_fills(drawing)._replace(window=window) for drawing, window in zip(some, windows, strict=True)]
    varying: list[Varying | None] = [None] * len(drawings)
    for number, layer, fill in zip(able, layers, outline_layers(layers, options), strict=True):
        if fill.made is not Method.TANGLED:
            varying[number] = _varying(drawings[number], layer, fill, options)
    return varying


def can_vary(drawing: Drawing) -> bool:
    """Return whether a drawing has strokes, and nothing that cuts them or is cut by white."""
    shapes = inked_shapes(drawing)
    strokes = [shape for shape in shapes if shape.stroke is not None]
    if not strokes or any(shape.clips for shape in strokes):
        return False
    return all(paint.effect is Effect.INK for shape in shapes for paint in shape.paints)


def _fills(drawing: Drawing) -> Layer:
    shapes = [replace(shape, stroke=None) for shape in inked_shapes(drawing) if shape.fill is not None]
    return Layer(drawing.box, shapes, window=drawing.em, drawing=id(drawing))


def _varying(drawing: Drawing, layer: Layer, fill: Outline, options: Options) -> Varying | None:
    shapes = [
        Shape(s.path, s.matrix, None, s.even_odd, s.stroke) for s in inked_shapes(drawing) if s.stroke is not None
    ]
    matrix, advance = place(layer.window or layer.box, options.em, options.fit)
    gathering = Gathering(options.em.units)
    gathering.add(shapes, matrix)
    segments, pens = gathering.strokes()
    if not len(segments.degree):
        return None
    widest = max(1.0, *options.masters)
    tolerance = options.precision * options.em.units / 1000
    contours = [c for own in linear_strokes(segments, pens, widest, tolerance) for c in own]
    if not contours or sum(len(contour.on) for contour in contours) > _MOST_POINTS:
        return None
    factors = (1.0, *options.masters)
    sizes = [len(contour.on) for contour in contours]
    on, number = np.concatenate([contour.on for contour in contours]), np.repeat(np.arange(len(sizes)), sizes)
    looks = [np.rint(np.concatenate([c.fixed + factor * c.moved for c in contours])) for factor in factors]
    kept = ~np.logical_and.reduce([implied(Contours(z, on, number)) for z in looks])
    kept[run_starts(number)] = True  # each begins on the curve
    made = [_outline(fill, Contours(z, on, number).keep(kept), advance) for z in looks]
    return Varying(made[0], tuple(made[1:]))


def _outline(fill: Outline, strokes: Contours, advance: int) -> Outline:
    """Return fills and strokes of one width as one outline."""
    xy = clamped(strokes.z, REACH).view(np.float64).reshape(-1, 2).astype(np.int64)
    ends = np.append(run_starts(strokes.contour)[1:], len(xy)) - 1 + len(fill.xy)
    on = np.concatenate([fill.on, strokes.on])
    return Outline(
        np.concatenate([fill.xy, xy]), on, np.concatenate([fill.ends, ends]), advance, made=Method.OVERLAPPING
    )
