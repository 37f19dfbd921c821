"""Suggestions: the nearest of the existing words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from functools import cached_property
from itertools import accumulate


def nearest(word: str, known: Iterable[str], limit: int = 3, cutoff: float = 0.6) -> list[str]:
    """Return the words that are most like `word`, best first. cutoff: how alike they must be, 0 to 1."""
    import difflib  # takes longer to load than most commands need

    return difflib.get_close_matches(word, list(known), n=limit, cutoff=cutoff) if len(word) <= 200 else []


def did_you_mean(word: str, known: Iterable[str], otherwise: str, limit: int = 3, cutoff: float = 0.6) -> str:
    """Return a cure that names the nearest words, or another where none is near. limit, cutoff: as in `nearest`."""
    near = nearest(word, known, limit, cutoff)
    return f"did you mean {', '.join(near)}?" if near else otherwise


MOST_COMPARISONS = 40_000  # of words, for all guesses of one command: some seconds' work
_COUNTED = 100  # pairs of letters are counted in the time of one comparison
_MOST_PAIRS = 1000  # looked at, the rarest first: what most words have tells nothing
_CANDIDATES = 20  # words compared with one word: the ones that share most pairs of letters


class Guesses:
    """Near names for many words, within a limit of comparisons: where thousands of words are unknown, spelling is not
    the cause."""

    def __init__(self, known: Iterable[str]) -> None:
        self._known = sorted(known)
        self._left = MOST_COMPARISONS

    @cached_property
    def _by_pair(self) -> dict[str, list[int]]:
        """The numbers of the known words that have a pair of letters."""
        by_pair: dict[str, list[int]] = {}
        for number, word in enumerate(self._known):
            for pair in _pairs(word):
                by_pair.setdefault(pair, []).append(number)
        return by_pair

    def nearest(self, word: str, limit: int = 3, cutoff: float = 0.6) -> list[str]:
        """Return the known words that are most like one, best first; none once too many were compared."""
        if len(word) > 200 or self._left < 0:
            return []
        by_rarity = sorted((self._by_pair.get(pair, []) for pair in _pairs(word)), key=len)
        begins = accumulate(map(len, by_rarity), initial=0)
        sharing = [numbers for numbers, begin in zip(by_rarity, begins, strict=False) if begin < _MOST_PAIRS]
        shared = Counter(number for numbers in sharing for number in numbers)
        likely = [self._known[number] for number, _ in shared.most_common(_CANDIDATES)]
        self._left -= len(likely) + sum(map(len, sharing)) // _COUNTED
        return nearest(word, likely, limit, cutoff)


def _pairs(word: str) -> set[str]:
    """Return the pairs of letters in a word, its ends included."""
    marked = f" {word.lower()} "
    return {marked[i : i + 2] for i in range(len(marked) - 1)}
