"""Codepoints that were found elsewhere, taken over into the pegboard."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.iconset.names import icon_name
from oddpeg.pegboard.board import CodepointMove, Peg, Pegboard
from oddpeg.pegboard.codes import refusal, spell
from oddpeg.pegboard.states import State
from oddpeg.reports import Key
from oddpeg.suggestions import Guesses


class Refused(NamedTuple):
    """A codepoint that was skipped."""

    name: Annotated[str, Key("name in the file")]
    codepoint: Annotated[int, Key("codepoint")]
    why: Annotated[str, Key("reason, in words")]


@dataclass(slots=True)
class Adoption:
    """The result of adopting codepoints.

    Attributes:
        board: the new pegboard.
        taken: icons that got a codepoint of the file.
        same: icons that had it already.
        moved: icons whose codepoint changed, if moves were requested.
        stays: icons that kept their codepoint (before), not the one in the file (after).
        reserved: names without a drawing, retired at once.
        near: name in the file → icons with similar names.
        refused: codepoints that cannot be used.
        waiting: icons that are not in the file.
        nameless: number of codepoints that are held and have no name in the file.
    """

    board: Pegboard
    taken: list[str] = field(default_factory=list)
    same: list[str] = field(default_factory=list)
    moved: list[CodepointMove] = field(default_factory=list)
    stays: list[CodepointMove] = field(default_factory=list)
    reserved: list[str] = field(default_factory=list)
    near: dict[str, list[str]] = field(default_factory=dict)
    refused: list[Refused] = field(default_factory=list)
    waiting: list[str] = field(default_factory=list)
    nameless: int = 0


def adopt(
    board: Pegboard, pairs_in_map: list[tuple[str, int]], icons: set[str], strip: str, move: bool, reserve: bool
) -> Adoption:
    """Adopt (name, codepoint) pairs.

    Args:
        strip: prefix to remove from names.
        move: change the codepoint of pegs that hold another one.
        reserve: reserve the codepoints of names without a drawing.
    """
    work = _Adopting(board, icons, move)
    result = work.result
    known = icons | {n for n, p in board.pegs.items() if p.state is not State.ALIAS}
    pairs = [(icon_name(name.removeprefix(strip)), name, code) for name, code in pairs_in_map]
    meant = {own_name for own_name, _, _ in pairs}
    guesses = Guesses(known - meant)
    for own_name, name, code in sorted(pairs, key=lambda pair: (pair[0] not in known, pair[2])):
        if not own_name and code in work.holders:
            result.nameless += 1
        elif reason := refusal(code):
            result.refused.append(Refused(name or own_name, code, reason))
        elif own_name in known:
            work.match(own_name, code)
        elif reserve:
            work.reserve(own_name or f"unnamed-{code:04x}", code)
        if own_name and own_name not in known and (near := guesses.nearest(own_name, 3, 0.7)):
            result.near[name] = near
    result.waiting = sorted(icons - meant)
    return result


class _Adopting:
    """An adoption under way. holders: icons by the codepoint they hold; changed: icons that took one over already."""

    def __init__(self, board: Pegboard, icons: set[str], move: bool) -> None:
        self.result = Adoption(Pegboard(dict(board.pegs)))
        self.holders = {p.codepoint: p.icon for p in board.pegs.values() if p.state is not State.ALIAS}
        self.changed: set[str] = set()
        self._icons, self._move = icons, move

    def match(self, icon: str, code: int) -> None:
        """Give an icon the codepoint that the file has for its name."""
        result, pegs = self.result, self.result.board.pegs
        holder, mine = self.holders.get(code), pegs.get(icon)
        if holder == icon:
            result.same.append(icon)
        elif icon in self.changed:
            why = f"comes a second time; {icon} holds {spell(pegs[icon].codepoint)}"
            result.refused.append(Refused(icon, code, why))
        elif holder is not None:
            result.refused.append(Refused(icon, code, f"is held by {holder!r}"))
        elif mine is None:
            self._put(Peg(icon, code, State.LIVE if icon in self._icons else State.RETIRED))
            result.taken.append(icon)
        elif self._move:
            self.holders.pop(mine.codepoint, None)
            self._put(Peg(icon, code, mine.state))
            result.moved.append(CodepointMove(icon, mine.codepoint, code))
        else:
            result.stays.append(CodepointMove(icon, mine.codepoint, code))

    def reserve(self, name: str, code: int) -> None:
        """Keep the codepoint of a name without a drawing from being given away."""
        result = self.result
        holder = self.holders.get(code)
        if holder is not None:
            result.refused.append(Refused(name, code, f"is held by {holder!r}"))
        elif name in result.board.pegs:
            result.refused.append(Refused(name, code, "its name is on the pegboard already"))
        else:
            self._put(Peg(name, code, State.RETIRED))
            result.reserved.append(name)

    def _put(self, peg: Peg) -> None:
        self.result.board.pegs[peg.icon] = peg
        self.holders[peg.codepoint] = peg.icon
        self.changed.add(peg.icon)
