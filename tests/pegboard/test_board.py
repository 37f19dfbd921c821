"""Codepoints: given once, kept for good, whatever happens around them."""

from __future__ import annotations

import codecs

from support.project import RING, SQUARE, ProjectFolder, codepoints


def test_a_second_build_moves_nothing(project: ProjectFolder) -> None:
    project.build()
    board, found = project.read("pegboard.csv"), codepoints(project)
    assert board == "icon,codepoint,state\nanchor,U+E000,live\nbuoy,U+E001,live\n"
    project.build()
    assert (project.read("pegboard.csv"), codepoints(project)) == (board, found)


def test_new_icons_take_free_codepoints_and_move_no_other(project: ProjectFolder) -> None:
    project.build()
    project.icon("aback").icon("cleat").build()
    assert codepoints(project) == {"anchor": 0xE000, "buoy": 0xE001, "aback": 0xE002, "cleat": 0xE003}


def test_a_drawing_that_goes_retires_its_peg_and_returns_to_it(project: ProjectFolder) -> None:
    project.build()
    (project.root / "icons/anchor.svg").unlink()
    result = project.icon("cleat", SQUARE.replace("M4 4", "M5 5")).build()
    assert "RETIRED" in result.stdout and "anchor" in result.stdout
    assert "anchor,U+E000,retired" in project.read("pegboard.csv")
    assert codepoints(project) == {"buoy": 0xE001, "cleat": 0xE002}, "a retired codepoint is never given away"
    project.icon("anchor").build()
    assert codepoints(project)["anchor"] == 0xE000


def test_a_broken_drawing_keeps_its_peg(project: ProjectFolder) -> None:
    project.build()
    project.icon("anchor", "<svg").build(code=1)
    assert "anchor,U+E000,live" in project.read("pegboard.csv")


def test_codepoints_can_be_set_by_hand(project: ProjectFolder) -> None:
    (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+0041,live\n")
    project.build()
    assert codepoints(project) == {"anchor": 0x41, "buoy": 0xE000}


def test_a_board_that_a_spreadsheet_saved_is_read(project: ProjectFolder) -> None:
    text = "icon,codepoint,state\r\nanchor,U+E005,live\r\n"
    (project.root / "pegboard.csv").write_bytes(codecs.BOM_UTF8 + text.encode())
    project.build()
    assert codepoints(project) == {"anchor": 0xE005, "buoy": 0xE000}
    assert project.bytes("pegboard.csv").startswith(b"icon,"), "and written as ever"


def test_drawings_are_not_touched(project: ProjectFolder) -> None:
    project.build()
    assert project.read("icons/anchor.svg") == SQUARE and project.read("icons/buoy.svg") == RING
