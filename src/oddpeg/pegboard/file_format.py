"""The pegboard's file: UTF-8 text, comma-separated, header `icon,codepoint,state`, sorted by name so that git merges
it."""

from __future__ import annotations

import csv
import io
import re
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.merges import CONFLICT_MARKS
from oddpeg.pegboard.board import FILE, Peg, Pegboard
from oddpeg.pegboard.codes import refusal, spell
from oddpeg.pegboard.states import State

_PLAIN = 1000  # characters
HEADER = ["icon", "codepoint", "state"]
_STATES = {state.value: state for state in State}
_CODE = re.compile(r"U\+([0-9A-Fa-f]{1,6})")


class Line(NamedTuple):
    """One line of the file.

    Attributes:
        number: from 1.
        cells: texts of the cells.
        peg: None for an empty or wrong line.
        problem: the error in it, or empty.
    """

    number: int
    cells: list[str]
    peg: Peg | None = None
    problem: Diagnostic | None = None


def read_lines(text: str, where: str = FILE) -> list[Line]:
    """Return every line but the header and empty ones. where: the file, as messages show it."""
    rows = []
    text = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    for number, line in enumerate(text.split("\n"), 1):
        # line by line, since a quote in a conflict marker's branch name must not swallow the lines after it
        row = [line] if line.startswith(CONFLICT_MARKS) else _cells(line)
        if row and [c.strip() for c in row] != HEADER:
            rows.append(_read(number, row, where))
    return rows


def _cells(line: str) -> list[str]:
    if '"' not in line and len(line) < _PLAIN:  # as nearly every line is: nothing in it needs a reader of CSV
        return line.split(",") if line else []
    try:
        return next(csv.reader([line]), [])
    except csv.Error:  # longer than any cell can be
        return [line[:80]]


def _read(number: int, row: list[str], where: str) -> Line:
    cells = [cell.strip() for cell in row]

    def wrong(code: str, message: str, cure: str) -> Line:
        return Line(number, cells, None, Diagnostic(code, message, cure, where, number))

    if cells[0].startswith(CONFLICT_MARKS):
        return wrong("conflict-marker", "holds a conflict marker of a merge", "run `oddpeg pegs settle`")
    if len(cells) != 3 or not cells[0]:
        message = f"is not icon,codepoint,state: {','.join(row)!r}"
        return wrong("peg-syntax", message, "write it like anchor,U+E000,live")
    icon, code, state = cells
    match = _CODE.fullmatch(code)
    if not match:
        return wrong("bad-codepoint", f"{code!r} is not a codepoint", "write it like U+E000")
    if reason := refusal(int(match[1], 16)):
        return wrong("unsafe-codepoint", f"{code} {reason}", "choose one from U+E000 to U+F8FF")
    if state not in _STATES:
        *others, last = _STATES
        return wrong("bad-state", f"{state!r} is not a state", f"write {', '.join(others)} or {last}")
    return Line(number, cells, Peg(icon, int(match[1], 16), _STATES[state]))


def parse_board(text: str, where: str = FILE) -> Pegboard:
    """Return the pegboard in a text; raise `OddPegError` with every fault and its line."""
    board, problems = Pegboard(), []
    lines: dict[str, int] = {}
    holders: dict[int, str] = {}
    aliases: list[tuple[int, Peg]] = []
    for number, _, peg, problem in read_lines(text, where):
        if peg is None:
            problems += [problem] if problem else []
        elif peg.icon in lines:
            message = f"{peg.icon!r} is pegged twice, here and on line {lines[peg.icon]}"
            problems.append(
                Diagnostic("peg-twice", message, "keep the line whose codepoint was shipped", where, number)
            )
        elif peg.state is State.ALIAS:
            lines[peg.icon] = number
            aliases.append((number, peg))
        elif other := holders.get(peg.codepoint):
            code = spell(peg.codepoint)
            message = f"{peg.icon!r} and {other!r} (line {lines[other]}) hold the same codepoint {code}"
            cure = "run `oddpeg pegs settle`: it keeps the one that was shipped first and moves the other"
            problems.append(Diagnostic("codepoint-clash", message, cure, where, number))
        else:
            lines[peg.icon], holders[peg.codepoint] = number, peg.icon
            board.pegs[peg.icon] = peg
    for number, peg in aliases:
        board.pegs[peg.icon] = peg
        if peg.codepoint not in holders:
            message = f"{peg.icon!r} is an alias of {spell(peg.codepoint)}, which no icon holds"
            cure = "delete the line, or give it the codepoint of its icon"
            problems.append(Diagnostic("orphan-alias", message, cure, where, number))
    if problems:
        raise OddPegError(*problems)
    return board


def board_text(board: Pegboard) -> str:
    """Return the board as its file holds it: sorted by icon name, lines ended by LF."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADER)
    writer.writerows([p.icon, spell(p.codepoint), p.state.value] for _, p in sorted(board.pegs.items()))
    return out.getvalue()
