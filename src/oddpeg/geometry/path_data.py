"""Contours → path data, the text of a `d` attribute (SVG 2 §9.3)."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np

from oddpeg.geometry.arrays import Ints
from oddpeg.geometry.contours import ContourSegments


def path_data(
    segments: ContourSegments,
    owner: Ints,
    count: int,
    number: Callable[[float], str] | None = None,
    relative: bool = False,
) -> list[str]:
    """Return the path data of `count` outlines, "" for one without contours.

    Args:
        owner: number of the outline of each contour, in rising order.
        number: function that formats a coordinate; None if all are whole numbers.
        relative: write relative commands.
    """
    base = segments.start if relative else np.zeros_like(segments.start)
    columns = np.stack([segments.start, segments.control - base, segments.stop - base], axis=1)
    flat = columns.view(np.float64).reshape(-1, 6)
    rows: Any = flat.astype(np.int64).tolist()
    if number is not None:
        rows = [list(map(number, row)) for row in flat.tolist()]
    begins = np.append(True, segments.contour[1:] != segments.contour[:-1]).tolist()
    line, curve = ("l", "q") if relative else ("L", "Q")
    pieces = [
        (f"zM{x} {y}" if new else "") + (f"{line}{bx} {by}" if straight else f"{curve}{cx} {cy} {bx} {by}")
        for new, straight, (x, y, cx, cy, bx, by) in zip(begins, segments.line.tolist(), rows, strict=True)
    ]
    bounds = np.searchsorted(owner[segments.contour], np.arange(count + 1)).tolist()
    return ["".join(pieces[low:high])[1:] + "z" if high > low else "" for low, high in pairwise(bounds)]


def decimal(digits: int) -> Callable[[float], str]:
    """Return a function that writes a number with at most `digits` decimals, as short as SVG allows."""

    def write(value: float) -> str:
        text = f"{value:.{digits}f}"
        text = text.rstrip("0").rstrip(".") if "." in text else text
        if text in ("-0", ""):
            return "0"
        return text.replace("0.", ".", 1) if text.startswith(("0.", "-0.")) else text

    return write


def general(value: float) -> str:
    """Return a number with at most six significant digits."""
    return f"{value:g}"
