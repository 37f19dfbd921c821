"""Glyphs and info → font files."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.write import tables as t
from oddpeg.font.write.builtin_glyphs import letter, missing, space
from oddpeg.font.write.cmap import cmap
from oddpeg.font.write.colour import Layered, LayerGlyph, colr, cpal, labels
from oddpeg.font.write.eot import eot
from oddpeg.font.write.glyf import glyf_and_loca
from oddpeg.font.write.glyphset import Glyph, GlyphSet
from oddpeg.font.write.gsub import Substitution, gsub
from oddpeg.font.write.gvar import gvar
from oddpeg.font.write.info import FontInfo, glyph_names
from oddpeg.font.write.palettes import Palettes
from oddpeg.font.write.sfnt import Tables, ttf, with_adjustment
from oddpeg.font.write.svg_font import svg_font
from oddpeg.font.write.variations import Variations, avar, fvar, stat
from oddpeg.font.write.woff import woff
from oddpeg.font.write.woff2 import woff2

_NO_BREAK_SPACE = 0xA0
MOST_GLYPHS = 65_535  # glyph numbers have 16 bits


def other_cases(letters: Sequence[str], first: int) -> dict[int, int]:
    """Return the glyphs for letters in the other case, so that names can be typed in any. first: glyph of the first
    letter."""
    cases: dict[int, int] = {}
    for number, character in enumerate(letters):
        for other in (character.upper(), character.lower()):
            if len(other) == 1 and other != character:
                cases.setdefault(ord(other), first + number)
    return cases


def _with_layers(glyphs: list[Glyph]) -> Layered:
    """Add a glyph for each outline of a layer, equal ones once, and return the layers of each glyph that has some.
    Raise `OddPegError` where there are more than a font holds."""
    by_glyph: dict[int, list[LayerGlyph]] = {}
    known: dict[tuple[bytes, bytes, bytes, int], int] = {}
    for number, glyph in enumerate(list(glyphs)):
        for fill, outline in glyph.layers:
            key = outline.xy.tobytes(), outline.on.tobytes(), outline.ends.tobytes(), outline.advance
            if key not in known:
                known[key] = len(glyphs)
                glyphs.append(Glyph.of(f"{glyph.name}.layer", None, outline))
            by_glyph.setdefault(number, []).append(LayerGlyph(known[key], fill))
    count = max(len(glyphs), sum(map(len, by_glyph.values())))
    if count > MOST_GLYPHS:
        message = f"a font holds at most {MOST_GLYPHS:,} glyphs, and with layers of colour there are {count:,}"
        raise OddPegError(Diagnostic("too-many-layers", message, "leave out icons, or colour, in that bundle"))
    return by_glyph


def _varying(glyphs: GlyphSet, variations: Variations) -> Tables:
    """Return the tables of axes."""
    tables = {"fvar": fvar(variations), "gvar": gvar(glyphs, variations), "STAT": stat(variations)}
    bent = avar(variations)
    return tables if bent is None else {**tables, "avar": bent}


class FontCompiler:
    """Holds one font's tables and writes it in every format asked for."""

    def __init__(
        self, icons: list[Glyph], info: FontInfo, palettes: Palettes | None = None, variations: Variations | None = None
    ) -> None:
        """Prepare the glyphs; legal glyph names are derived from the icons' names.

        palettes: with every colour of the layers; variations: axes, for a variable font. Raise `OddPegError` where
        there are more glyphs than a font holds."""
        known = {0x20, *(g.codepoint for g in icons)}
        letters = sorted({c for name, _ in info.ligatures for c in name if ord(c) not in known})
        icons = sorted(icons, key=lambda g: (g.codepoint is None, g.codepoint))
        parts = variations.parts if variations else ()
        self.info = info
        self.letters = len(letters)
        glyphs = [missing(info.units, info.ascender), space(info.units), *icons]
        also = {_NO_BREAK_SPACE: 1} | other_cases(letters, len(glyphs))
        glyphs += [letter(c, info.units) for c in letters]
        replacing = {id(glyph): glyph for part in parts for glyph in part.glyphs.values()}  # some serve several sizes
        self.replacing = {key: len(glyphs) + number for number, key in enumerate(replacing)}
        glyphs += replacing.values()
        layered = _with_layers(glyphs) if palettes else {}
        taken = {g.codepoint for g in glyphs}
        self.glyphs = GlyphSet.of(glyphs, {code: glyph for code, glyph in also.items() if code not in taken})
        self.box = t.FontBox.of(self.glyphs)
        more_names = labels(palettes).texts if layered and palettes else {}
        more_names |= variations.names(info.family) if variations else {}
        glyf, loca, self.loca_format = glyf_and_loca(self.glyphs)
        self._shared: Tables = {
            "OS/2": t.os2(info, self.glyphs, self.box),
            "cmap": cmap(self.glyphs),
            "gasp": t.gasp(),
            "glyf": glyf,
            "hhea": t.hhea(info, self.glyphs),
            "hmtx": t.hmtx(self.glyphs),
            "loca": loca,
            "maxp": t.maxp(self.glyphs),
            "name": t.name(info, more_names),
            "prep": t.prep(),
        }
        if layered and palettes:
            self._shared["COLR"] = colr(layered, palettes.numbers())
            self._shared["CPAL"] = cpal(palettes)
        if variations:
            self._shared |= _varying(self.glyphs, variations)
        if info.ligatures or parts:
            self._shared["GSUB"] = self._substitutions(variations)

    def _substitutions(self, variations: Variations | None) -> bytes:
        number = {code: i for i, code in enumerate(self.glyphs.codepoint.tolist()) if code >= 0}
        substitutions = []
        if variations:
            for part in variations.parts:
                replaced = {number[code]: self.replacing[id(glyph)] for code, glyph in part.glyphs.items()}
                substitutions.append(Substitution(variations.conditions(part), replaced))
        names = self.info.ligatures
        return gsub({tuple(number[ord(c)] for c in name): number[code] for name, code in names}, substitutions)

    def tables(self, named: bool, repacked: bool) -> Tables:
        """Return all tables. named: with glyph names; repacked: for WOFF2."""
        names = self.names() if named else None
        head = t.head(self.info, self.box, self.loca_format, repacked)
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
