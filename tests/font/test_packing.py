"""What fonts are packed in, byte by byte against independent readers; and what is said of bytes that are damaged."""

from __future__ import annotations

import io
import random
import struct
import zlib
from collections.abc import Callable
from functools import partial

import brotli
import numpy as np
import pytest
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.TupleVariation import TupleVariation
from fontTools.ttLib.woff2 import WOFF2Reader, pack255UShort, packBase128

from oddpeg.font.containers import read_tables
from oddpeg.font.foreign_glyf import canonical_size, glyph_count, glyph_data, parse_glyph
from oddpeg.font.foreign_woff2 import as_woff2
from oddpeg.font.info import FontInfo
from oddpeg.font.renaming import with_family
from oddpeg.font.sfnt import checksum, directory, padded
from oddpeg.font.subset import subset
from oddpeg.font.svg_font_reader import read_svg_font
from oddpeg.font.unpack import inflate, unbrotli, woff2_tables, woff_tables
from oddpeg.font.variations import packed
from oddpeg.font.woff2 import base128, short255
from support.fonts import MADE, cubic_font, plain, text_font, varying


def words_sum(data: bytes) -> int:
    """The checksum of OpenType, word by word."""
    data += b"\0" * (-len(data) % 4)
    return sum(int.from_bytes(data[at : at + 4], "big") for at in range(0, len(data), 4)) % 2**32


def test_checksums_are_sums_of_words() -> None:
    for data in (b"", b"\1", b"\xff" * 4_000, bytes(range(256)) * 7 + b"xyz"):
        assert checksum(data) == words_sum(data) and padded(data)[: len(data)] == data and len(padded(data)) % 4 == 0
    assert [directory(n) for n in (1, 9, 15, 16, 17)] == [
        (16, 0, 0), (128, 3, 16), (128, 3, 112), (256, 4, 0), (256, 4, 16),
    ]  # fmt: skip


@pytest.mark.parametrize("kind", MADE)
def test_the_directory_of_a_bare_font_says_what_follows(kind: str) -> None:
    data = MADE[kind]().write("ttf")
    (count,) = struct.unpack(">H", data[4:6])
    at = 12 + 16 * count
    for row in range(12, at, 16):
        tag, total, offset, size = struct.unpack(">4s3I", data[row : row + 16])
        table = data[offset : offset + size]
        assert offset == at and total == words_sum(table[:8] + bytes(4) + table[12:] if tag == b"head" else table)
        at += size + -size % 4
    assert at == len(data) and words_sum(data) == 0xB1B0AFBA


@pytest.mark.parametrize("kind", MADE)
def test_the_directory_of_a_web_font_says_what_follows(kind: str) -> None:
    compiler = MADE[kind]()
    (bare,) = read_tables(compiler.write("ttf"))
    data = compiler.write("woff")
    head = struct.unpack(">4s4sIHHIHHIIIII", data[:44])
    assert head[0] == b"wOFF" and head[1] == b"\0\1\0\0" and head[2] == len(data) and head[3] == len(bare.tables)
    assert head[4] == 0 and head[5] == len(read_tables(data)[0].sfnt) and head[6:] == (1, 0, 0, 0, 0, 0, 0)
    at = 44 + 20 * head[3]
    for row in range(44, at, 20):
        tag, offset, stored, size, total = struct.unpack(">4s4I", data[row : row + 20])
        part = data[offset : offset + stored]
        table = part if stored == size else zlib.decompress(part)
        assert offset == at and len(table) == size and not any(data[offset + stored : offset + stored + -stored % 4])
        plain_table = table[:8] + bytes(4) + table[12:] if tag == b"head" else table
        assert total == words_sum(plain_table)
        at = offset + stored + -stored % 4
    assert at == len(data)


@pytest.mark.parametrize("kind", MADE)
@pytest.mark.parametrize("draft", [False, True])
def test_a_small_web_font_says_what_it_holds(kind: str, draft: bool) -> None:
    compiler = MADE[kind]()
    data = compiler.write("woff2", draft)
    read = WOFF2Reader(io.BytesIO(data))
    head = struct.unpack(">4s4sIHHIIHHIIIII", data[:48])
    assert head[:5] == (b"wOF2", b"\0\1\0\0", len(data), len(read.tables), 0) and head[7:] == (1, 0, 0, 0, 0, 0, 0)
    whole_size = sum(-(-table.origLength // 4) * 4 for table in read.tables.values())
    assert head[5] == 12 + 16 * head[3] + whole_size
    order = [str(tag) for tag in read.tables]
    assert order == [tag for tag in sorted(order) if tag < "glyf"] + ["glyf", "loca"] + [
        tag for tag in sorted(order) if tag > "glyf" and tag != "loca"
    ]
    versions = {str(entry.tag): entry.flags >> 6 for entry in read.tables.values()}
    assert {tag for tag, version in versions.items() if version} == {"hmtx"} and versions["hmtx"] == 1
    assert len(read.transformBuffer.getvalue()) == sum(entry.length for entry in read.tables.values())
    end = 48 + sum(len(entry.toString()) for entry in read.tables.values()) + head[6]
    assert len(data) - end == -end % 4 and not any(data[end:])


def test_numbers_of_variable_length() -> None:
    values = [0, 1, 127, 128, 252, 253, 505, 506, 507, 761, 762, 763, 1000, 16_383, 16_384, 65_535]
    assert [base128(value) for value in values] == [packBase128(value) for value in values]
    assert base128(2**32 - 1) == packBase128(2**32 - 1)
    assert short255(np.array(values)).tobytes() == b"".join(map(pack255UShort, values))


def test_deltas_are_packed_as_densely_as_by_others() -> None:
    dice = random.Random(3)
    edges = [[-128, 127, 128, -129, 0], [0] * 64, [0] * 65, [5] * 64 + [6] * 65, [300] * 64 + [-300] * 66, [7], []]
    near = [
        [dice.choice((0, 0, 1, -128, 127, 128, -129, 3000)) for _ in range(dice.randint(1, 200))] for _ in range(60)
    ]
    mixed = [
        [1, 0, 2],
        [1, 0, 0, 2],
        [500, 1, 500],
        [500, 1, 2, 500],
        [500, 0, 500],
        [500, 0, 1, 500],
        [9, 0],
        [900, 3],
    ]
    for values in (*edges, *near, *mixed, *([*one, 0, 0, 0, 0] for one in (*edges, *near, *mixed))):
        data = packed(np.array(values, dtype=np.int64))
        found, at = TupleVariation.decompileDeltas_(len(values), data, 0) if values else ([], 0)
        assert list(found) == values and at == len(data)
        others = bytes(TupleVariation.compileDeltaValues_(values))
        if values[-4:] == [0, 0, 0, 0]:  # as all end that fonts hold
            assert len(data) <= len(others), values


def test_a_font_along_an_axis_says_where_its_weights_are() -> None:
    font = TTFont(io.BytesIO(varying().write("ttf")))
    (axis,) = font["fvar"].axes
    assert (axis.axisTag, axis.minValue, axis.defaultValue, axis.maxValue, axis.flags) == ("wght", 200, 400, 900, 0)
    assert [i.coordinates["wght"] for i in font["fvar"].instances] == [200, 400, 500, 900]
    # a factor of 1.1 is a tenth of the way from 1 to 2, but its weight is a fifth of the way from 400 to 900
    segments = font["avar"].segments["wght"]
    assert [*segments.items()] == [
        pytest.approx(pair, abs=1 / 16384) for pair in ((-1, -1), (0, 0), (0.2, 0.1), (1, 1))
    ]


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


@pytest.mark.parametrize(("weight", "found"), [("700", 700), ("bold", 700), ("lighter", 400), ("250", 250), ("", 400)])
def test_the_weight_of_an_svg_font(weight: str, found: int) -> None:
    font = f'<svg xmlns="http://www.w3.org/2000/svg"><font id="f"><font-face font-weight="{weight}"/></font></svg>'
    assert read_svg_font(font.encode()).weight == found


# -- damage -------------------------------------------------------------------------------------


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


def test_tables_are_taken_out_of_web_fonts() -> None:
    compiler = plain()
    (bare,) = read_tables(compiler.write("ttf"))
    data = compiler.write("woff")
    found = {one.tag.decode(): one.data for one in woff_tables(data)}
    assert found.keys() == bare.tables.keys() and found["cmap"] == bare.tables["cmap"] != b""
    for cut in (11, 13, 44, 60):
        with pytest.raises(ValueError, match=r"^ends too early$"):
            [*woff_tables(data[:cut])]
    small = compiler.write("woff2")
    stream = woff2_tables(small)
    lengths = [entry.length for entry in WOFF2Reader(io.BytesIO(small)).tables.values()]
    assert len(stream) == sum(lengths) and bare.tables["cmap"] in stream
    for cut in (12, 22, 48, 50):
        with pytest.raises(ValueError, match=r"^ends too early$"):
            woff2_tables(small[:cut])


def refused(call: Callable[[], object]) -> str:
    with pytest.raises(ValueError) as caught:
        call()
    return str(caught.value).removeprefix("it is no sound font (").removesuffix(")")


def test_outlines_that_do_not_go_with_their_places_are_refused() -> None:
    (font,) = read_tables(text_font())
    tables = font.tables
    assert glyph_count(tables) == 13 == len(glyph_data(tables))
    assert refused(lambda: glyph_count({})) == refused(lambda: glyph_count({"maxp": bytes(5)})) == "maxp is missing"
    assert refused(lambda: glyph_data({**tables, "loca": tables["loca"][:-1]})) == "loca is too short"
    assert refused(lambda: glyph_data({**tables, "glyf": tables["glyf"][:-1]})) == "loca leads beyond glyf"
    swapped = tables["loca"][2:4] + tables["loca"][:2] + tables["loca"][4:]
    assert refused(lambda: glyph_data({**tables, "loca": swapped})) in ("loca leads beyond glyf",)
    many = {**tables, "maxp": tables["maxp"][:4] + b"\xff\xff" + tables["maxp"][6:]}
    assert glyph_count(many) == 65_535


def box(contours: int) -> bytes:
    return struct.pack(">5h", contours, 0, 0, 9, 9)


DAMAGED = {
    "a head that ends": box(1)[:9],
    "ends that end": box(2) + b"\0\1\0",
    "ends that fall": box(2) + struct.pack(">3H", 3, 2, 0) + b"\1" * 9,
    "a program that ends": box(1) + b"\0\0\0",
    "flags that end": box(1) + struct.pack(">2H", 2, 0) + b"\1\1",
    "a repetition that ends": box(1) + struct.pack(">2H", 2, 0) + b"\x09",
    "coordinates that end": box(1) + struct.pack(">2H", 0, 0) + b"\1\0\7\0",
    "very many points": box(1) + struct.pack(">2H", 65_535, 0) + b"\x39\xff" * 257,
    "parts that end": box(-1) + struct.pack(">2H", 0, 1) + b"\0",
    "parts whose matrix ends": box(-1) + struct.pack(">2H2b3H", 0x80, 1, 0, 0, 1, 1, 1),
    "parts that go on": box(-1) + struct.pack(">2H2b", 0x20, 1, 0, 0),
    "a program of parts that ends": box(-1) + struct.pack(">2H2bH", 0x100, 1, 0, 0, 3) + b"\1\2",
    "a program of parts without a length": box(-1) + struct.pack(">2H2b", 0x100, 1, 0, 0) + b"\0",
}


@pytest.mark.parametrize("what", DAMAGED)
def test_glyphs_that_end_too_early_are_refused(what: str) -> None:
    assert refused(lambda: parse_glyph(DAMAGED[what])) == "a glyph ends too early"


def test_glyphs_are_read_to_their_last_byte() -> None:
    simple = parse_glyph(box(1) + struct.pack(">2H", 1, 2) + b"\xaa\xbb" + b"\1\x37" + b"\0\5\7" + b"\xff\xfe\3")
    assert simple.x.tolist() == [5, 12] and simple.y.tolist() == [-2, 1] and simple.instructions == b"\xaa\xbb"
    parts = struct.pack(">2H2b", 0x120, 1, 0, 0) + struct.pack(">2H2bH", 0x8, 2, 1, 1, 0x4000)
    made = parse_glyph(box(-1) + parts + b"\0\2\1\2")
    assert (made.components, made.instructions, made.programmed) == (parts, b"\1\2", True)
    assert parse_glyph(box(0)).contours == 0 == parse_glyph(b"").contours
    flags = 0x1 | 0x10 | 0x20 | 0x8
    most = parse_glyph(box(1) + struct.pack(">2H", 65_534, 0) + bytes([flags, 255]) * 256)
    assert len(most.x) == 65_535 and not most.x.any()


def test_names_that_end_are_refused_and_others_renamed() -> None:
    assert refused(lambda: with_family(bytes(5), "a", "b")) == "its names are missing"
    rows = struct.pack(">3H6H", 0, 1, 18, 3, 1, 0x409, 1, 2, 0)
    assert refused(lambda: with_family(rows[:17], "a", "b")) == "its names end too early"
    assert with_family(rows + b"\0a", "a", "b") == rows + b"\0b"
    texts = {
        (3, 1, 0x409, 1): "Quay",
        (3, 1, 0x8001, 1): "Kai",
        (1, 0, 0, 1): "Quay",
        (0, 3, 0, 25): "Quay",
        (3, 1, 9, 6): "Q",
    }
    body, table = b"", b""
    for key, text in texts.items():
        table += struct.pack(">6H", *key, 2 * len(text), len(body))
        body += text.encode("utf-16-be")
    new = with_family(struct.pack(">3H", 0, 5, 66) + table + body, "Quay", "Pier Three")
    count, storage = struct.unpack(">2H", new[2:6])
    read = {}
    for at in range(6, 6 + 12 * count, 12):
        *where, size, start = struct.unpack(">6H", new[at : at + 12])
        read[tuple(where)] = new[storage + start : storage + start + size].decode("utf-16-be")
    assert read == {(3, 1, 0x409, 1): "Pier Three", (0, 3, 0, 25): "PierThree", (3, 1, 9, 6): "PierThree-Regular"}


def test_metrics_that_end_are_refused_but_for_bearings() -> None:
    (font,) = read_tables(text_font())
    hmtx, hhea = font.tables["hmtx"], font.tables["hhea"]
    assert struct.unpack(">H", hhea[34:36]) == (11,) and len(hmtx) == 4 * 11 + 2 * 2

    def part(metrics: bytes, long: int = 11) -> dict[str, bytes]:
        head = {"hhea": hhea[:34] + struct.pack(">H", long), "hmtx": metrics}
        return subset(font._replace(tables={**font.tables, **head}), {0x41, 0x5A}).tables

    for metrics, long in ((hmtx[:43], 11), (hmtx[:1], 11), (b"", 11), (hmtx, 0), (hmtx, 13)):
        assert refused(partial(part, metrics, long)) == "hmtx is too short"
    whole = part(hmtx)
    assert part(hmtx + b"more") == whole and part(hmtx, 12)["hmtx"][: 4 * 9] == whole["hmtx"][: 4 * 9]
    for cut in (47, 46, 45, 44):
        assert part(hmtx[:cut])["hmtx"][: 4 * 9] == whole["hmtx"][: 4 * 9]


def test_variations_that_end_are_refused() -> None:
    (font,) = read_tables(varying().write("ttf"))
    whole = font.tables["gvar"]
    for cut in (19, 20, 30, len(whole) - 1):
        broken = font._replace(tables={**font.tables, "gvar": whole[:cut]})
        assert refused(partial(subset, broken, {0xE001})) == "gvar is too short"
    assert subset(font, {0xE001}).tables["gvar"] != whole


def test_a_font_without_icons_or_letters_is_sound() -> None:
    font = TTFont(io.BytesIO(type(plain())([], FontInfo("Quay", "1.0", 1000, 800, -200)).write("ttf")))
    assert font["name"].getDebugName(4) == "Quay" and font["name"].getDebugName(16) is None
    assert font["head"].xMin <= font["head"].xMax and len(cubic_font()) > 0
