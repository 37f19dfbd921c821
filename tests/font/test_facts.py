"""Parts of the font package by themselves: names, weights, colours, containers, what is said of a font."""

from __future__ import annotations

import pytest

from oddpeg.font.read.containers import FontTables, read_tables
from oddpeg.font.read.inspection import facts_of
from oddpeg.font.write.info import (
    FontInfo,
    Link,
    Style,
    ascii_words,
    file_stem,
    folded,
    postscript_name,
    resource_name,
    short_name,
)
from support.fonts import cubic_font, plain, text_font


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
