"""Outlines that need no work: one filled path of lines and quadratics whose points already lie on whole font units.

Such a path is its own outline, if nothing in it overlaps: its contours then have exactly the area of what they paint. Keeping it
point by point makes the journey repeatable: what was written as a sanded drawing comes back as the same glyph. Knows:
drawings, areas. Does not know: how other outlines are made.
"""

from __future__ import annotations

import numpy as np

from oddpeg.drawing.model import Drawing, Matrix, Paint
from oddpeg.outline.distinct import firsts
from oddpeg.outline.model import Made, Outline
from oddpeg.outline.tidy import Contours, areas, settle
from oddpeg.outline.types import Points

_OFF = 0.3  # font units: farther from a whole unit a point was not written by us
_SLIVER = 0.3  # font units: what rounding may have joined or parted along an edge


def keep_as_drawn(drawing: Drawing, matrix: Matrix, made: Outline) -> Outline:
    """Return the drawing's own points as its outline where that is the same ink as `made`, else `made`. What was cut off
    `made` at the frame was then a sliver of rounding."""
    if len(drawing.shapes) != 1 or made.made is not Made.CURVES or not len(made.on):
        return made
    shape = drawing.shapes[0]
    plain = shape.fill is Paint.INK and shape.stroke is None and not shape.even_odd and not shape.clips
    if not plain or not shape.path or max(shape.path.degrees) > 2:
        return made
    placed = matrix.then_inside(shape.matrix)
    if _plainly_off(shape.path.coords, placed):
        return made
    own = _own_points(drawing, placed)
    if own is None:
        return made
    contours = settle(own.z, own.on, own.contour)
    edge = float(np.abs(np.diff(contours.z)).sum()) if len(contours.z) else 0.0
    missing = areas(contours.z, contours.on, contours.contour).sum() - areas(made.z, made.on, made.contour).sum() if len(contours.z) else np.inf
    if abs(missing) > _SLIVER * edge:
        return made
    ends = np.append(firsts(contours.contour)[1:], len(contours.z)) - 1
    return Outline(contours.z.view(np.float64).reshape(-1, 2).astype(np.int64), contours.on, ends, made.advance)


def _plainly_off(coords: list[float], m: Matrix) -> bool:
    """Return whether one of the first points lies neither on whole units nor, where it may be an implied one, on halves: a quick
    look that tells nearly all drawings that need no longer one."""
    starts = zip(coords[0:64:8], coords[1:64:8], strict=True)
    doubled = [2 * v for x, y in starts for v in (m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)]
    return any(abs(v - round(v)) > _OFF for v in doubled)


def _own_points(drawing: Drawing, matrix: Matrix) -> Contours | None:
    """Return the path's points and controls on the em, without implied points; None unless the rest is on whole units."""
    path = drawing.shapes[0].path
    x, y = np.array(path.coords).reshape(-1, 4, 2).T
    z: Points = (matrix.a * x + matrix.c * y + matrix.e + 1j * (matrix.b * x + matrix.d * y + matrix.f)).T
    degree, starts = np.array(path.degrees), np.array(path.starts)
    last = np.append(starts[1:], len(degree)) - 1
    control = z[:, 0] + 1.5 * (z[:, 1] - z[:, 0])  # a quadratic written as a cubic: two thirds of the way
    columns = np.stack([z[:, 0], control, z[:, 3]], axis=1)
    used = np.stack([np.ones(len(degree), bool), degree == 2, np.zeros(len(degree), bool)], axis=1)
    used[last, 2] = np.abs(z[last, 3] - z[starts, 0]) > _OFF  # where a contour ends, if that is not where it began
    owner = np.repeat(np.arange(len(starts)), last - starts + 1)
    flat = Contours(columns[used], np.tile([True, False, True], (len(degree), 1))[used], np.repeat(owner[:, None], 3, axis=1)[used])
    before, _ = flat.neighbours()
    flat = flat.keep(~(flat.on & flat.on[before] & (np.abs(flat.z - flat.z[before]) < _OFF)))
    before, after = flat.neighbours()
    halfway = flat.on & ~flat.on[before] & ~flat.on[after] & (np.abs(2 * flat.z - flat.z[before] - flat.z[after]) < 2 * _OFF)
    off = flat.z - np.rint(flat.z.real) - 1j * np.rint(flat.z.imag)
    if (np.maximum(np.abs(off.real), np.abs(off.imag))[~halfway] > _OFF).any():
        return None
    implied = halfway & (np.bincount(flat.contour, weights=~halfway & flat.on, minlength=len(starts)) > 0)[flat.contour]
    return flat.keep(~implied)
