"""Codepoints taken over from fonts and maps, on their own: every rule by a call, without files."""

from __future__ import annotations

from pathlib import Path

import pytest

from oddpeg.pegboard.adoption import Adoption, Refused, adopt
from oddpeg.pegboard.board import CodepointMove, Peg
from oddpeg.pegboard.maps import read_names
from oddpeg.pegboard.states import State
from support.pegs import board, refused
from support.project import CONFIG, RING, ProjectFolder


def adopted(*found: tuple[str, int], move: bool = False, reserve: bool = True, strip: str = "") -> Adoption:
    start = board("anchor,U+E000,live", "buoy,U+E001,live", "old,U+E000,alias")
    return adopt(start, list(found), {"anchor", "buoy", "cleat", "dock"}, strip, move, reserve)


def test_adoption_takes_keeps_moves_and_reserves() -> None:
    done = adopted(("cleat", 0xF100), ("anchor", 0xE000), ("buoy", 0xF101), ("winch", 0xF102))
    assert (done.taken, done.same, done.reserved, done.moved) == (["cleat"], ["anchor"], ["winch"], [])
    assert done.stays == [CodepointMove("buoy", 0xE001, 0xF101)] and done.waiting == ["dock"] and done.refused == []
    assert done.board.pegs["cleat"] == Peg("cleat", 0xF100) and done.board.pegs["buoy"].codepoint == 0xE001
    assert done.board.pegs["winch"] == Peg("winch", 0xF102, State.RETIRED)
    moved = adopted(("buoy", 0xF101), move=True)
    assert moved.moved == [CodepointMove("buoy", 0xE001, 0xF101)] and moved.stays == []
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


def test_an_svg_font_reads_nothing_but_itself(tmp_path_factory: pytest.TempPathFactory) -> None:
    secret = tmp_path_factory.mktemp("secret") / "secret"
    secret.write_text("treasure")
    head = f'<!DOCTYPE svg [<!ENTITY x SYSTEM "{secret.as_uri()}">]>'
    font = f"{head}<svg><font><text>&x;</text><glyph glyph-name='a' unicode='b'/><!-- c --></font></svg>"
    assert read_names(f"\n {font}".encode(), "f.svg") == [("a", 0x62)]
    assert "Premature end" in refused(lambda: read_names(b"<svg><font>", "f.svg"))


def test_our_own_fonts_give_every_icon_its_codepoint_back(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path).config(CONFIG)
    for name in ("space", "anchor", "tide-pool", "tide pool 2", "2nd-berth"):
        project.icon(name, RING)
    project.deliver()
    before = project.read("pegboard.csv")
    (tmp_path / "pegboard.csv").unlink()
    web, desktop = "dist/tide-marks.woff2", "dist/tide-marks.ttf"
    refused = project.run("pegs", "adopt", web)
    assert refused.returncode == 1 and "has codepoints, but no names for them" in refused.stderr
    assert "--names" in refused.stderr and not (tmp_path / "pegboard.csv").exists()
    for arguments in ((desktop,), (web, "--names", "dist/tide-marks.json"), (web, "--names", desktop)):
        assert project.run("pegs", "adopt", *arguments).returncode == 0
        assert project.read("pegboard.csv") == before
        (tmp_path / "pegboard.csv").unlink()
