"""Finding icons by half-remembered words: over names, aliases, tags, titles and codepoints; in any order, forgiving,
ranked.

Knows: words and how near they are to each other. Does not know: who asks.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from oddpeg.iconset.model import Icon

_WORD = re.compile(r"\w+")
# how much a word counts by where it stands
_NAME, _ALIAS, _TAG, _TITLE, _TEXT = 1.0, 0.9, 0.75, 0.6, 0.35
_WHOLE, _START, _INSIDE, _NEAR = 1.0, 0.8, 0.5, 0.4  # how much by how it fits


class Hit(NamedTuple):
    """An icon and how well it fits, 0 to 1. by: the words of the icon that fitted."""

    icon: Icon
    score: float
    by: tuple[str, ...]


def plain(text: str) -> str:
    """Return a text in small letters without accents."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.lower()) if not unicodedata.combining(c))


def find(icons: Iterable[Icon], query: str, synonyms: Mapping[str, Iterable[str]]) -> list[Hit]:
    """Return the icons that fit every word of a query, best first. synonyms: word → words that mean the same here."""
    asked, among = _WORD.findall(plain(query)), list(icons)
    hits = [hit for icon in among if (hit := _hit(icon, query, asked, synonyms, slips=False))]
    if not hits:  # only then is a word taken for another that differs by a slip
        hits = [hit for icon in among if (hit := _hit(icon, query, asked, synonyms, slips=True))]
    return sorted(hits, key=lambda h: (-h.score, len(h.icon.name), h.icon.name))


def _hit(icon: Icon, query: str, asked: list[str], synonyms: Mapping[str, Iterable[str]], slips: bool) -> Hit | None:
    if query == icon.character or query.lower().removeprefix("u+").removeprefix("0x").removeprefix("\\") == icon.hex:
        return Hit(icon, 1.0, (f"U+{icon.hex.upper()}",))
    words = _words(icon)
    total, by = 0.0, []
    for word in asked:
        best, found = 0.0, ""
        for means, worth in ((word, 1.0), *((plain(s), 0.9) for s in synonyms.get(word, ()))):
            for own, place in words:
                score = worth * place * _fit(means, own, slips)
                if score > best:
                    best, found = score, own
        if not best:
            return None
        total += best
        by.append(found)
    if not asked:
        return None
    named = plain(icon.name).replace("-", " ") == " ".join(asked)
    return Hit(
        icon, round(min(1.0, total / len(asked)) * (1.0 if named else 0.95), 6), tuple(dict.fromkeys(by))
    )  # equal is equal


def _words(icon: Icon) -> list[tuple[str, float]]:
    texts = (
        (icon.name, _NAME),
        *((a, _ALIAS) for a in icon.aliases),
        *((t, _TAG) for t in icon.tags),
        (icon.title, _TITLE),
        (icon.description, _TEXT),
    )
    return [(word, place) for text, place in texts for word in _WORD.findall(plain(text).replace("-", " "))]


def _fit(asked: str, own: str, slips: bool) -> float:
    if asked == own:
        return _WHOLE
    if own.startswith(asked):
        return _START
    if len(asked) > 2 and asked in own:
        return _INSIDE
    if slips and len(asked) > 3 and abs(len(asked) - len(own)) < 2 and _one_slip(asked, own):
        return _NEAR
    return 0.0


def _one_slip(a: str, b: str) -> bool:
    """Return whether one letter more, less, other, or two swapped make one word of the other."""
    if len(a) > len(b):
        a, b = b, a
    at = next((i for i, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), len(a))
    if len(a) < len(b):
        return a[at:] == b[at + 1 :]
    return a[at + 1 :] == b[at + 1 :] or (a[at : at + 2] == b[at : at + 2][::-1] and a[at + 2 :] == b[at + 2 :])
