"""What somebody probably meant: the nearest of the words that exist."""

from __future__ import annotations

from collections.abc import Iterable


def nearest(word: str, known: Iterable[str], limit: int = 3, cutoff: float = 0.6) -> list[str]:
    """Return the words that are most like `word`, best first. cutoff: how alike they must be, 0 to 1."""
    import difflib  # takes longer to load than most commands need

    return difflib.get_close_matches(word, list(known), n=limit, cutoff=cutoff) if len(word) <= 200 else []


def did_you_mean(word: str, known: Iterable[str], otherwise: str) -> str:
    """Return a cure that names the nearest words, or another where none is near."""
    near = nearest(word, known)
    return f"did you mean {', '.join(near)}?" if near else otherwise


MOST_COMPARISONS = 200_000  # of names, for all guesses of one command: some seconds' work


class Guesses:
    """Near names for many words, as long as they can be had in no time: where thousands of words are unknown, it is not
    their spelling that is wrong."""

    def __init__(self, known: Iterable[str]) -> None:
        self._known = sorted(known)
        self._left = MOST_COMPARISONS

    def nearest(self, word: str, limit: int = 3, cutoff: float = 0.6) -> list[str]:
        """Return the known words that are most like one, best first; none once too many were compared."""
        self._left -= len(self._known)
        return nearest(word, self._known, limit, cutoff) if self._left >= 0 and len(word) <= 200 else []
