"""Glyphs and info → font files."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.font import tables as t
from oddpeg.font.builtin_glyphs import letter, missing, space
from oddpeg.font.cmap import cmap
from oddpeg.font.eot import eot
from oddpeg.font.glyf import glyf_and_loca
from oddpeg.font.glyphset import Glyph, GlyphSet
from oddpeg.font.gsub import gsub
from oddpeg.font.info import FontInfo, glyph_names
from oddpeg.font.sfnt import Tables, ttf, with_adjustment
from oddpeg.font.svg_font import svg_font
from oddpeg.font.woff import woff
from oddpeg.font.woff2 import woff2

_NO_BREAK_SPACE = 0xA0


def other_cases(letters: Sequence[str], first: int) -> dict[int, int]:
    """Return the glyphs for letters in the other case, so that names can be typed in any. first: glyph of the first
    letter."""
    found: dict[int, int] = {}
    for number, character in enumerate(letters):
        for other in (character.upper(), character.lower()):
            if len(other) == 1 and other != character:
                found.setdefault(ord(other), first + number)
    return found


class FontCompiler:
    """Holds one font's tables and writes it in every format asked for."""

    def __init__(self, icons: list[Glyph], info: FontInfo) -> None:
        """`icons` carry the icons' own names; legal glyph names are made here."""
        known = {0x20, *(g.codepoint for g in icons)}
        letters = sorted({c for name, _ in info.ligatures for c in name if ord(c) not in known})
        icons = sorted(icons, key=lambda g: (g.codepoint is None, g.codepoint))
        self.info = info
        self.letters = len(letters)
        glyphs = [missing(info.units, info.ascender), space(info.units), *icons]
        also = {_NO_BREAK_SPACE: 1} | other_cases(letters, len(glyphs))
        glyphs += [letter(c, info.units) for c in letters]
        taken = {g.codepoint for g in glyphs}
        self.glyphs = GlyphSet.of(glyphs, {code: glyph for code, glyph in also.items() if code not in taken})
        glyf, loca, self.loca_format = glyf_and_loca(self.glyphs)
        self._shared: Tables = {
            "OS/2": t.os2(info, self.glyphs),
            "cmap": cmap(self.glyphs),
            "gasp": t.gasp(),
            "glyf": glyf,
            "hhea": t.hhea(info, self.glyphs),
            "hmtx": t.hmtx(self.glyphs),
            "loca": loca,
            "maxp": t.maxp(self.glyphs),
            "name": t.name(info),
            "prep": t.prep(),
        }
        if info.ligatures:
            number = {code: i for i, code in enumerate(self.glyphs.codepoint.tolist()) if code >= 0}
            self._shared["GSUB"] = gsub(
                {tuple(number[ord(c)] for c in name): number[code] for name, code in info.ligatures}
            )

    def tables(self, named: bool, repacked: bool) -> Tables:
        """Return all tables. named: with glyph names; repacked: for WOFF2."""
        names = self.names() if named else None
        head = t.head(self.info, self.glyphs, self.loca_format, repacked)
        return with_adjustment({**self._shared, "head": head, "post": t.post(self.info, names)})

    def names(self) -> list[str]:
        """Return a legal, unique name for every glyph."""
        return [".notdef", "space", *glyph_names(self.glyphs.names[2:])]

    def write(self, kind: str, draft: bool = False) -> bytes:
        """Return the font file of a kind: ttf, woff or woff2, or one of the legacy eot and svg. draft: pack fast
        rather than small."""
        match kind:
            case "ttf":
                return ttf(self.tables(named=True, repacked=False))
            case "woff":
                return woff(self.tables(named=False, repacked=False), 1 if draft else 9)
            case "woff2":
                return woff2(self.tables(named=False, repacked=True), self.glyphs, self.loca_format, draft)
            case "eot":
                tables = self.tables(named=True, repacked=False)
                return eot(ttf(tables), tables, self.info)
            case "svg":
                return svg_font(self.glyphs, self.names(), self.info)
        raise ValueError(f"unknown font format {kind!r}")
