"""Strokes made wider or narrower: every width times a factor.

Dashes keep their length, and the miter limit is a ratio (SVG 2 §13.5).
"""

from __future__ import annotations

from dataclasses import replace

from oddpeg.svg.layers import inked_shapes
from oddpeg.svg.model import Clip, Drawing, Shape


def has_strokes(drawing: Drawing) -> bool:
    """Return whether the silhouette of a drawing has strokes, in its clips and masks too."""
    return any(_is_stroked(shape) for shape in inked_shapes(drawing))


def _is_stroked(shape: Shape) -> bool:
    return shape.stroke is not None or any(_is_stroked(inner) for clip in shape.clips for inner in clip.shapes)


def with_strokes(drawing: Drawing, factor: float) -> Drawing:
    """Return a drawing with every stroke `factor` times as wide."""
    if factor == 1:
        return drawing
    clips: dict[int, Clip] = {}  # by identity: clips that shapes share stay shared
    return replace(drawing, shapes=[_scaled(shape, factor, clips) for shape in drawing.shapes])


def _scaled(shape: Shape, factor: float, known: dict[int, Clip]) -> Shape:
    stroke = shape.stroke and shape.stroke._replace(width=shape.stroke.width * factor)
    for clip in shape.clips:
        if id(clip) not in known:
            known[id(clip)] = Clip(tuple(_scaled(inner, factor, known) for inner in clip.shapes))
    return replace(shape, stroke=stroke, clips=tuple(known[id(clip)] for clip in shape.clips))
