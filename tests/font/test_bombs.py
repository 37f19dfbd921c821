"""Small fonts that would take minutes or gigabytes to read: every command names them or copes."""

from __future__ import annotations

import os
import struct
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ots
import pytest
from fontTools.colorLib.builder import buildCOLR, buildCPAL
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib.tables.DefaultTable import DefaultTable

from oddpeg import isolation
from oddpeg.font.read.containers import damage
from oddpeg.font.read.limits import refuse_large_maps
from oddpeg.isolation import within_budget
from support.engines import fonts_below
from support.project import CONFIG, ProjectFolder

NAMES = [".notdef", *(f"pile{i}" for i in range(40))]


def triangle() -> Any:
    pen = TTGlyphPen(None)
    pen.moveTo((0, 0))
    pen.lineTo((500, 0))
    pen.lineTo((500, 500))
    pen.closePath()
    return pen.glyph()


def builder() -> FontBuilder:
    made = FontBuilder(1000, isTTF=True)
    made.setupGlyphOrder(NAMES)
    made.setupCharacterMap({0xE000 + i: name for i, name in enumerate(NAMES[1:])})
    made.setupGlyf(dict.fromkeys(NAMES, triangle()))
    made.setupHorizontalMetrics(dict.fromkeys(NAMES, (600, 0)))
    made.setupHorizontalHeader(ascent=800, descent=-200)
    made.setupNameTable({"familyName": "Pile", "styleName": "Regular"})
    made.setupOS2(sTypoAscender=800, sTypoDescender=-200)
    made.setupPost()
    return made


def composites(part_of: Callable[[int], int]) -> Callable[[Path], None]:
    """Return what writes a font in which a glyph, by its number, has another one twice in it."""

    def save(path: Path) -> None:
        made = builder()
        made.save(path)
        head, flags = struct.pack(">5h", -1, 0, 0, 500, 500), 0x22  # offsets of bytes; more components
        parts = [
            head + struct.pack(">HHbbHHbb", flags, part_of(i), 0, 0, 2, part_of(i), 7, 0) for i in range(2, len(NAMES))
        ]
        shape = made.font["glyf"][NAMES[1]].compile(made.font["glyf"])
        glyphs = [glyph + b"\0" * (-len(glyph) % 4) for glyph in (shape, shape, *parts)]
        sizes = [sum(map(len, glyphs[:i])) for i in range(len(glyphs) + 1)]
        made.font["glyf"] = raw("glyf", b"".join(glyphs))
        made.font["loca"] = raw("loca", struct.pack(f">{len(sizes)}I", *sizes))
        made.font["head"].indexToLocFormat = 1
        made.font.recalcBBoxes = False
        made.font.save(path)

    return save


def raw(tag: str, data: bytes) -> DefaultTable:
    table = DefaultTable(tag)
    table.data = data
    return table


def every_character(form: int) -> Callable[[Path], None]:
    def save(path: Path) -> None:
        made = builder()
        table = struct.pack(">HHIII", form, 0, 28, 0, 1) + struct.pack(">3I", 0, 0x10FFFF, 1)
        made.font["cmap"] = raw("cmap", struct.pack(">4HI", 0, 1, 3, 10, 12) + table)
        made.font.save(path)

    return save


def layered(layers: dict[str, list[str]]) -> Callable[[Path], None]:
    def save(path: Path) -> None:
        made = builder()
        made.font["CPAL"] = buildCPAL([[(1, 0, 0, 1)]])
        paints = {
            name: {"Format": 1, "Layers": [{"Format": 11, "Glyph": of} for of in others]}
            for name, others in layers.items()
        }
        made.font["COLR"] = buildCOLR(paints, version=1, glyphMap={name: i for i, name in enumerate(NAMES)})
        made.font.save(path)

    return save


COMMANDS = (
    "inspect FONT; inspect FONT --sheet a.png; repack FONT --only U+E001-U+E003 --into part; repack FONT --into whole;"
    "build; pegs adopt FONT; compare FONT FONT"
)
BOMBS = {
    "composites of composites": composites(lambda number: number - 1),
    "composites in a ring": composites(lambda number: 5 - number if number < 4 else number),
    "a group of all characters": every_character(12),
    "one glyph for all characters": every_character(13),
    "layers in a ring": layered({"pile1": ["pile2", "pile2"], "pile2": ["pile1", "pile2", "pile1"]}),
    "layers of layers": layered({f"pile{i}": [f"pile{i - 1}"] * 2 for i in range(1, 40)}),
}


@pytest.mark.parametrize("what", BOMBS)
def test_no_command_goes_off_with_a_small_font(project: ProjectFolder, what: str) -> None:
    BOMBS[what](project.root / "pile.ttf")
    project.config(CONFIG.replace('"icons/**/*.svg"', '"icons/**/*.svg", "pile.ttf"'))
    for command in COMMANDS.split(";"):
        result = project.run(*command.replace("FONT", "pile.ttf").split())
        assert result.returncode != 70, result.stderr
        assert result.returncode == 0 or "pile.ttf" in result.stdout + result.stderr
    for font in fonts_below(project.root).keys() - {project.root / "pile.ttf"}:
        done = ots.sanitize(str(font), os.devnull, capture_output=True)
        assert done.returncode == 0, done.stderr
    assert ".tm-buoy::before" in project.read("dist/tide-marks.css"), "the drawings are built"


def test_a_short_map_before_a_long_one_is_no_bomb() -> None:
    short = struct.pack(">6H", 6, 12, 0, 32, 1, 1)
    refuse_large_maps(struct.pack(">4HI", 0, 1, 1, 0, 12) + short + bytes(400_000))


def test_work_on_one_input_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(isolation, "SECONDS", 0.2)
    for bounds in (damage(), within_budget()):
        with pytest.raises(ValueError, match=r"0\.2 seconds"), bounds, within_budget():
            while True:
                pass
