"""Elliptical arcs → cubics.

Covers the endpoint form of SVG 2 §9.5 and appendix B.2.
"""

from __future__ import annotations

import cmath
import math
from functools import lru_cache

Cubic = tuple[float, float, float, float, float, float]
QUARTER = (
    4 / 3 * math.tan(math.pi / 8)
)  # how far the controls of a 90° piece lie from its ends towards where its tangents meet


@lru_cache(maxsize=8192)  # icons of a set round their corners alike
def arc_to_cubics(rx: float, ry: float, turn: float, large: bool, sweep: bool, end: complex) -> tuple[Cubic, ...]:
    """Return cubics (x1, y1, x2, y2, x, y) of at most 90° each from the origin to `end`; none where the arc is a line.

    `turn` is the ellipse's rotation in degrees. Error of one 90° piece: 0.027 % of the radius.
    """
    rx, ry = abs(rx), abs(ry)
    if rx == 0 or ry == 0 or end == 0:
        return ()
    axis = cmath.rect(1.0, math.radians(turn % 360.0)) if turn and rx != ry else 1 + 0j
    chord = end / 2 * axis.conjugate()
    half = complex(chord.real / rx, chord.imag / ry)  # half the chord, where the ellipse is a circle of radius 1
    reach = abs(half)
    if not 1e-150 < reach < 1e150:  # radii so unlike the chord that it is all there is to see
        return ()
    if reach >= 1:  # B.2.5: radii too small are scaled up
        rx, ry, half, lift = rx * reach, ry * reach, half / reach, 0.0
    else:
        lift = math.sqrt(1 - reach * reach) / reach
    rise = half * complex(0.0, -lift if large == sweep else lift)  # from the middle of the chord to the centre
    first, last = -half - rise, half - rise
    swing = cmath.phase(last / first)
    if sweep and swing < 0:
        swing += 2 * math.pi
    elif not sweep and swing > 0:
        swing -= 2 * math.pi
    points = [rise, *_along_circle(first, swing)]
    if rx == ry:
        placed = [rx * z for z in points]
    else:
        wide, high = rx * axis, 1j * ry * axis
        placed = [z.real * wide + z.imag * high for z in points]
    centre = end / 2 + placed[0]
    v = [part for z in placed[1:] for part in (centre.real + z.real, centre.imag + z.imag)]
    return tuple((v[i], v[i + 1], v[i + 2], v[i + 3], v[i + 4], v[i + 5]) for i in range(0, len(v), 6))


def _along_circle(first: complex, swing: float) -> list[complex]:
    """Return cubics of at most 90° each, as two controls and an end, along the circle of radius 1 around 0.

    They run from `first` over `swing` (radians).
    """
    count = max(1, math.ceil(abs(swing) / (math.pi / 2) - 1e-9))
    step = cmath.rect(1.0, swing / count)
    reach = complex(0.0, 4 / 3 * math.tan(swing / count / 4))
    points: list[complex] = []
    u = first
    for _ in range(count):
        v = u * step
        points += (u + reach * u, v - reach * v, v)
        u = v
    return points
