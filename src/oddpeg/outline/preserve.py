"""Outlines that need no conversion: one filled path of lines and quadratics whose points lie on whole font units.

Such a path is its own outline, if nothing in it overlaps: the area of its contours then equals the area that they
paint. Keeping its points makes outlining repeatable: a drawing that `check --write` normalized gives the same glyph
again.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.curves import points_of
from oddpeg.geometry.matrix import Matrix
from oddpeg.geometry.ragged import run_starts
from oddpeg.outline.model import Method, Outline
from oddpeg.outline.rounding import HAIR, keep_within, ordered, settle
from oddpeg.svg.layers import Layer
from oddpeg.svg.model import Effect

_OFF = 0.3  # font units: farther from a whole unit a point was not written by us
_SLIVER = 0.3  # font units: what rounding may have joined or parted along an edge


class _Paths(NamedTuple):
    """The paths of several drawings as flat arrays.

    Attributes:
        z: (segments, 4) on the em.
        degree: (segments,).
        contour: (segments,) ascending.
        owner: (contours,) number of the drawing.
    """

    z: Points
    degree: Ints
    contour: Ints
    owner: Ints


def keep_as_drawn(
    layers: Sequence[Layer], matrices: list[Matrix], frames: Floats, outlines: list[Outline]
) -> list[Outline]:
    """Return for each drawing its own points as its outline where these have the same ink as the computed outline, and
    lie within its frame; otherwise the computed one. Anything cut off at the frame was then a sliver of rounding.

    Args:
        matrices: drawing units → em.
        frames: (layers, 4) left, bottom, right, top on the em.
        outlines: made of the drawings.
    """
    placed = {
        i: matrices[i].compose(layers[i].shapes[0].matrix)
        for i, made in enumerate(outlines)
        if _is_plain(layers[i], made)
    }
    some = [i for i, matrix in placed.items() if not _plainly_off(layers[i].shapes[0].path.coords, matrix)]
    if not some:
        return outlines
    paths = _gathered([layers[i] for i in some], [placed[i] for i in some])
    drawn = _own_points(paths, len(some))
    if not len(drawn.z):
        return outlines
    settled = ordered(settle(drawn.z, drawn.on, drawn.contour), paths.owner)
    before, _ = settled.neighbours()
    edge = _per_owner(np.abs(settled.z - settled.z.take(before)), paths.owner.take(settled.contour), len(some))
    areas = settled.areas()
    area = _per_owner(areas, paths.owner[: len(areas)], len(some))
    bounds = np.searchsorted(paths.owner.take(settled.contour), np.arange(len(some) + 1)).tolist()
    result = list(outlines)
    for k, i in enumerate(some):
        made, low, high = outlines[i], bounds[k], bounds[k + 1]
        if low == high or abs(area[k] - made.contours.areas().sum()) > _SLIVER * edge[k]:
            continue
        z, hair = settled.z[low:high], np.inf if made.cut else HAIR  # what its frame cuts may not leave it at all
        if (z != keep_within(z, np.broadcast_to(frames[i], (high - low, 4)), hair)).any():
            continue
        ends = np.append(run_starts(settled.contour[low:high])[1:], high - low) - 1
        result[i] = Outline(
            z.view(np.float64).reshape(-1, 2).astype(np.int64), settled.on[low:high], ends, made.advance
        )
    return result


def _is_plain(layer: Layer, made: Outline) -> bool:
    if len(layer.shapes) != 1 or made.made is not Method.CURVES or not len(made.on):
        return False
    shape = layer.shapes[0]
    plain = (
        shape.fill is not None
        and shape.fill.effect is Effect.INK
        and shape.stroke is None
        and not shape.even_odd
        and not shape.clips
    )
    return plain and bool(shape.path) and max(shape.path.degrees) <= 2


def _plainly_off(coords: list[float], m: Matrix) -> bool:
    """Return whether one of the first points lies neither on whole units nor, where it may be an implied one, on
    halves: a quick look that tells nearly all drawings that need no longer one."""
    starts = zip(coords[0:64:8], coords[1:64:8], strict=True)
    doubled = [2 * v for x, y in starts for v in (m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)]
    return any(abs(v - round(v)) > _OFF for v in doubled)


def _gathered(layers: list[Layer], placed: list[Matrix]) -> _Paths:
    paths = [layer.shapes[0].path for layer in layers]
    sizes = [len(path.degrees) for path in paths]
    x, y = (
        points_of([v for path in paths for v in path.coords])
        .reshape(-1, 4)
        .view(np.float64)
        .reshape(-1, 4, 2)
        .transpose(2, 0, 1)
    )
    a, b, c, d, e, f = np.repeat(np.array(placed), sizes, axis=0).T[:, :, None]
    heads = [
        base + start
        for path, base in zip(paths, np.cumsum([0, *sizes]).tolist(), strict=False)
        for start in path.starts
    ]
    contour = np.zeros(sum(sizes), dtype=np.int64)
    contour[heads[1:]] = 1
    return _Paths(
        a * x + c * y + e + 1j * (b * x + d * y + f),
        np.array([n for path in paths for n in path.degrees], dtype=np.int64),
        np.cumsum(contour),
        np.repeat(np.arange(len(paths)), [len(path.starts) for path in paths]),
    )


def _per_owner(values: Floats, owner: Ints, count: int) -> Floats:
    return np.bincount(owner, weights=values, minlength=count).astype(np.float64)


def _own_points(paths: _Paths, count: int) -> Contours:
    """Return the points and controls of drawings whose points lie on whole units, without implied points. count: number
    of drawings."""
    z, degree = paths.z, paths.degree
    starts = run_starts(paths.contour)
    last = np.append(starts[1:], len(degree)) - 1
    control = z[:, 0] + 1.5 * (z[:, 1] - z[:, 0])  # a quadratic written as a cubic: two thirds of the way
    columns = np.stack([z[:, 0], control, z[:, 3]], axis=1)
    used = np.stack([np.ones(len(degree), bool), degree == 2, np.zeros(len(degree), bool)], axis=1)
    used[last, 2] = np.abs(z[last, 3] - z[starts, 0]) > _OFF  # where a contour ends, if that is not where it began
    flat = Contours(
        columns[used],
        np.tile([True, False, True], (len(degree), 1))[used],
        np.repeat(paths.contour[:, None], 3, axis=1)[used],
    )
    before, _ = flat.neighbours()
    flat = flat.keep(~(flat.on & flat.on[before] & (np.abs(flat.z - flat.z[before]) < _OFF)))
    before, after = flat.neighbours()
    halfway = (
        flat.on & ~flat.on[before] & ~flat.on[after] & (np.abs(2 * flat.z - flat.z[before] - flat.z[after]) < 2 * _OFF)
    )
    off = np.abs((flat.z - np.rint(flat.z)).view(np.float64).reshape(-1, 2)).max(axis=1) > _OFF
    owner = paths.owner.take(flat.contour)
    whole: Bools = _per_owner(off & ~halfway, owner, count) == 0
    anchored = np.bincount(flat.contour, weights=~halfway & flat.on, minlength=len(starts)) > 0
    return flat.keep(whole.take(owner) & ~(halfway & anchored.take(flat.contour)))
