"""What somebody probably meant: the nearest of the words that exist."""

from __future__ import annotations

from collections.abc import Iterable


def nearest(word: str, known: Iterable[str], limit: int = 3, cutoff: float = 0.6) -> list[str]:
    """Return the words that are most like `word`, best first. cutoff: how alike they must be, 0 to 1."""
    import difflib  # takes longer to load than most commands need

    return difflib.get_close_matches(word, list(known), n=limit, cutoff=cutoff)


def did_you_mean(word: str, known: Iterable[str], otherwise: str) -> str:
    """Return a cure that names the nearest words, or another where none is near."""
    near = nearest(word, known)
    return f"did you mean {', '.join(near)}?" if near else otherwise
