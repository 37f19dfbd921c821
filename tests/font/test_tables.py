"""Whole fonts, made by calls, table by table as an independent reader shows them: a change of any byte that means
something is a change of a text in `expected`."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

from oddpeg.font.read.containers import FontTables, read_tables
from oddpeg.font.read.packing import packed
from oddpeg.font.read.subset import subset
from support.engines import require_accepted
from support.expected import require_expected
from support.fonts import MADE, cubic_font, opened, plain, text_font

EXPECTED = Path(__file__).with_name("expected")


def shown(font: TTFont) -> str:
    """A font as text, without what belongs to the reader."""
    out = io.StringIO()
    font.saveXML(out, newlinestr="\n", skipTables=["GlyphOrder"] if "post" not in font else [])
    text = re.sub(r"<!--.*?-->|<checkSumAdjustment [^>]*>|<ttFont [^>]*>", "", out.getvalue(), flags=re.DOTALL)
    return "\n".join(line.rstrip() for line in text.splitlines() if line.strip()) + "\n"


@pytest.mark.parametrize("kind", MADE)
def test_engines_accept_every_kind(tmp_path: Path, kind: str) -> None:
    for file_format in ("ttf", "woff", "woff2"):
        (tmp_path / f"made.{file_format}").write_bytes(MADE[kind]().write(file_format))
    require_accepted(tmp_path)


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
