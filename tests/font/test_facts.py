"""Parts of the font package by themselves: names, weights, colours, containers, what is said of a font."""

from __future__ import annotations

import io
import struct
from collections.abc import Iterable
from typing import Any

import pytest
from fontTools.ttLib import TTFont

from oddpeg.font.axes import Axis, WeightStop
from oddpeg.font.containers import FontTables, format_of, read_tables
from oddpeg.font.info import (
    FontInfo,
    Link,
    Style,
    ascii_words,
    file_stem,
    folded,
    name_text,
    postscript_name,
    resource_name,
    short_name,
)
from oddpeg.font.inspection import embedding_words, facts_of, inspect_font, is_private, shown_name
from oddpeg.font.palettes import is_light, luminance, nearest_entry
from oddpeg.svg.model import Colour
from support.fonts import cubic_font, plain, text_font

AXIS = Axis(400, (WeightStop(200, 0.5), WeightStop(400, 1.0), WeightStop(500, 1.5), WeightStop(900, 2.0)))


def test_strokes_between_weights_are_in_proportion() -> None:
    wanted = {100: 0.5, 200: 0.5, 300: 0.75, 400: 1.0, 450: 1.25, 500: 1.5, 700: 1.75, 900: 2.0, 1000: 2.0}
    assert {weight: AXIS.factor(weight) for weight in wanted} == wanted
    two = Axis(300, (WeightStop(300, 1.0), WeightStop(700, 3.0)))
    assert [two.factor(weight) for weight in (200, 300, 400, 700, 800)] == [1.0, 1.0, 1.5, 3.0, 3.0]
    assert AXIS.masters == (0.5, 2.0) and two.masters == (3.0,)
    assert AXIS.style(600) == "Semi Bold" and AXIS.style(650) == "Weight 650"


def test_the_nearest_colour_is_the_one_that_eyes_find_nearest() -> None:
    grey = Colour(100, 100, 100)
    # each is 30 away in one channel, or 33, or 44, so that one weight after the other decides
    assert nearest_entry(grey, {"red": Colour(130, 100, 100), "green": Colour(100, 130, 100)}) == "red"
    assert nearest_entry(grey, {"red": Colour(130, 100, 100), "blue": Colour(100, 100, 136)}) == "blue"
    assert nearest_entry(grey, {"red": Colour(130, 100, 100), "blue": Colour(100, 100, 138)}) == "red"
    assert nearest_entry(grey, {"green": Colour(100, 70, 100), "blue": Colour(100, 100, 58)}) == "blue"
    assert nearest_entry(grey, {"green": Colour(100, 70, 100), "blue": Colour(100, 100, 57)}) == "green"
    assert nearest_entry(grey, {"two": Colour(80, 80, 100), "one": Colour(100, 128, 100)}) == "two"
    assert nearest_entry(grey, {"red": Colour(134, 100, 100), "green": Colour(100, 130, 100)}) == "red"
    assert nearest_entry(grey, {"red": Colour(135, 100, 100), "green": Colour(100, 130, 100)}) == "green"


def test_luminance_is_that_of_wcag() -> None:
    # contrast with white, (1 + 0.05) / (L + 0.05): values that accessibility tables list
    for colour, contrast in (((118, 118, 118), 4.54), ((255, 0, 0), 4.0), ((0, 128, 0), 5.14), ((0, 0, 255), 8.59)):
        assert round(1.05 / (luminance(Colour(*colour)) + 0.05), 2) == contrast
    assert luminance(Colour(10, 10, 10)) == pytest.approx(10 / 255 / 12.92)
    assert not is_light([]) and is_light([Colour(255, 255, 255)])
    assert not is_light([Colour(0, 0, 0), Colour(255, 255, 255), Colour(0, 0, 0)])
    assert is_light([Colour(0, 0, 0), Colour(255, 255, 255)])


def test_names_as_each_place_wants_them() -> None:
    assert (
        resource_name("saltmarsh-signs-line") == "saltmarsh_signs_line" and resource_name("3-quays") == "font_3_quays"
    )
    assert file_stem("Saltmarsh_Signs Über 港") == "saltmarsh-signs-uber-u6e2f"
    assert ascii_words("Ærø_ß Łódź 3") == ["AEro", "ss", "Lodz", "3"] and folded("Ǿ„x“") == "Ox"
    assert postscript_name("Saltmarsh signs", "Extra Bold") == "SaltmarshSigns-ExtraBold"
    long = postscript_name("quay " * 30, "wide " * 20)
    assert len(long) == 63 and long.partition("-")[2] == ("Wide" * 20)[:30]
    assert postscript_name("x", "„“") == "X-Face"


@pytest.mark.parametrize(
    ("family", "short"),
    [
        ("x" * 31, "x" * 31),
        ("x" * 32, "x" * 31),
        ("Saltmarsh Signs of the Harbour Office", "Saltmarsh Signs of the Harbour"),
        ("Saltmarsh Signs of the Harbours Office", "Saltmarsh Signs of the Harbours"),
        ("quays and piers-and-moorings-and-more", "quays and piers-and-moorings-an"),
        ("moorings-and-qu and-piers-and-more", "moorings-and-qu and-piers-and-m"),
        ("moorings-and-qua and-piers-and-more", "moorings-and-qua"),
        ("⚓" * 31, "⚓" * 31),
        ("x" + "🌊" * 16, "x" + "🌊" * 15),
        ("xy" + "🌊" * 16, "xy" + "🌊" * 14),
    ],
)
def test_family_names_that_old_interfaces_can_hold(family: str, short: str) -> None:
    assert short_name(family) == short


@pytest.mark.parametrize(
    "family", ["Quay", "Saltmarsh Signs of the Harbour Office", "x" * 40, "⚓" * 20 + " " + "🌊" * 9]
)
def test_old_interfaces_can_tell_the_styles_of_a_family_apart(family: str) -> None:
    names = ["Thin", "Light", "Semi Bold", "Extra Bold", "Weight 650", "Condensed and Slanted Backwards"]
    styles = [Style(), Style("Bold", Link.BOLD), *(Style(name, Link.NONE) for name in names)]
    infos = [FontInfo(family, "1.0", 1000, 800, -200, style=style) for style in styles]
    linked = {(info.linked_family, info.style.link.value or "Regular") for info in infos}
    full = {info.full_name for info in infos}
    assert len(linked) == len(full) == len(styles)
    for text in (*full, *(name for name, _ in linked)):
        assert len(text.encode("utf-16-le")) <= 62 and text == text.strip() and "\ufffd" not in text
    if family == "Quay":
        assert linked >= {("Quay", "Regular"), ("Quay", "Bold"), ("Quay Thin", "Regular")}
        assert full >= {"Quay", "Quay Bold", "Quay Thin", "Quay Weight 650"}
    assert short_name("Saltmarsh Signs of the Harbour Office", "Extra Bold") == "Saltmarsh Signs of Extra Bold"
    assert short_name("x" * 40, "Condensed and Slanted Backwards") == "x" * 10 + " Condensed and Slante"
    assert short_name("Saltmarsh Signs of Sea", "Semi Bold") == "Saltmarsh Signs of Semi Bold"
    assert short_name("Saltmarsh Signs Sea", "Extra Bold") == "Saltmarsh Signs Sea Extra Bold"


def test_texts_of_the_name_table_end_where_it_does() -> None:
    assert name_text("a\0b⚓") == "ab⚓".encode("utf-16-be")
    assert name_text("x" * 4000).decode("utf-16-be") == "x" * 4000
    assert name_text("x" * 4001).decode("utf-16-be") == "x" * 3999 + "…"
    assert name_text("x" + "🌊" * 2000).decode("utf-16-be") == "x" + "🌊" * 1999 + "…"
    assert name_text("🌊" * 2001).decode("utf-16-be") == "🌊" * 1999 + "…"


def test_what_documents_may_do_with_a_font() -> None:
    use = {
        0x0: "may be installed and shipped with documents",
        0x1: "may be installed and shipped with documents",
        0x2: "restricted: not without the owner's leave",
        0x4: "documents may hold it, to be seen and printed",
        0x5: "documents may hold it, to be seen and printed",
        0x6: "documents may hold it, to be seen and printed",
        0x8: "documents may hold it, to be changed",
        0xA: "documents may hold it, to be changed",
        0xC: "documents may hold it, to be changed",
    }
    more = {0x0: "", 0x100: "; no parts of it", 0x200: "; bitmaps only", 0x300: "; no parts of it; bitmaps only"}
    for rights, words in use.items():
        for extra, rest in more.items():
            assert embedding_words(rights | extra) == words + rest


def changed(data: bytes, *gone: str, **added: bytes) -> FontTables:
    (font,) = read_tables(data)
    return font._replace(tables={tag: one for tag, one in font.tables.items() if tag not in gone} | added)


def said(font: FontTables) -> list[str]:
    return facts_of(font).complaints


def test_what_is_odd_about_a_font_is_said() -> None:
    assert said(changed(plain().write("ttf"))) == []
    assert said(changed(plain().write("ttf"), DSIG=bytes(8))) == [
        "carries a signature, which nothing looks at any more"
    ]
    assert said(changed(text_font(), "name")) == [
        "lacks the tables name, which every font needs",
        "has no family name: programs cannot list it",
        "its metrics differ (hhea 800/-200, typo 800/-200, win 900/-300): lines are higher in some programs than in "
        "others",
    ]
    cubic = changed(cubic_font(), "post")
    assert "lacks the tables post, which every font needs" in said(cubic)
    bare = changed(plain().write("woff2"), "GSUB")
    nameless = "its icons have no names: neither glyph names nor ligatures"
    assert nameless in said(bare._replace(file_format="TTF")) and nameless not in said(bare)


def test_what_a_glyph_is_called() -> None:
    assert shown_name(0x2693, "quay") == "quay" and shown_name(0x2693, "") == "anchor"
    assert (
        shown_name(0xE001, "") == "U+E001" and shown_name(0xF0000, "") == "U+F0000" and shown_name(0x7, "") == "U+0007"
    )
    edges = {0xDFFF: False, 0xE000: True, 0xF8FF: True, 0xF900: False, 0xEFFFF: False, 0xF0000: True, 0x10FFFD: True}
    assert {code: is_private(code) for code in edges} == edges


def collection(*fonts: bytes, count: int | None = None) -> bytes:
    """Fonts in one file, their tables where each of them has them."""
    head = struct.pack(">4sII", b"ttcf", 0x00010000, len(fonts) if count is None else count)
    start = len(head) + 4 * len(fonts)
    places, body = b"", b""
    for data in fonts:
        places += struct.pack(">I", start + len(body))
        moved = bytearray(data)
        for row in range(12, 12 + 16 * struct.unpack(">H", data[4:6])[0], 16):
            (at,) = struct.unpack(">I", data[row + 8 : row + 12])
            moved[row + 8 : row + 12] = struct.pack(">I", at + start + len(body))
        body += bytes(moved)
    return head + places + body


def test_every_font_of_a_collection_is_read() -> None:
    first, second = plain().write("ttf"), text_font()
    found = read_tables(collection(first, second))
    assert [(one.file_format, one.number) for one in found] == [("TTC", 0), ("TTC", 1)]
    for one, data in zip(found, (first, second), strict=True):
        (alone,) = read_tables(data)
        assert one.tables == alone.tables and alone.number is None
    facts = inspect_font(collection(first, second))
    assert [(one.number, one.family) for one in facts] == [
        (0, "Saltmarsh Signs of the Harbour Office"),
        (1, "Quay Sans"),
    ]
    assert {one.size for one in facts} == {len(collection(first, second))}


BROKEN: dict[str, tuple[bytes, str]] = {
    "no font": (b"<p>", "it is no font file"),
    "an SVG font": (b'<svg><font id="a"/></svg>', "it is no font file"),
    "a collection that ends": (b"ttcf\0\1\0\0\0\0\0", "it is no sound font (ends too early)"),
    "a collection of none": (collection(count=0), "it says that it holds 0 fonts"),
    "a collection of very many": (collection(count=257), "it says that it holds 257 fonts"),
}


@pytest.mark.parametrize("what", BROKEN)
def test_files_that_hold_no_font_are_refused(what: str) -> None:
    data, why = BROKEN[what]
    with pytest.raises(ValueError) as caught:
        read_tables(data)
    assert str(caught.value) == why


def eot(inner: bytes, size: int | None = None, flags: int = 0) -> bytes:
    head = bytearray(82)
    head[4:8], head[12:16] = struct.pack("<I", len(inner) if size is None else size), struct.pack("<I", flags)
    head[34:36] = b"LP"
    return bytes(head) + inner


def test_what_is_wrapped_for_an_old_browser_is_read_if_it_is_plain() -> None:
    data = text_font()
    (font,) = read_tables(eot(data))
    assert font.file_format == "EOT" and font.tables == read_tables(data)[0].tables
    assert read_tables(eot(data, flags=0x1))[0].tables == font.tables
    packed = "it is an EOT file that is compressed or encrypted, which cannot be read"
    length = "it is no sound font (its length is wrong)"
    wrong: Iterable[tuple[bytes, str]] = (
        (eot(data, flags=0x4), packed),
        (eot(data, flags=0x10000001), packed),
        (eot(data, size=0), length),
        (eot(data, size=len(data) + 1), length),
        (eot(plain().write("woff2")), "it is no sound font (there is none inside)"),
    )
    for made, why in wrong:
        with pytest.raises(ValueError) as caught:
            read_tables(made)
        assert str(caught.value) == why
    assert read_tables(eot(cubic_font()))[0].flavour == b"OTTO"


def test_files_are_told_apart_by_how_they_begin() -> None:
    begins = {b"\0\1\0\0": "TTF", b"true": "TTF", b"OTTO": "OTF", b"wOFF": "WOFF", b"wOF2": "WOFF2", b"ttcf": "TTC"}
    assert {start: format_of(start) for start in begins} == begins
    assert format_of(eot(b"x")) == "EOT" and format_of(eot(b"")) == ""
    assert (
        format_of(b"<svg>" + b" " * 99_990 + b"<font") == "SVG" and format_of(b"<svg>" + b" " * 99_991 + b"<font") == ""
    )
    assert format_of(b" " * 9_996 + b"<svg <font") == "SVG" and format_of(b" " * 9_997 + b"<svg <font") == ""
    assert format_of(b"<svg>") == format_of(b"<font>") == ""


def test_fonts_keep_their_place_when_read_by_others() -> None:
    """Collections made here are such as an independent reader reads."""
    made = collection(plain().write("ttf"), text_font())
    names: list[Any] = [TTFont(io.BytesIO(made), fontNumber=number)["name"].getDebugName(1) for number in (0, 1)]
    assert names == ["Saltmarsh Signs of the Harbour", "Quay Sans"]
