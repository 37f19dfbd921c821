"""Drawings with wider strokes.

Strokes that grow beyond the frame are not cut, in static faces and along an axis alike. The frame cuts only ink that
lies beyond it at the original widths.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.outline.batch import outline_layers
from oddpeg.outline.messages import beyond_frame
from oddpeg.outline.model import Options, Outline
from oddpeg.outline.placement import Em, place
from oddpeg.svg.layers import ink_box, silhouette
from oddpeg.svg.model import Drawing
from oddpeg.svg.stroke_widths import with_strokes

_EM = Em(1024, 0.0)
_ROUNDING = 0.0005  # of an em
_HAIR = 1e-6  # of a frame's height, by which ink may pass it


def widened(drawings: Sequence[Drawing], factor: float) -> list[Drawing]:
    """Return drawings with every stroke `factor` times as wide. The frame of a drawing grows with its ink, unless the
    frame cuts the original drawing; the box on the em stays the same."""
    wider = [with_strokes(drawing, factor) for drawing in drawings]
    if factor <= 1:
        return wider
    boxes = [_grown(drawing) for drawing in wider]
    beyond = [number for number, box in enumerate(boxes) if box is not None]
    as_drawn = outline_layers([silhouette(drawings[number]) for number in beyond], Options(_EM))
    for number, outline in zip(beyond, as_drawn, strict=True):
        box = boxes[number]
        if not outline.cut and box is not None:
            wider[number] = replace(wider[number], box=box, em=wider[number].placed)
    return wider


def _grown(drawing: Drawing) -> Box | None:
    """Return the frame of a drawing, enlarged to contain its paint, by its own size on each side at most; None where no
    change is needed."""
    frame, ink = drawing.box, ink_box(drawing)
    if ink is None:
        return None
    left, top = max(min(0.0, ink.x - frame.x), -frame.width), max(min(0.0, ink.y - frame.y), -frame.height)
    right = min(max(frame.width, ink.x - frame.x + ink.width), 2 * frame.width)
    bottom = min(max(frame.height, ink.y - frame.y + ink.height), 2 * frame.height)
    grown = Box(frame.x + left, frame.y + top, right - left, bottom - top)
    hair = _HAIR * frame.height
    return grown if grown.width > frame.width + hair or grown.height > frame.height + hair else None


def overhang_notes(drawing: Drawing, outlines: Sequence[Outline], options: Options) -> list[Diagnostic]:
    """Return a notice if widened strokes of a drawing reach beyond the box on the em. outlines: of the drawing."""
    factor = max(options.strokes, *options.masters, 1.0)
    can_reach = drawing.em is not None or options.masters
    if factor <= 1 or options.fit == "ink" or not can_reach or not outlines:
        return []
    box = drawing.placed
    matrix, _ = place(box, options.em, options.fit)
    left, top = matrix.apply(box.x, box.y)
    right, bottom = matrix.apply(box.x + box.width, box.y + box.height)
    bounds = FlatOutlines.join(list(outlines)).bounds()
    beyond = (bounds - [left, bottom, right, top]) * [-1, -1, 1, 1]
    share = float(beyond.max()) / options.em.units
    return [beyond_frame(factor, share)] if share > _ROUNDING else []
