"""Path data: the text of a `d` attribute → flat segments.

Covers the grammar of SVG 2 §9.3, error handling of §9.3.9 (keep what came before the fault). Units: user units.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from oddpeg.svg.arcs import arc_to_cubics
from oddpeg.svg.model import Path

NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_SEP = r"(?:[ \t\r\n\f]+,?[ \t\r\n\f]*|,[ \t\r\n\f]*)?"
_WS = r"[ \t\r\n\f]*"
_NUMBER = re.compile(NUMBER)
_ARGUMENTS = re.compile(rf"{_WS}(?:{NUMBER}(?:{_SEP}{NUMBER})*)?{_WS}")
_COMMAND = re.compile(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)")
_ARC = re.compile(
    rf"{_WS},?{_WS}({NUMBER}){_SEP}({NUMBER}){_SEP}({NUMBER}){_SEP}([01]){_SEP}([01]){_SEP}({NUMBER}){_SEP}({NUMBER})"
)
_LONG = re.compile(r"\d{9}|[eE]")
_ARITY = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
MAX_SEGMENTS = 50_000  # of one drawing
_BIGGEST = 1e9  # far beyond any drawing; larger numbers would drown every other coordinate


class PathFault(Exception):
    """The data is wrong at character `at`; `path` holds what came before."""

    def __init__(self, reason: str, at: int) -> None:
        super().__init__(reason)
        self.reason, self.at = reason, at
        self.path = Path()


class PathBuilder:
    """Grows a `Path` command by command, keeping the current point as SVG defines it."""

    def __init__(self) -> None:
        self.path = Path()
        self.x = self.y = self.start_x = self.start_y = 0.0
        self._open = False
        self._moved = False  # and nothing drawn since

    def move(self, x: float, y: float) -> None:
        self.x, self.y, self.start_x, self.start_y = x, y, x, y
        self._open = False
        self._moved = True

    def _begin(self) -> None:
        self.path.starts.append(len(self.path.degrees))
        self.path.closed.append(False)
        self._open = True
        self._moved = False

    def line(self, x: float, y: float) -> None:
        if not self._open:
            self._begin()
        x0, y0 = self.x, self.y
        dx, dy = (x - x0) / 3, (y - y0) / 3
        path = self.path
        path.coords += (x0, y0, x0 + dx, y0 + dy, x - dx, y - dy, x, y)
        path.degrees.append(1)
        self.x, self.y = x, y

    def quad(self, cx: float, cy: float, x: float, y: float) -> None:
        # degree elevation: the same curve written as a cubic
        self.cubic((self.x + 2 * cx) / 3, (self.y + 2 * cy) / 3, (x + 2 * cx) / 3, (y + 2 * cy) / 3, x, y, 2)

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float, degree: int = 3) -> None:
        if not self._open:
            self._begin()
        path = self.path
        path.coords += (self.x, self.y, x1, y1, x2, y2, x, y)
        path.degrees.append(degree)
        self.x, self.y = x, y

    def arc(self, rx: float, ry: float, turn: float, large: bool, sweep: bool, x: float, y: float) -> None:
        """Elliptical arc to (x, y); radii out of range are corrected as SVG 2 §9.5.1 says."""
        pieces = arc_to_cubics((self.x, self.y), rx, ry, turn, large, sweep, (x, y))
        if pieces is None:
            self.line(x, y)
            return
        for piece in pieces:
            self.cubic(*piece)

    def close(self) -> None:
        if not self._open and not self._moved:  # closed already: renderers draw nothing more
            return
        if not self._open:  # "M x y z": a dot, visible only by its stroke's caps
            self.line(self.x, self.y)
        elif (self.x, self.y) != (self.start_x, self.start_y):
            self.line(self.start_x, self.start_y)
        self.path.closed[-1] = True
        self._open = False
        self.x, self.y = self.start_x, self.start_y


class _Reader(PathBuilder):
    """A builder fed by commands; remembers the last control point for the smooth forms."""

    def __init__(self) -> None:
        super().__init__()
        self.last = ""
        self.cx = self.cy = 0.0

    def _move(self, v: list[float], ox: float, oy: float) -> None:
        self.move(ox + v[0], oy + v[1])

    def _line(self, v: list[float], ox: float, oy: float) -> None:
        self.line(ox + v[0], oy + v[1])

    def _across(self, v: list[float], ox: float, oy: float) -> None:
        self.line(ox + v[0], self.y)

    def _down(self, v: list[float], ox: float, oy: float) -> None:
        self.line(self.x, oy + v[0])

    def _cubic(self, v: list[float], ox: float, oy: float) -> None:
        self.cx, self.cy = ox + v[2], oy + v[3]
        self.cubic(ox + v[0], oy + v[1], self.cx, self.cy, ox + v[4], oy + v[5])

    def _reflected(self, family: str) -> tuple[float, float]:
        if self.last in family:
            return 2 * self.x - self.cx, 2 * self.y - self.cy
        return self.x, self.y

    def _smooth_cubic(self, v: list[float], ox: float, oy: float) -> None:
        x1, y1 = self._reflected("CS")
        self.cx, self.cy = ox + v[0], oy + v[1]
        self.cubic(x1, y1, self.cx, self.cy, ox + v[2], oy + v[3])

    def _quad(self, v: list[float], ox: float, oy: float) -> None:
        self.cx, self.cy = ox + v[0], oy + v[1]
        self.quad(self.cx, self.cy, ox + v[2], oy + v[3])

    def _smooth_quad(self, v: list[float], ox: float, oy: float) -> None:
        self.cx, self.cy = self._reflected("QT")
        self.quad(self.cx, self.cy, ox + v[0], oy + v[1])

    def _arc(self, v: list[float], ox: float, oy: float) -> None:
        self.arc(v[0], v[1], v[2], v[3] != 0, v[4] != 0, ox + v[5], oy + v[6])

    def feed(self, letter: str, values: list[float]) -> None:
        """Draw one command, repeated as often as its values allow (SVG 2 §9.3.1)."""
        kind = letter.upper()
        if kind == "Z":
            self.close()
            self.last = kind
            return
        arity, draw, relative = _ARITY[kind], _DRAW[kind], kind != letter
        for i in range(0, len(values) - arity + 1, arity):
            if relative:
                draw(self, values[i : i + arity], self.x, self.y)
            else:
                draw(self, values[i : i + arity], 0.0, 0.0)
            self.last = kind
            if kind == "M":  # further pairs are lines
                kind, draw = "L", _DRAW["L"]


_DRAW: dict[str, Callable[[_Reader, list[float], float, float], None]] = {
    "M": _Reader._move, "L": _Reader._line, "H": _Reader._across, "V": _Reader._down, "C": _Reader._cubic,
    "S": _Reader._smooth_cubic, "Q": _Reader._quad, "T": _Reader._smooth_quad, "A": _Reader._arc,
}  # fmt: skip


def _numbers(letter: str, text: str) -> tuple[list[float], int]:
    """Return the numbers at the start of `text` and how many characters were understood."""
    if not text:
        return [], 0
    if letter in "Aa":
        values: list[float] = []
        at = 0
        while match := _ARC.match(text, at):
            values += map(float, match.groups())
            at = match.end()
        rest = text[at:]
        return values, at + len(rest) - len(rest.lstrip())
    match = _ARGUMENTS.match(text)
    end = match.end() if match else 0
    return list(map(float, _NUMBER.findall(text[:end]))), end


def parse_path(data: str) -> Path:
    """Return the segments of path data; raise `PathFault` (with what came before) where it is wrong."""
    reader = _Reader()
    lead = len(data) - len(data.lstrip(" \t\r\n\f"))
    at = lead
    long = _LONG.search(data)  # no other path can hold a number too large

    def fault(reason: str, where: int) -> PathFault:
        problem = PathFault(reason, where)
        problem.path = reader.path
        return problem

    for match in _COMMAND.finditer(data):
        letter, text = match.groups()
        if match.start() != at:
            raise fault(f"unexpected {data[at : at + 12]!r}", at)
        if match.start() == lead and letter not in "Mm":
            raise fault(f"starts with {letter!r} instead of a move", at)
        values, used = _numbers(letter, text)
        if long and values and max(map(abs, values)) > _BIGGEST:
            raise fault("a number is far too large for a drawing", match.start(2))
        reader.feed(letter, values)
        arity = _ARITY[letter.upper()]
        if used != len(text):
            raise fault(f"unexpected {text[used : used + 12]!r}", match.start(2) + used)
        if (arity and (len(values) % arity or not values)) or (not arity and values):
            raise fault(f"{letter!r} has the wrong count of numbers ({len(values)})", match.start())
        at = match.end()
        if len(reader.path.degrees) > MAX_SEGMENTS:
            break  # the drawing will be refused; no need to read on
    else:
        if at != len(data):
            raise fault(f"unexpected {data[at : at + 12]!r}", at)
    return reader.path
