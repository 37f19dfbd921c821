"""Codepoints that were found elsewhere, taken over into the pegboard.

Knows: which names match which icons. Does not know: where the names come from.
"""

from __future__ import annotations

import difflib
from dataclasses import dataclass, field

from oddpeg.iconset.names import icon_name
from oddpeg.pegboard.board import ALIAS, LIVE, RETIRED, Peg, Pegboard, refusal, spell


@dataclass(slots=True)
class Adoption:
    """taken: icons that now hold the found codepoint; same: held it already; moved: (icon, from, to), only if asked
    for; stays: (icon, own codepoint, found one), where it was not; reserved: names without a drawing, retired at
    once; near: found name → icons it may mean; refused: (name, codepoint, why); waiting: icons that the file does not
    know; nameless: codepoints that are held already and that the file has no name for."""

    board: Pegboard
    taken: list[str] = field(default_factory=list)
    same: list[str] = field(default_factory=list)
    moved: list[tuple[str, int, int]] = field(default_factory=list)
    stays: list[tuple[str, int, int]] = field(default_factory=list)
    reserved: list[str] = field(default_factory=list)
    near: dict[str, list[str]] = field(default_factory=dict)
    refused: list[tuple[str, int, str]] = field(default_factory=list)
    waiting: list[str] = field(default_factory=list)
    nameless: int = 0


def adopt(
    board: Pegboard, found: list[tuple[str, int]], icons: set[str], strip: str, move: bool, reserve: bool
) -> Adoption:
    """Take over (name, codepoint) pairs. strip: a prefix that the found names carry; move: pegs that hold another
    codepoint move; reserve: what has no drawing keeps its codepoint from being given away."""
    result = Adoption(Pegboard(dict(board.pegs)))
    known = icons | {n for n, p in board.pegs.items() if p.state != ALIAS}
    pairs = [(icon_name(name.removeprefix(strip)), name, code) for name, code in found]
    meant = {own for own, _, _ in pairs}
    for own, name, code in sorted(pairs, key=lambda pair: (pair[0] not in known, pair[2])):
        if not own and result.board.holder(code) is not None:
            result.nameless += 1
        elif reason := refusal(code):
            result.refused.append((name or own, code, reason))
        elif own in known:
            _match(result, own, code, icons, move)
        elif reserve:
            _reserve(result, own or f"unnamed-{code:04x}", code)
        if (
            own
            and own not in known
            and (near := difflib.get_close_matches(own, sorted(known - meant), n=3, cutoff=0.7))
        ):
            result.near[name] = near
    result.waiting = sorted(icons - meant)
    return result


def _match(result: Adoption, icon: str, code: int, icons: set[str], move: bool) -> None:
    pegs = result.board.pegs
    holder = result.board.holder(code)
    mine = pegs.get(icon)
    if holder == icon:
        result.same.append(icon)
    elif icon in result.taken or any(icon == m[0] for m in result.moved):
        result.refused.append((icon, code, f"comes a second time; {icon} holds {spell(pegs[icon].codepoint)}"))
    elif holder is not None:
        result.refused.append((icon, code, f"is held by {holder!r}"))
    elif mine is None:
        pegs[icon] = Peg(icon, code, LIVE if icon in icons else RETIRED)
        result.taken.append(icon)
    elif move:
        pegs[icon] = Peg(icon, code, mine.state)
        result.moved.append((icon, mine.codepoint, code))
    else:
        result.stays.append((icon, mine.codepoint, code))


def _reserve(result: Adoption, name: str, code: int) -> None:
    holder = result.board.holder(code)
    if holder is not None:
        result.refused.append((name, code, f"is held by {holder!r}"))
    elif name in result.board.pegs:
        result.refused.append((name, code, "its name is on the pegboard already"))
    else:
        result.board.pegs[name] = Peg(name, code, RETIRED)
        result.reserved.append(name)
