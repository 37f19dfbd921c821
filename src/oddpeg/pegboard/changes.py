"""Changes of pegs by hand: rename, retire, restore. Each returns a new board and messages."""

from __future__ import annotations

from collections.abc import Collection
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.board import FILE, Peg, Pegboard
from oddpeg.pegboard.codes import refusal, spell
from oddpeg.pegboard.states import Event, State
from oddpeg.suggestions import did_you_mean


class Changed(NamedTuple):
    """The board after a change by hand, and messages."""

    board: Pegboard
    said: list[str]


def _refused(code: str, message: str, cure: str) -> OddPegError:
    return OddPegError(Diagnostic(code, message, cure, FILE))


def peg_named(board: Pegboard, name: str) -> Peg:
    """Return an icon's peg; raise `OddPegError` with near names for an unknown icon."""
    if name in board.pegs:
        return board.pegs[name]
    cure = did_you_mean(name, board.pegs, "see `oddpeg pegs list`")
    raise _refused("unknown-peg", f"the pegboard holds no {name!r}", cure)


def rename(board: Pegboard, old: str, new: str, drawings: Collection[str], alias: bool = True) -> Changed:
    """Give the peg of `old` the name `new`.

    drawings: names of icons that have a drawing; alias: keep the old name as an alias. Raise `OddPegError` if the new
    name is taken, or the old one is unknown.
    """
    peg = peg_named(board, old)
    if peg.state is State.ALIAS:
        cure = f"rename the icon itself: {board.holder(peg.codepoint)}"
        raise _refused("peg-is-alias", f"{old!r} is only an alias", cure)
    taken = board.pegs.get(new)
    if taken is not None and not (taken.state is State.ALIAS and taken.codepoint == peg.codepoint):
        holder, code = board.holder(taken.codepoint), spell(taken.codepoint)
        message = f"the alias of {holder!r}" if taken.state is State.ALIAS else f"{taken.state.value} on {code}"
        cure = "choose another name, or settle that one first"
        raise _refused("peg-name-taken", f"{new!r} is taken already: it is {message}", cure)
    if old in drawings and new in drawings:
        message = f"there are drawings of both {old!r} and {new!r}"
        raise _refused("two-drawings", message, "delete or rename one of the two files")
    pegs = {n: p for n, p in board.pegs.items() if n not in (old, new)}
    renamed = peg._replace(icon=new)
    pegs[new] = renamed.then(Event.DRAWING_FOUND) if new in drawings else renamed
    messages = [f"{old} is now {new}, still on {spell(peg.codepoint)}"]
    if alias:
        pegs[old] = Peg(old, peg.codepoint, State.ALIAS)
        messages.append(f"{old} stays as an alias in outputs; drop it with: oddpeg pegs retire {old}")
    return Changed(Pegboard(pegs), messages)


def retire(board: Pegboard, name: str, drawings: Collection[str]) -> Changed:
    """Take an icon out; its codepoint stays reserved. An alias is dropped."""
    peg = peg_named(board, name)
    pegs = dict(board.pegs)
    if peg.state is State.ALIAS:
        del pegs[name]
        message = f"the alias {name} is dropped; {board.holder(peg.codepoint)} stays on {spell(peg.codepoint)}"
        return Changed(Pegboard(pegs), [message])
    if peg.state is State.WITHDRAWN:
        return Changed(board, [f"{name} is withdrawn already"])
    pegs[name] = peg.then(Event.TAKEN_OUT)
    why = "although its drawing is there" if name in drawings else "and stays so even if its drawing comes back"
    return Changed(Pegboard(pegs), [f"{name} is withdrawn, {why}; {spell(peg.codepoint)} stays reserved"])


def restore(board: Pegboard, name: str, drawings: Collection[str]) -> Changed:
    """Let a withdrawn icon be built again. Raise `OddPegError` where only its drawing could bring it back."""
    peg = peg_named(board, name)
    if peg.state in (State.LIVE, State.ALIAS):
        state = "live" if peg.state is State.LIVE else "an alias"
        return Changed(board, [f"{name} is {state}: there is nothing to restore"])
    drawn = name in drawings
    if peg.state is State.RETIRED and not drawn:
        cure = f"put {name}.svg back among the drawings; the next build restores it"
        raise _refused("drawing-gone", f"the drawing of {name!r} is gone", cure)
    pegs = {**board.pegs, name: peg.then(Event.LET_IN if drawn else Event.RELEASED)}
    code = spell(peg.codepoint)
    message = f"{name} is live again on {code}"
    gone = f"{name} is no longer withdrawn, but its drawing is gone: it comes back to {code} with it"
    return Changed(Pegboard(pegs), [message if drawn else gone])


def assign_by_hand(board: Pegboard, name: str, code: int, drawn: bool, delivered: bool) -> Changed:
    """Give an icon a certain codepoint. Raise `OddPegError` where that is taken or cannot carry an icon, or where the
    icon was delivered on another one.

    drawn: there is a drawing of it; delivered: a font that was delivered has it, and that counts.
    """
    peg, holder = board.pegs.get(name), board.holder(code)
    if reason := refusal(code):
        raise _refused("unsafe-codepoint", f"{spell(code)} {reason}", "choose one in a private use area, as U+E000")
    if holder is not None and holder != name:
        state = board.pegs[holder].state.value
        raise _refused("codepoint-taken", f"{spell(code)} is held by {holder!r} ({state})", "choose another codepoint")
    if peg is not None and peg.state is State.ALIAS:
        cure = f"name the icon itself: {board.holder(peg.codepoint)}"
        raise _refused("peg-is-alias", f"{name!r} is only an alias", cure)
    if peg is not None and peg.codepoint == code:
        return Changed(board, [f"{name} is on {spell(code)} already"])
    if peg is not None and delivered:
        message = f"{name!r} was delivered on {spell(peg.codepoint)}: what uses it there would show nothing"
        raise _refused("codepoint-delivered", message, "if nothing that was released uses it, run again with --move")
    new = Peg(name, code, State.LIVE if drawn else State.RETIRED) if peg is None else peg._replace(codepoint=code)
    aliases = {n: p._replace(codepoint=code) for n, p in board.pegs.items() if peg and p.codepoint == peg.codepoint}
    where = f"moved from {spell(peg.codepoint)} to {spell(code)}" if peg else f"is on {spell(code)}"
    waits = "" if drawn or peg else ", which waits for its drawing"
    return Changed(Pegboard({**board.pegs, **aliases, name: new}), [f"{name} {where}{waits}"])
