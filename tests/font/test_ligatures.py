"""Typed names become icons: shaped by HarfBuzz, passed by the Sanitizer, shown by Chromium."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
import uharfbuzz as hb
from fontTools.ttLib import TTFont
from lxml import etree

from oddpeg.font.write.gsub import gsub
from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder

DATA = table("ligatures")

TYPED = CONFIG.replace("[icons]", "ligatures = true\n[icons]")


def shaped(font: Path, text: str) -> list[str]:
    """Names of the glyphs that a text becomes."""
    face = hb.Face(hb.Blob.from_file_path(str(font)))
    shaper, buffer = hb.Font(face), hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(shaper, buffer)
    return [shaper.glyph_to_string(i.codepoint) for i in buffer.glyph_infos]


@pytest.fixture(scope="module")
def typed(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """A set whose names can be typed, to be looked at."""
    return built(ProjectFolder(tmp_path_factory.mktemp("typed")))


def built(project: ProjectFolder, config: str = TYPED) -> ProjectFolder:
    project.config(config).icon("anchor").icon("buoy", RING).icon("buoy-red", SQUARE.replace("16", "9"))
    project.icon("tide-2", RING.replace("8", "7")).icon("潮汐").icon("x")
    project.write("icons/icons.csv", "icon,aliases\nbuoy,float\n").deliver()
    return project


@pytest.mark.parametrize(("text", "glyphs"), DATA["a_typed_name_is_the_icon_and_the_longest_wins"])
def test_a_typed_name_is_the_icon_and_the_longest_wins(typed: ProjectFolder, text: str, glyphs: list[str]) -> None:
    assert shaped(typed.root / "dist/tide-marks.ttf", text) == glyphs


def test_names_are_typed_in_svg_fonts_too(tmp_path: Path) -> None:
    typed = built(ProjectFolder(tmp_path), TYPED.replace('fonts = ["', 'fonts = ["svg", "'))
    root = etree.parse(typed.root / "dist/tide-marks.svg").getroot()
    shapes: dict[str | None, str | None] = {}
    for glyph in root.iter("{*}glyph"):
        shapes.setdefault(glyph.get("unicode"), glyph.get("d"))
    order = list(shapes)
    assert shapes["buoy"] == shapes["float"] == shapes["\ue001"] and shapes["潮汐"]
    assert order.index("buoy-red") < order.index("buoy") < order.index("b"), "the first that fits is taken"


def test_names_that_cannot_be_typed_are_said(typed: ProjectFolder) -> None:
    assert "cannot be typed" in typed.build().stderr and ": x" in json.dumps(
        json.loads(typed.build("--json").stdout)["notes"]
    )


def test_every_format_passes_the_sanitizer_and_keeps_the_lookup(typed: ProjectFolder) -> None:
    import ots

    for kind in ("ttf", "woff", "woff2"):
        done = ots.sanitize(str(typed.root / f"dist/tide-marks.{kind}"), capture_output=True, check=False)
        assert done.returncode == 0, done.stderr
        font = TTFont(typed.root / f"dist/tide-marks.{kind}")
        assert font["GSUB"].table.FeatureList.FeatureRecord[0].FeatureTag == "liga" and font["OS/2"].usMaxContext == 8


def test_without_the_key_there_is_no_table_and_no_letters(project: ProjectFolder) -> None:
    project.deliver()
    font = TTFont(project.root / "dist/tide-marks.ttf")
    assert "GSUB" not in font and ord("a") not in font.getBestCmap()


def test_thousands_of_long_names_fit() -> None:
    words = {(5, *(10 + int(d) for d in f"{n:024d}")): 1000 + n for n in range(7000)}
    data = gsub(words)
    assert len(data) > 300_000
    from fontTools.ttLib import newTable

    table = newTable("GSUB")
    font = TTFont()
    font.setGlyphOrder([f"g{i}" for i in range(8000)])
    table.decompile(data, font)
    subtables = table.table.LookupList.Lookup[0].SubTable
    assert sum(len(s.ExtSubTable.ligatures[next(iter(s.ExtSubTable.ligatures))]) for s in subtables) == 7000


def test_chromium_shows_the_icon_for_its_name(typed: ProjectFolder, browser: Any) -> None:
    css = (typed.root / "dist/tide-marks.css").as_uri()
    page = typed.root / "page.html"
    page.write_text(
        f'<!doctype html><link rel="stylesheet" href="{css}"><style>b{{font:400 50px "Tide Marks"}}</style><b'
        ' id="a">buoy-red</b> <b id="c">&#xe001;</b><b id="d">buoy-re</b>'
    )
    browser.get(page.as_uri())
    wide = browser.execute_async_script(
        """const done = arguments[0]; document.fonts.load('50px "Tide Marks"').then(() => document.fonts.ready).then(
        () => done(["a", "c", "d"].map(id => document.getElementById(id).getBoundingClientRect().width)))"""
    )
    assert wide[0] == wide[1] == pytest.approx(50, abs=0.1) and wide[2] > 100, (
        "one icon wide; what is no name stays letters"
    )
