"""How a key of `oddpeg.toml` is declared: everything but its type and default, which its table's field has.

From the declarations in `settings` follow the validation of a file, its defaults, the reference table and the JSON
Schema.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from typing import Any, NamedTuple

RANGE = re.compile(r"\s*U\+([0-9A-Fa-f]{1,6})\s*-\s*U\+([0-9A-Fa-f]{1,6})\s*")


class Choices(NamedTuple):
    """The texts that a value can have.

    Attributes:
        noun: term for the value in messages, as in "is not a font format".
        names: function that returns the texts, called late because it may load code.
    """

    noun: str
    names: Callable[[], Collection[str]]


class Rule(NamedTuple):
    """The declaration of one key.

    Attributes:
        doc: meaning, for the reference and for editors.
        pattern, hint: regular expression that the whole text must match, and the message if it does not.
        choices: permitted texts.
        least, most: limits of a number.
        check: function that raises ValueError for a wrong value.
        filled: an empty text or list is an error.
    """

    doc: str = ""
    pattern: str = ""
    hint: str = ""
    choices: Choices | None = None
    least: float | None = None
    most: float | None = None
    check: Callable[[Any], None] | None = None
    filled: bool = False


def _fonts() -> Collection[str]:
    from oddpeg.outputs.registry import FONT_KINDS

    return FONT_KINDS


def _outputs() -> Collection[str]:
    from oddpeg.outputs.registry import KINDS

    return KINDS


def _findings() -> Collection[str]:
    from oddpeg.diagnostic_codes import FINDING_CODES

    return FINDING_CODES


REPACK_FORMAT = Choices("a format that fonts are repacked in", lambda: ("woff2", "woff", "ttf"))
AXIS = Choices("an axis", lambda: ("weight",))
FONT_FORMAT = Choices("a font format", _fonts)
OUTPUT_KIND = Choices("a kind of output", _outputs)
FINDING = Choices("a finding", _findings)

# all but other ASCII, in the words that regular expressions of every language share: editors read them in the schema
_NAME = r"-?[^\x00-@\[-^`{-\x7f][^\x00-,./:-@\[-^`{-\x7f]*"
_NAME_HINT = "must start with a letter and hold letters, digits, - and _ only"
CLASS_NAME = Rule(pattern=_NAME, hint=_NAME_HINT)
OPTIONAL_CLASS_NAME = Rule(pattern=f"({_NAME})?", hint=_NAME_HINT)
CSS_VALUE = Rule(
    pattern=r"[\w.%#,+*/ ()-]+",
    hint="must be a CSS value such as 1.5em, #0a7 or var(--warn)",
    check=lambda text: check_css_value(text),
)
COLOUR = Rule(check=lambda text: check_colour(text))
FILLED = Rule(filled=True)


def check_css_value(text: str) -> None:
    """Raise ValueError where a value would swallow the text after it in a stylesheet."""
    depth = 0
    for character in text:
        depth += (character == "(") - (character == ")")
        if depth < 0:
            break
    if depth or "/*" in text or "*/" in text:
        raise ValueError("has a bracket or a comment that is not closed; must be a CSS value such as calc(1em + 2px)")


def check_colour(text: str) -> None:
    """Raise ValueError where a text is no colour of CSS."""
    from oddpeg.svg.paint import colour_of

    if colour_of(text) is None:
        raise ValueError(f"is no colour: {text!r}; write it as #c1492c, rgb(193 73 44) or a CSS colour name")


def check_family(text: str) -> None:
    """Raise ValueError where a text cannot be a font's family name."""
    from oddpeg.font.write.info import ascii_words

    if not ascii_words(text) or not any(c.isalpha() for c in text):
        raise ValueError("needs at least one letter: file names and font names are made from it")
    if len(text) > 63 or any(ord(c) < 32 for c in text):
        raise ValueError("must be one line of at most 63 characters")


def check_ranges(value: str | list[str]) -> None:
    """Raise ValueError where a text, or one of a list, is not a range of codepoints."""
    for text in [value] if isinstance(value, str) else value:
        match = RANGE.fullmatch(text)
        if not match:
            raise ValueError('must look like "U+E000-U+F8FF", or be a list of such ranges')
        first, last = int(match[1], 16), int(match[2], 16)
        if first > last or last > 0x10FFFF:
            raise ValueError("must go from a smaller codepoint to a larger one, at most U+10FFFF")
    if not value:
        raise ValueError("needs at least one range")
