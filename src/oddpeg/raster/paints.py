"""Paints by the point: one colour, or gradients along a line and between circles.

Points are complex numbers in any plane; colours are red, green, blue and alpha, 0 to 1, in arrays (n, 4). Source: SVG 2
§14.2 (gradients), OpenType COLR version 1 (the same geometry).
"""

from __future__ import annotations

from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.matrix import Matrix
from oddpeg.raster.winding import Points

Values = NDArray[np.float64]
Rgba = tuple[float, float, float, float]


class Painting(Protocol):
    """A function from points to colours."""

    def at(self, z: Points) -> Values:
        """Return the colours (n, 4) at points (n,)."""
        ...


class Solid(NamedTuple):
    """One colour everywhere."""

    colour: Rgba

    def at(self, z: Points) -> Values:
        return np.broadcast_to(np.array(self.colour), (len(z), 4))


class RampStop(NamedTuple):
    """A colour at a place between 0 and 1."""

    offset: float
    colour: Rgba


class Ramp(NamedTuple):
    """The colours of a gradient from 0 to 1.

    Attributes:
        stops: in rising order.
        spread: "pad", "repeat" or "reflect", beyond both ends.
    """

    stops: tuple[RampStop, ...]
    spread: str

    def colours(self, t: Values) -> Values:
        """Return the colours (n, 4) at places (n,)."""
        if self.spread == "repeat":
            t = t - np.floor(t)
        elif self.spread == "reflect":
            t = 1 - np.abs(t % 2 - 1)
        offsets = [stop.offset for stop in self.stops]
        columns = [np.interp(t, offsets, [stop.colour[i] for stop in self.stops]) for i in range(4)]
        return np.stack(columns, axis=1)


class LinearGradient(NamedTuple):
    """A gradient along a line.

    Attributes:
        ramp: its colours.
        start: where it is 0.
        slope: towards where it grows, one over the distance in which it reaches 1.
    """

    ramp: Ramp
    start: complex
    slope: complex

    def at(self, z: Points) -> Values:
        return self.ramp.colours(((z - self.start) * np.conj(self.slope)).real)


class RadialGradient(NamedTuple):
    """A gradient between two circles.

    Attributes:
        ramp: its colours.
        inner, inner_radius: the circle where it is 0.
        outer, outer_radius: the circle where it is 1.
        matrix: the circles' plane → that of the points.
    """

    ramp: Ramp
    inner: complex
    inner_radius: float
    outer: complex
    outer_radius: float
    matrix: Matrix

    def at(self, z: Points) -> Values:
        """Return the colours (n, 4); nothing where no circle between the two, or beyond, goes through a point."""
        gap, apart = unmapped(self.matrix, z) - self.inner, self.outer - self.inner
        grows = self.outer_radius - self.inner_radius
        a = abs(apart) ** 2 - grows**2
        b = (gap * np.conj(apart)).real + self.inner_radius * grows
        c = np.abs(gap) ** 2 - self.inner_radius**2
        with np.errstate(all="ignore"):
            root = np.sqrt(b * b - a * c)
            roots = np.stack([c / (2 * b)] * 2 if abs(a) < 1e-12 else [(b + root) / a, (b - root) / a])
        roots = np.where(self.inner_radius + roots * grows >= 0, roots, -np.inf)
        t = np.nan_to_num(roots, nan=-np.inf, posinf=-np.inf).max(axis=0)
        shown = np.isfinite(t) & (t > -1e300)
        colours = self.ramp.colours(np.where(shown, t, 0.0))
        return np.where(shown[:, None], colours, 0.0)


def unmapped(m: Matrix, z: Points) -> Points:
    """Return the points that an affine map, which keeps area, leads to z."""
    x, y = z.real - m.e, z.imag - m.f
    return np.asarray((m.d * x - m.c * y + 1j * (m.a * y - m.b * x)) / m.determinant, dtype=np.complex128)
