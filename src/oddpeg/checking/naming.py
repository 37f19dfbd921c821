"""How a set names its files: the style most names share, words they all begin or end with, sizes in names."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

_ENOUGH = 10  # names, before a pattern can be called one
_MOST, _NEARLY_ALL = 0.6, 0.8  # shares that make a style usual, and a shared word a rule
_STYLES = (
    ("words with spaces", re.compile(r".*\s.*")),
    ("kebab-case", re.compile(r"[^\WA-Z_]+(-[^\WA-Z_]+)+")),
    ("snake_case", re.compile(r"[^\WA-Z_]+(_[^\WA-Z_]+)+")),
    ("camelCase", re.compile(r"[^\WA-Z_]+([A-Z]+[^\WA-Z_]*)+")),
    ("PascalCase", re.compile(r"[A-Z][^\WA-Z_]+([A-Z]+[^\WA-Z_]*)*")),
    ("capitals", re.compile(r"[A-Z][A-Z0-9_-]+")),
)
_SIZE = re.compile(r"[-_ ](\d{2,3})(px)?$|[-_ ]\d+x\d+$", re.IGNORECASE)
_SPLIT = re.compile(r"[\W_]+|(?<=[a-z0-9])(?=[A-Z])")


def style(name: str) -> str:
    """Return the naming style of a name; "" for one small word, which fits any style."""
    if re.fullmatch(r"[^\WA-Z_]+", name):
        return ""
    return next((title for title, form in _STYLES if form.fullmatch(name)), "another naming style")


class OddName(NamedTuple):
    """An icon whose file name differs in style from the others.

    Attributes:
        icon: name of the icon.
        what: the difference.
        cure: the correction.
    """

    icon: str
    what: str
    cure: str


def unlike(files: dict[str, str], styles: Counter[str]) -> list[OddName]:
    """Return the names out of pattern. files: icon → file name without ending; styles: how many are written in each."""
    odd_names: list[OddName] = []
    if styles.total() >= _ENOUGH // 2 and (usual := styles.most_common(1)[0])[1] >= _MOST * styles.total():
        cure = "rename it, so that the set can be listed and searched as one"
        odd_names += [
            OddName(icon, f"its file is named in {style(name)}, most others in {usual[0]}", cure)
            for icon, name in files.items()
            if style(name) not in ("", usual[0])
        ]
    if len(files) < _ENOUGH:
        return odd_names
    return [*odd_names, *_without_shared_word(files), *_with_size(files)]


def _without_shared_word(files: dict[str, str]) -> Iterator[OddName]:
    """Yield names that lack the word with which nearly all others begin or end."""
    words = {icon: [w.lower() for w in _SPLIT.split(name) if w] for icon, name in files.items()}
    for at, verb in ((0, "begin"), (-1, "end")):
        counts = Counter(w[at] for w in words.values() if len(w) > 1).most_common(1)
        for word, count in counts:
            if _NEARLY_ALL * len(files) <= count < len(files):
                message = f"its name does not {verb} with {word!r}, as those of {count} others do"
                cure = "name it like the others, or drop that word everywhere"
                yield from (OddName(i, message, cure) for i, w in words.items() if not w or w[at] != word or len(w) < 2)


def _with_size(files: dict[str, str]) -> Iterator[OddName]:
    """Yield names that end in a size, where few do."""
    sized = [icon for icon, name in files.items() if _SIZE.search(name)]
    if 0 < len(sized) <= (1 - _NEARLY_ALL) * len(files):
        cure = "drop the size: one glyph serves all sizes"
        yield from (OddName(i, f"its name ends in a size, {files[i]!r}, as few others do", cure) for i in sized)
