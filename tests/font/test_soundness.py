"""Damage that engines refuse is named by the table, or mended."""

from __future__ import annotations

import io
import os
import struct
from collections.abc import Callable
from pathlib import Path

import ots
import pytest
from fontTools.misc.psCharStrings import T2CharString
from fontTools.ttLib import TTFont

from oddpeg.font.read.charstrings import check_charstring
from oddpeg.font.read.containers import FontTables, read_tables
from oddpeg.font.read.packing import packed
from oddpeg.font.read.soundness import sound
from support.fonts import MADE, text_font

Damage = Callable[[bytes], bytes]


def put(at: int, form: str, *values: int) -> Damage:
    """Write values at a place of a table."""

    def damage(data: bytes) -> bytes:
        new = struct.pack(form, *values)
        return data[:at] + new + data[at + len(new) :]

    return damage


def cut(size: int) -> Damage:
    return lambda data: data[:size]


def within(mark: bytes, at: int, form: str, *values: int) -> Damage:
    """Write values at a place after a mark."""
    return lambda data: put(data.index(mark, 36) + at, form, *values)(data)


SHORT, LONG = b"\0\4\0", b"\0\x0c\0\0"  # how subtables of formats 4 and 12 begin
REFUSED: list[tuple[str, Damage, str]] = [
    ("head", put(12, ">I", 7), "head: it is missing or damaged"),
    ("head", put(18, ">H", 9), "head: its units per em are impossible"),
    ("head", put(36, ">4h", 9, 9, 0, 0), "head: its box is impossible"),
    ("head", put(50, ">h", 7), "head: its formats are unknown"),
    ("maxp", put(0, ">I", 9), "maxp: its version is unknown"),
    ("maxp", put(4, ">H", 0), "maxp: there are no glyphs"),
    ("hhea", cut(9), "hhea: it is missing or damaged"),
    ("hhea", put(34, ">H", 0), "hhea: its number of metrics is impossible"),
    ("hmtx", cut(3), "hhea: hmtx is too short"),
    ("glyf", put(0, ">h", -7), "glyph 0 is damaged"),
    ("glyf", put(2, ">4h", 9, 9, 0, 0), "glyph 0 is damaged"),
    ("name", put(4, ">H", 3), "name: it is damaged"),
    ("name", put(2, ">H", 0), "name: it is damaged"),
    ("name", cut(90), "name: "),
    ("post", cut(7), "post: it is missing or damaged"),
    ("OS/2", cut(50), "OS/2: it is damaged"),
    ("cmap", within(LONG, 12, ">I", 60_000), "inconsistent group count"),
]
MENDED: list[tuple[str, Damage, str]] = [
    ("post", put(34, ">H", 60_000), "glyph names dropped"),
    ("post", lambda data: data[:-3], "glyph names dropped"),
    ("GSUB", put(0, ">I", 0), "GSUB dropped, since it is damaged"),
    ("GSUB", lambda data: data[:-2] + b"\xff\xf0", "GSUB rebuilt, since it is damaged"),
    ("cmap", put(0, ">H", 9), "character map rebuilt, since its header is damaged"),
    ("cmap", put(8, ">I", 2), "character map rebuilt"),
    ("cmap", within(SHORT, 8, ">H", 7), "its segments are damaged"),
    ("cmap", within(SHORT, 14, ">H", 0xFFFE), "its segments are out of order"),
    ("cmap", within(SHORT, 4, ">H", 7), "the head of a subtable is damaged"),
    ("cmap", within(LONG, 16, ">II", 9, 3), "its groups are out of order"),
    ("cmap", within(LONG, 24, ">I", 60_000), "it leads to glyphs that are not there"),
    ("cmap", lambda data: data[:4] + data[12:20] + data[4:12] + data[20:], "character map rebuilt"),
]


def font(kind: str = "plain") -> FontTables:
    (tables,) = read_tables(text_font() if kind == "letters" else MADE[kind]().write("ttf"))
    return tables


def damaged(tables: FontTables, tag: str, damage: Damage) -> FontTables:
    return tables._replace(tables={**tables.tables, tag: damage(tables.tables[tag])})


@pytest.mark.parametrize(("tag", "damage", "told"), REFUSED)
def test_what_cannot_be_mended_is_named(tag: str, damage: Damage, told: str) -> None:
    with pytest.raises(ValueError, match=told):
        sound(damaged(font(), tag, damage))


@pytest.mark.parametrize(("tag", "damage", "told"), MENDED)
def test_what_can_be_mended_is_said(tmp_path: Path, tag: str, damage: Damage, told: str) -> None:
    made, mended = sound(damaged(font(), tag, damage))
    assert any(told in line for line in mended), mended
    (tmp_path / "made.ttf").write_bytes(packed(made, "ttf"))
    assert ots.sanitize(str(tmp_path / "made.ttf"), os.devnull, capture_output=True).returncode == 0


@pytest.mark.parametrize("kind", ["plain", "coloured", "flat", "varying", "letters"])
def test_sound_fonts_stay_as_they_are(kind: str) -> None:
    tables = font(kind)
    made, mended = sound(tables)
    assert made.tables == tables.tables and not mended


def test_optional_tables_with_wrong_checksums_go_or_are_written_anew() -> None:
    tables = font("letters")._replace(suspect=frozenset({"GSUB", "gasp", "prep"}))
    made, mended = sound(tables)
    assert "GSUB" in made.tables and "prep" not in made.tables
    assert any("GSUB rebuilt" in line for line in mended)
    odd = tables._replace(tables={**tables.tables, "cvt ": b"\0\1\2"})
    assert sound(odd).font.tables["cvt "] == b"\0\1" and "cvt shortened" in " ".join(sound(odd).mended)
    with pytest.raises(ValueError, match="its checksum is wrong"):
        sound(tables._replace(suspect=frozenset({"maxp"})))


PROGRAMS = {
    "100 0 0 hmoveto endchar": "hmoveto has 3 operands",
    "0 0 0 0 rlineto 7 8 9 vmoveto endchar": "vmoveto has 3 operands",
    "1 2 rmoveto 1 2 3 4 5 rrcurveto endchar": "rrcurveto has 5 operands",
    "1 2 rmoveto 5 hlineto": "a program has no end",
    "1 2 rmoveto 900 callsubr": "a subroutine that is not there",
    "0 " * 49 + "rlineto endchar": "too many operands",
    "500 1 2 rmoveto 5 hlineto endchar": "",
    "500 1 2 hstem 3 4 hintmask 10101010 5 hmoveto 1 2 3 4 5 6 rrcurveto endchar": "",
    "endchar": "",
}


@pytest.mark.parametrize(("program", "said"), PROGRAMS.items())
def test_programs_of_glyphs_are_checked(program: str, said: str) -> None:
    words = [b"\xaa" if word == "10101010" else word for word in program.split()]
    charstring = T2CharString(program=[int(w) if isinstance(w, str) and w.isdigit() else w for w in words])
    charstring.compile()
    charstring.program = None
    if not said:
        check_charstring(charstring, [])
        return
    with pytest.raises(ValueError, match=said):
        check_charstring(charstring, [])


PAIRS = struct.pack(">9H", 0, 1, 0, 26, 1, 2, 12, 1, 0) + struct.pack(">HHhHHh", 1, 2, -50, 2, 1, -30)
BROKEN_PAIRS = [put(6, ">H", 0x7FFF), put(8, ">H", 0x21), put(10, ">H", 0), put(14, ">H", 9), put(18, ">H", 3), cut(22)]


@pytest.mark.parametrize("damage", [None, *BROKEN_PAIRS])
def test_pairs_that_browsers_refuse_go(tmp_path: Path, damage: Damage | None) -> None:
    tables = font("letters")
    paired = tables._replace(tables={**tables.tables, "kern": damage(PAIRS) if damage else PAIRS})
    made, mended = sound(paired)
    assert ("kern" in made.tables) == (damage is None) == (not mended), mended
    (tmp_path / "made.ttf").write_bytes(packed(made, "ttf"))
    assert ots.sanitize(str(tmp_path / "made.ttf"), os.devnull, capture_output=True).returncode == 0
    (tmp_path / "as-is.ttf").write_bytes(packed(paired, "ttf"))
    accepted = ots.sanitize(str(tmp_path / "as-is.ttf"), os.devnull, capture_output=True).returncode == 0
    assert accepted or damage is not None


def test_a_ligature_without_parts_goes(tmp_path: Path) -> None:
    tables = font("letters")
    with TTFont(io.BytesIO(packed(tables, "ttf"))) as opened:
        table = opened["GSUB"].table
        subs = [sub for lookup in table.LookupList.Lookup for sub in lookup.SubTable if hasattr(sub, "ligatures")]
        one = next(iter(subs[0].ligatures.values()))[0]
        record = struct.pack(">HH", opened.getGlyphID(one.LigGlyph), len(one.Component) + 1)
    made, mended = sound(damaged(tables, "GSUB", within(record, 2, ">H", 0)))
    assert any("GSUB" in line for line in mended), mended
    (tmp_path / "made.ttf").write_bytes(packed(made, "ttf"))
    assert ots.sanitize(str(tmp_path / "made.ttf"), os.devnull, capture_output=True).returncode == 0
