"""Comparison of varying outlines with their drawings: an icon that is wrong at some width does not vary."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.arrays import Floats
from oddpeg.geometry.contours import Contours
from oddpeg.isolation import map_isolating_failures
from oddpeg.outline.masters import can_vary
from oddpeg.outline.model import Options, Outline
from oddpeg.outline.pipeline import OutlineResult, outline_files
from oddpeg.outline.translucent import read_settled
from oddpeg.outline.window import ink_windows
from oddpeg.raster.coverage import SAMPLES, Coverage, Views, differences, drawing_coverage, shrunk
from oddpeg.raster.winding import winding
from oddpeg.svg.layers import inked_shapes
from oddpeg.svg.model import Drawing
from oddpeg.svg.stroke_widths import has_strokes, with_strokes

_PX = 128  # to the em
_MOST_SHAPES = 300  # to be painted at every width: some seconds' work
_TOLERANCE = 0.003  # wrong pixels, as a share of the ink


def keep_true(results: Sequence[OutlineResult], files: Sequence[bytes], options: Options) -> list[OutlineResult]:
    """Return the results; an icon that does not vary, or varies wrongly, gets the outline of a static face and a note
    why."""
    judged = map_isolating_failures(
        lambda pairs: [_judged(*pair, options) for pair in pairs],
        list(zip(results, files, strict=True)),
        lambda _, problem: OutlineResult(None, [], problem),
    )
    wrong = [number for number, result in enumerate(judged) if result is None]
    plain = outline_files([files[number] for number in wrong], options._replace(masters=()))
    message = "keeps the width of its strokes at every weight, since they would not widen as drawn, or are too many"
    fixed = dict(zip(wrong, (_fixed(result, message) for result in plain), strict=True))
    return [fixed[number] if result is None else result for number, result in enumerate(judged)]


def _judged(result: OutlineResult, data: bytes, options: Options) -> OutlineResult | None:
    """Return a result, with a note where it does not vary though it has strokes; None where it varies wrongly, or has
    too many parts to tell."""
    if result.outline is None:
        return result
    drawing = with_strokes(read_settled(data, options.translucent), options.strokes)
    if result.masters:
        return result if len(inked_shapes(drawing)) <= _MOST_SHAPES and _is_true(result, drawing, options) else None
    if not has_strokes(drawing):
        return result
    why = _obstacle(drawing, result.outline)
    return _fixed(result, f"keeps the width of its strokes at every weight, since {why}")


def _obstacle(drawing: Drawing, outline: Outline) -> str:
    """Return why an outline does not vary."""
    if outline.cut:
        return "it reaches beyond its frame"
    return "they cannot be drawn so" if can_vary(drawing) else "white or a clip cuts them"


def _fixed(result: OutlineResult, message: str) -> OutlineResult:
    cure = "let strokes not be cut by white, clips or masks; or draw the icon for a face of its own"
    return replace(result, diagnostics=[*result.diagnostics, Diagnostic("axis-fixed", message, cure)])


def _is_true(result: OutlineResult, drawing: Drawing, options: Options) -> bool:
    """Return whether an outline is that of its drawing as drawn and at both ends; half-way to them too, where one of
    these leaves a doubt: points and strokes both move on straight lines."""
    outline = result.outline
    assert outline is not None, "only what has an outline varies"
    masters = list(zip(options.masters, result.masters, strict=True))
    looks: list[tuple[float, Floats]] = [(1.0, outline.xy / 1), *((factor, one.xy / 1) for factor, one in masters)]
    between = [((1 + factor) / 2, (outline.xy + one.xy) / 2) for factor, one in masters]
    window = (ink_windows([drawing], options)[0] if options.fit == "ink" else None) or drawing.placed
    frame = _PX * window.width / window.height
    wide = _PX if options.fit == "square" else max(1, round(frame))
    shift = ((_PX - frame) / 2 if options.fit == "square" else 0.0, 0.0)

    def wrong(factor: float, points: Floats) -> float:
        wanted = drawing_coverage(with_strokes(drawing, factor), _PX, wide, shift, window)
        return differences(Views(wanted, _coverage(outline, points, wide, options))).wrong

    worst = max(wrong(*look) for look in looks)
    return worst == 0 or (worst <= _TOLERANCE and all(wrong(*look) <= _TOLERANCE for look in between))


def _coverage(outline: Outline, points: Floats, wide: int, options: Options) -> Coverage:
    """Return the coverage (128, wide) of an outline with other points."""
    em, scale = options.em, _PX * SAMPLES / options.em.units
    shape = outline.contours
    placed = Contours(points[:, 0] + 1j * points[:, 1], shape.on, shape.contour)
    edges = placed.segments().scaled(scale).flattened(8)
    start, end = (np.conj(z) + 1j * em.ascender * scale for z in edges)
    ink = winding(start, end, wide * SAMPLES, _PX * SAMPLES) != 0
    return shrunk(ink)
