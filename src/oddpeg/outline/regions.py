"""Painted regions for the clipper, and properties that are known without clipping.

A star-shaped contour (its centroid sees all of it: circles, boxes, most simple shapes) winds one way only, and so
does a ring of two. Such regions need not be resolved before they are united with others, and alone they are their own
silhouettes.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Floats, Ints, Points
from oddpeg.geometry.ragged import neighbours, run_starts
from oddpeg.geometry.vectors import cross
from oddpeg.outline.clip import Contours, Spot
from oddpeg.outline.polygons import Polygons, on_grid

_APART = 16.0  # grid steps between the contours of a ring: rounding cannot make them touch


class Regions(NamedTuple):
    """Polygons of painted regions, by region.

    Attributes:
        grid: (n,) all vertices, in grid steps.
        contours: by region.
        sound: regions whose contours never wind negatively and are filled at every winding but 0.
        clean: sound regions without crossings, outer contours wound positively and holes negatively. They are their own
            silhouettes.
    """

    grid: Points
    contours: dict[int, Contours]
    sound: set[int]
    clean: set[int]


class _Stars(NamedTuple):
    """Contours seen from their centroids, all (contours,).

    Attributes:
        way: 1 or -1 where a contour is star-shaped about its centroid, wound that way, else 0.
        centre: centroids.
        inner: how near no edge comes to it.
        outer: how far none goes.
    """

    way: Ints
    centre: Points
    inner: Floats
    outer: Floats


def _stars(grid: Points, contour: Ints) -> _Stars:
    starts, (_, following) = run_starts(contour), neighbours(contour)
    after = grid.take(following)
    area = cross(grid, after)
    twice = np.add.reduceat(area, starts)
    moment: Points = np.add.reduceat(area.astype(np.complex128) * (grid + after), starts)
    centre = moment * (1 / np.where(twice == 0, np.inf, 3 * twice))
    ray = grid - np.repeat(centre, np.diff(np.append(starts, len(grid))))
    swept = cross(ray, ray.take(following))
    low, high = np.minimum.reduceat(swept, starts), np.maximum.reduceat(swept, starts)
    up = (ray.imag > 0) | ((ray.imag == 0) & (ray.real > 0))
    rises = np.add.reduceat(
        (up.take(following) & ~up).astype(np.int64), starts
    )  # as often as it goes round, if one way only
    way = np.where(rises == 1, np.sign(low) * (np.sign(low) == np.sign(high)), 0).astype(np.int64)
    height = np.abs(swept) / np.maximum(np.abs(after - grid), 1.0)
    return _Stars(way, centre, np.minimum.reduceat(height, starts), np.maximum.reduceat(np.abs(ray), starts))


def regions_of(polygons: Polygons, even_odd: list[bool], strokes: set[int]) -> Regions:
    """Return the regions on the grid. even_odd: by region; strokes: regions known to wind positively throughout."""
    grid = on_grid(polygons.xy)
    starts = run_starts(polygons.contour)
    rows: list[Spot] = list(zip(grid.real.astype(np.int64).tolist(), grid.imag.astype(np.int64).tolist(), strict=True))
    contours: dict[int, Contours] = {}
    members: dict[int, list[int]] = {}
    bounds = [*starts.tolist(), len(grid)]
    for number, region in enumerate(polygons.region.tolist()):
        contours.setdefault(region, []).append(rows[bounds[number] : bounds[number + 1]])
        members.setdefault(region, []).append(number)
    stars = _stars(grid, polygons.contour)
    ways = stars.way.tolist()
    sound, clean = set(strokes), set()
    for region, numbers in members.items():
        wound = [ways[number] for number in numbers]
        if 0 in wound:
            continue
        if len(wound) == 1 or (len(set(wound)) == 1 and not even_odd[region]):
            wanted = [1] * len(wound)
        elif len(wound) == 2:
            wanted = _ring(stars, *numbers)
        else:
            continue
        if wanted:
            sound.add(region)
            contours[region] = [
                c if way == new else c[::-1] for c, way, new in zip(contours[region], wound, wanted, strict=True)
            ]
        if len(wanted) == 1 or -1 in wanted:
            clean.add(region)
    return Regions(grid, contours, sound, clean)


def _ring(stars: _Stars, a: int, b: int) -> list[int]:
    """Return which way two contours should go to be a ring, if one of them lies wholly inside the other; else
    nothing."""
    apart = abs(stars.centre[a] - stars.centre[b]) + _APART
    if apart + stars.outer[b] < stars.inner[a]:
        return [1, -1]
    return [-1, 1] if apart + stars.outer[a] < stars.inner[b] else []
