"""Lengths, numbers and lists of them as SVG attributes write them.

Covers units of CSS Values 4 §6 and percentages of SVG 2 §8.9.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache
from itertools import islice

from oddpeg.svg.path_data import NUMBER
from oddpeg.svg.values import work_out

_LENGTH = re.compile(rf"\s*+({NUMBER})\s*+([a-zA-Z]*+|%)\s*+")
_NUMBERS = re.compile(NUMBER)
_PER_UNIT = {
    "": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "q": 96 / 101.6,
}  # fmt: skip
# CSS Fonts 4 §2.5.1, in px
FONT_SIZES = {"xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0,
              "xx-large": 32.0, "xxx-large": 48.0}  # fmt: skip
_RELATIVE = re.compile(rf"({NUMBER})(em|ex|ch)\b", re.I)


@lru_cache(maxsize=8192)
def length(text: str | None, whole: float = 0.0, font_size: float = 16.0) -> float | None:
    """Return a length in user units, or None where it is absent or invalid.

    whole: the length of 100 %; font_size: the length of 1 em (1 ex is half of it).
    """
    if text is None:
        return None
    if "(" in text:
        value = work_out(text, lambda number, unit: _in_user_units(number, unit, whole, font_size))
    else:
        match = _LENGTH.fullmatch(text)
        value = _in_user_units(float(match[1]), match[2].lower(), whole, font_size) if match else None
    return value if value is not None and math.isfinite(value) and abs(value) < 1e9 else None


def _in_user_units(value: float, unit: str, whole: float, font_size: float) -> float | None:
    if unit == "%":
        return value * whole / 100
    if unit == "em":
        return value * font_size
    if unit == "rem":
        return value * 16.0
    if unit in ("ex", "ch"):
        return value * font_size / 2
    return value * _PER_UNIT[unit] if unit in _PER_UNIT else None


def computed_font_size(text: str, parent: float) -> float:
    """Return a valid value of font-size in px. parent: that of the parent."""
    word = text.lower()
    if word in ("smaller", "larger"):
        return parent / 1.2 if word == "smaller" else parent * 1.2
    value = FONT_SIZES.get(word, length(text, parent, parent))
    return parent if value is None else max(0.0, value)


def absolute(text: str, size: float) -> str:
    """Return lengths with units of the font replaced by px. size: of the font."""
    return _RELATIVE.sub(lambda match: f"{_in_user_units(float(match[1]), match[2].lower(), 0.0, size):.9g}px", text)


def split_values(text: str) -> list[str]:
    """Return the values of a list separated by white space or commas; functions stay whole."""
    if "(" not in text:
        return text.replace(",", " ").split()
    import tinycss2

    values = [""]
    for token in tinycss2.parse_component_value_list(text, skip_comments=True):
        if token.type == "whitespace" or (token.type == "literal" and token.value == ","):
            values.append("")
        else:
            values[-1] += token.serialize()
    return [value for value in values if value]


def numbers(text: str) -> list[float]:
    """Return every number in a list separated by white space or commas."""
    return [float(word) for word in _NUMBERS.findall(text)]


def offset_of_number(text: str, count: int) -> int:
    """Return the offset of a number in a list, in characters. count: numbers before it."""
    return next(islice(_NUMBERS.finditer(text), count, None)).start()


def diagonal(width: float, height: float) -> float:
    """Return the length of 100 % for values without a direction (SVG 2 §8.9)."""
    return math.hypot(width, height) / math.sqrt(2)
