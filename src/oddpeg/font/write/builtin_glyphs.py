"""The glyphs that are not icons: the box for missing characters, and the space."""

from __future__ import annotations

import numpy as np

from oddpeg.font.write.glyphset import Glyph


def _polygon(*points: tuple[float, float]) -> list[tuple[int, int]]:
    return [(round(x), round(y)) for x, y in points]


def missing(units: int, ascender: int) -> Glyph:
    """Return .notdef: a box with a slash, unlike any icon, so that a wrong codepoint is recognised at once."""
    base = ascender - units
    left, right, low, high = 0.14 * units, 0.86 * units, base + 0.08 * units, base + 0.92 * units
    pen, lean = 0.06 * units, 0.045 * units
    inner = (left + pen, right - pen, low + pen, high - pen)
    contours = [
        _polygon((left, low), (left, high), (right, high), (right, low)),  # clockwise: filled
        _polygon((inner[0], inner[2]), (inner[1], inner[2]), (inner[1], inner[3]), (inner[0], inner[3])),
        _polygon(  # the slash stops short of the box, so that no two contours overlap
            (inner[0] + lean, inner[2] + 2 * lean), (inner[1] - 2 * lean, inner[3] - lean),
            (inner[1] - lean, inner[3] - 2 * lean), (inner[0] + 2 * lean, inner[2] + lean),
        ),
    ]  # fmt: skip
    points = [p for contour in contours for p in contour]
    ends = np.cumsum([len(c) for c in contours]) - 1
    return Glyph(".notdef", None, units, np.array(points), np.ones(len(points), dtype=bool), ends)


def letter(character: str, units: int) -> Glyph:
    """Return a letter that draws nothing, for typing names; half an em wide, so that text without a ligature leaves a
    gap."""
    return space(units)._replace(name="hyphen" if character == "-" else character, codepoint=ord(character))


def space(units: int) -> Glyph:
    """Return the space: half an em of nothing."""
    nothing = np.zeros(0, dtype=np.int64)
    return Glyph("space", 0x20, units // 2, np.zeros((0, 2), dtype=np.int64), np.zeros(0, dtype=bool), nothing)
