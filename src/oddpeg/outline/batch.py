"""Drawings → glyph outlines: the line through this room, for a batch of drawings at once.

The outline of a drawing depends on that drawing and the options alone, never on its batch.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Floats, Ints, Points
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.curves import Curves
from oddpeg.geometry.matrix import Matrix
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.ragged import neighbours, offsets, run_starts
from oddpeg.outline.clip import Contours as GridContours
from oddpeg.outline.clip import Silhouette, Spot
from oddpeg.outline.clip import keep_within as cut_to_frame
from oddpeg.outline.collect import Gathering
from oddpeg.outline.complexity import crowded, tangled
from oddpeg.outline.fallback import Clipped, replace_wrong
from oddpeg.outline.fit import fit
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.placement import place
from oddpeg.outline.polygons import GRID, REACH, Polygons, cut_far_ink
from oddpeg.outline.preserve import keep_as_drawn
from oddpeg.outline.regions import Regions, regions_of
from oddpeg.outline.retrace import PolygonEdges, retrace
from oddpeg.outline.rounding import keep_within, ordered, settle
from oddpeg.outline.verify import Painted
from oddpeg.svg.layers import Layer


def _edges(polygons: Polygons, grid: Points, icon_of_region: Ints) -> PolygonEdges:
    """Return all edges that have length."""
    before, following = neighbours(polygons.contour)
    # an edge without length is passed over: what ends where the next starts is the one before it
    end = grid.take(following)
    empty = grid == end
    for _ in range(4):
        stale = empty[before]
        if not stale.any():
            break
        before[stale] = before[before[stale]]
    icon = icon_of_region.take(polygons.region).take(polygons.contour)
    if not empty.any():
        return PolygonEdges(grid, end, icon, polygons.curve, polygons.t0, polygons.t1, before)
    kept = np.flatnonzero(~empty)
    number = np.cumsum(~empty) - 1
    return PolygonEdges(
        grid.take(kept),
        end.take(kept),
        icon.take(kept),
        polygons.curve.take(kept),
        polygons.t0.take(kept),
        polygons.t1.take(kept),
        np.maximum(number.take(before.take(kept)), 0),
    )


_SLACK = 8  # grid steps: rounding at the frame's edge is not "outside"


def _clip_all(gathering: Gathering, regions: Regions, painted: Painted) -> tuple[Clipped, list[bool]]:
    """Return every drawing's silhouette, outer contours clockwise, and which reached beyond their frame."""
    rows: list[Spot] = []
    sizes: list[int] = []
    icons: list[int] = []
    frames = np.rint(painted.frames * GRID).astype(np.int64)
    beyond = _beyond(painted, regions.grid, frames)
    for number, plan in enumerate(gathering.plans):
        paths = Silhouette(regions.contours, regions.sound, regions.clean, {}).of(plan)
        if beyond[number]:  # some of what is painted; what shows may still lie inside
            frame = frames[number].tolist()
            beyond[number] = _reaches_out(paths, *frame)
            paths = cut_to_frame(paths, *frame) if beyond[number] else paths
        for path in paths:
            rows += path
            sizes.append(len(path))
        icons += [number] * len(paths)
    return Clipped.of(rows, sizes, icons), beyond


def _beyond(painted: Painted, grid: Points, frames: Ints) -> list[bool]:
    """Return for each drawing whether anything it paints, limited or not, lies outside its frame."""
    first = run_starts(painted.contour)
    icon = painted.icon[painted.region[painted.contour[first]]]
    left, bottom, right, top = frames[icon].T
    x, y = grid.real, grid.imag
    out = icon[
        (np.minimum.reduceat(x, first) < left - _SLACK)
        | (np.minimum.reduceat(y, first) < bottom - _SLACK)
        | (np.maximum.reduceat(x, first) > right + _SLACK)
        | (np.maximum.reduceat(y, first) > top + _SLACK)
    ]
    beyond: list[bool] = (np.bincount(out, minlength=len(frames)) > 0).tolist()
    return beyond


def _reaches_out(paths: GridContours, left: int, bottom: int, right: int, top: int) -> bool:
    z = [p for path in paths for p in path]
    return any(x < left - _SLACK or x > right + _SLACK or y < bottom - _SLACK or y > top + _SLACK for x, y in z)


class _Placed(NamedTuple):
    """Layers placed on the em.

    Attributes:
        matrices: user units → em.
        advances: font units.
        frames: (layers, 4) left, bottom, right, top; ink outside is cut off.
        limits: (layers, 4) box that no point may leave, in the same order.
    """

    matrices: list[Matrix]
    advances: list[int]
    frames: Floats
    limits: Floats

    @staticmethod
    def of(layers: Sequence[Layer], options: Options) -> _Placed:
        em = options.em
        matrices, advances, frames, limits = [], [], [], []
        for layer in layers:
            window = layer.window or layer.box
            matrix, advance = place(window, em, options.fit)
            matrices.append(matrix)
            advances.append(advance)
            frames.append(_placed_box(layer.box, matrix))
            limits.append(_placed_box(window, matrix))
        edges = np.array(frames), np.array(limits)
        within = [np.maximum(*edges)[:, :2], np.minimum(*edges)[:, 2:]]
        return _Placed(matrices, advances, edges[0], np.concatenate(within, axis=1))

    def surroundings(self, margin: float) -> Floats:
        """Return boxes (layers, 4) around the frames, outside of which ink does not count. margin: font units."""
        around: Floats = self.frames + np.array([-margin, -margin, margin, margin])
        return np.clip(around, -REACH, REACH, out=around)


def _placed_box(box: Box, matrix: Matrix) -> list[float]:
    """Return left, bottom, right, top of a box on the em, clamped to ±`REACH`; edges that lie on whole units do so
    exactly."""
    left, right = matrix.e + matrix.a * box.x, matrix.e + matrix.a * (box.x + box.width)
    top, bottom = matrix.f + matrix.d * box.y, matrix.f + matrix.d * (box.y + box.height)
    return [round(min(max(edge, -REACH), REACH), 9) for edge in (left, bottom, right, top)]


def outline_layers(layers: Sequence[Layer], options: Options) -> list[Outline]:
    """Return one outline per layer, in order."""
    if not layers:
        return []
    unit = options.em.units / 1000
    placed = _Placed.of(layers, options)
    gathering = Gathering(options.em.units)
    for layer, matrix in zip(layers, placed.matrices, strict=True):
        gathering.add(layer.shapes, matrix)
    polygons, curves, strokes = gathering.polygons(options.flatness * unit)
    icon = np.array(gathering.icon, dtype=np.int64)
    if refused := crowded(polygons, icon):
        return _without(refused, layers, placed.advances, options)
    polygons = cut_far_ink(polygons, placed.surroundings(options.em.units).take(icon, axis=0))
    if not len(polygons.xy):
        return [_empty(advance) for advance in placed.advances]
    even_odd = np.array(gathering.even_odd)
    if refused := tangled(polygons, icon, even_odd, [layer.drawing for layer in layers]):
        return _without(refused, layers, placed.advances, options)
    painted = Painted(polygons.xy, polygons.contour, polygons.region, icon, even_odd, gathering.plans, placed.frames)
    regions = regions_of(polygons, gathering.even_odd, strokes)
    clipped, cut = _clip_all(gathering, regions, painted)
    edges = _edges(polygons, regions.grid, icon)
    settled = _along_curves(clipped, edges, curves, options.precision * unit, placed.limits)
    final = replace_wrong(painted, regions.contours, clipped, settled, unit)
    outlines = _split(final.contours, final.icon, placed.advances, cut)
    for number, how in final.how.items():
        outlines[number].made = how
    return keep_as_drawn(layers, placed.matrices, placed.limits, outlines)


def _without(refused: set[int], layers: Sequence[Layer], advances: list[int], options: Options) -> list[Outline]:
    """Return the outlines of all layers but some, and empty ones for those."""
    others = iter(outline_layers([layer for i, layer in enumerate(layers) if i not in refused], options))
    return [_empty(advance, Method.TANGLED) if i in refused else next(others) for i, advance in enumerate(advances)]


def _empty(advance: int, made: Method = Method.CURVES) -> Outline:
    return Outline(np.zeros((0, 2), np.int64), np.zeros(0, bool), np.zeros(0, np.int64), advance, made=made)


def _along_curves(clipped: Clipped, edges: PolygonEdges, curves: Curves, tolerance: float, frames: Floats) -> Contours:
    """Return the silhouettes along the true curves. tolerance: font units; frames: (layers, 4)."""
    if not len(clipped.z):
        return Contours(np.zeros(0, dtype=np.complex128), np.zeros(0, dtype=bool), np.zeros(0, dtype=np.int64))
    runs = retrace(edges, curves, clipped.z, clipped.contour, clipped.icon[clipped.contour])
    fitted = fit(runs, curves, tolerance)
    # rounding, and controls of curves that meet the frame, may reach a hair beyond it
    return settle(keep_within(fitted.z, frames[clipped.icon[fitted.contour]]), fitted.on, fitted.contour)


def _split(contours: Contours, icon: Ints, advances: list[int], cut: list[bool]) -> list[Outline]:
    """Return the outline of each icon out of flat contours. icon: by contour ordinal, in rising order."""
    count = len(advances)
    contours = ordered(contours, icon)
    starts = run_starts(contours.contour)
    owner = icon[contours.contour[starts]]
    of_point = icon[contours.contour]
    points = np.bincount(of_point, minlength=count)
    ends = np.append(starts[1:], len(of_point))[: len(starts)] - 1 - offsets(points)[owner]
    xy = contours.z.view(np.float64).reshape(-1, 2).astype(np.int64)
    flat = FlatOutlines(xy, contours.on, ends, points, np.bincount(owner, minlength=count))
    return [Outline(*arrays, *made) for arrays, made in zip(flat.split(), zip(advances, cut, strict=True), strict=True)]
