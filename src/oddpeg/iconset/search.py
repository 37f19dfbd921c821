"""Finding icons by half-remembered words: over names, aliases, tags, titles and codepoints; in any order, forgiving,
ranked.

The specimen page ranks by the same rules: `RULES` is handed to its script, which works them out in the same way.
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Annotated, NamedTuple, Protocol

from oddpeg.iconset.model import Icon
from oddpeg.reports import Key, reported

# how much a word counts by where it stands
PLACES = {"name": 1.0, "alias": 0.9, "tag": 0.75, "title": 0.6, "text": 0.35}
# and by how it fits
MATCHES = {"whole": 1.0, "start": 0.8, "stem": 0.7, "inside": 0.5, "slip": 0.4, "slip_start": 0.3}
OTHER = 0.7  # a word of the same meaning: less than a tag
PARTLY = 0.95  # a query that is not the whole name
MIN_INSIDE, MIN_SLIP = 3, 4  # letters that a word needs to be found inside another, or with a slip
_STOPS = "a an and at for from in icon icons of on or sign symbol the to with"  # stand everywhere, and tell nothing
# what ends a word besides its stem, what takes its place, and how many letters have to be left
ENDINGS = [
    ("ies", "y", 2), ("ches", "ch", 2), ("shes", "sh", 2), ("xes", "x", 2), ("sses", "ss", 2),
    ("ing", "", 3), ("ed", "", 3), ("s", "", 3),
]  # fmt: skip
# how people write a codepoint, as regular expressions that Python and JavaScript read alike; the base of its digits
SPELLINGS = [
    (r"^&#x([0-9a-f]{1,6});?$", 16),
    (r"^&#([0-9]{1,7});?$", 10),
    (r"^(?:\\|\\u|\\u\{|u\+|0x|%u)?([0-9a-f]{4,6})\}?$", 16),
    (r"^\\u0{0,3}([0-9a-f]{5,6})$", 16),
]
SURROGATES = r"^\\u(d[89ab][0-9a-f]{2})\\u(d[c-f][0-9a-f]{2})$"
RULES = {
    "place": PLACES,
    "match": MATCHES,
    "other": OTHER,
    "partly": PARTLY,
    "min_inside": MIN_INSIDE,
    "min_slip": MIN_SLIP,
    "stop": _STOPS.split(),
    "endings": ENDINGS,
    "spellings": SPELLINGS,
    "surrogates": SURROGATES,
}

_WORD = re.compile(r"[^\W_]+")
_STOP = frozenset(_STOPS.split())


class Hit(NamedTuple):
    """An icon that a search found.

    Attributes:
        score: 0 to 1, in steps of a millionth.
        by: the words of the icon that matched.
        whole: every word of the query matches; otherwise it is among the nearest, where no icon has all of them.
    """

    icon: Annotated[Icon, Key("the icon", merged=True)]
    score: float
    by: tuple[str, ...]
    whole: bool = True

    @reported("how well it matches, 0 to 1; the best first", name="score")
    def rounded_score(self) -> float:
        """Score with three decimals."""
        return round(self.score, 3)


def plain(text: str) -> str:
    """Return a text in small letters without accents."""
    if text.isascii():
        return text.lower()
    return "".join(c for c in unicodedata.normalize("NFKD", text.lower()) if unicodedata.category(c)[0] != "M")


def words_of(text: str) -> list[str]:
    """Return the words of a text, plain: runs of letters and digits."""
    return _WORD.findall(plain(text))


def asked_words(query: str) -> list[str]:
    """Return the significant words of a query: without stop words, if others are left."""
    asked = words_of(query)
    return [word for word in asked if word not in _STOP] or asked


def stem(word: str) -> str:
    """Return a word without the ending of a plural or of a verb's form."""
    for ending, instead, least in ENDINGS:
        rest = word.removesuffix(ending)
        if rest != word and len(rest) >= least and not rest.endswith(ending):
            doubled = ending in ("ing", "ed") and len(rest) > 3 and rest[-1] == rest[-2]
            return (rest[:-1] if doubled else rest) + instead
    return word


def codepoint_asked(query: str) -> int | None:
    """Return the codepoint that a query spells, in any way that code or text does; None where it is words."""
    text = query.strip().strip("\"'").lower()
    if pair := re.match(SURROGATES, text):
        return 0x10000 + ((int(pair[1], 16) - 0xD800) << 10) + int(pair[2], 16) - 0xDC00
    for spelling, base in SPELLINGS:
        if match := re.match(spelling, text):
            return int(match[1], base)
    return ord(text) if len(text) == 1 and ord(text) > 0x7F else None


class _Query(NamedTuple):
    """A prepared query.

    Attributes:
        asked: its words.
        meanings: synonyms of each word, with their weights.
        code: the codepoint that it spells, if any.
    """

    asked: list[str]
    meanings: list[list[tuple[str, float]]]
    code: int | None


class _Icons(Protocol):
    def __getitem__(self, number: int, /) -> Icon: ...


class SearchIndex(NamedTuple):
    """Icons in the order of their names, ready to be searched.

    Attributes:
        texts: the text of each that tells whether its words need be weighed one by one (see `icon_text`).
        icons: of the same numbers.
    """

    texts: Sequence[str]
    icons: _Icons

    @staticmethod
    def of(icons: Sequence[Icon]) -> SearchIndex:
        """Return an index of icons."""
        return SearchIndex([icon_text(icon) for icon in icons], icons)


def icon_text(icon: Icon) -> str:
    """Return all the words of an icon and its codepoint in one line, plain; names without their hyphens too."""
    texts = plain(" ".join((*icon.names, *icon.tags, icon.title, icon.description)))
    return " ".join(f"{texts} {texts.replace('-', '')} {_code(icon.codepoint)}".split())


def _code(codepoint: int) -> str:
    return f"u+{codepoint:x}"


def find(index: SearchIndex, query: str, synonyms: Mapping[str, Iterable[str]]) -> list[Hit]:
    """Return the icons that match every word of a query, best first.

    If none does, return the icons that match with a typing error; if none does, the icons that match some words.
    synonyms: word → words with the same meaning.
    """
    asked = asked_words(query)
    others = ((word, synonyms.get(word, synonyms.get(stem(word), ()))) for word in asked)
    meanings = [[(word, 1.0), *((plain(s), OTHER) for s in same)] for word, same in others]
    wanted = _Query(asked, meanings, codepoint_asked(query))
    likely = (index.icons[number] for number in _may_fit(index, wanted))
    hits = [hit for icon in likely if (hit := _hit(icon, wanted, slips=False)) and hit.whole]
    if not hits:  # only then is a word taken for another that differs by a slip
        among = (index.icons[number] for number in _may_fit_partly(index, wanted))
        matching = [hit for icon in among if (hit := _hit(icon, wanted, slips=True))]
        hits = [hit for hit in matching if hit.whole] or matching
    return sorted(hits, key=lambda h: (-h.score, len(h.icon.name), h.icon.name))


def _may_fit(index: SearchIndex, query: _Query) -> list[int]:
    """Return the numbers of the icons that may match fully without a slip: their texts contain the stem of every word,
    in some meaning. Most icons are excluded here, before their words are weighed one by one."""
    candidates: Sequence[int] = range(len(index.texts))
    for meanings in query.meanings:
        stems = [_stem_part(word) for word, _ in meanings]
        candidates = [number for number in candidates if any(part in index.texts[number] for part in stems)]
    return _with_code(index, query, candidates)


def _may_fit_partly(index: SearchIndex, query: _Query) -> list[int]:
    """Return the numbers of the icons that may match some word, with a slip or without: a slip changes at most two
    adjacent letters, and leaves one third of its word unchanged."""
    parts = {_stem_part(word) for meanings in query.meanings for word, _ in meanings}
    for word in (word for meanings in query.meanings for word, _ in meanings if len(word) >= MIN_SLIP):
        third = len(word) // 3
        parts |= {word[:third], word[third : 2 * third], word[2 * third :]}
    candidates = [number for number, text in enumerate(index.texts) if any(part in text for part in parts)]
    return _with_code(index, query, candidates)


def _stem_part(word: str) -> str:
    """Return the part of a word that is in every word of the same stem."""
    return stem(word).removesuffix("y")


def _with_code(index: SearchIndex, query: _Query, candidates: Sequence[int]) -> list[int]:
    """Return numbers, and those of icons at the codepoint that a query spells."""
    if query.code is None:
        return list(candidates)
    code = _code(query.code)
    return sorted({*candidates, *(number for number, text in enumerate(index.texts) if code in text)})


def _hit(icon: Icon, query: _Query, slips: bool) -> Hit | None:
    if icon.codepoint == query.code:
        return Hit(icon, 1.0, (f"U+{icon.hex.upper()}",))
    words = list(_weighted_words(icon))
    total, by = 0.0, []
    for meanings in query.meanings:
        best, matched = 0.0, ""
        for meaning, worth in meanings:
            for word, place in words:
                score = place * (worth * _match(meaning, word, slips))
                if score > best:
                    best, matched = score, word
        total += best
        by += [matched] if best else []
    if not by:
        return None
    share = min(1.0, total / len(query.asked)) * (1.0 if words_of(icon.name) == query.asked else PARTLY)
    score = math.floor(1e6 * share + 0.5) / 1e6  # equal is equal
    return Hit(icon, score, tuple(dict.fromkeys(by)), len(by) == len(query.asked))


def _weighted_words(icon: Icon) -> Iterator[tuple[str, float]]:
    """Yield every word of an icon, and how much it counts by where it stands."""
    texts = [(icon.name, "name"), *((a, "alias") for a in icon.aliases)]
    joined = [(text.replace("-", ""), place) for text, place in texts if "-" in text]  # as people run names together
    texts += [*joined, *((t, "tag") for t in icon.tags)]
    for text, place in [*texts, (icon.title, "title"), (icon.description, "text")]:
        for word in words_of(text):
            yield word, PLACES[place]


def _match(asked: str, word: str, slips: bool) -> float:
    if asked == word:
        return MATCHES["whole"]
    if word.startswith(asked):
        return MATCHES["start"]
    if stem(asked) == stem(word):
        return MATCHES["stem"]
    if len(asked) >= MIN_INSIDE and asked in word:
        return MATCHES["inside"]
    if slips and len(asked) >= MIN_SLIP:
        if abs(len(asked) - len(word)) < 2 and _one_slip(asked, word):
            return MATCHES["slip"]
        size = len(asked)
        if any(_one_slip(asked, word[:length]) for length in (size - 1, size, size + 1) if length < len(word)):
            return MATCHES["slip_start"]
    return 0.0


def _one_slip(a: str, b: str) -> bool:
    """Return whether one letter more, less, other, or two swapped make one word of the other."""
    if len(a) > len(b):
        a, b = b, a
    at = next((i for i, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), len(a))
    if len(a) < len(b):
        return a[at:] == b[at + 1 :]
    return a[at + 1 :] == b[at + 1 :] or (a[at : at + 2] == b[at : at + 2][::-1] and a[at + 2 :] == b[at + 2 :])
