"""Font files as independent readers see them: fontTools, FreeType, HarfBuzz, the OpenType Sanitizer."""

from __future__ import annotations

import io
from pathlib import Path

import freetype
import numpy as np
import ots
import pytest
import uharfbuzz
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.O_S_2f_2 import OS2_UNICODE_RANGES, intersectUnicodeRanges

from oddpeg.font.write.compile import FontCompiler
from oddpeg.font.write.glyphset import Glyph
from oddpeg.font.write.info import FontInfo, glyph_names, postscript_name
from oddpeg.font.write.tables import unicode_ranges
from support.project import CONFIG, ProjectFolder
from support.xml import attribute

WEB, DESKTOP = "dist/web/saltmarsh-signs-line", "dist/desktop/saltmarsh-signs-line"
FILES = [f"{WEB}.woff2", f"{WEB}.woff", f"{DESKTOP}.ttf"]


@pytest.mark.parametrize("path", FILES)
def test_sanitizer_accepts(demo: ProjectFolder, path: str) -> None:
    result = ots.sanitize(str(demo.root / path), capture_output=True)
    assert result.returncode == 0, result.stderr
    assert b"WARNING" not in result.stdout + result.stderr


@pytest.mark.parametrize("path", FILES)
def test_formats_hold_the_same_glyphs(demo: ProjectFolder, path: str) -> None:
    one, other = TTFont(demo.root / f"{DESKTOP}.ttf"), TTFont(demo.root / path)
    names = zip(one.getGlyphOrder(), other.getGlyphOrder(), strict=True)
    for a, b in names:
        first, second = one["glyf"][a], other["glyf"][b]
        assert first.numberOfContours == second.numberOfContours
        if first.numberOfContours:
            for x, y in zip(first.getCoordinates(one["glyf"]), second.getCoordinates(other["glyf"]), strict=True):
                assert list(x) == list(y)
        assert one["hmtx"][a] == other["hmtx"][b]
    assert one.getBestCmap().keys() == other.getBestCmap().keys()


def test_names_metrics_and_cmap_are_what_was_meant(demo: ProjectFolder) -> None:
    font = TTFont(demo.root / f"{DESKTOP}.ttf")
    icons = demo.read_json("dist/web/saltmarsh-signs.json")["icons"]
    assert set(font.getBestCmap()) == {0x20, 0xA0} | {i["codepoint"] for i in icons}
    assert font.getBestCmap()[icons[0]["codepoint"]] == icons[0]["name"].replace("-", "_")
    name = font["name"].getDebugName
    assert [name(i) for i in (1, 2, 4, 6)] == [
        "Saltmarsh Signs",
        "Regular",
        "Saltmarsh Signs Line",
        "SaltmarshSigns-Line",
    ]
    assert name(5) == "Version 1.000" and name(13).startswith(
        "Free to use for anything: 72 icons (Drawing office, Saltmarsh Ferries); "
    )
    units = font["head"].unitsPerEm
    assert units == 1008  # 24 and 8 divide it
    up, down = units - round(units / 8), -round(units / 8)
    hhea, os2 = font["hhea"], font["OS/2"]
    assert (hhea.ascent, hhea.descent, hhea.lineGap) == (up, down, 0)
    assert (os2.sTypoAscender, os2.sTypoDescender, os2.usWinAscent, os2.usWinDescent) == (up, down, up, -down)
    assert os2.fsType == 0 and os2.fsSelection & 0x80
    advances = {i["name"]: i["advance"] for i in icons}
    assert advances["anchor"] == units and advances["route-line"] == 2 * units
    box = font["head"]
    assert up >= box.yMax and down <= box.yMin, "nothing clips, controls included"
    assert box.flags == 0b11, "sizes of any fraction: no bit that asks for whole ones"
    assert (os2.ulCodePageRange1, os2.ulCodePageRange2) == (1, 0), "without one, validators reject it"
    assert os2.getUnicodeRanges() == {60}, "the private use area"


def test_unicode_ranges_are_those_of_the_standard() -> None:
    blocks = [block for blocks in OS2_UNICODE_RANGES for _, block in blocks if block[0] != 0xD800]
    edges = sorted({code for first, last in blocks for code in (first, (first + last) // 2, last)})
    for codes in ([code] for code in (*edges, 0xE001, 0x10000)):
        words = unicode_ranges(np.array(codes, dtype=np.int64))
        bits = {32 * n + place for n, word in enumerate(words) for place in range(32) if word >> place & 1}
        assert bits == intersectUnicodeRanges(codes), hex(codes[0])


def test_freetype_and_harfbuzz_read_every_icon(demo: ProjectFolder) -> None:
    icons = demo.read_json("dist/web/saltmarsh-signs.json")["icons"]
    face = freetype.Face(str(demo.root / f"{DESKTOP}.ttf"))
    assert face.family_name == b"Saltmarsh Signs"
    blob = uharfbuzz.Face(uharfbuzz.Blob.from_file_path(str(demo.root / f"{DESKTOP}.ttf")))
    font = uharfbuzz.Font(blob)
    for icon in icons:
        buffer = uharfbuzz.Buffer()
        buffer.add_str(chr(icon["codepoint"]))
        buffer.guess_segment_properties()
        uharfbuzz.shape(font, buffer)
        assert [i.codepoint for i in buffer.glyph_infos] == [face.get_char_index(icon["codepoint"])]
        assert buffer.glyph_positions[0].x_advance == icon["advance"]


def test_missing_characters_show_a_box_unlike_a_space(demo: ProjectFolder) -> None:
    font = TTFont(demo.root / f"{DESKTOP}.ttf")
    assert font["glyf"][".notdef"].numberOfContours == 3
    assert font["glyf"]["space"].numberOfContours == 0


def test_two_builds_are_the_same_bytes(tmp_path: Path) -> None:
    made = []
    for name in ("one", "two"):
        project = ProjectFolder(tmp_path / name).config().icon("a").icon("b")
        project.deliver()
        made.append({f: project.bytes(f"dist/{f}") for f in project.files()})
    assert made[0] == made[1]


def test_codepoints_beyond_plane_0_get_format_12(project: ProjectFolder) -> None:
    project.config(CONFIG + '\n[pegs]\nrange = "U+F0000-U+F0010"\n').deliver()
    font = TTFont(project.root / "dist/tide-marks.ttf")
    assert font.getBestCmap()[0xF0000] == "anchor"
    assert {t.format for t in font["cmap"].tables} == {4, 12}
    assert ots.sanitize(str(project.root / "dist/tide-marks.woff2"), capture_output=True).returncode == 0


def random_glyphs(seed: int, count: int) -> list[Glyph]:
    """Glyphs that use every size of delta, runs of equal flags, many contours and none."""
    rng = np.random.default_rng(seed)
    glyphs = []
    for i in range(count):
        sizes = rng.integers(2, 400 if i % 7 == 0 else 9, rng.integers(0, 5))
        scale = rng.choice([2, 60, 700, 4000, 16000])
        xy = rng.integers(-scale, scale, (int(sizes.sum()), 2))
        if i % 3 == 0:
            xy[:, 0] = scale
        glyphs.append(
            Glyph(f"g{i}", 0xE000 + i, int(rng.integers(0, 3000)), xy, rng.random(len(xy)) < 0.5, np.cumsum(sizes) - 1)
        )
    return glyphs


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("kind", ["ttf", "woff", "woff2"])
def test_any_outline_survives_encoding(seed: int, kind: str, tmp_path: Path) -> None:
    glyphs = random_glyphs(seed, 60)
    path = tmp_path / f"x.{kind}"
    path.write_bytes(FontCompiler(glyphs, FontInfo("Any", "1.0", 1000, 800, -200)).write(kind))
    font = TTFont(path)
    order = font.getGlyphOrder()
    for number, glyph in enumerate(glyphs):
        found = font["glyf"][order[number + 2]]
        if len(glyph.on) == 0:
            assert found.numberOfContours == 0
            continue
        coordinates, ends, flags = found.getCoordinates(font["glyf"])
        assert np.array_equal(np.array(coordinates), glyph.xy)
        assert list(ends) == glyph.ends.tolist()
        assert [bool(f & 1) for f in flags] == glyph.on.tolist()
        assert font["hmtx"][order[number + 2]] == (glyph.advance, int(glyph.xy[:, 0].min()))


def test_font_names_are_legal_and_unique() -> None:
    assert postscript_name("Saltmarsh [Signs] (2)") == "SaltmarshSigns2-Regular"
    assert postscript_name("潮") == "U6f6e-Regular"
    names = glyph_names(["a-b", "a.b", "3-masts", "潮", "space"])
    assert len(set(names)) == 5 and "space" not in names
    assert all(n[0].isalpha() or n[0] == "_" for n in names)


def test_legacy_formats_are_marked_and_hold_the_same_glyphs(project: ProjectFolder) -> None:
    import struct

    from lxml import etree

    project.config(
        CONFIG.replace('["woff2", "woff", "ttf"]', '["ttf", "eot", "svg"]').replace("Tide Marks", "Tide & Marks <é>")
    ).deliver()
    assert project.run("outputs").stdout.count("legacy:") == 2
    plain = next((project.root / "dist").glob("*.ttf")).read_bytes()
    data = next((project.root / "dist").glob("*.eot")).read_bytes()
    size, font_size, version, flags = struct.unpack("<4I", data[:16])
    assert (size, version, flags) == (len(data), 0x00020001, 0) and data[-font_size:] == plain
    assert struct.unpack("<H", data[34:36])[0] == 0x504C
    at, names = 82, []
    for _ in range(4):
        length = struct.unpack("<H", data[at : at + 2])[0]
        names.append(data[at + 2 : at + 2 + length].decode("utf-16-le"))
        at += 4 + length
    font = TTFont(io.BytesIO(plain))
    assert names == ["Tide & Marks <é>", "Regular", "Version 1.000", "Tide & Marks <é>"]
    assert at + 2 + font_size == len(data)
    adjustment = struct.unpack("<I", data[60:64])[0]
    assert adjustment == font["head"].checkSumAdjustment
    root = etree.parse(next((project.root / "dist").glob("*.svg"))).getroot()
    glyphs = {g.get("glyph-name"): g for g in root.iter("{*}glyph")}
    from fontTools.pens.areaPen import AreaPen
    from fontTools.svgLib.path import parse_path

    for name in ("anchor", "buoy"):
        ours, theirs = AreaPen(), AreaPen(font.getGlyphSet())
        parse_path(attribute(glyphs[name], "d"), ours)
        font.getGlyphSet()[name].draw(theirs)
        assert (
            ours.value == pytest.approx(theirs.value)
            and ord(attribute(glyphs[name], "unicode")) == font.getReverseGlyphMap()[name] - 2 + 0xE000
        )
    adopted = project.run("pegs", "adopt", next((project.root / "dist").glob("*.svg")), "--dry-run")
    assert "4 codepoints; assigned to 0 icons, 2 had theirs already" in adopted.stdout
