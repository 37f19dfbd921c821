"""Patterns that select icons: by name or alias, or by tag where they begin with `#`."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fnmatch import fnmatchcase

from oddpeg.iconset.model import Icon


def matches(icon: Icon, pattern: str) -> bool:
    """Return whether a pattern, with `*`, `?` and `[…]`, selects an icon."""
    if pattern.startswith("#"):
        return any(fnmatchcase(tag, pattern[1:].lower()) for tag in icon.tags)
    return any(fnmatchcase(name, pattern) for name in icon.names)


def matches_any(icon: Icon, patterns: Iterable[str]) -> bool:
    """Return whether one of several patterns selects an icon."""
    return any(matches(icon, pattern) for pattern in patterns)


def selects(icon: Icon, only: Sequence[str], without: Sequence[str]) -> bool:
    """Return whether an icon is among `only` (all, where that is empty) and not among `without`."""
    return (not only or matches_any(icon, only)) and not matches_any(icon, without)
