"""The pegboard: which icon holds which codepoint, for good."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.codes import Codes, refusal
from oddpeg.pegboard.states import Event, State, after
from oddpeg.reports import Key

FILE = "pegboard.csv"


class Peg(NamedTuple):
    """An icon's hold on a codepoint."""

    icon: str
    codepoint: int
    state: State = State.LIVE

    def then(self, event: Event) -> Peg:
        """Return the peg after an event."""
        state = after(self.state, event)
        return self if state is self.state else self._replace(state=state)


class CodepointMove(NamedTuple):
    """An icon on another codepoint."""

    icon: Annotated[str, Key("name")]
    before: Annotated[int, Key("codepoint before", name="from")]
    after: Annotated[int, Key("codepoint now", name="to")]


@dataclass
class Changes:
    """Changes that a build made to the pegboard, by names of icons."""

    added: Annotated[list[str], Key("new icons")] = field(default_factory=list)
    retired: Annotated[list[str], Key("icons whose drawings are gone")] = field(default_factory=list)
    restored: Annotated[list[str], Key("icons whose drawings came back")] = field(default_factory=list)
    withdrawn: Annotated[list[str], Key("icons taken out by hand although their drawings exist")] = field(
        default_factory=list
    )


class Updated(NamedTuple):
    """The board after a build, and the changes."""

    board: Pegboard
    changes: Changes


@dataclass
class Pegboard:
    """Pegs by icon name."""

    pegs: dict[str, Peg] = field(default_factory=dict)
    _taken: set[int] | None = field(default=None, repr=False, compare=False)
    _cursor: int = field(default=0, repr=False, compare=False)

    def in_state(self, *states: State) -> list[Peg]:
        """Return the pegs in these states, by name."""
        return [peg for _, peg in sorted(self.pegs.items()) if peg.state in states]

    def aliases(self) -> dict[int, list[str]]:
        """Return alias names, sorted, by codepoint."""
        by_codepoint: dict[int, list[str]] = {}
        for peg in self.in_state(State.ALIAS):
            by_codepoint.setdefault(peg.codepoint, []).append(peg.icon)
        return by_codepoint

    def holder(self, codepoint: int) -> str | None:
        """Return the icon that holds a codepoint."""
        pegs = self.pegs.values()
        return next((p.icon for p in pegs if p.codepoint == codepoint and p.state is not State.ALIAS), None)

    def free(self, codes: Codes) -> int:
        """Return how many codepoints can still be given out."""
        taken = {peg.codepoint for peg in self.pegs.values()}
        return sum(1 for part in codes.ranges for code in part if code not in taken and not refusal(code))

    def known(self, names: list[str]) -> Updated:
        """Return the board once some names have drawings; names without a peg do not count. Raise `OddPegError` where a
        drawing has the name of an alias."""
        return self.update([name for name in names if name in self.pegs], Codes(()))

    def update(
        self, names: list[str], codes: Codes, assign: str = "next", wanted_codes: Mapping[str, int] | None = None
    ) -> Updated:
        """Return the board once exactly `names` have drawings: known icons keep their codepoints, new ones get free
        ones out of `codes`, the others retire.

        assign: "next" or "hashed", as for `assign`; wanted_codes: of new icons that come with one, which they get where
        it is free. Raise `OddPegError` where the codes are used up, or a drawing
        has the name of an alias.
        """
        changes, pegs, wanted = Changes(), dict(self.pegs), set(names)
        for name, peg in self.pegs.items():
            pegs[name] = peg.then(Event.DRAWING_FOUND if name in wanted else Event.DRAWING_MISSED)
            if name in wanted and peg.state is State.WITHDRAWN:
                changes.withdrawn.append(name)
            elif pegs[name].state is not peg.state:
                (changes.restored if pegs[name].state is State.LIVE else changes.retired).append(name)
        self._refuse_aliases(wanted)
        board = Pegboard(pegs)
        fresh, brought = sorted(wanted - set(pegs)), wanted_codes or {}
        for name in sorted(fresh, key=lambda name: name not in brought):  # icons that bring a codepoint come first
            if not board.take(name, brought.get(name)):
                board.assign(name, codes, assign)
        changes.added += fresh
        return Updated(board, changes)

    def take(self, name: str, code: int | None) -> bool:
        """Give an icon a codepoint that it comes with; return whether that was free."""
        if self._taken is None:
            self._taken = {peg.codepoint for peg in self.pegs.values()}
        if code is None or refusal(code) or code in self._taken:
            return False
        self._taken.add(code)
        self.pegs[name] = Peg(name, code)
        return True

    def _refuse_aliases(self, wanted: set[str]) -> None:
        taken = [peg for name in sorted(wanted) if (peg := self.pegs.get(name)) and peg.state is State.ALIAS]
        if taken:
            raise OddPegError(
                *(
                    Diagnostic(
                        "alias-drawing",
                        f"there is a drawing for {peg.icon!r}, which is the alias of {self.holder(peg.codepoint)!r}",
                        f"rename the drawing, or drop the alias with `oddpeg pegs retire {peg.icon}`",
                        FILE,
                    )
                    for peg in taken
                )
            )

    def assign(self, name: str, codes: Codes, how: str) -> Peg:
        """Give an icon a free codepoint: the first, or (how "hashed") the first from where its name points to."""
        if self._taken is None:
            self._taken = {peg.codepoint for peg in self.pegs.values()}
        hashed = how == "hashed"
        digest = int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big")
        start = digest % len(codes) if hashed else self._cursor
        for step in range(len(codes)):
            index = (start + step) % len(codes)
            code = codes.at(index)
            if code not in self._taken and not refusal(code):
                self._taken.add(code)
                self._cursor = self._cursor if hashed else index + 1
                self.pegs[name] = Peg(name, code)
                return self.pegs[name]
        message = f"no codepoint is free for {name!r}: all {len(codes):,} of {codes} are taken"
        cure = 'add a range in oddpeg.toml: pegs.range = ["U+E000-U+F8FF", "U+F0000-U+FFFFD"]'
        raise OddPegError(Diagnostic("codepoints-used-up", message, cure))
