"""Font files as sources of icons."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.store.tree import read_regular

if TYPE_CHECKING:
    from oddpeg.font.read.drawings import GlyphDrawing

ENDINGS = (".ttf", ".otf", ".woff", ".woff2", ".ttc", ".otc")


class FontGlyph(NamedTuple):
    """A glyph of a font file.

    Attributes:
        file: unique identifier, used like a path; no file has this name.
        where: the name in messages.
        named: file name that its icon is named after.
        drawing: the glyph.
    """

    file: str
    where: str
    named: str
    drawing: GlyphDrawing


class FontFile(NamedTuple):
    """A font as a source.

    Attributes:
        path: of the file.
        where: as messages show it.
        data: its bytes.
        units: per em, 0 where it cannot be used.
        drop: the share of the em below the baseline.
        glyphs: its icons.
        problems: why it cannot be used.
    """

    path: str
    where: str
    data: bytes = b""
    units: int = 0
    drop: float = 0.0
    glyphs: tuple[FontGlyph, ...] = ()
    problems: tuple[Diagnostic, ...] = ()


def is_font_file(path: str) -> bool:
    """Return whether a file is a font, by its name."""
    return path.lower().endswith(ENDINGS)


def open_font(path: str, where: str) -> FontFile:
    """Return the glyphs of a font file, or the reason why it cannot be used."""
    from oddpeg.font.read.containers import damage
    from oddpeg.font.read.drawings import font_drawings
    from oddpeg.font.read.unpack import LARGEST_FONT

    try:
        data = read_regular(path, LARGEST_FONT)
        with damage():
            drawings = font_drawings(data)
    except OSError as problem:
        message, cure = f"cannot be read: {problem.strerror}", "check its rights, its size, and that it is a file"
        return FontFile(path, where, problems=(Diagnostic("file-unreadable", message, cure, where),))
    except ValueError as problem:
        message, cure = f"cannot be used: {problem}", "download it again; `oddpeg inspect` names the damage"
        return FontFile(path, where, problems=(Diagnostic("bad-font", message, cure, where),))
    if drawings.locked:
        cure = "ask the owner for leave to change it, and for a file that says so"
        return FontFile(path, where, data, problems=(Diagnostic("font-rights", f"is {drawings.locked}", cure, where),))
    glyphs = tuple(
        FontGlyph(f"{path}\0{one.codepoint:04x}", f"{where} (U+{one.codepoint:04X})", f"{one.name}.svg", one)
        for one in drawings.glyphs
    )
    return FontFile(path, where, data, drawings.units, drawings.drop, glyphs)
