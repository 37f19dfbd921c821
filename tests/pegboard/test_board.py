"""Codepoints: given once, kept for good, whatever happens around them."""

from __future__ import annotations

import codecs

from support.project import RING, SQUARE, ProjectFolder, codepoints


def test_a_second_build_moves_nothing(project: ProjectFolder) -> None:
    project.deliver()
    board, found = project.read("pegboard.csv"), codepoints(project)
    assert board == "icon,codepoint,state\nanchor,U+E000,live\nbuoy,U+E001,live\n"
    project.deliver()
    assert (project.read("pegboard.csv"), codepoints(project)) == (board, found)


def test_a_broken_drawing_keeps_its_peg(project: ProjectFolder) -> None:
    project.deliver()
    project.icon("anchor", "<svg").build(code=1)
    assert "anchor,U+E000,live" in project.read("pegboard.csv")


def test_codepoints_can_be_set_by_hand(project: ProjectFolder) -> None:
    (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+0041,live\n")
    project.deliver()
    assert codepoints(project) == {"anchor": 0x41, "buoy": 0xE000}


def test_a_board_that_a_spreadsheet_saved_is_read(project: ProjectFolder) -> None:
    text = "icon,codepoint,state\r\nanchor,U+E005,live\r\n"
    (project.root / "pegboard.csv").write_bytes(codecs.BOM_UTF8 + text.encode())
    project.deliver()
    assert codepoints(project) == {"anchor": 0xE005, "buoy": 0xE000}
    assert project.bytes("pegboard.csv").startswith(b"icon,"), "and written as ever"


def test_drawings_are_not_touched(project: ProjectFolder) -> None:
    project.deliver()
    assert project.read("icons/anchor.svg") == SQUARE and project.read("icons/buoy.svg") == RING
