"""Resolution of a pegboard after a merge; icons that were shipped keep their codepoints.

Of two icons on one codepoint the one stays that was shipped first, where version control tells; otherwise the first in
alphabetical order.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, counted
from oddpeg.merges import CONFLICT_MARKS
from oddpeg.pegboard.board import CodepointMove, Peg, Pegboard
from oddpeg.pegboard.codes import Codes, spell
from oddpeg.pegboard.file_format import read_lines
from oddpeg.pegboard.states import State
from oddpeg.reports import Key

Shipped = Callable[[str, int], float | None]  # (icon, codepoint) → when it was first recorded, or None


class Dropped(NamedTuple):
    """A line of the pegboard that is gone."""

    icon: Annotated[str, Key("name")]
    codepoint: Annotated[int, Key("codepoint that it had")]
    kept: Annotated[int | None, Key("codepoint that the icon holds; null for an alias of no icon")]


@dataclass(slots=True)
class Settled:
    """The result of settling.

    Attributes:
        board: without conflicts.
        moved: newcomers that had to give way.
        dropped: lines that are gone.
        marks: how many conflict markers were removed.
        delivered: files that the merge changed, and that the next build writes anew.
    """

    board: Pegboard
    moved: list[CodepointMove] = field(default_factory=list)
    dropped: list[Dropped] = field(default_factory=list)
    marks: int = 0
    delivered: list[str] = field(default_factory=list)

    def said(self) -> list[str]:
        """Return messages, line by line."""
        messages = [f"{self.marks} conflict markers removed"] if self.marks else []
        for icon, lost, kept in self.dropped:
            if kept is None:
                messages.append(f"the alias {icon} is gone: no icon holds {spell(lost)}")
            else:
                messages.append(f"{icon} stays on {spell(kept)}; its other line, {spell(lost)}, is gone")
        if self.delivered:
            count = counted(len(self.delivered), "delivered file")
            messages.append(f"{count} that the merge changed will be written anew: run `oddpeg build`")
        return messages + [f"MOVED {icon}: {spell(a)} → {spell(b)}" for icon, a, b in self.moved]


def settle(text: str, codes: Codes, assign: str, shipped: Shipped) -> Settled:
    """Return a sound board out of a text with conflict markers, clashes and repeated icons.

    codes, assign: how newcomers get other codepoints. Raise `OddPegError` for lines that cannot be read at all.
    """
    sides = _read_sides(text)
    result = Settled(Pegboard(), marks=sides.marks)
    by_icon: dict[str, list[Peg]] = {}
    for peg in sides.pegs:
        by_icon.setdefault(peg.icon, []).append(peg)
    single = [_one_line(pegs, shipped, result) for _, pegs in sorted(by_icon.items())]
    by_code: dict[int, list[Peg]] = {}
    for peg in single:
        if peg.state is not State.ALIAS:
            by_code.setdefault(peg.codepoint, []).append(peg)
    newcomers: list[Peg] = []
    for _, pegs in sorted(by_code.items()):
        first, *others = sorted(pegs, key=lambda p: (_when(shipped, p), p.icon))
        result.board.pegs[first.icon] = first
        newcomers += others
    for peg in single:
        if peg.state is State.ALIAS and peg.codepoint in by_code:
            result.board.pegs[peg.icon] = peg
        elif peg.state is State.ALIAS:
            result.dropped.append(Dropped(peg.icon, peg.codepoint, None))
    for peg in sorted(newcomers, key=lambda p: p.icon):
        given = result.board.assign(peg.icon, codes, assign)
        result.board.pegs[peg.icon] = Peg(peg.icon, given.codepoint, peg.state)
        result.moved.append(CodepointMove(peg.icon, peg.codepoint, given.codepoint))
    return result


class _Sides(NamedTuple):
    """Every peg in a text, whichever side of a conflict it stands on, and how many conflict markers there were."""

    pegs: list[Peg]
    marks: int


def _read_sides(text: str) -> _Sides:
    """Return both sides. The common ancestor of a three-way marker is skipped."""
    pegs: list[Peg] = []
    problems: list[Diagnostic] = []
    marks, ancestor = 0, False
    for line in read_lines(text):
        mark = line.cells[0][:7]
        if mark in CONFLICT_MARKS:
            marks += 1
            ancestor = mark == "|||||||" or (ancestor and mark not in ("=======", ">>>>>>>"))
        elif not ancestor:
            problems += [line.problem] if line.problem else []
            pegs += [line.peg] if line.peg else []
    if problems:
        raise OddPegError(*problems)
    return _Sides(pegs, marks)


def _when(shipped: Shipped, peg: Peg) -> float:
    released = shipped(peg.icon, peg.codepoint)
    return float("inf") if released is None else released


def _one_line(pegs: list[Peg], shipped: Shipped, result: Settled) -> Peg:
    """Return the line that stays of all that one icon has."""
    not_aliases = [p for p in pegs if p.state is not State.ALIAS] or pegs
    first = min(not_aliases, key=lambda p: (_when(shipped, p), p.codepoint))
    for code in sorted({p.codepoint for p in not_aliases} - {first.codepoint}):
        result.dropped.append(Dropped(first.icon, code, first.codepoint))
    alike = [p for p in not_aliases if p.codepoint == first.codepoint]
    return next((p for p in alike if p.state is State.LIVE), first)
