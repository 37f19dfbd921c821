"""What fonts are packed in, byte by byte against independent readers; and what is said of bytes that are damaged."""

from __future__ import annotations

import io
import struct
import zlib
from collections.abc import Callable

import brotli
import pytest
from fontTools.ttLib import TTFont
from fontTools.ttLib.woff2 import WOFF2Reader

from oddpeg.font.read.containers import read_tables
from oddpeg.font.read.glyf import canonical_size, glyph_data, parse_glyph
from oddpeg.font.read.unpack import inflate, unbrotli
from oddpeg.font.read.woff2 import as_woff2
from oddpeg.font.write.info import FontInfo
from support.fonts import cubic_font, plain, text_font


def test_fonts_of_others_are_packed_as_they_unpack() -> None:
    (font,) = read_tables(text_font())
    glyphs = glyph_data(font.tables)
    # shortest as other makers write them, filled up to four bytes: programs, parts, overlaps
    sizes = [canonical_size(parse_glyph(one)) for one in glyphs]
    assert sizes == [len(one) + -len(one) % 4 for one in glyphs]
    data = as_woff2(font)
    entries = {str(entry.tag): entry for entry in WOFF2Reader(io.BytesIO(data)).tables.values()}
    assert entries["glyf"].origLength == sum(sizes) and entries["loca"].origLength == 2 * (len(glyphs) + 1)
    assert entries["hmtx"].flags >> 6 == 0 and entries["hmtx"].origLength == len(font.tables["hmtx"])
    read = TTFont(io.BytesIO(data))
    assert read["head"].flags == struct.unpack(">H", font.tables["head"][16:18])[0] | 1 << 11
    (cubic,) = read_tables(cubic_font())
    again = as_woff2(cubic)
    assert again[4:8] == b"OTTO" and {entry.flags >> 6 for entry in WOFF2Reader(io.BytesIO(again)).tables.values()} == {
        0
    }
    assert TTFont(io.BytesIO(again))["CFF "].cff.topDictIndex[0].FamilyName == "Pier Icons"


def limited(unpack: Callable[[bytes, int], bytes], data: bytes, limit: int) -> str:
    with pytest.raises(ValueError) as caught:
        unpack(data, limit)
    return str(caught.value)


@pytest.mark.parametrize(("unpack", "pack"), [(inflate, zlib.compress), (unbrotli, brotli.compress)])
def test_unpacking_ends_at_its_limit(unpack: Callable[[bytes, int], bytes], pack: Callable[[bytes], bytes]) -> None:
    for size in (0, 1, 1_000_000, 3_000_001):
        data = pack(b"x" * size)
        assert unpack(data, size) == unpack(data, size + 1) == b"x" * size
        assert limited(unpack, data[:-1], size) == "ends too early"
    assert limited(unpack, pack(b"x" * 1_000_001), 1_000_000) == "unpacks to more than 1,000,000 bytes"
    assert limited(unpack, pack(b"x" * 2), 1) == "unpacks to more than 1 bytes"
    damaged = limited(unpack, b"\xff\xff\xff\xff", 9)
    assert damaged not in ("", "None", "ends too early") and "more than" not in damaged


def test_a_font_without_icons_or_letters_is_sound() -> None:
    font = TTFont(io.BytesIO(type(plain())([], FontInfo("Quay", "1.0", 1000, 800, -200)).write("ttf")))
    assert font["name"].getDebugName(4) == "Quay" and font["name"].getDebugName(16) is None
    assert font["head"].xMin <= font["head"].xMax and len(cubic_font()) > 0
