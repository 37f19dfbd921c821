"""Elliptical arcs → cubics.

Knows: the endpoint form of SVG 2 §9.5 and appendix B.2. Does not know: path syntax.
"""

from __future__ import annotations

import cmath
import math

Cubic = tuple[float, float, float, float, float, float]


def arc_to_cubics(
    start: tuple[float, float], rx: float, ry: float, turn: float, large: bool, sweep: bool, end: tuple[float, float]
) -> list[Cubic] | None:
    """Return cubics (x1, y1, x2, y2, x, y) of at most 90° each, or None where the arc is a line.

    `turn` is the ellipse's rotation in degrees. Error of one 90° piece: 0.027 % of the radius.
    """
    rx, ry = abs(rx), abs(ry)
    if rx == 0 or ry == 0 or start == end:
        return None
    phi = math.radians(turn % 360.0)
    cos, sin = math.cos(phi), math.sin(phi)
    hx, hy = (start[0] - end[0]) / 2, (start[1] - end[1]) / 2
    x1, y1 = cos * hx + sin * hy, -sin * hx + cos * hy  # B.2.4 step 1
    lack = (x1 / rx) ** 2 + (y1 / ry) ** 2
    if lack > 1:  # B.2.5: radii too small are scaled up
        rx, ry = rx * math.sqrt(lack), ry * math.sqrt(lack)
    below = (rx * y1) ** 2 + (ry * x1) ** 2
    factor = math.sqrt(max(0.0, (rx * ry) ** 2 - below) / below) if below else 0.0
    if large == sweep:
        factor = -factor
    ux, uy = factor * rx * y1 / ry, -factor * ry * x1 / rx  # step 2: centre in the turned frame
    centre = (cos * ux - sin * uy + (start[0] + end[0]) / 2, sin * ux + cos * uy + (start[1] + end[1]) / 2)
    first = math.atan2((y1 - uy) / ry, (x1 - ux) / rx)
    swing = math.atan2((-y1 - uy) / ry, (-x1 - ux) / rx) - first
    if sweep and swing < 0:
        swing += 2 * math.pi
    elif not sweep and swing > 0:
        swing -= 2 * math.pi
    pieces = ellipse_cubics(centre, rx, ry, (cos, sin), first, swing)
    pieces[-1] = (*pieces[-1][:4], *end)  # land exactly where the author said
    return pieces


def ellipse_cubics(
    centre: tuple[float, float], rx: float, ry: float, axis: tuple[float, float], first: float, swing: float
) -> list[Cubic]:
    """Return cubics along an ellipse from angle `first` over `swing` (radians), each at most 90°."""
    count = max(1, math.ceil(abs(swing) / (math.pi / 2) - 1e-9))
    step = swing / count
    reach = 1j * (4 / 3 * math.tan(step / 4))
    x, y = centre
    cos, sin = axis
    xx, xy, yx, yy = cos * rx, -sin * ry, sin * rx, cos * ry  # unit circle → ellipse
    pieces: list[Cubic] = []
    u = cmath.rect(1.0, first)
    for i in range(1, count + 1):
        v = cmath.rect(1.0, first + i * step)
        a, b = u + reach * u, v - reach * v
        pieces.append((
            x + xx * a.real + xy * a.imag, y + yx * a.real + yy * a.imag,
            x + xx * b.real + xy * b.imag, y + yx * b.real + yy * b.imag,
            x + xx * v.real + xy * v.imag, y + yx * v.real + yy * v.imag,
        ))  # fmt: skip
        u = v
    return pieces
