"""What is read out of fonts, by calls, as text; and what is said of bytes that are none."""

from __future__ import annotations

import pprint
from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest

from oddpeg.font.read.cff import CffNames, with_names
from oddpeg.font.read.colour import coloured_glyphs
from oddpeg.font.read.containers import read_tables
from oddpeg.font.read.drawings import font_drawings
from oddpeg.font.read.glyphs import codepoints, fixed_codepoints, glyph_names, read_font
from oddpeg.font.read.inspection import inspect_font
from oddpeg.font.read.line_metrics import LineMetrics
from oddpeg.font.read.renaming import with_family
from oddpeg.font.read.svg_font import read_svg_font
from support.expected import require_expected
from support.fonts import MADE, cubic_font, text_font

EXPECTED = Path(__file__).with_name("expected")


def font_of(kind: str) -> bytes:
    return {"letters": text_font, "cubic": cubic_font}[kind]() if kind not in MADE else MADE[kind]().write("ttf")


def read(data: bytes) -> dict[str, Any]:
    (font,) = read_tables(data)
    found = read_font(font.sfnt)
    facts = [asdict(one) | {"tables": sorted(one.tables), "size": one.size > 0} for one in inspect_font(data)]
    return {
        "facts": [{**one, "agree": inspect_font(data)[0].metrics_agree} for one in facts],
        "names": glyph_names(font.sfnt),
        "codepoints": sorted(codepoints(font.sfnt)),
        "fixed": sorted(fixed_codepoints(font.sfnt)),
        "font": [found.named, found.weight, found.facts, found.glyphs, [*found.shapes]],
        "shapes": {hex(code): _rounded(shape) for code, shape in found.shapes.items()},
        "colours": {hex(code): _rounded(layers) for code, layers in coloured_glyphs(font.sfnt).items()},
        "drawings": font_drawings(data),
        "lines": LineMetrics.of(font),
        "like": LineMetrics.of(font).descriptors(LineMetrics(0.9, 0.3, 0.1, 0.45)),
        "renamed": with_family(font.tables["name"], inspect_font(data)[0].family, "Breakwater Signs Extended Edition"),
    }


def _rounded(value: Any) -> Any:
    """Return values within others as plain ones, numbers to six digits."""
    if isinstance(value, (float, complex)):
        return complex(round(value.real, 6), round(value.imag, 6)) if isinstance(value, complex) else round(value, 6)
    if hasattr(value, "tolist"):
        return _rounded(value.tolist())
    if isinstance(value, (list, tuple)):
        name = type(value).__name__
        return [name, *map(_rounded, value)] if hasattr(value, "_fields") else [*map(_rounded, value)]
    return value if isinstance(value, (int, str, bool, type(None))) else repr(value)


@pytest.mark.parametrize("kind", [*MADE, "letters", "cubic"])
def test_what_is_read_is_as_it_was(kind: str) -> None:
    require_expected(EXPECTED / f"{kind}.read.txt", pprint.pformat(read(font_of(kind)), width=118) + "\n")


@pytest.mark.parametrize("file_format", ["eot", "woff", "woff2"])
def test_the_same_is_read_however_a_font_is_packed(file_format: str) -> None:
    bare, other = read(font_of("plain")), read(MADE["plain"]().write(file_format))
    nameless = file_format != "eot"  # as files for the web are
    assert other["facts"][0]["file_format"] == file_format.upper()
    same = [
        "codepoints",
        "fixed",
        "colours",
        "shapes",
        "lines",
        "like",
        "renamed",
        *([] if nameless else ["names", "font"]),
    ]
    assert {key: other[key] for key in same} == {key: bare[key] for key in same}


def test_fonts_of_svg_are_read() -> None:
    data = MADE["plain"]().write("svg")
    require_expected(
        EXPECTED / "svg.read.txt", pprint.pformat([read_svg_font(data), inspect_font(data)], width=118) + "\n"
    )
    bare = b'<svg xmlns="http://www.w3.org/2000/svg"><font id="f"><glyph unicode="a" d="M0 0h9v9z"/></font></svg>'
    found = read_svg_font(bare)
    assert (found.family, found.weight, found.units, found.ascent, found.descent) == ("f", 400, 1000, 1000, 0)
    assert found.glyphs[ord("a")].advance == 1000


def test_names_within_a_table_of_cubic_outlines_are_filled_up_or_cut() -> None:
    (font,) = read_tables(cubic_font())
    table = font.tables["CFF "]
    new = with_names(table, CffNames("Rope", "Rope", "Rope and Tackle for Everybody"))
    assert len(new) == len(table) and new != table
    assert b"Rope_____________" in new and b"Rope              " in new and b"Rope and T" in new and b"Pier" not in new
