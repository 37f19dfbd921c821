"""The edges of formats: the last value that a form holds, the first that needs another, and what stands at limits."""

from __future__ import annotations

import io

from fontTools.ttLib import TTFont
from fontTools.ttLib.woff2 import WOFF2Reader
from lxml import etree

from oddpeg.font.write.compile import FontCompiler
from oddpeg.font.write.glyphset import Glyph
from support.fonts import ICONS, INFO, RING, opened, shape, square

BARE = INFO._replace(ligatures=())


def test_glyphs_beyond_the_reach_of_short_offsets() -> None:
    comb = [(k, 40 * k * (k % 2)) for k in range(400)]
    for count, long in ((100, 0), (200, 1)):
        icons = [Glyph.of(f"i{n}", 0xE000 + n, shape([*comb, (1000, n)])) for n in range(count)]
        data = FontCompiler(icons, BARE).write("ttf")
        read = opened(data)
        assert read["head"].indexToLocFormat == long
        assert (len(read.reader["glyf"]) > 0x1FFFE) == bool(long)
        assert read["glyf"]["i99"].coordinates[-1] == (1000, 99)
        web = WOFF2Reader(io.BytesIO(FontCompiler(icons, BARE).write("woff2"))).tables
        assert web["loca"].origLength == (len(read.getGlyphOrder()) + 1) * (4 if long else 2)


def test_family_names_in_svg_fonts_are_text() -> None:
    family = 'Quay & "Pier" <Süd>'
    text = FontCompiler([Glyph.of("anchor", 0xE001, square(600))], BARE._replace(family=family)).write("svg")
    face = next(iter(etree.fromstring(text).iter("{*}font-face")))
    assert face.get("font-family") == family


def test_fonts_of_many_glyphs_keep_every_one() -> None:
    """More than are worked out at once, of sizes that differ, some empty, some overlapping."""
    icons = [Glyph.of(f"sign-{n}", 0xF0000 + n, square(100 + n % 700, n % 50)) for n in range(4_500)]
    icons[1_999] = Glyph.of("sign-1999", 0xF0000 + 1_999, RING)
    compiler = FontCompiler(icons, BARE)
    for file_format in ("ttf", "woff2"):
        font = TTFont(io.BytesIO(compiler.write(file_format, True)))
        glyf, cmap = font["glyf"], font.getBestCmap()
        assert len(font.getGlyphOrder()) >= 4_500
        for n in (0, 1, 1_990, 1_998, 1_999, 2_000, 2_001, 3_999, 4_000, 4_499):
            outline = square(100 + n % 700, n % 50) if n != 1_999 else RING
            points, ends, flags = glyf[cmap[0xF0000 + n]].getCoordinates(glyf)
            assert [*map(tuple, points)] == [*map(tuple, outline.xy.tolist())], n
            assert ends == outline.ends.tolist() and [bool(flag & 1) for flag in flags] == outline.on.tolist()


def test_icons_named_like_builtin_glyphs_do_not_take_their_place() -> None:
    font = opened(FontCompiler([Glyph.of("space", 0xE001, RING), Glyph.of("gap", 0x20, square(90))], BARE).write("ttf"))
    cmap, order = font.getBestCmap(), font.getGlyphOrder()
    assert order[0] == ".notdef" and len(set(order)) == len(order)
    assert cmap[0x20] != cmap[0xE001] and font["glyf"][cmap[0x20]].numberOfContours == 1
    plain = opened(FontCompiler(ICONS[:1], BARE).write("ttf"))
    assert plain.getBestCmap()[0x20] == "space" and plain["glyf"]["space"].numberOfContours == 0
