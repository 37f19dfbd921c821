"""Finding icons by half-remembered words: over names, aliases, tags, titles and codepoints; in any order, forgiving,
ranked.

The specimen page ranks by the same rules: `RULES` is handed to its script, which works them out in the same way.
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from oddpeg.iconset.model import Icon

# how much a word counts by where it stands
PLACES = {"name": 1.0, "alias": 0.9, "tag": 0.75, "title": 0.6, "text": 0.35}
MATCHES = {"whole": 1.0, "start": 0.8, "inside": 0.5, "slip": 0.4}  # and by how it fits
OTHER = 0.9  # a word of the same meaning
PARTLY = 0.95  # a query that is not the whole name
MIN_INSIDE, MIN_SLIP = 3, 4  # letters that a word needs to be found inside another, or with a slip
RULES = {
    "place": PLACES,
    "match": MATCHES,
    "other": OTHER,
    "partly": PARTLY,
    "min_inside": MIN_INSIDE,
    "min_slip": MIN_SLIP,
}

_WORD = re.compile(r"[^\W_]+")
_CODEPOINT_MARK = re.compile(r"^(u\+|0x|\\)")


class Hit(NamedTuple):
    """An icon and how well it fits.

    Attributes:
        icon: that fits.
        score: 0 to 1, in steps of a millionth.
        by: the words of the icon that fitted.
    """

    icon: Icon
    score: float
    by: tuple[str, ...]


def plain(text: str) -> str:
    """Return a text in small letters without accents."""
    if text.isascii():
        return text.lower()
    return "".join(c for c in unicodedata.normalize("NFKD", text.lower()) if unicodedata.category(c)[0] != "M")


def words_of(text: str) -> list[str]:
    """Return the words of a text, plain: runs of letters and digits."""
    return _WORD.findall(plain(text))


def find(icons: Iterable[Icon], query: str, synonyms: Mapping[str, Iterable[str]]) -> list[Hit]:
    """Return the icons that fit every word of a query, best first. synonyms: word → words that mean the same here."""
    asked, among = words_of(query), list(icons)
    meanings = [[word, *(plain(other) for other in synonyms.get(word, ()))] for word in asked]
    likely = [icon for icon in among if _may_fit(icon, query, meanings)]
    hits = [hit for icon in likely if (hit := _hit(icon, query, asked, synonyms, slips=False))]
    if not hits:  # only then is a word taken for another that differs by a slip
        hits = [hit for icon in among if (hit := _hit(icon, query, asked, synonyms, slips=True))]
    return sorted(hits, key=lambda h: (-h.score, len(h.icon.name), h.icon.name))


def _may_fit(icon: Icon, query: str, meanings: list[list[str]]) -> bool:
    """Return False where an icon cannot fit without a slip: some word stands nowhere in its texts, in any meaning. Most
    icons are passed over here, before their words are weighed one by one."""
    texts = plain(" ".join((*icon.names, *icon.tags, icon.title, icon.description)))
    return is_code_of(icon, query) or all(any(word in texts for word in some) for some in meanings)


def is_code_of(icon: Icon, query: str) -> bool:
    """Return whether a query is an icon's character, or its codepoint in hexadecimal."""
    return query == icon.character or _CODEPOINT_MARK.sub("", query.lower()) == icon.hex


def _hit(icon: Icon, query: str, asked: list[str], synonyms: Mapping[str, Iterable[str]], slips: bool) -> Hit | None:
    if is_code_of(icon, query):
        return Hit(icon, 1.0, (f"U+{icon.hex.upper()}",))
    words = list(_weighted_words(icon))
    total, by = 0.0, []
    for word in asked:
        best, found = 0.0, ""
        for meaning, worth in ((word, 1.0), *((plain(s), OTHER) for s in synonyms.get(word, ()))):
            for own, place in words:
                score = place * (worth * _match(meaning, own, slips))
                if score > best:
                    best, found = score, own
        if not best:
            return None
        total += best
        by.append(found)
    if not asked:
        return None
    share = min(1.0, total / len(asked)) * (1.0 if words_of(icon.name) == asked else PARTLY)
    return Hit(icon, math.floor(1e6 * share + 0.5) / 1e6, tuple(dict.fromkeys(by)))  # equal is equal


def _weighted_words(icon: Icon) -> Iterator[tuple[str, float]]:
    """Yield every word of an icon, and how much it counts by where it stands."""
    texts = [(icon.name, "name"), *((a, "alias") for a in icon.aliases), *((t, "tag") for t in icon.tags)]
    for text, place in [*texts, (icon.title, "title"), (icon.description, "text")]:
        for word in words_of(text):
            yield word, PLACES[place]


def _match(asked: str, own: str, slips: bool) -> float:
    if asked == own:
        return MATCHES["whole"]
    if own.startswith(asked):
        return MATCHES["start"]
    if len(asked) >= MIN_INSIDE and asked in own:
        return MATCHES["inside"]
    if slips and len(asked) >= MIN_SLIP and abs(len(asked) - len(own)) < 2 and _one_slip(asked, own):
        return MATCHES["slip"]
    return 0.0


def _one_slip(a: str, b: str) -> bool:
    """Return whether one letter more, less, other, or two swapped make one word of the other."""
    if len(a) > len(b):
        a, b = b, a
    at = next((i for i, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), len(a))
    if len(a) < len(b):
        return a[at:] == b[at + 1 :]
    return a[at + 1 :] == b[at + 1 :] or (a[at : at + 2] == b[at : at + 2][::-1] and a[at + 2 :] == b[at + 2 :])
