"""Codepoints taken over from fonts and maps, on their own: every rule by a call, without files."""

from __future__ import annotations

import json

import pytest

import targets
from oddpeg.pegboard.adoption import Adoption, Refused, adopt
from oddpeg.pegboard.board import Move, Peg, Pegboard
from oddpeg.pegboard.codes import refusal
from oddpeg.pegboard.maps import parse_codepoint, read_names
from oddpeg.pegboard.states import State
from support.pegs import board, refused

# -- codepoints from elsewhere ----------------------------------------------------------------


def adopted(*found: tuple[str, int], move: bool = False, reserve: bool = True, strip: str = "") -> Adoption:
    start = board("anchor,U+E000,live", "buoy,U+E001,live", "old,U+E000,alias")
    return adopt(start, list(found), {"anchor", "buoy", "cleat", "dock"}, strip, move, reserve)


def test_adoption_takes_keeps_moves_and_reserves() -> None:
    done = adopted(("cleat", 0xF100), ("anchor", 0xE000), ("buoy", 0xF101), ("winch", 0xF102))
    assert (done.taken, done.same, done.reserved, done.moved) == (["cleat"], ["anchor"], ["winch"], [])
    assert done.stays == [Move("buoy", 0xE001, 0xF101)] and done.waiting == ["dock"] and done.refused == []
    assert done.board.pegs["cleat"] == Peg("cleat", 0xF100) and done.board.pegs["buoy"].codepoint == 0xE001
    assert done.board.pegs["winch"] == Peg("winch", 0xF102, State.RETIRED)
    moved = adopted(("buoy", 0xF101), move=True)
    assert moved.moved == [Move("buoy", 0xE001, 0xF101)] and moved.stays == []
    assert moved.board.pegs["buoy"] == Peg("buoy", 0xF101)
    assert adopted(("winch", 0xF102), reserve=False).reserved == []


def test_adoption_says_what_it_passes_over() -> None:
    done = adopted(("cleat", 0xF100), ("cleat", 0xF101), ("dock", 0xF100), ("winch", 0xE000), ("dock", 0x20))
    assert done.refused == [
        Refused("dock", 0x20, "is a control character or a space"),
        Refused("dock", 0xF100, "is held by 'cleat'"),
        Refused("cleat", 0xF101, "comes a second time; cleat holds U+F100"),
        Refused("winch", 0xE000, "is held by 'anchor'"),
    ]
    twice = adopted(("buoy", 0xF100), ("buoy", 0xF101), move=True)
    assert twice.refused == [Refused("buoy", 0xF101, "comes a second time; buoy holds U+F100")]
    again = adopted(("winch", 0xF100), ("winch", 0xF101))
    assert again.refused == [Refused("winch", 0xF101, "its name is on the pegboard already")]


def test_adoption_of_names_that_are_prefixed_near_or_missing() -> None:
    done = adopted(("ic-cleat", 0xF100), ("ic-anchr", 0xF101), ("", 0xE001), ("", 0xF102), strip="ic-")
    assert done.taken == ["cleat"] and done.near == {"ic-anchr": ["anchor"]} and done.nameless == 1
    assert "unnamed-f102" in done.board.pegs and done.reserved == ["anchr", "unnamed-f102"]


@pytest.mark.parametrize(
    ("text", "code"),
    [
        (57345, 0xE001),
        ("U+E001", 0xE001),
        ("u+e001", 0xE001),
        ("0xe001", 0xE001),
        ("\\e001", 0xE001),
        ("\\ue001", 0xE001),
        ("\\u{f0001}", 0xF0001),
        ("&#xe001;", 0xE001),
        ("&#57345;", 0xE001),
        ("57345", 57345),
        ("e001", 0xE001),
        ("'\ue001'", 0xE001),
        ("A", 0x41),
        ("7", None),
        ("", None),
        ("anchor", None),
        ("U+110000", None),
        (-1, None),
        (0x10FFFF, 0x10FFFF),
        (0x110000, None),
        (True, None),
        (None, None),
        (1.5, None),
    ],
)
def test_every_spelling_of_a_codepoint(text: object, code: int | None) -> None:
    assert parse_codepoint(text) == code


MAPS = {
    "object": {"anchor": "e001", "buoy": "e002"},
    "rows": [{"name": "anchor", "codepoint": 57345}, {"glyph": "buoy", "hex": "E002"}],
    "nested": {"meta": {"n": [1]}, "icons": [{"Name": "anchor", "CODE": "0xe001"}, {"id": "buoy", "char": "\ue002"}]},
    "keyed": {"anchor": {"unicode": "e001"}, "buoy": {"value": "\\e002"}},
}


@pytest.mark.parametrize("name", MAPS)
def test_maps_of_every_common_shape(name: str) -> None:
    assert read_names(json.dumps(MAPS[name]).encode(), "map.json") == [("anchor", 0xE001), ("buoy", 0xE002)]


def test_tables_and_svg_fonts() -> None:
    for text in (
        "anchor,U+E001\nbuoy,U+E002\n",
        "name;code\nanchor; e001\nbuoy ;e002",
        "anchor\t0xE001\nbuoy\t0xE002\tx",
    ):
        assert read_names(text.encode("utf-8-sig"), "map.csv") == [("anchor", 0xE001), ("buoy", 0xE002)]
    font = "<svg><font><glyph glyph-name='anchor' unicode='&#xe001;'/><glyph unicode='&#xe002;'/><glyph/></font></svg>"
    assert read_names(font.encode(), "f.svg") == [("anchor", 0xE001), ("", 0xE002)]
    assert "map-empty" in refused(lambda: read_names(b"nothing here", "x.csv"))
    assert "map-unreadable" in refused(lambda: read_names(b'{"a":', "x.json"))
    assert "x.svg" in refused(lambda: read_names(b"<svg", "x.svg"))


def test_edges_of_codepoints_in_maps() -> None:
    assert parse_codepoint(0) == 0 and parse_codepoint("U+10FFFF") == 0x10FFFF and parse_codepoint('"e001"') == 0xE001
    assert refusal(0xFDEF) and not refusal(0xFDF2 + 0xF0000)
    assert read_names(b'[{"name": "a", "hex": "41"}, {"name": "b", "HEX": "e1"}, {"code": "e2ff"}]', "x") == [
        ("a", 0x41),
        ("b", 0xE1),
        ("", 0xE2FF),
    ]
    nine = {f"n{i}": f"e00{i}" for i in range(9)}
    assert len(read_names(json.dumps({**nine, "version": "one"}).encode(), "x")) == 9, "one line in ten may be none"
    told = refused(lambda: read_names(json.dumps({"a": "e001", "b": "no", "c": "no"}).encode(), "x"))
    assert "map-empty x: holds no names with codepoints" in told
    assert "give a TTF, OTF, WOFF or WOFF2 font, an SVG font, or a JSON or CSV map of name to codepoint" in told
    kept = read_names(b'{"units_per_em": 1000, "glyphs": [{"glyph": "a", "unicode": "e001"}]}', "x")
    assert kept == [("a", 0xE001)]
    assert read_names(b'\xef\xbb\xbf  [[], {}, {"x": {"value": "e001"}}]', "x") == [("x", 0xE001)]


def test_an_svg_font_reads_nothing_but_itself(tmp_path_factory: pytest.TempPathFactory) -> None:
    secret = tmp_path_factory.mktemp("secret") / "secret"
    secret.write_text("treasure")
    head = f'<!DOCTYPE svg [<!ENTITY x SYSTEM "{secret.as_uri()}">]>'
    font = f"{head}<svg><font><text>&x;</text><glyph glyph-name='a' unicode='b'/><!-- c --></font></svg>"
    assert read_names(f"\n {font}".encode(), "f.svg") == [("a", 0x62)]
    assert "Premature end" in refused(lambda: read_names(b"<svg><font>", "f.svg"))


def test_fonts_tell_names_and_codepoints() -> None:
    for data in targets.fonts():
        assert [code for _, code in read_names(data, "f")] == [0xE000]
    told = refused(lambda: read_names(targets.fonts()[0][:40], "f.ttf"))
    assert "map-unreadable f.ttf: cannot be understood: it is no sound font" in told
    assert "nested too deeply" in refused(lambda: read_names(b"[" * 100_000, "deep.json"))


def test_more_of_what_adoption_says() -> None:
    done = adopted(("", 0xE000), ("", 0xE001), ("x y", 0x20), ("", 0xD800))
    assert done.nameless == 2 and [r.name for r in done.refused] == ["x y", ""]
    start = board("gone,U+E005,retired", "off,U+E006,withdrawn", "old,U+E005,alias")
    moved = adopt(start, [("gone", 0xF100), ("off", 0xF101), ("old", 0xF102)], set(), "", True, True)
    assert moved.board.pegs["gone"] == Peg("gone", 0xF100, State.RETIRED)
    assert moved.board.pegs["off"] == Peg("off", 0xF101, State.WITHDRAWN)
    assert moved.refused == [Refused("old", 0xF102, "its name is on the pegboard already")]
    assert adopt(Pegboard(), [("a", 0xF100)], set(), "", False, True).board.pegs["a"].state is State.RETIRED
    first = adopt(Pegboard(), [("SM a", 0xF100), ("b", 0xE000)], {"a"}, "SM ", False, True)
    assert first.taken == ["a"] and list(first.board.pegs) == ["a", "b"], "icons that exist come first"
