"""The pegboard: which icon holds which codepoint, for good.

Knows: `pegboard.csv`, its faults, how free codepoints are found. Does not know: drawings, fonts.
The text is handed in and out; only `Pegboard.load` touches a file.
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
from dataclasses import dataclass, field, replace
from pathlib import Path

from oddpeg.faults import Fault, FaultsFound

FILE = "pegboard.csv"
HEADER = ["icon", "codepoint", "state"]
LIVE, RETIRED = "live", "retired"
_CODE = re.compile(r"U\+([0-9A-Fa-f]{1,6})")


@dataclass(frozen=True, slots=True)
class Peg:
    """An icon's hold on a codepoint."""

    icon: str
    codepoint: int
    state: str = LIVE


def spell(codepoint: int) -> str:
    """Return a codepoint as the pegboard writes it."""
    return f"U+{codepoint:04X}"


def refusal(codepoint: int) -> str:
    """Return why a codepoint cannot carry an icon, or ""."""
    if codepoint > 0x10FFFF:
        return "lies beyond U+10FFFF, the last codepoint there is"
    if codepoint <= 0x20 or 0x7F <= codepoint <= 0xA0:
        return "is a control character or a space"
    if 0xD800 <= codepoint <= 0xDFFF:
        return "is half of a surrogate pair, not a character"
    if codepoint & 0xFFFE == 0xFFFE or 0xFDD0 <= codepoint <= 0xFDEF:
        return "is a noncharacter"
    return ""


@dataclass
class Pegboard:
    """Pegs by icon name."""

    pegs: dict[str, Peg] = field(default_factory=dict)

    @staticmethod
    def load(path: Path) -> Pegboard:
        """Return the pegboard in a file; an absent file is an empty board. Raise `FaultsFound` with every fault."""
        try:
            text = path.read_text(encoding="utf-8-sig")
        except FileNotFoundError:
            return Pegboard()
        except (OSError, UnicodeDecodeError) as problem:
            raise FaultsFound([Fault(f"cannot be read: {problem}", "restore it from version control", path.name)]) from None
        return Pegboard.parse(text, path.name)

    @staticmethod
    def parse(text: str, where: str = FILE) -> Pegboard:
        """Return the pegboard in a text; raise `FaultsFound` with every fault and its line."""
        board, faults = Pegboard(), []
        lines: dict[str, int] = {}
        holders: dict[int, str] = {}
        for number, row in enumerate(csv.reader(io.StringIO(text)), 1):
            if not row or (number == 1 and [c.strip() for c in row] == HEADER):
                continue
            peg, fault = _read_row(row, where, number)
            if fault or peg is None:
                faults += [fault] if fault else []
                continue
            if peg.icon in lines:
                faults.append(Fault(f"{peg.icon!r} is pegged twice, here and on line {lines[peg.icon]}",
                                    "keep the line whose codepoint was shipped", where, number))  # fmt: skip
            elif peg.codepoint in holders:
                other = holders[peg.codepoint]
                faults.append(Fault(f"{peg.icon!r} and {other!r} (line {lines[other]}) hold the same codepoint {spell(peg.codepoint)}",
                                    "keep it for the one that was shipped first and delete the other line; "
                                    "the next build gives that icon a free codepoint", where, number))  # fmt: skip
            else:
                lines[peg.icon], holders[peg.codepoint] = number, peg.icon
                board.pegs[peg.icon] = peg
        if faults:
            raise FaultsFound(faults)
        return board

    def text(self) -> str:
        """Return the board as its file holds it: sorted by icon name, LF."""
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(HEADER)
        writer.writerows([p.icon, spell(p.codepoint), p.state] for _, p in sorted(self.pegs.items()))
        return out.getvalue()

    def update(self, names: list[str], codes: range, assign: str = "next") -> tuple[Pegboard, Changes]:
        """Return the board once exactly `names` are live: known icons keep their codepoints, new ones get free
        ones out of `codes`, the others retire. Raise `FaultsFound` where the range is full."""
        changes = Changes()
        pegs = dict(self.pegs)
        wanted = set(names)
        for name, peg in self.pegs.items():
            if name in wanted and peg.state == RETIRED:
                changes.restored.append(name)
                pegs[name] = replace(peg, state=LIVE)
            elif name not in wanted and peg.state == LIVE:
                changes.retired.append(name)
                pegs[name] = replace(peg, state=RETIRED)
        taken = {peg.codepoint for peg in pegs.values()}
        cursor = codes.start
        for name in sorted(wanted - set(pegs)):
            start = codes.start + int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big") % len(codes)
            code = _free(codes, taken, start if assign == "hashed" else cursor)
            if code is None:
                raise FaultsFound([Fault(f"no codepoint is free for {name!r}: all {len(codes)} of {spell(codes.start)}-{spell(codes[-1])} are taken",
                                         "widen pegs.range in oddpeg.toml, for example to U+F0000-U+FFFFD")])  # fmt: skip
            cursor = code + 1
            taken.add(code)
            pegs[name] = Peg(name, code)
            changes.added.append(name)
        return Pegboard(pegs), changes


@dataclass
class Changes:
    """What a build did to the board, by icon name."""

    added: list[str] = field(default_factory=list)
    retired: list[str] = field(default_factory=list)
    restored: list[str] = field(default_factory=list)


def _free(codes: range, taken: set[int], start: int) -> int | None:
    """Return the first free codepoint from `start` on, going round the range once."""
    for step in range(len(codes)):
        code = codes.start + (start - codes.start + step) % len(codes)
        if code not in taken and not refusal(code):
            return code
    return None


def _read_row(row: list[str], where: str, number: int) -> tuple[Peg | None, Fault | None]:
    cells = [cell.strip() for cell in row]
    if cells[0].startswith(("<<<<<<<", "=======", ">>>>>>>", "|||||||")):
        return None, Fault("holds a conflict marker of a merge", "keep both sides' lines and delete the markers", where, number)
    if len(cells) != 3 or not cells[0]:
        return None, Fault(f"is not icon,codepoint,state: {','.join(row)!r}", "write it like anchor,U+E000,live", where, number)
    icon, code, state = cells
    match = _CODE.fullmatch(code)
    if not match:
        return None, Fault(f"{code!r} is not a codepoint", "write it like U+E000", where, number)
    if reason := refusal(int(match[1], 16)):
        return None, Fault(f"{code} {reason}", "choose one from U+E000 to U+F8FF", where, number)
    if state not in (LIVE, RETIRED):
        return None, Fault(f"{state!r} is not a state", f"write {LIVE} or {RETIRED}", where, number)
    return Peg(icon, int(match[1], 16), state), None
