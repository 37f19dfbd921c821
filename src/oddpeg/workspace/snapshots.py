"""What can be compared, read from disk: a pegboard, a glyph map, a font file, or a folder that holds some of them.

Knows: files, fontTools (reading only). Does not know: what is compared.
"""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.names import icon_name
from oddpeg.pegboard.board import ALIAS, LIVE, Pegboard, spell
from oddpeg.raster.compare import Shape, State

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont

_FONTS = (".ttf", ".otf", ".woff", ".woff2")
_PIECES = 8  # straight pieces of one curve
_NAMES = {1: "family", 5: "version", 0: "copyright", 13: "licence", 14: "licence_url", 9: "designer"}


def read_state(path: Path) -> State:
    """Return what a file or folder holds; raise `OddPegError` where it is nothing that can be compared."""
    if path.is_dir():
        return _folder(path)
    try:
        data = path.read_bytes()
    except OSError as problem:
        raise OddPegError(
            Diagnostic("file-unreadable", f"cannot be read: {problem.strerror}", "check the path", str(path))
        ) from None
    if path.suffix.lower() in _FONTS:
        state = _font(data, path)
    elif path.suffix.lower() == ".json":
        state = _map(data, path)
    elif path.suffix.lower() == ".csv":
        state = _board(data, path)
    else:
        raise OddPegError(
            Diagnostic(
                "not-comparable",
                "is nothing that can be compared",
                "give a pegboard.csv, a JSON glyph map, a font file or a bundle's folder",
                str(path),
            )
        )
    state.sizes = {path.name: len(data)}
    return state


def _folder(path: Path) -> State:
    files = sorted(p for p in path.iterdir() if p.is_file() and not p.name.startswith("."))
    maps = [p for p in files if p.suffix == ".json" and _is_map(p)]
    fonts = sorted((p for p in files if p.suffix.lower() in _FONTS), key=lambda p: _FONTS.index(p.suffix.lower()))
    boards = [p for p in files if p.name == "pegboard.csv"]
    if not maps and not fonts and not boards:
        raise OddPegError(
            Diagnostic(
                "not-comparable",
                "holds no font, glyph map or pegboard",
                "give the folder that a bundle is delivered into",
                str(path),
            )
        )
    state = read_state((maps or fonts or boards)[0])
    if maps and fonts:
        font = read_state(fonts[0])
        state.shapes, state.facts = font.shapes, {**font.facts, **state.facts}
    state.sizes = {p.name: p.stat().st_size for p in files}
    return state


def _is_map(path: Path) -> bool:
    try:
        values = json.loads(path.read_text(encoding="utf-8"))
        return isinstance(values, dict) and isinstance(values.get("icons"), list)
    except (OSError, ValueError):
        return False


def _board(data: bytes, path: Path) -> State:
    board = Pegboard.parse(data.decode("utf-8-sig", "replace"), str(path))
    return State(
        {n: p.codepoint for n, p in board.pegs.items() if p.state == LIVE},
        aliases={n: p.codepoint for n, p in board.pegs.items() if p.state == ALIAS},
    )


def _map(data: bytes, path: Path) -> State:
    try:
        values: dict[str, Any] = json.loads(data)
        icons = {str(i["name"]): int(i["codepoint"]) for i in values["icons"]}
        aliases = {str(a): int(i["codepoint"]) for i in values["icons"] for a in i.get("aliases", [])}
        facts: dict[str, str] = {k: str(values[k]) for k in ("family", "units_per_em") if k in values}
    except (ValueError, KeyError, TypeError) as problem:
        raise OddPegError(
            Diagnostic(
                "bad-map",
                f"is not a glyph map: {problem!r}",
                'it needs {"icons": [{"name", "codepoint"}, …]}',
                str(path),
            )
        ) from None
    return State(icons, aliases=aliases, facts=facts)


def _font(data: bytes, path: Path) -> State:
    from fontTools.ttLib import TTFont, TTLibError

    try:
        with TTFont(io.BytesIO(data)) as font:
            return _read_font(font)
    except (TTLibError, AssertionError, KeyError, ValueError, OSError) as problem:
        raise OddPegError(
            Diagnostic(
                "bad-font", f"is not a sound font: {problem}", "build it again, or check the download", str(path)
            )
        ) from None


def _read_font(font: TTFont) -> State:
    cmap = {code: name for code, name in (font.getBestCmap() or {}).items() if code > 0x20}
    named = font["post"].formatType == 2.0 or "CFF " in font
    units, glyphs, metrics = font["head"].unitsPerEm, font.getGlyphSet(), font["hmtx"].metrics
    icons = {(icon_name(name) if named else "") or spell(code): code for code, name in cmap.items()}
    shapes = {code: _shape(glyphs, name, metrics[name][0], units) for code, name in cmap.items()}
    names = font["name"]
    facts = {what: str(names.getDebugName(key) or "") for key, what in _NAMES.items()}
    facts |= {
        "units_per_em": str(units),
        "ascender": f"{font['hhea'].ascent / units:.3f} em",
        "descender": f"{font['hhea'].descent / units:.3f} em",
    }
    return State(icons, named, facts=facts, shapes=shapes)


def _shape(glyphs: Any, name: str, advance: int, units: int) -> Shape:
    from fontTools.pens.basePen import BasePen

    class Edges(BasePen):  # type: ignore[misc]  # fontTools has no types
        """Collects straight pieces of everything drawn; its methods are called what the pen protocol calls them."""

        def __init__(self) -> None:
            super().__init__(glyphs)
            self.start: list[complex] = []
            self.end: list[complex] = []
            self.first = self.at = 0j

        def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.first = self.at = complex(*p)

        def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.start.append(self.at)
            self.at = complex(*p)
            self.end.append(self.at)

        def _curveToOne(self, *points: tuple[float, float]) -> None:  # noqa: N802
            a, b, c, d = self.at, *(complex(*p) for p in points)
            for k in range(1, _PIECES + 1):
                t = k / _PIECES
                z = (1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t * t * (1 - t) * c + t**3 * d
                self._lineTo((z.real, z.imag))

        def _closePath(self) -> None:  # noqa: N802
            if self.at != self.first:
                self._lineTo((self.first.real, self.first.imag))

        _endPath = _closePath  # noqa: N815

    pen = Edges()
    glyphs[name].draw(pen)
    return Shape(
        np.array(pen.start, dtype=np.complex128) / units,
        np.array(pen.end, dtype=np.complex128) / units,
        advance / units,
    )
