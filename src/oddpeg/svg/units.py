"""Lengths, numbers and lists of them as SVG attributes write them.

Covers units of CSS Values 4 §6 and percentages of SVG 2 §8.9.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache

from oddpeg.svg.path_data import NUMBER

_LENGTH = re.compile(rf"\s*({NUMBER})\s*([a-zA-Z]*|%)\s*")
_NUMBERS = re.compile(NUMBER)
_PER_UNIT = {
    "": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "q": 96 / 101.6,
}  # fmt: skip


@lru_cache(maxsize=8192)
def length(text: str | None, whole: float = 0.0, font_size: float = 16.0) -> float | None:
    """Return a length in user units, or None where it is absent or not understood.

    whole: what 100 % stands for; font_size: what 1 em stands for (1 ex is half of it).
    """
    if text is None:
        return None
    match = _LENGTH.fullmatch(text)
    if not match:
        return None
    value, unit = float(match[1]), match[2].lower()
    if unit == "%":
        value *= whole / 100
    elif unit in ("em", "rem"):
        value *= font_size
    elif unit in ("ex", "ch"):
        value *= font_size / 2
    elif unit in _PER_UNIT:
        value *= _PER_UNIT[unit]
    else:
        return None
    return value if math.isfinite(value) and abs(value) < 1e9 else None


def numbers(text: str) -> list[float]:
    """Return every number in a list separated by white space or commas."""
    return [float(word) for word in _NUMBERS.findall(text)]


def diagonal(width: float, height: float) -> float:
    """Return what 100 % stands for where neither direction is meant (SVG 2 §8.9)."""
    return math.hypot(width, height) / math.sqrt(2)
