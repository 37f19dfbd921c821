"""Fonts and maps from elsewhere: every damage ends in a named fault, and nothing unpacks without bounds."""

from __future__ import annotations

import io
import json
import random
import struct
import zlib
from pathlib import Path

import brotli
import ots
import pytest
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

from oddpeg import suggestions
from oddpeg.diagnostics import OddPegError
from oddpeg.existing_fonts.repack import RepackOptions, repack_data
from oddpeg.font.read.containers import damage, read_tables
from oddpeg.font.read.glyphs import codepoints, glyph_names, read_font
from oddpeg.font.read.packing import packed
from oddpeg.font.read.renaming import with_family
from oddpeg.font.read.subset import subset
from oddpeg.font.read.unpack import LARGEST_FONT, inflate, unbrotli
from oddpeg.outputs.generated import is_generated
from support.fonts import MADE, cubic_font, text_font
from support.project import CONFIG, ProjectFolder

FORMATS = ("ttf", "woff", "woff2")


@pytest.fixture(scope="module")
def fonts(tmp_path_factory: pytest.TempPathFactory) -> dict[str, bytes]:
    project = ProjectFolder(tmp_path_factory.mktemp("fonts")).config().icon("anchor").icon("buoy")
    project.deliver()
    return {"otf": cubic_font(), **{kind: project.bytes(f"dist/tide-marks.{kind}") for kind in FORMATS}}


def mutations(data: bytes, count: int) -> list[bytes]:
    """Return a font cut short, and with bytes changed, at places that are the same on every run."""
    chance = random.Random(7)
    cut = [data[: chance.randrange(len(data))] for _ in range(count)]
    changed = []
    for _ in range(count):
        out = bytearray(data)
        for _ in range(chance.randrange(1, 6)):
            out[chance.randrange(len(out))] = chance.randrange(256)
        changed.append(bytes(out))
    return cut + changed


def cut(data: bytes) -> None:
    """Keep one icon, under another family name."""
    with damage():
        (font,) = read_tables(data)
        part = subset(font, {min(codepoints(data), default=0)})
        packed(part._replace(tables={**part.tables, "name": with_family(part.tables["name"], "a", "b")}), "woff2")


@pytest.mark.exhaustive
@pytest.mark.parametrize("kind", [*FORMATS, "otf"])
def test_a_damaged_font_is_read_or_named(fonts: dict[str, bytes], kind: str) -> None:
    refused = 0
    for data in [b"", fonts[kind][:4], *mutations(fonts[kind], 100)]:
        is_generated(data)
        for read in (read_font, glyph_names, codepoints, cut):
            try:
                read(data)
            except ValueError as problem:
                refused += 1
                assert str(problem).startswith("it is ")
    assert refused > 100


def _free_cubic_font() -> bytes:
    font, out = TTFont(io.BytesIO(cubic_font())), io.BytesIO()
    font["OS/2"].fsType = 0
    font.save(out)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["plain", "coloured", "varying", "letters", "cubic"])
def test_what_is_repacked_out_of_a_damaged_font_passes_the_sanitizer(tmp_path: Path, kind: str) -> None:
    data = {"letters": text_font, "cubic": _free_cubic_font}[kind]() if kind not in MADE else MADE[kind]().write("ttf")
    written = 0
    for number, damaged in enumerate([data, *mutations(data, 16)]):
        options = RepackOptions(formats=("ttf",), text="Aae\ue001\ue002" if number % 2 else "")
        try:
            (font,) = repack_data(Path("any.ttf"), damaged, options)
        except OddPegError as problem:
            assert number, problem
            continue
        (tmp_path / "made.ttf").write_bytes(font.files[0].data)
        done = ots.sanitize(str(tmp_path / "made.ttf"), str(tmp_path / "passed.ttf"), capture_output=True)
        assert done.returncode == 0, (number, done.stderr)
        written += 1
    assert written > 3


def test_glyphs_made_of_each_other_are_refused() -> None:
    font = TTFont(io.BytesIO(text_font()))
    glyf, (first, second) = font["glyf"], font.getGlyphOrder()[2:4]
    for glyph, part in ((first, second), (second, first)):
        pen = TTGlyphPen(dict.fromkeys(font.getGlyphOrder()))
        pen.addComponent(part, (1, 0, 0, 1, 0, 0))
        glyf.glyphs[glyph] = pen.glyph()
        font["hmtx"][glyph] = (500, 0)
    font.recalcBBoxes = False
    for glyph in (first, second):
        glyf.glyphs[glyph].xMin = glyf.glyphs[glyph].yMin = glyf.glyphs[glyph].xMax = glyf.glyphs[glyph].yMax = 0
    out = io.BytesIO()
    font.save(out)
    with pytest.raises(OddPegError, match="glyphs are made of each other"):
        repack_data(Path("any.ttf"), out.getvalue(), RepackOptions(formats=("ttf",)))


@pytest.mark.parametrize("kind", FORMATS)
def test_commands_name_what_is_wrong_with_a_font(project: ProjectFolder, fonts: dict[str, bytes], kind: str) -> None:
    project.deliver()
    (project.root / f"old.{kind}").write_bytes(fonts[kind][:200])
    for command in (["compare", f"old.{kind}", "dist"], ["pegs", "adopt", f"old.{kind}"]):
        result = project.run(*command)
        assert result.returncode == 1 and f"old.{kind}" in result.stderr and "cure:" in result.stderr


MAPS = {
    "infinity.json": b'{"family": "x", "icons": [{"name": "a", "codepoint": Infinity}]}',
    "huge.json": b'{"family": "x", "icons": [{"name": "a", "codepoint": 1e400}]}',
    "negative.json": b'{"family": "x", "icons": [{"name": "a", "codepoint": -5}]}',
    "text.json": b'{"family": "x", "icons": [{"name": "a", "codepoint": "U+E000"}]}',
    "aliases.json": b'{"family": "x", "icons": [{"name": "a", "codepoint": 57344, "aliases": 5}]}',
    "deep.json": b'{"icons": ' + b"[" * 100_000,
    "list.json": b"[1, 2]",
    "surrogate.json": b'{"family": "x", "icons": [{"name": "\\ud800", "codepoint": "x"}]}',
    "cell.csv": b"icon,codepoint,state\n" + b"x" * 300_000 + b",U+E000\n",
    "cr.csv": b"icon,codepoint,state\ra,U+E000,live\r",
    "bytes.csv": b"\xff\xfe\x00",
}


@pytest.mark.parametrize("name", MAPS)
def test_maps_of_any_shape_are_read_or_named(project: ProjectFolder, name: str) -> None:
    project.deliver()
    (project.root / name).write_bytes(MAPS[name])
    for command in (["compare", name, "dist"], ["pegs", "adopt", name, "--dry-run"]):
        result = project.run(*command)
        assert result.returncode in (0, 1), result.stderr
        told = (name in result.stderr and "cure:" in result.stderr) or "passed over" in result.stdout
        assert result.returncode == 0 or told


@pytest.mark.exhaustive
def test_twenty_thousand_names_are_adopted_by_counting(project: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    names = {f"harbour-sign-{number}": 0xF0000 + number for number in range(20_000)}
    (project.root / "map.json").write_text(json.dumps(names))
    result = project.run("pegs", "adopt", "map.json")
    assert result.returncode == 0, result.stderr
    assert project.read("pegboard.csv").count("\n") == 20_001
    monkeypatch.setattr(suggestions, "MOST_COMPARISONS", 2_000)
    guesses = suggestions.Guesses(f"icon-{number}" for number in range(5_000))
    asked = [bool(guesses.nearest(f"icom-{number}")) for number in range(110)]
    # every word is compared with twenty, and looking for these counts too
    assert asked[0] and not asked[-1] and sum(asked) <= 2_000 / 20


def test_nothing_unpacks_beyond_its_limit() -> None:
    packed = zlib.compress(bytes(50_000_000))
    assert len(inflate(packed, 50_000_000)) == 50_000_000
    with pytest.raises(ValueError, match="more than 1,000,000 bytes"):
        inflate(packed, 1_000_000)
    with pytest.raises(ValueError, match="ends too early"):
        inflate(packed[:-9], 50_000_000)
    small = brotli.compress(bytes(300_000_000), quality=1)
    with pytest.raises(ValueError, match="more than 64,000,000 bytes"):
        unbrotli(small, LARGEST_FONT)
    with pytest.raises(ValueError, match="ends too early"):
        unbrotli(brotli.compress(b"x" * 999)[:-3], 1000)
    assert unbrotli(brotli.compress(b"x" * 999), 1000) == b"x" * 999


def test_a_font_that_is_a_bomb_is_refused_before_it_is_read(fonts: dict[str, bytes], tmp_path: Path) -> None:
    data = fonts["woff2"]
    bomb = brotli.compress(bytes(LARGEST_FONT + 1), quality=1)
    start = len(data) - len(data) % 4 - struct.unpack(">I", data[20:24])[0]
    start = start - start % 4 if start % 4 else start
    head = bytearray(data[:start])
    head[20:24] = struct.pack(">I", len(bomb))
    for at in range(start - 4, start + 1):  # wherever the packed tables begin
        with pytest.raises(ValueError, match="it is no sound font"):
            read_font(bytes(head[:at]) + bomb)
    tables = struct.pack(">4s4I", b"glyf", 64, len(bomb), LARGEST_FONT * 2, 0)
    woff = struct.pack(">4s4sIHHI", b"wOFF", b"\x00\x01\x00\x00", 0, 1, 0, 0) + bytes(24) + tables
    packed = zlib.compress(bytes(LARGEST_FONT * 2), 1)
    with pytest.raises(ValueError, match="unpacks to more than"):
        read_font(woff.replace(struct.pack(">I", len(bomb)), struct.pack(">I", len(packed))) + packed)


def test_a_long_credit_list_still_makes_a_font(project: ProjectFolder) -> None:
    lines = "".join(f"{name},CC BY 4.0,{'Harbour Office ' * 3000}\n" for name in ("anchor", "buoy"))
    (project.root / "icons/icons.csv").write_text(f"icon,licence,credit\n{lines}")
    project.config(CONFIG.replace('"css"', '"css", "credits"')).build("--prove")
    assert "Harbour Office" in project.read("dist/tide-marks-credits.txt")
