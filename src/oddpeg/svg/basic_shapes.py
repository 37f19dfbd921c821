"""Basic shapes → paths.

Covers rect, circle, ellipse, line, polyline, polygon of SVG 2 §10. Lengths arrive through `measure(attribute,
direction)`, so that percentages are the caller's matter.
"""

from __future__ import annotations

from collections.abc import Callable

from oddpeg.svg.arcs import QUARTER
from oddpeg.svg.model import Path
from oddpeg.svg.path_builder import PathBuilder
from oddpeg.svg.path_data import BIGGEST, PathFault
from oddpeg.svg.units import numbers, offset_of_number

Measure = Callable[[str, str], float | None]


def rect(measure: Measure) -> Path:
    """SVG 2 §10.2: corners rounded clockwise from the top left, radii limited to half the sides."""
    x, y = measure("x", "x") or 0.0, measure("y", "y") or 0.0
    w, h = measure("width", "x") or 0.0, measure("height", "y") or 0.0
    out = PathBuilder()
    if w <= 0 or h <= 0:
        return out.path
    rx, ry = measure("rx", "x"), measure("ry", "y")
    rx = None if rx is not None and rx < 0 else rx
    ry = None if ry is not None and ry < 0 else ry
    rx, ry = (rx if rx is not None else ry or 0.0), (ry if ry is not None else rx or 0.0)
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    if rx <= 0 or ry <= 0:
        out.move(x, y)
        for px, py in ((x + w, y), (x + w, y + h), (x, y + h)):
            out.line(px, py)
        out.close()
        return out.path
    out.move(x + rx, y)
    corners = [
        (x + w - rx, y, x + w, y, x + w, y + ry),
        (x + w, y + h - ry, x + w, y + h, x + w - rx, y + h),
        (x + rx, y + h, x, y + h, x, y + h - ry),
        (x, y + ry, x, y, x + rx, y),
    ]
    for lx, ly, cx, cy, ax, ay in corners:
        if (lx, ly) != (out.x, out.y):
            out.line(lx, ly)
        _quarter(out, cx, cy, ax, ay)
    out.close()
    return out.path


def _quarter(out: PathBuilder, cx: float, cy: float, x: float, y: float) -> None:
    """Draw a quarter of an upright ellipse to (x, y), whose tangents meet in (cx, cy)."""
    out.cubic(
        out.x + (cx - out.x) * QUARTER,
        out.y + (cy - out.y) * QUARTER,
        x + (cx - x) * QUARTER,
        y + (cy - y) * QUARTER,
        x,
        y,
    )


def _ellipse(cx: float, cy: float, rx: float, ry: float) -> Path:
    out = PathBuilder()
    if rx <= 0 or ry <= 0:
        return out.path
    out.move(cx + rx, cy)
    left, right, top, bottom = cx - rx, cx + rx, cy - ry, cy + ry
    _quarter(out, right, bottom, cx, bottom)
    _quarter(out, left, bottom, left, cy)
    _quarter(out, left, top, cx, top)
    _quarter(out, right, top, right, cy)
    out.close()
    return out.path


def circle(measure: Measure) -> Path:
    """SVG 2 §10.3."""
    r = measure("r", "d") or 0.0
    return _ellipse(measure("cx", "x") or 0.0, measure("cy", "y") or 0.0, r, r)


def ellipse(measure: Measure) -> Path:
    """SVG 2 §10.4; a missing radius equals the other."""
    rx, ry = measure("rx", "x"), measure("ry", "y")
    rx, ry = (rx if rx is not None else ry or 0.0), (ry if ry is not None else rx or 0.0)
    return _ellipse(measure("cx", "x") or 0.0, measure("cy", "y") or 0.0, rx, ry)


def line(measure: Measure) -> Path:
    """SVG 2 §10.5."""
    out = PathBuilder()
    out.move(measure("x1", "x") or 0.0, measure("y1", "y") or 0.0)
    out.line(measure("x2", "x") or 0.0, measure("y2", "y") or 0.0)
    return out.path


def poly(points: str, closed: bool) -> Path:
    """SVG 2 §10.6 and §10.7; an odd last number is ignored. Raise `PathFault` where a number is far too large."""
    values = numbers(points)
    if values and max(map(abs, values)) > BIGGEST:
        count = next(i for i, value in enumerate(values) if abs(value) > BIGGEST)
        fault = PathFault("a number is far too large for a drawing", offset_of_number(points, count))
        fault.path = poly(points[: fault.at], False)
        raise fault
    out = PathBuilder()
    if len(values) < 4:
        return out.path
    out.move(values[0], values[1])
    for i in range(2, len(values) - 1, 2):
        out.line(values[i], values[i + 1])
    if closed:
        out.close()
    return out.path
