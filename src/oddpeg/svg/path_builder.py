"""Path commands → flat segments.

Covers the commands of SVG 2 §9.3. Units: user units.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from oddpeg.svg.arcs import arc_to_cubics
from oddpeg.svg.model import Path

ARITY = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
_REFLECTED = {"C": "CS", "S": "CS", "Q": "QT", "T": "QT"}  # after which commands a smooth one continues a control point


class PathBuilder:
    """Grows a `Path` segment by segment, keeping the current point as SVG defines it."""

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
        """Start a subpath at the current point."""
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
        x0, y0 = self.x, self.y
        pieces = arc_to_cubics(rx, ry, turn, large, sweep, complex(x - x0, y - y0))
        if not pieces:
            self.line(x, y)
            return
        if not self._open:
            self._begin()
        path, px, py = self.path, x0, y0
        for x1, y1, x2, y2, x3, y3 in pieces:
            path.coords += (px, py, x0 + x1, y0 + y1, x0 + x2, y0 + y2, x0 + x3, y0 + y3)
            px, py = x0 + x3, y0 + y3
        path.coords[-2:] = x, y  # land exactly where the author said
        path.inner += range(len(path.degrees), len(path.degrees) + len(pieces) - 1)
        path.degrees += [3] * len(pieces)
        self.x, self.y = x, y

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


class CommandBuilder(PathBuilder):
    """A builder fed by commands; remembers the last control point for the smooth forms."""

    def __init__(self) -> None:
        super().__init__()
        self._last = ""
        self._cx = self._cy = 0.0

    def feed(self, letter: str, values: Sequence[float]) -> None:
        """Draw one command, repeated as often as its values allow (SVG 2 §9.3.1); values left over are not drawn."""
        kind = letter.upper()
        if kind == "Z":
            self.close()
        elif len(values) >= ARITY[kind]:
            _DRAW[kind](self, values, kind != letter)
        else:
            return
        self._last = kind

    def _moves(self, values: Sequence[float], relative: bool) -> None:
        x, y = values[:2]
        self.move(x + self.x, y + self.y) if relative else self.move(x, y)
        self._lines(values[2:], relative)  # further pairs are lines

    def _lines(self, values: Sequence[float], relative: bool) -> None:
        for i in range(0, len(values) - 1, 2):
            if relative:
                self.line(self.x + values[i], self.y + values[i + 1])
            else:
                self.line(values[i], values[i + 1])

    def _across(self, values: Sequence[float], relative: bool) -> None:
        for x in values:
            self.line(self.x + x if relative else x, self.y)

    def _down(self, values: Sequence[float], relative: bool) -> None:
        for y in values:
            self.line(self.x, self.y + y if relative else y)

    def _cubics(self, values: Sequence[float], relative: bool) -> None:
        if not self._open:
            self._begin()
        x, y, coords, count = self.x, self.y, self.path.coords, len(values) // 6
        for i in range(0, 6 * count, 6):
            x1, y1, x2, y2, x3, y3 = values[i : i + 6]
            if relative:
                x1, y1, x2, y2, x3, y3 = x + x1, y + y1, x + x2, y + y2, x + x3, y + y3
            coords += (x, y, x1, y1, x2, y2, x3, y3)
            x, y, self._cx, self._cy = x3, y3, x2, y2
        self.path.degrees += [3] * count
        self.x, self.y = x, y

    def _reflected(self, kind: str) -> tuple[float, float]:
        """Return the last control point mirrored in the current point, or the current point without one."""
        if self._last and self._last in _REFLECTED[kind]:
            return 2 * self.x - self._cx, 2 * self.y - self._cy
        return self.x, self.y

    def _smooth_cubics(self, values: Sequence[float], relative: bool) -> None:
        for i in range(0, len(values) - 3, 4):
            x1, y1 = self._reflected("S")
            x2, y2, x, y = values[i : i + 4]
            if relative:
                x2, y2, x, y = self.x + x2, self.y + y2, self.x + x, self.y + y
            self.cubic(x1, y1, x2, y2, x, y)
            self._cx, self._cy, self._last = x2, y2, "S"

    def _quads(self, values: Sequence[float], relative: bool) -> None:
        for i in range(0, len(values) - 3, 4):
            cx, cy, x, y = values[i : i + 4]
            if relative:
                cx, cy, x, y = self.x + cx, self.y + cy, self.x + x, self.y + y
            self.quad(cx, cy, x, y)
            self._cx, self._cy = cx, cy

    def _smooth_quads(self, values: Sequence[float], relative: bool) -> None:
        for i in range(0, len(values) - 1, 2):
            cx, cy = self._reflected("T")
            x, y = values[i : i + 2]
            self.quad(cx, cy, self.x + x if relative else x, self.y + y if relative else y)
            self._cx, self._cy, self._last = cx, cy, "T"

    def _arcs(self, values: Sequence[float], relative: bool) -> None:
        for i in range(0, len(values) - 6, 7):
            rx, ry, turn, large, sweep, x, y = values[i : i + 7]
            if relative:
                x, y = self.x + x, self.y + y
            self.arc(rx, ry, turn, large != 0, sweep != 0, x, y)


_Draw = Callable[[CommandBuilder, Sequence[float], bool], None]
_DRAW: dict[str, _Draw] = {
    "M": CommandBuilder._moves, "L": CommandBuilder._lines, "H": CommandBuilder._across, "V": CommandBuilder._down,
    "C": CommandBuilder._cubics, "S": CommandBuilder._smooth_cubics, "Q": CommandBuilder._quads,
    "T": CommandBuilder._smooth_quads, "A": CommandBuilder._arcs,
}  # fmt: skip
