"""Whole fonts, made by calls, table by table as an independent reader shows them: a change of any byte that means
something is a change of a text in `expected`."""

from __future__ import annotations

import io
import re
import struct
from collections.abc import Callable
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.ttProgram import Program
from fontTools.ttLib.woff2 import WOFF2Reader

from oddpeg.font.cff import empty_charstrings
from oddpeg.font.compile import Colours, FontCompiler
from oddpeg.font.containers import FontTables, read_tables
from oddpeg.font.foreign_glyf import canonical_size, glyph_data, parse_glyph
from oddpeg.font.glyphset import Glyph
from oddpeg.font.packing import packed
from oddpeg.font.palettes import Palettes
from oddpeg.font.subset import subset
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import ColourLayer
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop
from support.expected import require_expected
from support.fonts import ICONS, INFO, MADE, cubic_font, opened, plain, saved, shape, square, text_font

EXPECTED = Path(__file__).with_name("expected")


def shown(font: TTFont) -> str:
    """A font as text, without what belongs to the reader."""
    out = io.StringIO()
    font.saveXML(out, newlinestr="\n", skipTables=["GlyphOrder"] if "post" not in font else [])
    text = re.sub(r"<!--.*?-->|<checkSumAdjustment [^>]*>|<ttFont [^>]*>", "", out.getvalue(), flags=re.DOTALL)
    return "\n".join(line.rstrip() for line in text.splitlines() if line.strip()) + "\n"


@pytest.mark.parametrize("kind", MADE)
def test_fonts_hold_what_they_held(kind: str) -> None:
    require_expected(EXPECTED / f"{kind}.ttx", shown(opened(MADE[kind]().write("ttf"))))


@pytest.mark.parametrize("kind", MADE)
@pytest.mark.parametrize("file_format", ["woff", "woff2"])
@pytest.mark.parametrize("draft", [False, True])
def test_files_for_the_web_hold_the_same_but_for_names(kind: str, file_format: str, draft: bool) -> None:
    compiler = MADE[kind]()
    bare, web = opened(compiler.write("ttf")), opened(compiler.write(file_format, draft))
    assert web["post"].formatType == 3.0 and web.getGlyphOrder() != bare.getGlyphOrder()
    web.setGlyphOrder(bare.getGlyphOrder())
    web["post"], web["head"].flags, web["head"].checkSumAdjustment = bare["post"], bare["head"].flags, 0
    assert shown(web) == shown(bare)


def test_fonts_for_old_browsers_hold_what_they_held() -> None:
    compiler = plain()
    require_expected(EXPECTED / "plain.svg", compiler.write("svg").decode().replace("><", ">\n<"))
    data, bare = compiler.write("eot"), compiler.write("ttf")
    assert data.endswith(bare)
    require_expected(EXPECTED / "plain.eot.txt", data[: -len(bare)].hex(" ", 16).replace(" ", "\n") + "\n")
    with pytest.raises(ValueError, match="unknown font format 'ttc'"):
        compiler.write("ttc")


PARTS: dict[str, Callable[[FontTables], FontTables]] = {
    "part": lambda font: subset(font, {0x41, 0x66, 0x69, 0x5A, 0x1234}),
    "part-made-of-others": lambda font: subset(font, {0xC1}),
    "part-made-of-parts": lambda font: subset(font, {0x1F504}, drop_layout=True),
    "part-that-ends": lambda font: subset(font, {0x5A}),
    "part-of-cubic": lambda font: subset(font, {0x78, 0xE101}),
    "part-without-layout": lambda font: subset(font, {0x41, 0xC1}, drop_layout=True),
}


@pytest.mark.parametrize("part", PARTS)
def test_parts_of_fonts_hold_what_they_held(part: str) -> None:
    (font,) = read_tables(cubic_font() if "cubic" in part else text_font())
    require_expected(EXPECTED / f"{part}.ttx", shown(opened(packed(PARTS[part](font), "ttf"))))


@pytest.mark.parametrize("kind", ["coloured", "flat", "varying"])
def test_parts_of_our_own_fonts_hold_what_they_held(kind: str) -> None:
    (font,) = read_tables(MADE[kind]().write("ttf"))
    require_expected(EXPECTED / f"{kind}-part.ttx", shown(opened(packed(subset(font, {0xE002, 0xF0000}), "ttf"))))


@pytest.mark.parametrize("file_format", ["woff", "woff2"])
def test_fonts_come_out_of_their_packing_as_they_went_in(file_format: str) -> None:
    for data in (text_font(), cubic_font(), *(make().write("ttf") for make in MADE.values())):
        (font,) = read_tables(data)
        (again,) = read_tables(packed(font, file_format))
        assert isinstance(again, FontTables) and again.file_format == file_format.upper()
        old, new = opened(data), opened(again.sfnt)
        new.setGlyphOrder(old.getGlyphOrder())
        new["post"], new["head"].flags = old["post"], old["head"].flags
        assert shown(new) == shown(old)


def test_outlines_beyond_the_reach_of_short_offsets_are_found() -> None:
    font = opened(text_font())
    for name in ("A", "f", "Z", "i", "acute"):
        font["glyf"][name].program = Program()
        font["glyf"][name].program.fromBytecode(b"\x4f" * 30_000)
    big = saved(font)
    for also, longest in ((0xC1, 150_000), (0x41, 120_000)):
        kept = {0x41, 0x66, 0x5A, 0x69}
        part = subset(big, kept | {also}, drop_layout=True)
        read = opened(packed(part, "ttf"))
        assert read["head"].indexToLocFormat == (longest > 131_072) and len(part.tables["glyf"]) > longest
        assert all(read["glyf"][read.getBestCmap()[code]].program.getBytecode() == b"\x4f" * 30_000 for code in kept)


def compact(top: bytes, glyphs: list[bytes]) -> bytes:
    """A table of compact outlines. top: what its dictionary holds before the operator of the outlines' place."""

    def index(*objects: bytes) -> bytes:
        ends = [1]
        for one in objects:
            ends.append(ends[-1] + len(one))
        return len(objects).to_bytes(2, "big") + b"\1" + bytes(ends) + b"".join(objects) if objects else b"\0\0"

    before = b"\1\0\4\1" + index(b"Reel")
    size = len(before) + len(index(top + b"\x11")) + len(index()) * 2
    assert size == top_place(top)
    return before + index(top + b"\x11") + index() * 2 + index(*glyphs)


def top_place(top: bytes) -> int:
    return 4 + 9 + 5 + len(top) + 1 + 4


OPERANDS: dict[str, Callable[[int], bytes]] = {
    "one byte": lambda at: bytes([at + 139]),
    "two bytes": lambda at: b"\x1c" + struct.pack(">h", at),
    "four bytes": lambda at: b"\x1d" + struct.pack(">i", at),
    "after a real number": lambda at: b"\x1e\xe2\xa2\x5f\x0c\x07" + bytes([at + 139]),
    "after a real number of whole bytes": lambda at: b"\x1e\x12\xf5\x05" + bytes([at + 139]),
    "after large numbers": lambda at: b"\xf7\x11\xfa\x12\xfb\x11\xfe\x12\x05" + bytes([at + 139]),
    "after operators": lambda at: b"\x8b\x00\x8c\x15\x8d\x0c\x11" + bytes([at + 139]),
}


@pytest.mark.parametrize("kind", OPERANDS)
def test_places_in_compact_outlines_are_read_in_every_form(kind: str) -> None:
    top = OPERANDS[kind](top_place(OPERANDS[kind](0)))
    glyphs = [b"\x0e", b"\x8b\x8b\x15\x0e", b"\x8c\x8c\x15\x0e"]
    table = compact(top, glyphs)
    start = top_place(top)
    emptied = empty_charstrings(table, {0, 2}, second=False)
    assert len(emptied) == len(table) and emptied[:start] == table[:start]
    assert emptied[start:].rstrip(b"\0") == b"\0\3\1\1\2\3\7\x0e\x0e\x8c\x8c\x15\x0e"
    with pytest.raises(ValueError, match="its CFF table ends too early"):
        empty_charstrings(table[: start + 4], {0}, second=False)


def test_long_runs_of_equal_steps_are_packed_and_counted() -> None:
    steps = [(k // 2, (k + 1) // 2) for k in range(601)] + [(400, 900), (800, -120)]
    flat = [(7 * k, 0) for k in range(130)] + [(1000, 800, True)]
    font = FontCompiler([Glyph.of("stairs", 0xE001, shape(steps, flat)), *ICONS[1:]], INFO).write("ttf")
    read = opened(font)
    assert [*map(tuple, read["glyf"]["stairs"].coordinates)] == [point[:2] for point in (*steps, *flat)]
    (tables,) = read_tables(font)
    data = glyph_data(tables.tables)
    assert [len(one) for one in data] == [canonical_size(parse_glyph(one)) for one in data]


def test_outlines_of_foreign_fonts_are_rearranged_for_the_web() -> None:
    (font,) = read_tables(text_font())
    web = io.BytesIO(packed(font, "woff2"))
    entries = {entry.tag: entry for entry in WOFF2Reader(web).tables.values()}
    assert entries["glyf"].transformed and entries["loca"].transformed and entries["loca"].length == 0


def test_gradients_beyond_the_reach_of_coordinates_go_into_a_transform() -> None:
    stops = (Stop(0.0, Colour(9, 9, 9), 1.0), Stop(1.0, Colour(200, 0, 0), 1.0))
    far = Gradient(False, (0.0, 0.0, 40.0, 30.0), stops, "pad", Matrix(), False)
    point = Gradient(False, (0.5, 0.5, 0.5, 0.5), stops, "pad", Matrix(), False)
    em = Matrix(1024, 0, 0, -1024, 10, 896)
    fills = [Fill(gradient=far, matrix=em), Fill(gradient=point, alpha=0.5, matrix=em)] * 150
    palettes = Palettes.of({}, {stop.colour for stop in stops if stop.colour})
    layers = {0xE001: [ColourLayer(fill, square(10 + number)) for number, fill in enumerate(fills)]}
    table = opened(FontCompiler(ICONS, INFO, Colours(palettes, layers)).write("ttf"))["COLR"].table
    (base,) = table.BaseGlyphList.BaseGlyphPaintRecord
    groups = table.LayerList.Paint[base.Paint.FirstLayerIndex :][: base.Paint.NumLayers]
    assert [group.NumLayers for group in groups] == [255, 45]  # as many as one paint may have
    first, second = table.LayerList.Paint[groups[0].FirstLayerIndex :][:2]
    line, m = first.Paint.Paint, first.Paint.Transform
    for (x, y), there in (((line.x0, line.y0), (10, 896)), ((line.x1, line.y1), (40_970, 896 - 30_720))):
        assert (m.xx * x + m.xy * y + m.dx, m.yx * x + m.yy * y + m.dy) == pytest.approx(there, abs=2)
    across = (line.x2 - line.x0) * (line.x1 - line.x0) + (line.y2 - line.y0) * (line.y1 - line.y0)
    assert across == 0 and (second.Paint.Format, second.Paint.Alpha) == (2, 0.5)
