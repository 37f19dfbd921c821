"""A font as a source of icons: codepoints and outlines stay, drawings replace and add glyphs."""

from __future__ import annotations

import json
import shutil
from pathlib import Path
from typing import Any

import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

from support.data import table
from support.fonts import font_data
from support.project import SQUARE, ProjectFolder, oddpeg
from support.raster import drawing_mask, glyph_mask, wrong_share

DATA = table("font_sources")

CONFIG = DATA["config"]


@pytest.fixture
def extended(demo: ProjectFolder, tmp_path: Path) -> ProjectFolder:
    """A project whose icons come from the demo's line font."""
    project = ProjectFolder(tmp_path / "extended").config(CONFIG)
    (project.root / "vendor").mkdir()
    shutil.copy(demo.root / "dist/desktop/saltmarsh-signs-line.ttf", project.root / "vendor/signs.ttf")
    return project


def glyphs(path: Path) -> dict[int, tuple[Any, Any]]:
    """Outline and metrics of every character."""
    font = TTFont(path)
    return {code: (font["glyf"][name], font["hmtx"][name]) for code, name in font.getBestCmap().items()}


def test_the_font_comes_back_glyph_by_glyph(extended: ProjectFolder) -> None:
    extended.deliver()
    old, new = glyphs(extended.root / "vendor/signs.ttf"), glyphs(extended.root / "dist/saltmarsh-signs.ttf")
    assert old == new and len(new) == 84
    names = {icon["name"]: icon["codepoint"] for icon in extended.read_json("dist/saltmarsh-signs.json")["icons"]}
    assert names["anchor"] == 0xE001 and names["car-ferry"] in old
    again = extended.run("build", "--files").stdout
    assert again.count("  unchanged") == 6 and extended.run("build", "--frozen").returncode == 0
    assert extended.json("proof")["missed"] == []


def test_drawings_take_the_place_of_glyphs_and_add_to_them(extended: ProjectFolder) -> None:
    extended.icon("anchor").icon("crate", SQUARE.replace("M4 4h16v16H4z", "M2 2h9v20H2z")).deliver()
    old, new = glyphs(extended.root / "vendor/signs.ttf"), glyphs(extended.root / "dist/saltmarsh-signs.ttf")
    assert {code for code in old if old[code] != new[code]} == {0xE001} and set(new) - set(old) == {0xE052}
    assert ".salt-crate::before" in extended.read("dist/saltmarsh-signs.css")
    found = extended.json("check")
    assert not [d for drawing in found["drawings"] for d in drawing["findings"] if d["code"] == "grid-unlike"]


def test_pegs_outlive_the_font(extended: ProjectFolder) -> None:
    extended.icon("crate").deliver()
    (extended.root / "vendor/signs.ttf").unlink()
    extended.deliver()
    assert "anchor,U+E001,retired" in extended.read("pegboard.csv")


def test_a_changed_font_is_seen(extended: ProjectFolder) -> None:
    extended.deliver()
    font = TTFont(extended.root / "vendor/signs.ttf")
    name, other = (font.getBestCmap()[code] for code in (0xE001, 0xE005))
    font["glyf"][name], font["hmtx"][name] = font["glyf"][other], font["hmtx"][other]
    font.save(extended.root / "vendor/signs.ttf")
    extended.deliver()
    new = glyphs(extended.root / "dist/saltmarsh-signs.ttf")
    assert new[0xE001][0] == new[0xE005][0]


def test_glyphs_are_found_used_and_given_back_as_drawings(extended: ProjectFolder) -> None:
    extended.deliver()
    assert "anchor" in extended.run("find", "anchor").stdout
    assert '<span class="salt-icon salt-anchor"></span>' in extended.run("use", "anchor").stdout
    result = extended.run("check", "--write", "back")
    assert result.returncode == 0 and "82 normalized drawings" in result.stdout
    again = ProjectFolder(extended.root.parent / "again").config(CONFIG.replace('"vendor/signs.ttf", ', ""))
    shutil.copytree(extended.root / "back", again.root / "icons")
    shutil.copy(extended.root / "pegboard.csv", again.root / "pegboard.csv")
    again.deliver()
    assert glyphs(again.root / "dist/saltmarsh-signs.ttf") == glyphs(extended.root / "vendor/signs.ttf")


def test_a_glyph_keeps_the_name_that_the_font_has(extended: ProjectFolder) -> None:
    extended.deliver()
    result = extended.run("pegs", "rename", "anchor", "kedge")
    assert result.returncode == 1 and "whose name the font has" in result.stderr
    assert "anchor,U+E001,live" in extended.read("pegboard.csv")


def test_init_begins_with_a_font(demo: ProjectFolder, tmp_path: Path) -> None:
    shutil.copy(demo.root / "dist/desktop/saltmarsh-signs-line.ttf", tmp_path / "given (1).ttf")
    result = oddpeg("init", "given (1).ttf", cwd=tmp_path)
    assert result.returncode == 0 and "82 drawings in given (1).ttf" in result.stdout
    project = ProjectFolder(tmp_path)
    assert 'family = "Saltmarsh Signs"' in project.read("oddpeg.toml")
    project.deliver()
    assert "saltmarsh-signs.woff2" in project.files("dist/web")


@pytest.mark.parametrize(
    ("data", "why"), [(b"\x00\x01\x00\x00 nothing", "cannot be used"), (b"wOF2" + bytes(60), "cannot be used")]
)
def test_fonts_that_cannot_be_used_are_said_and_spare_the_rest(extended: ProjectFolder, data: bytes, why: str) -> None:
    extended.icon("crate")
    (extended.root / "vendor/signs.ttf").write_bytes(data)
    result = extended.build(code=1)
    assert f"vendor/signs.ttf: {why}" in result.stderr and ".salt-crate" in extended.read("dist/saltmarsh-signs.css")


def test_a_locked_font_is_refused(extended: ProjectFolder) -> None:
    font = TTFont(extended.root / "vendor/signs.ttf")
    font["OS/2"].fsType = 2
    font.save(extended.root / "vendor/signs.ttf")
    result = extended.icon("crate").build(code=1)
    assert "restricted: not without the owner's leave" in result.stderr


def test_a_map_names_the_glyphs(extended: ProjectFolder) -> None:
    extended.write("vendor/names.json", json.dumps({"hook": "U+E001", "float": "U+E003"}))
    config = CONFIG.replace("[icons]\n", '[icons]\nnames = "vendor/names.json"\n')
    extended.config(config).deliver()
    names = {i["name"]: i["codepoint"] for i in extended.read_json("dist/saltmarsh-signs.json")["icons"]}
    assert names["hook"] == 0xE001 and names["float"] == 0xE003 and "anchor" not in names and len(names) == 82
    extended.write("vendor/names.json", json.dumps({"hook": "U+E001", "bob": "U+E003"}))
    assert "'float' is gone" in extended.run("build").stderr, "a change of the map is seen"
    wrong = extended.config(config.replace("names.json", "nothing.json")).run("build")
    assert wrong.returncode == 1 and "set icons.names to a file that is there" in wrong.stderr


def test_cubic_outlines_come_back_as_glyphs_and_as_drawings(extended: ProjectFolder) -> None:
    font = extended.root / "vendor/signs.otf"
    font.write_bytes(font_data("test-signs"))
    extended.config(CONFIG.replace('"vendor/signs.ttf", "icons/*.svg"', '"vendor/signs.otf"')).deliver()
    assert extended.run("check", "--write", "drawings").returncode == 0
    for name, code in (("ring", 0xE000), ("wave", 0xE001)):
        wanted = glyph_mask(font, code, 256, 256)
        assert wrong_share(wanted, glyph_mask(extended.root / "dist/saltmarsh-signs.ttf", code, 256, 256)) == 0
        svg = next((extended.root / "drawings").rglob(f"{name}*.svg")).read_text(encoding="utf-8")
        assert wrong_share(drawing_mask(svg, 256, 256), wanted) < 0.001, "the curve's last pixel may fall either way"


def tall_font(path: Path, ascent: int = 950, descent: int = -200) -> Path:
    """A font whose glyphs reach beyond its em: from -200 to 950, and over both sides of the advance."""
    pens = {".notdef": TTGlyphPen(None), "mast": TTGlyphPen(None), "spar": TTGlyphPen(None)}
    for name, corners in (("mast", [(100, -200), (100, 950), (400, 950), (400, -200)]),
                          ("spar", [(-80, 300), (-80, 420), (1090, 420), (1090, 300)])):  # fmt: skip
        pens[name].moveTo(corners[0])
        for corner in corners[1:]:
            pens[name].lineTo(corner)
        pens[name].closePath()
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder(list(pens))
    builder.setupCharacterMap({0xE000: "mast", 0xE001: "spar"})
    builder.setupGlyf({name: pen.glyph() for name, pen in pens.items()})
    builder.setupHorizontalMetrics({".notdef": (500, 0), "mast": (500, 100), "spar": (1000, -80)})
    builder.setupHorizontalHeader(ascent=ascent, descent=descent)
    builder.setupNameTable({"familyName": "Tall", "styleName": "Regular"})
    builder.setupOS2(sTypoAscender=ascent, sTypoDescender=descent, usWinAscent=ascent, usWinDescent=-descent)
    builder.setupPost()
    path.parent.mkdir(parents=True, exist_ok=True)
    builder.save(path)
    return path


def test_ink_beyond_the_em_is_not_cut_and_is_proved(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path).config(CONFIG)
    source = tall_font(tmp_path / "vendor/signs.ttf")
    project.deliver()
    old, new = glyphs(source), glyphs(tmp_path / "dist/saltmarsh-signs.ttf")
    assert {code: sorted(glyph.coordinates) for code, (glyph, _) in old.items()} == {
        code: sorted(new[code][0].coordinates) for code in old
    }
    font = TTFont(tmp_path / "dist/saltmarsh-signs.ttf")
    assert (font["hhea"].ascent, font["hhea"].descent) == (875, -125), "a line of an em, about the same middle"
    assert (font["OS/2"].usWinAscent, font["OS/2"].usWinDescent) == (950, 200)
    report = project.json("proof")
    assert report["missed"] == report["disputed"] == []
    assert all(f["witness_wrong"] == 0 for f in report["figures"])
    # what is cut would be seen
    cut = TTFont(tmp_path / "dist/saltmarsh-signs.ttf")
    glyph = cut["glyf"][cut.getBestCmap()[0xE000]]
    glyph.coordinates = type(glyph.coordinates)([(x, min(y, 875)) for x, y in glyph.coordinates])
    cut.save(tmp_path / "dist/saltmarsh-signs.ttf")
    assert project.json("proof")["missed"] == ["mast"]
    # and drawings made of the glyphs hold all their ink
    project.run("check", "--write", "back")
    assert 'viewBox="0 -75 500 1150" data-oddpeg-em="0 0 500 1000"' in project.read("back/mast.svg")
