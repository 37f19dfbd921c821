"""Metadata of font files, and their anomalies.

Source: OpenType specification, name, OS/2, hhea, head, cmap, post, GSUB, fvar, CPAL.
"""

from __future__ import annotations

import unicodedata
from collections import Counter
from dataclasses import dataclass, field
from typing import Annotated, Any, NamedTuple

from oddpeg.font.read.containers import FontTables, format_of, read_tables
from oddpeg.font.read.glyphs import ForeignGlyph, opened
from oddpeg.font.read.svg_font import read_svg_font
from oddpeg.reports import Key, reported

_FACTS = {
    0: "copyright", 3: "identifier", 4: "full name", 5: "version", 6: "PostScript name", 7: "trademark", 8: "maker",
    9: "designer", 11: "maker's address", 12: "designer's address", 13: "licence", 14: "licence's address",
}  # fmt: skip
_RESERVED = "reserved font name"
PRIVATE = ((0xE000, 0xF8FF), (0xF0000, 0xFFFFD), (0x100000, 0x10FFFD))


class Metrics(NamedTuple):
    """One of a font's three sets of vertical metrics, in font units."""

    table: str
    ascender: Annotated[int, Key("above the baseline")]
    descender: Annotated[int, Key("below the baseline, negative")]
    gap: Annotated[int, Key("between lines")]


class AxisFacts(NamedTuple):
    """An axis of a variable font."""

    tag: Annotated[str, Key("four letters")]
    minimum: Annotated[float, Key("least value")]
    default: Annotated[float, Key("value where none is asked for")]
    maximum: Annotated[float, Key("largest value")]


@dataclass(slots=True)
class FontFacts:
    """Metadata and contents of one font.

    Attributes:
        metrics: all sets of them.
        size: bytes of the file.
        packed: bytes that it would take, by format.
    """

    file_format: Annotated[str, Key("TTF, OTF, TTC, WOFF, WOFF2, EOT or SVG", name="format")]
    outlines: Annotated[str, Key("TrueType, CFF, CFF2, SVG, or bitmaps")] = ""
    family: Annotated[str, Key("the name to type in stylesheets and programs")] = ""
    style: Annotated[str, Key("style within the family")] = ""
    weight: Annotated[int, Key("weight within the family")] = 400
    names: Annotated[dict[str, str], Key("other texts of the name table, by kind")] = field(default_factory=dict)
    units: Annotated[int, Key("font units", name="units_per_em")] = 0
    metrics: list[Metrics] = field(default_factory=list)
    typo_metrics: bool = False
    glyphs: Annotated[int, Key("number of glyphs")] = 0
    icons: Annotated[list[ForeignGlyph], Key("glyphs at private codepoints")] = field(default_factory=list)
    blocks: Annotated[dict[str, int], Key("characters in each Unicode block")] = field(default_factory=dict)
    axes: Annotated[list[AxisFacts], Key("axes of a variable font")] = field(default_factory=list)
    palettes: Annotated[int, Key("number of palettes")] = 0
    ligatures: Annotated[dict[str, int], Key("ligatures of letters, as typed, with their codepoints")] = field(
        default_factory=dict
    )
    embedding: Annotated[str, Key("what documents may do with it, in words")] = ""
    tables: Annotated[dict[str, int], Key("bytes of each table, the largest first")] = field(default_factory=dict)
    size: int = 0
    packed: dict[str, int] = field(default_factory=dict)
    complaints: Annotated[list[str], Key("anomalies")] = field(default_factory=list)
    number: Annotated[int | None, Key("number within a collection", optional=True)] = None
    file: Annotated[str, Key("its path")] = ""

    @reported("all sets of metrics, by table", name="metrics")
    def metrics_by_table(self) -> dict[str, Metrics]:
        """All sets of metrics, by table."""
        return {one.table: one for one in self.metrics}

    @reported('bytes of the file ("now"), and in each format', name="bytes")
    def sizes(self) -> dict[str, int]:
        """Bytes of the file, and in each format."""
        return {"now": self.size, **self.packed}

    @reported("whether all sets of metrics give lines the same height")
    def metrics_agree(self) -> bool:
        """Whether all sets of metrics give lines the same height."""
        lines = (m for m in self.metrics if m.table != "win" or not self.typo_metrics)
        return len({(m.ascender, m.descender) for m in lines}) <= 1

    @reported("whether the licence keeps the name for unmodified versions", name="reserved_name")
    def reserves_its_name(self) -> bool:
        """Whether the licence keeps the font's name for unmodified versions."""
        text = " ".join(self.names.get(key, "") for key in ("copyright", "licence", "trademark"))
        return _RESERVED in text.lower()


def inspect_font(data: bytes) -> list[FontFacts]:
    """Return the metadata of every font in a file; raise ValueError where it is no font, or damaged."""
    if format_of(data) == "SVG":
        return [_svg_facts(data)]
    members = [facts_of(one) for one in read_tables(data)]
    for facts in members:
        facts.size = len(data)
    return members


def facts_of(font: FontTables) -> FontFacts:
    """Return a font's metadata."""
    facts = FontFacts(font.file_format, number=font.number)
    with opened(font.sfnt, lazy=True) as read:
        _name(read, facts)
        _measure(read, facts)
        _cover(read, facts)
        _features(read, facts)
    facts.tables = dict(sorted(((tag, len(data)) for tag, data in font.tables.items()), key=lambda pair: -pair[1]))
    facts.complaints = list(_complaints(font, facts))
    return facts


def _name(font: Any, facts: FontFacts) -> None:
    names = font.get("name", None)

    def get(*numbers: int) -> str:
        texts = [str(names.getDebugName(number) or "") for number in numbers] if names else []
        return next((" ".join(text.split()) for text in texts if text), "")

    facts.family, facts.style = get(16, 1), get(17, 2)
    facts.names = {what: text for number, what in _FACTS.items() if (text := get(number))}
    if "OS/2" in font:
        os2 = font["OS/2"]
        facts.weight = int(os2.usWeightClass)
        facts.embedding = embedding_words(int(os2.fsType))
    kinds = {"glyf": "TrueType", "CFF ": "CFF", "CFF2": "CFF2"}
    facts.outlines = next((kind for tag, kind in kinds.items() if tag in font), "bitmaps")


def embedding_words(rights: int) -> str:
    """Return the permissions of OS/2 fsType, in words."""
    use = (
        "restricted: not without the owner's leave" if rights & 0x2 and not rights & 0xC
        else "documents may hold it, to be changed" if rights & 0x8
        else "documents may hold it, to be seen and printed" if rights & 0x4
        else "may be installed and shipped with documents"
    )  # fmt: skip
    extra = ["no parts of it"] if rights & 0x100 else []
    extra += ["bitmaps only"] if rights & 0x200 else []
    return "; ".join([use, *extra])


def _measure(font: Any, facts: FontFacts) -> None:
    facts.units = int(font["head"].unitsPerEm)
    facts.glyphs = int(font["maxp"].numGlyphs)
    if "hhea" in font:
        hhea = font["hhea"]
        facts.metrics.append(Metrics("hhea", int(hhea.ascent), int(hhea.descent), int(hhea.lineGap)))
    if "OS/2" in font:
        o = font["OS/2"]
        facts.metrics.append(Metrics("typo", int(o.sTypoAscender), int(o.sTypoDescender), int(o.sTypoLineGap)))
        facts.typo_metrics = bool(o.fsSelection & 1 << 7)
        facts.metrics.append(Metrics("win", int(o.usWinAscent), -int(o.usWinDescent), 0))


def is_private(code: int) -> bool:
    """Return whether a codepoint is private."""
    return any(low <= code <= high for low, high in PRIVATE)


def _cover(font: Any, facts: FontFacts) -> None:
    cmap = font.getBestCmap() or {} if "cmap" in font else {}
    blocks: Counter[str] = Counter()
    for code in sorted(cmap):
        blocks[block_of(code)] += 1
    facts.blocks = dict(blocks)
    named = ("post" in font and font["post"].formatType == 2.0) or "CFF " in font
    facts.icons = [ForeignGlyph(code, cmap[code] if named else "") for code in sorted(cmap) if is_private(code)]


def block_of(code: int) -> str:
    """Return the name of the block that a codepoint is in, as far as fonts tell blocks apart."""
    from fontTools.unicodedata import block

    return str(block(chr(code)))


def _features(font: Any, facts: FontFacts) -> None:
    if "fvar" in font:
        axes = font["fvar"].axes
        facts.axes = [AxisFacts(a.axisTag, float(a.minValue), float(a.defaultValue), float(a.maxValue)) for a in axes]
    if "CPAL" in font:
        facts.palettes = len(font["CPAL"].palettes)
    if "GSUB" in font:
        facts.ligatures = _ligatures(font)


def _ligatures(font: Any) -> dict[str, int]:
    """Return the letters that can be typed to get a glyph with a codepoint, and that codepoint."""
    codes: dict[str, int] = {}
    for code, name in sorted((font.getBestCmap() or {}).items()):
        codes.setdefault(name, code)
    counts: dict[str, int] = {}
    table = font["GSUB"].table
    for lookup in table.LookupList.Lookup if table and table.LookupList else []:
        for sub in lookup.SubTable:
            sub = getattr(sub, "ExtSubTable", sub)
            for first, ligatures in (getattr(sub, "ligatures", None) or {}).items():
                for ligature in ligatures:
                    parts = [codes.get(name) for name in (first, *ligature.Component)]
                    if ligature.LigGlyph in codes and is_private(codes[ligature.LigGlyph]) and None not in parts:
                        counts["".join(chr(part) for part in parts if part)] = codes[ligature.LigGlyph]
    return counts


def _complaints(font: FontTables, facts: FontFacts) -> list[str]:
    """Return a font's anomalies."""
    complaints = []
    tables = font.tables
    missing = [tag for tag in ("cmap", "head", "hhea", "hmtx", "maxp", "name", "OS/2", "post") if tag not in tables]
    if missing:
        complaints.append(f"lacks the tables {', '.join(missing)}, which every font needs")
    if not facts.family:
        complaints.append("has no family name: programs cannot list it")
    if not facts.metrics_agree:
        shown = ", ".join(f"{m.table} {m.ascender}/{m.descender}" for m in facts.metrics)
        complaints.append(f"its metrics differ ({shown}): lines are higher in some programs than in others")
    if "DSIG" in tables:
        complaints.append("carries a signature, which nothing looks at any more")
    nameless = facts.icons and not any(name for _, name in facts.icons) and not facts.ligatures
    if nameless and facts.file_format in ("TTF", "OTF", "TTC"):  # files for the web leave names out
        complaints.append("its icons have no names: neither glyph names nor ligatures")
    if facts.blocks and "Basic Latin" not in facts.blocks and not facts.icons:
        complaints.append("has neither letters nor icons")
    return complaints


def shown_name(code: int, name: str) -> str:
    """Return the display name of a glyph: its own name, otherwise that of its character."""
    return name or unicodedata.name(chr(code), "").lower() or f"U+{code:04X}"


def _svg_facts(data: bytes) -> FontFacts:
    font = read_svg_font(data)
    facts = FontFacts("SVG", "SVG", font.family, "Regular", font.weight, units=font.units, size=len(data))
    facts.glyphs = len(font.glyphs)
    facts.metrics = [Metrics("font-face", font.ascent, font.descent, 0)]
    blocks = Counter(block_of(code) for code in sorted(font.glyphs))
    facts.blocks = dict(blocks)
    facts.icons = [ForeignGlyph(code, glyph.name) for code, glyph in sorted(font.glyphs.items()) if is_private(code)]
    facts.complaints = ["is a format that only old programs read"]
    return facts
