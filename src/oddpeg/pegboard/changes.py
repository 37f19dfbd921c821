"""What people do to pegs by hand: rename, retire, restore. Each returns a new board and what to say of it.

Knows: the rules of the board. Does not know: files, except the names of drawings that are there.
"""

from __future__ import annotations

import difflib

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.board import ALIAS, FILE, LIVE, RETIRED, WITHDRAWN, Peg, Pegboard, spell


def peg_named(board: Pegboard, name: str) -> Peg:
    """Return an icon's peg; raise `OddPegError` with near names where there is none."""
    if name in board.pegs:
        return board.pegs[name]
    near = difflib.get_close_matches(name, board.pegs, n=3)
    raise OddPegError(
        Diagnostic(
            "unknown-peg",
            f"the pegboard holds no {name!r}",
            f"did you mean {', '.join(near)}?" if near else "see `oddpeg pegs list`",
            FILE,
        )
    )


def rename(board: Pegboard, old: str, new: str, drawings: set[str], alias: bool = True) -> tuple[Pegboard, list[str]]:
    """Give the peg of `old` the name `new`; `old` stays as an alias unless told otherwise.
    drawings: names of the icons whose drawings are there."""
    peg = peg_named(board, old)
    if peg.state == ALIAS:
        raise OddPegError(
            Diagnostic(
                "peg-is-alias",
                f"{old!r} is only an alias",
                f"rename the icon itself: {board.holder(peg.codepoint)}",
                FILE,
            )
        )
    there = board.pegs.get(new)
    if there is not None and not (there.state == ALIAS and there.codepoint == peg.codepoint):
        what = (
            f"the alias of {board.holder(there.codepoint)!r}"
            if there.state == ALIAS
            else f"{there.state} on {spell(there.codepoint)}"
        )
        raise OddPegError(
            Diagnostic(
                "peg-name-taken",
                f"{new!r} is taken already: it is {what}",
                "choose another name, or settle that one first",
                FILE,
            )
        )
    if old in drawings and new in drawings:
        raise OddPegError(
            Diagnostic(
                "two-drawings",
                f"there are drawings of both {old!r} and {new!r}",
                "delete or rename one of the two files",
                FILE,
            )
        )
    pegs = {n: p for n, p in board.pegs.items() if n not in (old, new)}
    state = LIVE if peg.state == RETIRED and new in drawings else peg.state
    pegs[new] = Peg(new, peg.codepoint, state)
    said = [f"{old} is now {new}, still on {spell(peg.codepoint)}"]
    if alias:
        pegs[old] = Peg(old, peg.codepoint, ALIAS)
        said.append(f"{old} stays as an alias in outputs; drop it with: oddpeg pegs retire {old}")
    return Pegboard(pegs), said


def retire(board: Pegboard, name: str, drawings: set[str]) -> tuple[Pegboard, list[str]]:
    """Take an icon out; its codepoint stays reserved. An alias is dropped."""
    peg = peg_named(board, name)
    pegs = dict(board.pegs)
    if peg.state == ALIAS:
        del pegs[name]
        return Pegboard(pegs), [
            f"the alias {name} is dropped; {board.holder(peg.codepoint)} stays on {spell(peg.codepoint)}"
        ]
    if peg.state == WITHDRAWN:
        return board, [f"{name} is withdrawn already"]
    pegs[name] = peg._replace(state=WITHDRAWN)
    why = "although its drawing is there" if name in drawings else "and stays so even if its drawing comes back"
    return Pegboard(pegs), [f"{name} is withdrawn, {why}; {spell(peg.codepoint)} stays reserved"]


def restore(board: Pegboard, name: str, drawings: set[str]) -> tuple[Pegboard, list[str]]:
    """Let a withdrawn icon be built again."""
    peg = peg_named(board, name)
    if peg.state in (LIVE, ALIAS):
        return board, [f"{name} is {'live' if peg.state == LIVE else 'an alias'}: there is nothing to restore"]
    if name not in drawings:
        if peg.state == RETIRED:
            raise OddPegError(
                Diagnostic(
                    "drawing-gone",
                    f"the drawing of {name!r} is gone",
                    f"put {name}.svg back among the drawings; the next build restores it",
                    FILE,
                )
            )
        return Pegboard({**board.pegs, name: peg._replace(state=RETIRED)}), [
            f"{name} is no longer withdrawn, but its drawing is gone: it comes back to {spell(peg.codepoint)} with it"
        ]
    return Pegboard({**board.pegs, name: peg._replace(state=LIVE)}), [f"{name} is live again on {spell(peg.codepoint)}"]
