"""New icons that show what an icon showed whose drawing is gone: a rename, not one icon less and one more."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.codes import spell

_EXACT = 0.9995  # share from which no difference can be told


class Alike(NamedTuple):
    """An icon that is gone, and a new one that shows the same.

    Attributes:
        share: how alike their drawings are; 1 for the same file.
    """

    old: str
    new: str
    share: float


def find_renames(found: Sequence[Alike]) -> list[list[Alike]]:
    """Return the pairs by new icon, the most alike first; files that are the same decide."""
    by_new: dict[str, list[Alike]] = {}
    for pair in sorted(found, key=lambda pair: (pair.new, -pair.share, pair.old)):
        by_new.setdefault(pair.new, []).append(pair)
    return [[pair for pair in pairs if pair.share == 1] or pairs for pairs in by_new.values()]


def rename_diagnostics(renames: Sequence[Sequence[Alike]], board: Pegboard) -> list[Diagnostic]:
    """Return one error for each new icon: the choice is the user's."""
    return [_single(pairs[0], board) if len(pairs) == 1 else _several(pairs) for pairs in renames]


def _single(pair: Alike, board: Pegboard) -> Diagnostic:
    old, new, share = pair
    how = f"nearly the same drawing ({_percent(share)} alike)"
    if share > _EXACT:
        how = "the very same drawing" if share == 1 else "the same drawing in another file"
    message = f"{old!r} is gone, and {new!r} is new with {how}: it looks renamed; nothing was written"
    code = spell(board.pegs[old].codepoint)
    cure = f"run `oddpeg pegs rename {old} {new}` to keep {code}, or build with --as-new"
    return Diagnostic("renamed-drawing", message, f"{cure} to retire the one and add the other")


def _several(pairs: Sequence[Alike]) -> Diagnostic:
    new = pairs[0].new
    names = ", ".join(f"{pair.old} ({_percent(pair.share)} alike)" for pair in pairs)
    message = f"{new!r} is new and looks like icons that are gone: {names}; nothing was written"
    cure = f"run `oddpeg pegs rename OLD {new}` with the right one, or build with --as-new to add a new icon"
    return Diagnostic("renamed-drawing", message, cure)


def _percent(share: float) -> str:
    return f"{100 * share:.1f} %"
