"""How a set names its files: the style most names share, words they all begin or end with, sizes in names.

Knows: file names. Does not know: drawings.
"""

from __future__ import annotations

import re
from collections import Counter

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
    """Return what the way a name is written is called; "" where it is one small word, which fits any."""
    if re.fullmatch(r"[^\WA-Z_]+", name):
        return ""
    return next((title for title, form in _STYLES if form.fullmatch(name)), "a style of its own")


def unlike(files: dict[str, str], styles: Counter[str]) -> list[tuple[str, str, str]]:
    """Return (icon, what is odd about its file's name, what to do) for names out of pattern. files: icon → file name
    without ending; styles: how many are written in each."""
    found: list[tuple[str, str, str]] = []
    if styles.total() >= _ENOUGH // 2 and (usual := styles.most_common(1)[0])[1] >= _MOST * styles.total():
        found += [
            (
                icon,
                f"its file is named in {style(name)}, most others in {usual[0]}",
                "rename it, so that the set can be listed and searched as one",
            )
            for icon, name in files.items()
            if style(name) not in ("", usual[0])
        ]
    if len(files) < _ENOUGH:
        return found
    words = {icon: [w.lower() for w in _SPLIT.split(name) if w] for icon, name in files.items()}
    for at, told in ((0, "begin"), (-1, "end")):
        word, count = (
            Counter(w[at] for w in words.values() if len(w) > 1).most_common(1)[0]
            if any(len(w) > 1 for w in words.values())
            else ("", 0)
        )
        if _NEARLY_ALL * len(files) <= count < len(files):
            found += [
                (
                    icon,
                    f"its name does not {told} with {word!r}, as those of {count} others do",
                    "name it like the others, or drop that word everywhere",
                )
                for icon, w in words.items()
                if not w or w[at] != word or len(w) < 2
            ]
    sized = [icon for icon, name in files.items() if _SIZE.search(name)]
    if 0 < len(sized) <= (1 - _NEARLY_ALL) * len(files):
        found += [
            (
                icon,
                f"its name ends in a size, {files[icon]!r}, as few others do",
                "drop the size: one glyph serves all sizes",
            )
            for icon in sized
        ]
    return found
