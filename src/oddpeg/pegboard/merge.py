"""After a merge: a pegboard on which two sides met becomes one again, and what was shipped does not move.

Of two icons on one codepoint, the one stays that history shipped first, where history can tell; else the one that comes
first in the alphabet. Knows: conflict markers, clashes, twice pegged icons. Does not know: git; `shipped` tells.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import dataclass, field

from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.board import ALIAS, HEADER, LIVE, Codes, Peg, Pegboard, read_row, spell

Shipped = Callable[[str, int], float | None]  # (icon, codepoint) → when it was first recorded, or None

_MARKS = ("<<<<<<<", "=======", ">>>>>>>", "|||||||")


@dataclass(slots=True)
class Settled:
    """moved: (icon, from, to); dropped: (icon, codepoint given up, codepoint kept); marks: conflict markers removed."""

    board: Pegboard
    moved: list[tuple[str, int, int]] = field(default_factory=list)
    dropped: list[tuple[str, int, int]] = field(default_factory=list)
    marks: int = 0

    def said(self) -> list[str]:
        """Return what happened, line by line."""
        said = [f"{self.marks} conflict markers removed"] if self.marks else []
        said += [
            f"{icon} stays on {spell(kept)}; its other line, {spell(lost)}, is gone"
            for icon, lost, kept in self.dropped
        ]
        said += [f"MOVED {icon}: {spell(a)} → {spell(b)}" for icon, a, b in self.moved]
        return said


def settle(text: str, codes: Codes, assign: str, shipped: Shipped) -> Settled:
    """Return a sound board out of a text with conflict markers, clashes and repeated icons; raise `OddPegError` for
    lines that cannot be read at all."""
    rows, marks = _rows(text)
    result = Settled(Pegboard(), marks=marks)
    by_icon: dict[str, list[Peg]] = {}
    for peg in rows:
        by_icon.setdefault(peg.icon, []).append(peg)
    single = [_one_line(pegs, shipped, result) for _, pegs in sorted(by_icon.items())]
    by_code: dict[int, list[Peg]] = {}
    for peg in single:
        if peg.state != ALIAS:
            by_code.setdefault(peg.codepoint, []).append(peg)
    newcomers: list[Peg] = []
    for _, pegs in sorted(by_code.items()):
        first, *others = sorted(pegs, key=lambda p: (_when(shipped, p), p.icon))
        result.board.pegs[first.icon] = first
        newcomers += others
    for peg in single:
        if peg.state == ALIAS and peg.codepoint in by_code:
            result.board.pegs[peg.icon] = peg
    for peg in sorted(newcomers, key=lambda p: p.icon):
        given = result.board.assign(peg.icon, codes, assign)
        result.board.pegs[peg.icon] = Peg(peg.icon, given.codepoint, peg.state)
        result.moved.append((peg.icon, peg.codepoint, given.codepoint))
    return result


def _rows(text: str) -> tuple[list[Peg], int]:
    """Return every peg in the text, whichever side of a conflict it stands on, and how many markers there were. What
    a three-way marker shows as the common ancestor is on neither side and is passed over."""
    pegs, faults, marks, ancestor = [], [], 0, False
    for number, row in enumerate(csv.reader(io.StringIO(text.removeprefix("\ufeff"))), 1):
        if not row or [c.strip() for c in row] == HEADER:
            continue
        if row[0].startswith(_MARKS):
            marks += 1
            ancestor = row[0].startswith("|||||||") or (ancestor and not row[0].startswith(("=======", ">>>>>>>")))
            continue
        if ancestor:
            continue
        peg, fault = read_row(row, "pegboard.csv", number)
        faults += [fault] if fault else []
        pegs += [peg] if peg else []
    if faults:
        raise OddPegError(*faults)
    return pegs, marks


def _when(shipped: Shipped, peg: Peg) -> float:
    found = shipped(peg.icon, peg.codepoint)
    return float("inf") if found is None else found


def _one_line(pegs: list[Peg], shipped: Shipped, result: Settled) -> Peg:
    """Return the line that stays of all that one icon has."""
    own = [p for p in pegs if p.state != ALIAS] or pegs
    first = min(own, key=lambda p: (_when(shipped, p), p.codepoint))
    for code in sorted({p.codepoint for p in own} - {first.codepoint}):
        result.dropped.append((first.icon, code, first.codepoint))
    alike = [p for p in own if p.codepoint == first.codepoint]
    return next((p for p in alike if p.state == LIVE), first)
