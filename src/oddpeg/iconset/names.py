"""From a file's path to its icon's name: one rule.

The file name without its ending, in lower case; every run of characters that are not letters or digits
becomes one hyphen, none at the ends; a lower-case letter before a capital counts as a break too. Folders play no part,
unless the config wants them: then those below the glob's fixed part stand before the name, by the same rule.
"""

from __future__ import annotations

import re
import unicodedata

_BREAK = re.compile(r"(?<=[a-z0-9])(?=[A-Z])")
_ENDING = re.compile(r"\.svgz?$", re.IGNORECASE)
_PLAIN = re.compile(r"([a-z0-9]+(?:-[a-z0-9]+)*)\.svg")
_OTHER = re.compile(r"[\W_]+")


def icon_name(file: str) -> str:
    """Return the name of the icon in a file of that name; "" where it holds no letter or digit. Folders in it, if any,
    go before the file's own name."""
    if plain := _PLAIN.fullmatch(file):  # as most are: named like the icon
        return plain[1]
    stem = _ENDING.sub("", unicodedata.normalize("NFC", file))
    return _OTHER.sub("-", _BREAK.sub("-", stem)).strip("-").lower()
