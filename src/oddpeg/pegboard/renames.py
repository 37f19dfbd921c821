"""Drawings that have a new name with unchanged content: a rename, not one icon less and one more."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.pegboard.board import Changes, Pegboard
from oddpeg.pegboard.codes import spell


class Rename(NamedTuple):
    """A drawing's name before and now."""

    old: str
    new: str


def find_renames(changes: Changes, before: Mapping[str, str], now: Mapping[str, str]) -> list[Rename]:
    """Return the icons that would retire while one with the same drawing would be added. before, now: digests of
    drawings by icon."""
    gone: dict[str, list[str]] = {}
    for name in changes.retired:
        if name in before:
            gone.setdefault(before[name], []).append(name)
    pairs = []
    for name in changes.added:
        digest = now.get(name)
        twins = gone.get(digest) if digest else None
        if twins:
            pairs.append(Rename(twins.pop(0), name))
    return pairs


def rename_diagnostics(renames: list[Rename], board: Pegboard) -> list[Diagnostic]:
    """Return one error for each rename that was found: the choice is the user's."""
    return [
        Diagnostic(
            "renamed-drawing",
            f"{old!r} is gone, and {new!r} is new with the very same drawing: it looks renamed; nothing was written",
            f"run `oddpeg pegs rename {old} {new}` to keep {spell(board.pegs[old].codepoint)}, or build with --as-new"
            " to retire the one and add the other",
        )
        for old, new in renames
    ]
