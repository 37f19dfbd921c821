"""Rules of layout in parts of fonts: a font with every kind of rule is set as before, and is as small as it can be."""

from __future__ import annotations

import io
import os
from pathlib import Path

import ots
import pytest
import uharfbuzz
from fontTools import subset
from fontTools.feaLib.builder import addOpenTypeFeaturesFromString
from fontTools.fontBuilder import FontBuilder
from fontTools.misc.psCharStrings import T2CharString
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable
from fontTools.ttLib.tables._k_e_r_n import KernTable_format_0
from PIL import Image

from oddpeg.diagnostics import OddPegError
from oddpeg.existing_fonts.inspect import inspect_files, rows, sheet_page, sheet_picture
from oddpeg.existing_fonts.repack import RepackOptions, repack_data
from support.data import DATA
from support.fonts import MADE

RULES = (DATA / "layout.fea").read_text(encoding="utf-8")
LETTERS = "abcdefghijklmnopqrstuvwxyz"
EXTRA = ["acutecomb", "gravecomb", "f_i", "f_f_i", "a.alt", "a.sc", "b.sc", "c.one", "c.two", "d.end", "x_y"]
MARKS = {0x301: "acutecomb", 0x300: "gravecomb"}
TEXTS = [
    "abc",
    "aghbgicgjegh",
    "laxodvmewpcx",
    "office fi",
    "a\u0301b\u0300c",
    "xyz cab",
    "dad\u0301 d",
    "abcdefghijklmnopqrstuvwxyz\u0301",
]
FEATURES: tuple[dict[str, bool], ...] = (
    {},
    {"liga": False},
    {"smcp": True},
    {"salt": True, "kern": False},
    {"dlig": True},
)


def rich_font(cubic: bool) -> bytes:
    order = [".notdef", "space", *LETTERS, *EXTRA]
    builder = FontBuilder(1000, isTTF=not cubic)
    builder.setupGlyphOrder(order)
    builder.setupCharacterMap({0x20: "space", **{ord(c): c for c in LETTERS}, **MARKS})
    glyphs = {}
    for number, name in enumerate(order):
        pen = T2CharStringPen(500, None) if cubic else TTGlyphPen(None)
        if name != "space":
            side = 100 + 9 * number
            pen.moveTo((50, 0))
            for point in ((50, side), (50 + side, side), (50 + side, 0)):
                pen.lineTo(point)
            pen.closePath()
        glyphs[name] = pen.getCharString() if cubic else pen.glyph()
    if cubic:
        builder.setupCFF("Rich-Regular", {"FullName": "Rich Regular"}, glyphs, {})
        cff = builder.font["CFF "].cff
        for size in (40, 60):  # subroutines: one that a glyph calls, one that none does
            cff.GlobalSubrs.append(T2CharString(program=[size, "hlineto", "return"], globalSubrs=cff.GlobalSubrs))
        glyphs["a"].program = [50, 0, "rmoveto", -107, "callgsubr", 100, "vlineto", "endchar"]
    else:
        builder.setupGlyf(glyphs)
    builder.setupHorizontalMetrics({name: (500 + number, 50) for number, name in enumerate(order)})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Rich", "styleName": "Regular", "psName": "Rich-Regular"})
    builder.setupOS2()
    builder.setupPost()
    addOpenTypeFeaturesFromString(builder.font, RULES)
    if not cubic:
        pairs = newTable("kern")
        old = KernTable_format_0()
        old.apple, old.coverage, old.tupleIndex = False, 1, None
        old.kernTable = {("a", "b"): -30, ("a", "z"): -5, ("k", "z"): -9}
        pairs.version, pairs.kernTables = 0, [old]
        builder.font["kern"] = pairs
    out = io.BytesIO()
    builder.save(out)
    return out.getvalue()


def shaped(data: bytes, text: str, features: dict[str, bool]) -> list[tuple[int, int, int, int]]:
    font, buffer = uharfbuzz.Font(uharfbuzz.Face(data)), uharfbuzz.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    uharfbuzz.shape(font, buffer, features)
    pairs = zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    return [(info.codepoint, at.x_advance, at.x_offset, at.y_offset) for info, at in pairs]


@pytest.mark.parametrize("cubic", [False, True])
@pytest.mark.parametrize("text", TEXTS)
def test_a_part_is_set_as_before_and_as_small_as_the_references(tmp_path: Path, text: str, cubic: bool) -> None:
    data = rich_font(cubic)
    (made,) = repack_data(Path("rich.ttf"), data, RepackOptions(formats=("ttf", "woff2"), text=text))
    part, packed = (file.data for file in made.files[:2])
    (tmp_path / "part.ttf").write_bytes(part)
    done = ots.sanitize(str(tmp_path / "part.ttf"), os.devnull, capture_output=True)
    assert done.returncode == 0 and not done.stderr, done.stderr
    for features in FEATURES:
        assert shaped(part, text, features) == shaped(data, text, features), features
    options = subset.Options(retain_gids=True, layout_features=["*"], notdef_outline=True, name_IDs=["*"],
                             glyph_names=False, flavor="woff2")  # fmt: skip
    font, out = TTFont(io.BytesIO(data)), io.BytesIO()
    subsetter = subset.Subsetter(options)
    subsetter.populate(text=text)
    subsetter.subset(font)
    subset.save_font(font, out, options)
    assert len(packed) <= 1.5 * len(out.getvalue())


def test_nothing_of_layout_is_left_where_nothing_reaches_it() -> None:
    (made,) = repack_data(Path("rich.ttf"), rich_font(False), RepackOptions(formats=("ttf",), text="z"))
    font = TTFont(io.BytesIO(made.files[0].data))
    assert "GSUB" not in font and len(font.getGlyphOrder()) < 30


@pytest.mark.parametrize("cubic", [False, True])
def test_another_name_is_in_all_tables(cubic: bool) -> None:
    options = RepackOptions(formats=("ttf",), text="abc", family="Poor")
    (made,) = repack_data(Path("rich.ttf"), rich_font(cubic), options)
    font = TTFont(io.BytesIO(made.files[0].data))
    assert font["name"].getDebugName(1) == "Poor" and font["name"].getDebugName(6) == "Poor-Regular"
    if cubic:
        assert font["CFF "].cff.fontNames[0].startswith("Poor-Regular")


@pytest.mark.parametrize("kind", ["letters", "icons", "varying"])
def test_a_sheet_shows_a_font(tmp_path: Path, kind: str) -> None:
    data = rich_font(True) if kind == "letters" else MADE["varying" if kind == "varying" else "flat"]().write("ttf")
    path = tmp_path / "any.ttf"
    path.write_bytes(data)
    inspected = inspect_files([path])
    picture = Image.open(io.BytesIO(sheet_picture(inspected[0])))
    assert picture.width == 1280 and len(picture.convert("RGB").getcolors(1 << 20) or []) > 8
    page = sheet_page(inspected).decode()
    assert "data:font/woff;base64," in page and rows(inspected[0].fonts[0])


def test_a_sheet_of_a_damaged_font_is_refused_or_shows_the_rest(tmp_path: Path) -> None:
    data = bytearray(rich_font(False))
    glyf = TTFont(io.BytesIO(bytes(data))).reader.tables["glyf"]
    data[glyf.offset : glyf.offset + 60] = b"\xff" * 60
    path = tmp_path / "any.ttf"
    path.write_bytes(bytes(data))
    (inspected,) = inspect_files([path])
    assert sheet_picture(inspected)[:4] == b"\x89PNG"
    assert b"data:font/woff;base64," in sheet_page([inspected])
    path.write_bytes(b"no font")
    with pytest.raises(OddPegError, match="is no font file"):
        inspect_files([path])
