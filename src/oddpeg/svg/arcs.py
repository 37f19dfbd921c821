"""Elliptical arcs → cubics.

Covers the endpoint form of SVG 2 §9.5 and appendix B.2.
"""

from __future__ import annotations

import cmath
import math

Cubic = tuple[float, float, float, float, float, float]
QUARTER = (
    4 / 3 * math.tan(math.pi / 8)
)  # how far the controls of a 90° piece lie from its ends towards where its tangents meet


def arc_to_cubics(
    start: tuple[float, float], rx: float, ry: float, turn: float, large: bool, sweep: bool, end: tuple[float, float]
) -> list[Cubic] | None:
    """Return cubics (x1, y1, x2, y2, x, y) of at most 90° each, or None where the arc is a line.

    `turn` is the ellipse's rotation in degrees. Error of one 90° piece: 0.027 % of the radius.
    """
    rx, ry = abs(rx), abs(ry)
    if rx == 0 or ry == 0 or start == end:
        return None
    axis = cmath.rect(1.0, math.radians(turn % 360.0)) if turn else 1 + 0j
    p, q = complex(*start), complex(*end)
    chord = (q - p) / 2 * axis.conjugate()
    half = complex(chord.real / rx, chord.imag / ry)  # half the chord, where the ellipse is a circle of radius 1
    reach = abs(half)
    if not 1e-150 < reach < 1e150:  # radii so unlike the chord that it is all there is to see
        return None
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
    wide, high = rx * axis, 1j * ry * axis
    pieces = _along((p + q) / 2 + rise.real * wide + rise.imag * high, wide, high, first, swing)
    pieces[-1] = (*pieces[-1][:4], *end)  # land exactly where the author said
    return pieces


def _along(centre: complex, wide: complex, high: complex, first: complex, swing: float) -> list[Cubic]:
    """Return cubics along the ellipse centre + x·wide + y·high, where x + iy lies on the circle of radius 1: from
    `first` over `swing` (radians), each at most 90°."""
    count = max(1, math.ceil(abs(swing) / (math.pi / 2) - 1e-9))
    step = cmath.rect(1.0, swing / count)
    reach = 1j * (4 / 3 * math.tan(swing / count / 4))
    pieces: list[Cubic] = []
    u = first
    for _ in range(count):
        v = u * step
        a, b = u + reach * u, v - reach * v
        p, q, r = (centre + z.real * wide + z.imag * high for z in (a, b, v))
        pieces.append((p.real, p.imag, q.real, q.imag, r.real, r.imag))
        u = v
    return pieces
