"""Drawings → glyph outlines: the line through this room, for a batch of drawings at once.

The outline of a drawing depends on that drawing and the options alone, never on its batch.
Knows: the order of the steps. Does not know: files, codepoints, font tables.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import chain

import numpy as np

from oddpeg.drawing.model import Drawing
from oddpeg.outline.clipping import Contours as GridContours
from oddpeg.outline.clipping import Silhouette, keep_within
from oddpeg.outline.curves import Bools, Ints, angle, points_of
from oddpeg.outline.frame import Em, place
from oddpeg.outline.gather import Gathering
from oddpeg.outline.polygons import GRID, Polygons, on_grid
from oddpeg.outline.quadratics import contour_points, fit
from oddpeg.outline.retrace import Edges, retrace
from oddpeg.outline.tidy import Contours, areas, settle

_STRAY = 0.9  # font units: how far a whole contour may move, at most, by rounding and approximation together


@dataclass(frozen=True, slots=True)
class Options:
    """What outlines depend on besides the drawing. tolerance: of curves, in thousandths of the em;
    keep_faint: paint of partial opacity counts as solid ink."""

    em: Em
    fit: str = "frame"
    tolerance: float = 0.3
    flatness: float = 0.25
    keep_faint: bool = True


@dataclass(slots=True)
class Outline:
    """One glyph: xy (n, 2) font units, y up, outer contours clockwise; on (n,); ends: (contours,)
    index of each contour's last point; advance: font units; cut: ink outside the frame was cut off;
    plain: the curves did not keep the silhouette's area, so its polygon was taken."""

    xy: Ints
    on: Bools
    ends: Ints
    advance: int
    cut: bool = False
    plain: bool = False


@dataclass(slots=True)
class _Regions:
    """Regions as the clipper wants them. grid: (n, 2) all vertices; contours: by region; convex: regions that
    are one convex polygon, wound positively."""

    grid: Ints
    contours: dict[int, GridContours]
    convex: set[int]


def _grid_regions(polygons: Polygons) -> _Regions:
    grid = on_grid(polygons.xy)
    starts = np.flatnonzero(np.append(True, polygons.contour[1:] != polygons.contour[:-1]))
    bounds = [*starts.tolist(), len(grid)]
    rows = grid.tolist()
    contours: dict[int, GridContours] = {}
    for number, region in enumerate(polygons.region.tolist()):
        contours.setdefault(region, []).append(rows[bounds[number] : bounds[number + 1]])
    convex: set[int] = set()
    for region, turns in zip(polygons.region.tolist(), _convex_turns(grid, starts), strict=True):
        if turns and len(contours[region]) == 1:
            convex.add(region)
            if turns < 0:
                contours[region][0].reverse()
    return _Regions(grid, contours, convex)


def _convex_turns(grid: Ints, starts: Ints) -> list[int]:
    """Return 1 or -1 for each contour that is convex and goes round once, counter-clockwise or clockwise; else 0."""
    z = grid[:, 0] + 1j * grid[:, 1]
    following = np.arange(1, len(z) + 1)
    following[np.append(starts[1:], len(z)) - 1] = starts
    side = z[following] - z
    bend = angle(side, side[following])
    low, high = np.minimum.reduceat(bend, starts), np.maximum.reduceat(bend, starts)
    once = np.abs(np.abs(np.add.reduceat(bend, starts)) - 2 * np.pi) < 1e-3
    turns: list[int] = np.where(once & (low >= 0) & (high < 3), 1, np.where(once & (high <= 0) & (low > -3), -1, 0)).tolist()
    return turns


def _edges(polygons: Polygons, grid: Ints, icon_of_region: Ints) -> Edges:
    """Return all edges that have length."""
    starts = np.flatnonzero(np.append(True, polygons.contour[1:] != polygons.contour[:-1]))
    following = np.arange(1, len(grid) + 1)
    following[np.append(starts[1:], len(grid)) - 1] = starts
    before = np.empty_like(following)
    before[following] = np.arange(len(grid))
    # an edge without length is passed over: what ends where the next starts is the one before it
    end = grid[following]
    empty = (grid == end).all(axis=1)
    for _ in range(4):
        stale = empty[before]
        if not stale.any():
            break
        before[stale] = before[before[stale]]
    icon = icon_of_region[polygons.region[polygons.contour]]
    kept = np.flatnonzero(~empty)
    number = np.cumsum(~empty) - 1
    return Edges(grid[kept], end[kept], icon[kept], polygons.curve[kept], polygons.t0[kept], polygons.t1[kept],
                 np.maximum(number[before[kept]], 0))  # fmt: skip


def _clip_all(gathering: Gathering, regions: _Regions, strokes: set[int], frames: list[tuple[int, ...]],
              cut: list[bool]) -> tuple[Ints, Ints, Ints]:  # fmt: skip
    """Return (xy, contour, icon) of every drawing's silhouette, outer contours clockwise."""
    sound = strokes | regions.convex
    rows: list[list[int]] = []
    sizes: list[int] = []
    icons: list[int] = []
    for number, plan in enumerate(gathering.plans):
        paths = Silhouette(regions.contours, sound, regions.convex).of(plan)
        paths, cut[number] = keep_within(paths, *frames[number])
        for path in paths:
            rows += reversed(path)
            sizes.append(len(path))
        icons += [number] * len(paths)
    xy = np.fromiter(chain.from_iterable(rows), dtype=np.int64, count=2 * len(rows)).reshape(-1, 2)
    return xy, np.repeat(np.arange(len(sizes)), sizes), np.array(icons, dtype=np.int64)


def outline_drawings(drawings: list[Drawing], options: Options) -> list[Outline]:
    """Return one outline per drawing, in order."""
    if not drawings:
        return []
    em, unit = options.em, options.em.units / 1000
    gathering = Gathering(em.units)
    advances, frames = [], []
    for drawing in drawings:
        matrix, advance = place(drawing.box, em, options.fit)
        gathering.add(drawing, matrix)
        advances.append(advance)
        left, right = matrix.e + matrix.a * drawing.box[0], matrix.e + matrix.a * (drawing.box[0] + drawing.box[2])
        frames.append(tuple(round(v * GRID) for v in (left, -em.depth, right, em.ascender)))
    polygons, curves, strokes = gathering.polygons(options.flatness * unit)
    cut = [False] * len(drawings)
    regions = _grid_regions(polygons)
    xy, contour, icon = _clip_all(gathering, regions, strokes, frames, cut)
    if not len(xy):
        return [_empty(advance) for advance in advances]
    edges = _edges(polygons, regions.grid, np.array(gathering.icon))
    runs = retrace(edges, curves, xy, contour, icon[contour])
    points, on, number = contour_points(fit(runs, curves, options.tolerance * unit))
    settled = settle(points, on, number)
    strayed = icon[np.flatnonzero(_strayed(xy, contour, settled))]
    if len(strayed):
        settled = _polygons_instead(settled, np.isin(icon, strayed), xy, contour)
    outlines = _split(settled.xy, settled.on, settled.contour, icon, advances, cut)
    for number_ in set(strayed.tolist()):
        outlines[number_].plain = True
    return outlines


def _strayed(xy: Ints, contour: Ints, settled: Contours) -> Bools:
    """Return for each clipped contour whether its outline's area is farther from the polygon's than rounding,
    flattening and curve tolerance explain: a check that lets no lost or mangled contour pass."""
    z = points_of(xy.ravel() / GRID)
    flat = np.ones(len(z), dtype=bool)
    wanted = areas(z, flat, contour)
    after = np.append(z[1:], z[:1])
    last = np.append(contour[1:] != contour[:-1], True)
    after[last] = z[np.flatnonzero(np.append(True, last[:-1]))]
    around = np.bincount(contour, weights=np.abs(after - z))
    got = np.zeros(len(wanted))
    if len(settled.on):
        found = areas(points_of(settled.xy.ravel().astype(np.float64)), settled.on, settled.contour)
        got[: len(found)] = found
    result: Bools = np.abs(got - wanted) > _STRAY * around + 2
    return result


def _polygons_instead(settled: Contours, strayed: Bools, xy: Ints, contour: Ints) -> Contours:
    """Return the outlines with the contours of strayed icons taken from their polygons. strayed: by contour."""
    keep = ~strayed[settled.contour]
    rows = strayed[contour]
    plain = settle(points_of(xy[rows].ravel() / GRID), np.ones(int(rows.sum()), dtype=bool), contour[rows])
    number = np.concatenate([settled.contour[keep], plain.contour])
    rank = np.argsort(number, kind="stable")
    return Contours(
        np.concatenate([settled.xy[keep], plain.xy])[rank], np.concatenate([settled.on[keep], plain.on])[rank], number[rank]
    )


def _empty(advance: int) -> Outline:
    return Outline(np.zeros((0, 2), dtype=np.int64), np.zeros(0, dtype=bool), np.zeros(0, dtype=np.int64), advance)


def _split(xy: Ints, on: Bools, contour: Ints, icon: Ints, advances: list[int], cut: list[bool]) -> list[Outline]:
    """Return the outline of each icon out of flat contours."""
    stops = np.flatnonzero(np.append(contour[1:] != contour[:-1], True)) if len(contour) else np.zeros(0, dtype=np.int64)
    owner = icon[contour[stops]] if len(stops) else stops
    first_contour = np.searchsorted(owner, np.arange(len(advances) + 1))
    point_bounds = np.concatenate([[0], stops + 1])
    outlines = []
    for i, advance in enumerate(advances):
        a, b = int(first_contour[i]), int(first_contour[i + 1])
        low, high = int(point_bounds[a]), int(point_bounds[b])
        outlines.append(Outline(xy[low:high], on[low:high], stops[a:b] - low, advance, cut[i]))
    return outlines
