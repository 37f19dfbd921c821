"""Drawings that bear a new name with unchanged content: a rename, not one icon less and one more.

Knows: the digests of the last build's drawings (`.oddpeg/drawings.json`; may be deleted). Does not know: pegs' states.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

from oddpeg.diagnostics import Diagnostic
from oddpeg.pegboard.board import Changes, Pegboard, spell
from oddpeg.workspace.transaction import STATE, read_icons

FILE = "drawings.json"


def digest(drawing: bytes) -> str:
    """Return what stands for a drawing's content; line ends do not count."""
    return hashlib.blake2b(drawing.replace(b"\r\n", b"\n"), digest_size=16).hexdigest()


def load_digests(root: Path) -> dict[str, str]:
    """Return the digest of each icon's drawing in the last build; nothing where there is no sound record."""
    return read_icons(root / STATE / FILE)


def find_renames(changes: Changes, before: dict[str, str], now: dict[str, str]) -> list[tuple[str, str]]:
    """Return (old, new) of icons that would retire while one with the same drawing would be added."""
    gone: dict[str, list[str]] = {}
    for name in changes.retired:
        if name in before:
            gone.setdefault(before[name], []).append(name)
    pairs = []
    for name in changes.added:
        twins = gone.get(now.get(name, ""), [])
        if twins:
            pairs.append((twins.pop(0), name))
    return pairs


def rename_faults(pairs: list[tuple[str, str]], board: Pegboard) -> list[Diagnostic]:
    """Return one fault for each rename that was found: the choice is the user's."""
    return [
        Diagnostic(
            "renamed-drawing",
            f"{old!r} is gone, and {new!r} is new with the very same drawing: it looks renamed; nothing was written",
            f"run `oddpeg pegs rename {old} {new}` to keep {spell(board.pegs[old].codepoint)}, or build with --as-new"
            " to retire the one and add the other",
        )
        for old, new in pairs
    ]
