"""Codepoints: given once, kept for good, whatever happens around them."""

from __future__ import annotations

import codecs

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.codes import Codes, refusal
from oddpeg.pegboard.file_format import parse_board
from support.project import CONFIG, RING, SQUARE, ProjectFolder, codepoints


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


def test_a_full_range_names_the_cure(project: ProjectFolder) -> None:
    result = project.config(CONFIG + '\n[pegs]\nrange = "U+E000-U+E000"\n').build(code=1)
    assert "add a range in oddpeg.toml" in result.stderr
    assert not (project.root / "dist").exists() and not (project.root / "pegboard.csv").exists()


def test_hashed_assignment_depends_on_the_name_alone(project: ProjectFolder) -> None:
    project.config(CONFIG + '\n[pegs]\nassign = "hashed"\n').build()
    before = codepoints(project)
    project.icon("aardvark").build()
    assert before.items() <= codepoints(project).items()
    assert (
        Pegboard().update(["buoy"], Codes((range(0xE000, 0xF900),)), "hashed")[0].pegs["buoy"].codepoint
        == before["buoy"]
    )


FAULTS = {
    "twice": ("a,U+E000,live\na,U+E001,live", ["pegged twice", "line 2", ":3"]),
    "clash": ("a,U+E000,live\nb,U+E000,live", ["'b' and 'a' (line 2)", "U+E000", ":3"]),
    "conflict": (
        "<<<<<<< ours\na,U+E000,live\n=======\nb,U+E001,live\n>>>>>>> theirs",
        ["conflict marker", ":2", ":4", ":6"],
    ),
    "spelling": ("a,E000,live", ["'E000' is not a codepoint"]),
    "state": ("a,U+E000,alive", ["'alive' is not a state"]),
    "surrogate": ("a,U+D800,live", ["surrogate"]),
    "columns": ("a,U+E000", ["is not icon,codepoint,state"]),
}


@pytest.mark.parametrize("name", FAULTS)
def test_faults_of_the_file_are_named_with_line_and_cure(project: ProjectFolder, name: str) -> None:
    body, told = FAULTS[name]
    text = f"icon,codepoint,state\n{body}\n"
    (project.root / "pegboard.csv").write_text(text)
    result = project.build(code=1)
    for part in told:
        assert part in result.stderr
    assert "cure:" in result.stderr
    assert project.read("pegboard.csv") == text, "a faulty board is left as it is"


def test_windows_line_ends_and_a_byte_order_mark_do_no_harm() -> None:
    board = parse_board("\ufefficon,codepoint,state\r\nanchor,U+E005,live\r\n")
    assert board.pegs["anchor"].codepoint == 0xE005


def test_a_board_that_a_spreadsheet_saved_is_read(project: ProjectFolder) -> None:
    text = "icon,codepoint,state\r\nanchor,U+E005,live\r\n"
    (project.root / "pegboard.csv").write_bytes(codecs.BOM_UTF8 + text.encode())
    project.build()
    assert codepoints(project) == {"anchor": 0xE005, "buoy": 0xE000}
    assert project.bytes("pegboard.csv").startswith(b"icon,"), "and written as ever"


def test_unusable_codepoints_are_refused() -> None:
    assert all(refusal(c) for c in (0, 0x20, 0x9F, 0xD800, 0xDFFF, 0xFFFE, 0x1FFFF, 0xFDD0, 0x110000))
    assert not any(refusal(c) for c in (0x41, 0xE000, 0xF8FF, 0xF0000))
    with pytest.raises(OddPegError):
        Pegboard().update(["a", "b"], Codes((range(0xFFFD, 0xFFFF),)))


def test_drawings_are_not_touched(project: ProjectFolder) -> None:
    project.build()
    assert project.read("icons/anchor.svg") == SQUARE and project.read("icons/buoy.svg") == RING
