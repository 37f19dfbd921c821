"""A sanded drawing: the outline written as the plainest SVG there is, one path that needs no further work.

Knows: path data of SVG 2 §9.3. Does not know: files. Reading it back gives the
same glyph, give or take the rounding of where two contours meet.
"""

from __future__ import annotations

import math

import numpy as np

from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em
from oddpeg.outline.rounding import segments


def sanded(outline: Outline, em: Em, height: float) -> str:
    """Return an SVG file; its viewBox begins at nought and is `height` high, as the drawing's own was."""
    width, path = plain_path(outline, em, height)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {_number(height, 6)}"><path d="{path}"/></svg>\n'
    )


def plain_path(outline: Outline, em: Em, height: float) -> tuple[str, str]:
    """Return the width of the frame and the path data, in units of which the frame is `height` high."""
    scale = height / em.units
    digits = max(0, math.ceil(-math.log10(scale / 4)))  # a quarter of a font unit: rounding finds the same unit again
    start, control, stop, number = segments(outline.z, outline.on, outline.contour)
    curved = ~_lines(outline, outline.contour)
    place = [scale * (np.conj(z) + 1j * em.ascender) for z in (start, control, stop)]
    parts: list[str] = []
    last = -1
    for a, c, b, bent, n in zip(*(p.tolist() for p in place), curved.tolist(), number.tolist(), strict=True):
        if n != last:
            parts.append(("z" if last >= 0 else "") + f"M{_pair(a, digits)}")
            last = n
        parts.append(f"Q{_pair(c, digits)} {_pair(b, digits)}" if bent else f"L{_pair(b, digits)}")
    return _number(outline.advance * scale, digits), "".join(parts) + "z"


def _lines(
    outline: Outline, contour: np.ndarray[tuple[int], np.dtype[np.int64]]
) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Return which segments are lines: those that begin and end on the curve with nothing between."""
    after = np.arange(1, len(contour) + 1)
    last = np.append(contour[1:] != contour[:-1], True)
    after[last] = np.flatnonzero(np.append(True, last[:-1]))
    kept = ~outline.on | outline.on[after]
    result: np.ndarray[tuple[int], np.dtype[np.bool_]] = outline.on[kept]
    return result


def _number(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text in ("-0", "") else text.replace("0.", ".", 1) if text.startswith(("0.", "-0.")) else text


def _pair(z: complex, digits: int) -> str:
    return f"{_number(z.real, digits)} {_number(z.imag, digits)}"
