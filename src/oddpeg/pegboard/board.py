"""The pegboard: which icon holds which codepoint, for good.

Knows: `pegboard.csv`, its faults, how free codepoints are found. Does not know: drawings, fonts, history.
The text is handed in and out.
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
import unicodedata
from dataclasses import dataclass, field
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError

FILE = "pegboard.csv"
HEADER = ["icon", "codepoint", "state"]
LIVE, RETIRED, WITHDRAWN, ALIAS = "live", "retired", "withdrawn", "alias"
STATES = {
    LIVE: "has a drawing and a glyph",
    RETIRED: "its drawing is gone; it comes back to its codepoint with the drawing",
    WITHDRAWN: "taken out by hand, drawing or not; its codepoint stays reserved",
    ALIAS: "an older name of the icon that holds the codepoint",
}
_CODE = re.compile(r"U\+([0-9A-Fa-f]{1,6})")


class Peg(NamedTuple):
    """An icon's hold on a codepoint."""

    icon: str
    codepoint: int
    state: str = LIVE


class Codes(NamedTuple):
    """The codepoints that may be given out: several ranges, in the order in which they fill."""

    ranges: tuple[range, ...]

    def __len__(self) -> int:
        return sum(map(len, self.ranges))

    def at(self, index: int) -> int:
        """Return the codepoint at an index of the whole."""
        for part in self.ranges:
            if index < len(part):
                return part[index]
            index -= len(part)
        raise IndexError(index)

    def __str__(self) -> str:
        return ", ".join(f"{spell(r[0])}-{spell(r[-1])}" for r in self.ranges)


def spell(codepoint: int) -> str:
    """Return a codepoint as the pegboard writes it."""
    return f"U+{codepoint:04X}"


def refusal(codepoint: int) -> str:
    """Return why a codepoint cannot carry an icon, or "". Source: Unicode Standard, general categories and UAX #9."""
    if codepoint > 0x10FFFF:
        return "lies beyond U+10FFFF, the last codepoint there is"
    if codepoint <= 0x20 or 0x7F <= codepoint <= 0xA0:
        return "is a control character or a space"
    if 0xD800 <= codepoint <= 0xDFFF:
        return "is half of a surrogate pair, not a character"
    if codepoint & 0xFFFE == 0xFFFE or 0xFDD0 <= codepoint <= 0xFDEF:
        return "is a noncharacter"
    character = chr(codepoint)
    category = unicodedata.category(character)
    if category == "Co":
        return ""
    if category.startswith("M"):
        return "is a combining mark: text would put it onto the character before it"
    if category.startswith("Z"):
        return "is a space: lines break there, and text tools trim it"
    if category == "Cf":
        return "is an invisible format character"
    if category == "Cn":
        return "is not assigned yet; a later Unicode may give it a meaning of its own"
    if unicodedata.bidirectional(character) in ("R", "AL", "AN"):
        return "is written from right to left and would turn round the text beside it"
    return ""


@dataclass
class Pegboard:
    """Pegs by icon name."""

    pegs: dict[str, Peg] = field(default_factory=dict)
    _taken: set[int] | None = field(default=None, repr=False, compare=False)
    _cursor: int = field(default=0, repr=False, compare=False)

    @staticmethod
    def parse(text: str, where: str = FILE) -> Pegboard:
        """Return the pegboard in a text; raise `OddPegError` with every fault and its line."""
        board, faults = Pegboard(), []
        lines: dict[str, int] = {}
        holders: dict[int, str] = {}
        aliases: list[tuple[int, Peg]] = []
        for number, row in enumerate(csv.reader(io.StringIO(text.removeprefix("\ufeff"))), 1):
            if not row or (number == 1 and [c.strip() for c in row] == HEADER):
                continue
            peg, fault = read_row(row, where, number)
            if fault or peg is None:
                faults += [fault] if fault else []
                continue
            if peg.icon in lines:
                faults.append(
                    Diagnostic(
                        "peg-twice",
                        f"{peg.icon!r} is pegged twice, here and on line {lines[peg.icon]}",
                        "keep the line whose codepoint was shipped",
                        where,
                        number,
                    )
                )
            elif peg.state == ALIAS:
                lines[peg.icon] = number
                aliases.append((number, peg))
            elif peg.codepoint in holders:
                other = holders[peg.codepoint]
                faults.append(
                    Diagnostic(
                        "codepoint-clash",
                        f"{peg.icon!r} and {other!r} (line {lines[other]}) hold the same codepoint"
                        f" {spell(peg.codepoint)}",
                        "run `oddpeg pegs settle`: it keeps the one that was shipped first and moves the other",
                        where,
                        number,
                    )
                )
            else:
                lines[peg.icon], holders[peg.codepoint] = number, peg.icon
                board.pegs[peg.icon] = peg
        for number, peg in aliases:
            if peg.codepoint in holders:
                board.pegs[peg.icon] = peg
            else:
                faults.append(
                    Diagnostic(
                        "orphan-alias",
                        f"{peg.icon!r} is an alias of {spell(peg.codepoint)}, which no icon holds",
                        "delete the line, or give it the codepoint of its icon",
                        where,
                        number,
                    )
                )
        if faults:
            raise OddPegError(*faults)
        return board

    def text(self) -> str:
        """Return the board as its file holds it: sorted by icon name, LF."""
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(HEADER)
        writer.writerows([p.icon, spell(p.codepoint), p.state] for _, p in sorted(self.pegs.items()))
        return out.getvalue()

    def aliases(self) -> dict[int, list[str]]:
        """Return alias names, sorted, by codepoint."""
        found: dict[int, list[str]] = {}
        for name, peg in sorted(self.pegs.items()):
            if peg.state == ALIAS:
                found.setdefault(peg.codepoint, []).append(name)
        return found

    def holder(self, codepoint: int) -> str | None:
        """Return the icon that holds a codepoint."""
        return next((n for n, p in self.pegs.items() if p.codepoint == codepoint and p.state != ALIAS), None)

    def free(self, codes: Codes) -> int:
        """Return how many codepoints can still be given out."""
        taken = {peg.codepoint for peg in self.pegs.values()}
        return sum(1 for part in codes.ranges for code in part if code not in taken and not refusal(code))

    def update(self, names: list[str], codes: Codes, assign: str = "next") -> tuple[Pegboard, Changes]:
        """Return the board once exactly `names` are live: known icons keep their codepoints, new ones get free
        ones out of `codes`, the others retire. Raise `OddPegError` where the codes are used up, or a drawing
        bears the name of an alias."""
        changes = Changes()
        pegs = dict(self.pegs)
        wanted = set(names)
        for name, peg in self.pegs.items():
            if name in wanted and peg.state == RETIRED:
                changes.restored.append(name)
                pegs[name] = peg._replace(state=LIVE)
            elif name in wanted and peg.state == WITHDRAWN:
                changes.withdrawn.append(name)
            elif name not in wanted and peg.state == LIVE:
                changes.retired.append(name)
                pegs[name] = peg._replace(state=RETIRED)
        taken = [n for n in sorted(wanted) if n in pegs and pegs[n].state == ALIAS]
        if taken:
            raise OddPegError(
                *[
                    Diagnostic(
                        "alias-drawing",
                        f"there is a drawing for {n!r}, which is the alias of {self.holder(pegs[n].codepoint)!r}",
                        f"rename the drawing, or drop the alias with `oddpeg pegs retire {n}`",
                        FILE,
                    )
                    for n in taken
                ]
            )
        board = Pegboard(pegs)
        for name in sorted(wanted - set(pegs)):
            board.assign(name, codes, assign)
            changes.added.append(name)
        return board, changes

    def assign(self, name: str, codes: Codes, how: str) -> Peg:
        """Give an icon a free codepoint: the first, or (how "hashed") the first from where its name points to."""
        if self._taken is None:
            self._taken = {peg.codepoint for peg in self.pegs.values()}
        hashed = how == "hashed"
        start = (
            int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big") % len(codes) if hashed else self._cursor
        )
        for step in range(len(codes)):
            index = (start + step) % len(codes)
            code = codes.at(index)
            if code not in self._taken and not refusal(code):
                self._taken.add(code)
                self._cursor = self._cursor if hashed else index + 1
                self.pegs[name] = Peg(name, code)
                return self.pegs[name]
        raise OddPegError(
            Diagnostic(
                "codepoints-used-up",
                f"no codepoint is free for {name!r}: all {len(codes):,} of {codes} are taken",
                'add a range in oddpeg.toml: pegs.range = ["U+E000-U+F8FF", "U+F0000-U+FFFFD"]',
            )
        )


@dataclass
class Changes:
    """What a build did to the board, by icon name. withdrawn: left out although their drawings are there."""

    added: list[str] = field(default_factory=list)
    retired: list[str] = field(default_factory=list)
    restored: list[str] = field(default_factory=list)
    withdrawn: list[str] = field(default_factory=list)


def read_row(row: list[str], where: str, number: int) -> tuple[Peg | None, Diagnostic | None]:
    """Return the peg on one line of the file, or what is wrong with it."""
    cells = [cell.strip() for cell in row]
    if cells[0].startswith(("<<<<<<<", "=======", ">>>>>>>", "|||||||")):
        return None, Diagnostic(
            "conflict-marker", "holds a conflict marker of a merge", "run `oddpeg pegs settle`", where, number
        )
    if len(cells) != 3 or not cells[0]:
        return None, Diagnostic(
            "peg-syntax",
            f"is not icon,codepoint,state: {','.join(row)!r}",
            "write it like anchor,U+E000,live",
            where,
            number,
        )
    icon, code, state = cells
    match = _CODE.fullmatch(code)
    if not match:
        return None, Diagnostic("bad-codepoint", f"{code!r} is not a codepoint", "write it like U+E000", where, number)
    if reason := refusal(int(match[1], 16)):
        return None, Diagnostic(
            "unsafe-codepoint", f"{code} {reason}", "choose one from U+E000 to U+F8FF", where, number
        )
    if state not in STATES:
        return None, Diagnostic(
            "bad-state", f"{state!r} is not a state", f"write {LIVE}, {RETIRED}, {WITHDRAWN} or {ALIAS}", where, number
        )
    return Peg(icon, int(match[1], 16), state), None
