"""Grammars of property values: the text of a value → its normal form, None where CSS ignores the declaration.

Keywords are ASCII case-insensitive (CSS Values 4 §2.1). Presentation attributes take numbers without a unit for every
length, style sheets only for some properties (SVG 2 §6.5 and §4.2).
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import NamedTuple

from oddpeg.svg.paint import parse_paint
from oddpeg.svg.path_data import NUMBER
from oddpeg.svg.transforms import UNIT_BOX, parse_origin, parse_single_transform, parse_style_transform, parse_transform
from oddpeg.svg.units import length, split_values

_NUMBER = re.compile(NUMBER)
_DISPLAYS = frozenset(
    (
        "none", "contents", "block", "inline", "run-in", "flow", "flow-root", "table", "flex", "grid", "ruby", "math",
        "list-item", "inline-block", "inline-table", "inline-flex", "inline-grid", "table-row-group", "table-row",
        "table-header-group", "table-footer-group", "table-cell", "table-column-group", "table-column",
        "table-caption", "ruby-base", "ruby-text", "ruby-base-container", "ruby-text-container", "-webkit-box",
    )
)  # fmt: skip


class Syntax(NamedTuple):
    """The grammar of a property's values.

    Attributes:
        text: the grammar in the notation of CSS, for the documentation.
        read: function that returns the normal form of a value, or None; its second argument tells whether the value is
            that of a presentation attribute.
    """

    text: str
    read: Callable[[str, bool], str | None]


def keywords(*words: str) -> Syntax:
    """Return the grammar of one of several keywords."""
    return Syntax(" | ".join(words), lambda text, _: word if (word := text.lower()) in words else None)


def lengths(*words: str, least: float | None = None, plain: bool = False) -> Syntax:
    """Return the grammar of one length or percentage.

    words: keywords that are permitted too; least: smallest value outside of calc(); plain: a style sheet may omit the
    unit.
    """

    def read(text: str, attribute: bool) -> str | None:
        if (word := text.lower()) in words:
            return word
        value = length(text, 100.0)
        if value is None or (least is not None and value < least and "(" not in text):
            return None
        needs_unit = not (attribute or plain or value == 0)
        return None if needs_unit and _NUMBER.fullmatch(text) else text

    return Syntax(" | ".join(("<length-percentage>", *(("<number>",) if plain else ()), *words)), read)


def _number(text: str, _: bool) -> str | None:
    value = length(text, 1.0)
    return None if value is None or not ("(" in text or _NUMBER.fullmatch(text.rstrip("%"))) else text


def _ratio(text: str, attribute: bool) -> str | None:
    return None if "%" in text or text.startswith("-") else _number(text, attribute)


def _dashes(text: str, attribute: bool) -> str | None:
    if text.lower() == "none":
        return "none"
    values = split_values(text)
    one = lengths(least=0.0, plain=True)
    return text if values and all(one.read(value, attribute) is not None for value in values) else None


def _paint(text: str, _: bool) -> str | None:
    return text if parse_paint(text, "black").understood else None


def _colour(text: str, _: bool) -> str | None:
    value = parse_paint(text, "black")
    plain = value.understood and not value.server and text.lower() not in ("none", "context-fill", "context-stroke")
    return text if plain else None


def _paint_order(text: str, _: bool) -> str | None:
    words = text.lower().split()
    if words == ["normal"] or (words and len(set(words)) == len(words) and {*words} <= {"fill", "stroke", "markers"}):
        return " ".join(words)
    return None


def _reference(text: str, _: bool) -> str | None:
    if text.lower() == "none":
        return "none"
    return text if "(" in text else None


def _transform(text: str, attribute: bool) -> str | None:
    if text.lower() == "none":
        return "none"
    parsed = parse_transform(text) if attribute else parse_style_transform(text, UNIT_BOX)
    return None if parsed is None else text


def _single_transform(name: str) -> Callable[[str, bool], str | None]:
    def read(text: str, _: bool) -> str | None:
        if text.lower() == "none":
            return "none"
        return None if parse_single_transform(name, text, UNIT_BOX) is None else text

    return read


def _origin(text: str, attribute: bool) -> str | None:
    return text if parse_origin(text, UNIT_BOX, attribute) is not None else None


def _path(text: str, _: bool) -> str | None:
    return "none" if text.lower() == "none" else text if text.lower().startswith("path(") else None


def _display(text: str, _: bool) -> str | None:
    words = text.lower().split()
    return " ".join(words) if words and _DISPLAYS.issuperset(words) else None


PAINT = Syntax("none | <color> | <url> [none | <color>]? | context-fill | context-stroke", _paint)
COLOUR = Syntax("<color>", _colour)
NUMBER_OR_SHARE = Syntax("<number> | <percentage>", _number)
RATIO = Syntax("<number>, not negative", _ratio)
DASHES = Syntax("none | [<length-percentage> | <number>]+", _dashes)
PAINT_ORDER = Syntax("normal | [fill || stroke || markers]", _paint_order)
REFERENCE = Syntax("none | <url>", _reference)
TRANSFORM = Syntax("none | <transform-list>", _transform)
ORIGIN = Syntax("<position>", _origin)
PATH = Syntax("none | path(<string>)", _path)
DISPLAY = Syntax("<display>", _display)
TRANSLATE, ROTATE, SCALE = (
    Syntax(f"none | {grammar}", _single_transform(name))
    for name, grammar in (
        ("translate", "<length-percentage>{1,2}"),
        ("rotate", "<angle>"),
        ("scale", "[<number> | <percentage>]{1,2}"),
    )
)
