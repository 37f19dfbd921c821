"""Inputs of a comparison, read from disk: a pegboard, a glyph map, a font file, or a folder of these."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.write.axes import REGULAR
from oddpeg.iconset.names import icon_name
from oddpeg.pegboard.codes import spell
from oddpeg.pegboard.file_format import parse_board
from oddpeg.pegboard.states import State
from oddpeg.raster.compare import FontState
from oddpeg.sources.named_files import LARGEST, read_named_file
from oddpeg.store.tree import read_regular

_FONTS = (".ttf", ".otf", ".woff", ".woff2")


def read_state(path: Path) -> FontState:
    """Return the contents of a file or folder; raise `OddPegError` where it cannot be compared."""
    if path.is_dir():
        return _folder(path)
    data = read_named_file(path)
    match path.suffix.lower():
        case suffix if suffix in _FONTS:
            state = _font(data, path)
        case ".json":
            state = _map(data, path)
        case ".csv":
            state = _board(data, path)
        case _:
            cure = "give a pegboard.csv, a JSON glyph map, a font file or a bundle's folder"
            raise OddPegError(Diagnostic("not-comparable", "is nothing that can be compared", cure, str(path)))
    state.sizes = {path.name: len(data)}
    return state


def _folder(path: Path) -> FontState:
    files = sorted(p for p in path.iterdir() if p.is_file() and not p.name.startswith("."))
    maps = [p for p in files if p.suffix == ".json" and _is_map(p)]
    fonts = sorted((p for p in files if p.suffix.lower() in _FONTS), key=lambda p: _FONTS.index(p.suffix.lower()))
    boards = [p for p in files if p.name == "pegboard.csv"]
    if not maps and not fonts and not boards:
        cure = "give the folder that a bundle is delivered into"
        raise OddPegError(Diagnostic("not-comparable", "holds no font, glyph map or pegboard", cure, str(path)))
    font = _faces([p for p in fonts if p.suffix == fonts[0].suffix]) if fonts else None
    if font is None or maps:
        state = read_state((maps or boards)[0])
    if font is not None and maps:
        state.shapes, state.faces, state.facts = font.shapes, font.faces, {**font.facts, **state.facts}
        state.alternates = font.alternates
    elif font is not None:
        state = font
    state.sizes = {p.name: p.stat().st_size for p in files}
    return state


def _faces(paths: list[Path]) -> FontState:
    """Return the contents of fonts of one format; the face nearest to the regular weight represents all."""
    states = {path.stem: read_state(path) for path in paths}
    first = min(states, key=lambda stem: (abs(states[stem].weight - REGULAR), states[stem].weight, stem))
    state = states.pop(first)
    for stem, other in states.items():
        state.icons = {**other.icons, **state.icons}
        state.faces[stem] = other.shapes or {}
        state.alternates |= {f"{stem}, {label}": shapes for label, shapes in other.alternates.items()}
    return state


def _is_map(path: Path) -> bool:
    try:
        values = json.loads(read_regular(str(path), LARGEST))
        return isinstance(values, dict) and isinstance(values.get("icons"), list)
    except (OSError, ValueError, RecursionError):
        return False


def _board(data: bytes, path: Path) -> FontState:
    board = parse_board(data.decode("utf-8-sig", "replace"), str(path))
    return FontState(
        {p.icon: p.codepoint for p in board.in_state(State.LIVE)},
        aliases={p.icon: p.codepoint for p in board.in_state(State.ALIAS)},
    )


def _map(data: bytes, path: Path) -> FontState:
    try:
        values: dict[str, Any] = json.loads(data)
        icons = {str(i["name"]): _codepoint(i["codepoint"]) for i in values["icons"]}
        aliases = {str(a): _codepoint(i["codepoint"]) for i in values["icons"] for a in i.get("aliases", [])}
        facts: dict[str, str] = {k: str(values[k]) for k in ("family", "units_per_em") if k in values}
    except (ValueError, KeyError, TypeError, AttributeError, OverflowError, RecursionError) as problem:
        cure = 'it needs {"icons": [{"name", "codepoint"}, …]}'
        raise OddPegError(Diagnostic("bad-map", f"is not a glyph map: {problem!r}", cure, str(path))) from None
    return FontState(icons, aliases=aliases, facts=facts)


def _codepoint(value: object) -> int:
    """Return a codepoint of a map; raise ValueError for any other value."""
    if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value <= 0x10FFFF:
        raise ValueError(f"{value!r:.40} is not a codepoint")
    return value


def _font(data: bytes, path: Path) -> FontState:
    from oddpeg.font.read.glyphs import read_font

    try:
        font = read_font(data)
    except ValueError as problem:
        message, cure = f"cannot be used: {problem}", "build it again, or check the download"
        raise OddPegError(Diagnostic("bad-font", message, cure, str(path))) from None
    icons = {(icon_name(name) if font.named else "") or spell(code): code for code, name in font.glyphs}
    state = FontState(icons, font.named, facts=font.facts, shapes=font.shapes, weight=font.weight)
    state.alternates = dict(font.alternates)
    _read_colours(state, data, path)
    return state


def _read_colours(state: FontState, data: bytes, path: Path) -> None:
    """Add the layers of colour of a font to its shapes, where they can be read."""
    from oddpeg.font.read.colour import coloured_glyphs, palette_count

    try:
        palettes = palette_count(data)
        state.facts |= {"colours": "layers" if palettes else "the text's", "palettes": str(palettes)}
        by_palette = [coloured_glyphs(data, number) for number in range(palettes)]
    except ValueError as problem:
        state.unread_colours = f"{path}: {problem}"
        return
    shapes = state.shapes or {}
    for code in by_palette[0] if by_palette else ():
        shapes[code] = replace(shapes[code], palettes=tuple(tuple(glyphs[code]) for glyphs in by_palette))
