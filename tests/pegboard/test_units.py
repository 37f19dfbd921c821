"""The pegboard on its own: every rule by a call, without files."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard import changes
from oddpeg.pegboard.board import Changes, CodepointMove, Peg, Pegboard
from oddpeg.pegboard.changes import Changed
from oddpeg.pegboard.codes import Codes, refusal
from oddpeg.pegboard.file_format import parse_board
from oddpeg.pegboard.renames import Alike, find_renames, rename_diagnostics
from oddpeg.pegboard.settle import Dropped, Settled, settle
from oddpeg.pegboard.states import State
from support.pegs import board, refused

CODES = Codes((range(0xE000, 0xE003), range(0xF000, 0xF002)))


def test_rename_keeps_the_codepoint_and_an_alias() -> None:
    done = changes.rename(board("a,U+E001,live", "o,U+E001,alias"), "a", "b", {"a"})
    assert done.board == board("b,U+E001,live", "a,U+E001,alias", "o,U+E001,alias")
    assert done.said == [
        "a is now b, still on U+E001",
        "a stays as an alias in outputs; drop it with: oddpeg pegs retire a",
    ]
    assert changes.rename(board("a,U+E001,live"), "a", "b", set(), alias=False) == Changed(
        board("b,U+E001,live"), ["a is now b, still on U+E001"]
    )
    assert changes.rename(board("a,U+E001,retired"), "a", "b", {"b"}, False).board == board("b,U+E001,live")
    back = changes.rename(board("b,U+E001,live", "a,U+E001,alias"), "b", "a", set())
    assert back.board == board("a,U+E001,live", "b,U+E001,alias"), "its own alias may become its name again"


@pytest.mark.parametrize(
    ("change", "line", "drawings", "after", "said"),
    [
        (changes.retire, "a,U+E001,live", {"a"}, State.WITHDRAWN, "although its drawing is there; U+E001 stays"),
        (changes.retire, "a,U+E001,retired", set(), State.WITHDRAWN, "stays so even if its drawing comes back"),
        (changes.retire, "a,U+E001,withdrawn", set(), State.WITHDRAWN, "a is withdrawn already"),
        (changes.restore, "a,U+E001,live", {"a"}, State.LIVE, "a is live: there is nothing to restore"),
        (changes.restore, "a,U+E001,withdrawn", {"a"}, State.LIVE, "a is live again on U+E001"),
        (changes.restore, "a,U+E001,withdrawn", set(), State.RETIRED, "it comes back to U+E001 with it"),
        (changes.restore, "a,U+E001,retired", {"a"}, State.LIVE, "a is live again on U+E001"),
    ],
)
def test_retire_and_restore(
    change: Callable[[Pegboard, str, set[str]], Changed], line: str, drawings: set[str], after: State, said: str
) -> None:
    done = change(board(line), "a", drawings)
    assert done.board.pegs == {"a": Peg("a", 0xE001, after)} and said in done.said[0]


def test_aliases_are_dropped_and_lost_drawings_asked_for() -> None:
    some = board("a,U+E001,live", "o,U+E001,alias", "r,U+E002,retired")
    done = changes.retire(some, "o", set())
    assert "o" not in done.board.pegs and done.said == ["the alias o is dropped; a stays on U+E001"]
    assert changes.restore(some, "o", set()).said == ["o is an alias: there is nothing to restore"]
    told = refused(lambda: changes.restore(some, "r", set()))
    assert "drawing-gone" in told and "put r.svg back" in told


def test_a_rename_is_seen_by_the_drawing() -> None:
    found = [
        Alike("old", "new", 1.0),
        Alike("lost", "new", 0.99),
        Alike("gone", "one", 0.991),
        Alike("lost", "one", 0.995),
    ]
    single, several = rename_diagnostics(find_renames(found), board("old,U+E005,live"))
    text = single.text()
    assert "'old' is gone, and 'new' is new" in text and "pegs rename old new` to keep U+E005" in text
    assert "--as-new" in text
    assert "lost (99.5 % alike), gone (99.1 % alike)" in several.text() and "pegs rename OLD one" in several.text()


def test_settling_drops_and_moves_and_says_so() -> None:
    text = (
        'icon,codepoint,state\n<<<<<<< a, "b\na,U+E000,live\nx,U+E001,live\n||||||| base\nx,U+E009,live\n'
        "=======\nb,U+E000,live\nx,U+E002,live\n>>>>>>> c\ngone,U+E005,alias\nold,U+E000,alias\n"
    )
    ages = {("b", 0xE000): 1.0, ("a", 0xE000): 2.0, ("x", 0xE002): 1.0}
    done = settle(text, CODES, "next", lambda icon, code: ages.get((icon, code)))
    assert done == Settled(
        board("a,U+E001,live", "b,U+E000,live", "old,U+E000,alias", "x,U+E002,live"),
        [CodepointMove("a", 0xE000, 0xE001)],
        [Dropped("x", 0xE001, 0xE002), Dropped("gone", 0xE005, None)],
        4,
    )
    assert done.said() == [
        "4 conflict markers removed",
        "x stays on U+E002; its other line, U+E001, is gone",
        "the alias gone is gone: no icon holds U+E005",
        "MOVED a: U+E000 → U+E001",
    ]
    alone = settle("a,U+E000,live\nb,U+E000,live", CODES, "next", lambda icon, code: None)
    assert alone.moved == [CodepointMove("b", 0xE000, 0xE001)] and alone.marks == 0


FAULTS = {
    "a,U+E000,live\na,U+E001,live": [("peg-twice", 3, "'a' is pegged twice, here and on line 2")],
    "a,U+E000,live\nb,U+E000,retired": [("codepoint-clash", 3, "'b' and 'a' (line 2) hold the same codepoint U+E000")],
    '<<<<<<< x, "y\na,U+E000,live\n>>>>>>> z': [
        ("conflict-marker", 2, "holds a conflict marker of a merge"),
        ("conflict-marker", 4, "holds a conflict marker of a merge"),
    ],
    "a,E000,live": [("bad-codepoint", 2, "'E000' is not a codepoint")],
    "a,U+E0001234,live": [("bad-codepoint", 2, "'U+E0001234' is not a codepoint")],
    "a,U+D800,live": [("unsafe-codepoint", 2, "U+D800 is half of a surrogate pair, not a character")],
    "a,U+E000,alive": [("bad-state", 2, "'alive' is not a state")],
    "a,U+E000": [("peg-syntax", 2, "is not icon,codepoint,state: 'a,U+E000'")],
    ",U+E000,live": [("peg-syntax", 2, "is not icon,codepoint,state: ',U+E000,live'")],
    "\n\no,U+E009,alias": [("orphan-alias", 4, "'o' is an alias of U+E009, which no icon holds")],
    "b,U+E000,live\na,U+E000,alias\na,U+E001,live": [("peg-twice", 4, "'a' is pegged twice, here and on line 3")],
}
CURES = {
    "peg-twice": "keep the line whose codepoint was shipped",
    "codepoint-clash": "run `oddpeg pegs settle`: it keeps the one that was shipped first and moves the other",
    "conflict-marker": "run `oddpeg pegs settle`",
    "bad-codepoint": "write it like U+E000",
    "unsafe-codepoint": "choose one from U+E000 to U+F8FF",
    "bad-state": "write live, retired, withdrawn or alias",
    "peg-syntax": "write it like anchor,U+E000,live",
    "orphan-alias": "delete the line, or give it the codepoint of its icon",
}


@pytest.mark.parametrize("body", FAULTS)
def test_every_fault_of_the_file_has_its_line_and_its_cure(body: str) -> None:
    with pytest.raises(OddPegError) as found:
        parse_board("\ufefficon, codepoint ,state\r\n" + body + "\n", "board.csv")
    told = [(d.code, d.line, d.what, d.cure, d.where) for d in found.value.diagnostics]
    assert told == [(code, line, what, CURES[code], "board.csv") for code, line, what in FAULTS[body]]


REASONS = {
    0x110000: "lies beyond U+10FFFF, the last codepoint there is",
    0x20: "is a control character or a space",
    0xA0: "is a control character or a space",
    0xDBFF: "is half of a surrogate pair, not a character",
    0xFFFF: "is a noncharacter",
    0x10FFFE: "is a noncharacter",
    0xFDD0: "is a noncharacter",
    0x301: "is a combining mark: text would put it onto the character before it",
    0x3000: "is a space: lines break there, and text tools trim it",
    0x200D: "is an invisible format character",
    0x378: "is not assigned yet; a later Unicode may give it a meaning of its own",
    0x627: "is written from right to left and would reverse the adjacent text",
    0x5D0: "is written from right to left and would reverse the adjacent text",
    0x661: "is written from right to left and would reverse the adjacent text",
}


@pytest.mark.parametrize("code", REASONS)
def test_why_a_codepoint_cannot_carry_an_icon(code: int) -> None:
    assert refusal(code) == REASONS[code]


def test_what_a_build_does_to_each_state() -> None:
    start = board("a,U+E000,live", "b,U+E001,live", "c,U+E002,retired", "d,U+F000,withdrawn", "e,U+F001,withdrawn")
    done = start.update(["a", "c", "d"], CODES)
    assert done.board == board(
        "a,U+E000,live", "b,U+E001,retired", "c,U+E002,live", "d,U+F000,withdrawn", "e,U+F001,withdrawn"
    )
    assert done.changes == Changes([], ["b"], ["c"], ["d"])
    assert start.pegs["b"].state is State.LIVE, "the board before is left as it was"


def test_new_icons_fill_what_is_free_in_order() -> None:
    start = board("a,U+E000,live", "z,U+E002,retired")
    done = start.update(["a", "c", "b", "d"], CODES)
    assert done.changes.added == ["b", "c", "d"]
    assert {n: done.board.pegs[n].codepoint for n in "bcd"} == {"b": 0xE001, "c": 0xF000, "d": 0xF001}
    told = refused(lambda: start.update(["a", "b", "c", "d", "e"], CODES))
    assert "codepoints-used-up no codepoint is free for 'e': all 5 of U+E000-U+E002, U+F000-U+F001 are taken" in told
    assert 'cure: add a range in oddpeg.toml: pegs.range = ["U+E000-U+F8FF", "U+F0000-U+FFFFD"]' in told


def test_hashed_codepoints_follow_from_the_name() -> None:
    wide = Codes((range(0xE000, 0xF900),))
    done = Pegboard().update(["anchor", "buoy"], wide, "hashed").board
    assert {n: p.codepoint for n, p in done.pegs.items()} == {"anchor": 0xF2D4, "buoy": 0xE193}, "for ever"
    after = board("x,U+F2D4,live").update(["anchor"], wide, "hashed").board
    assert after.pegs["anchor"].codepoint == 0xF2D5, "the next one where its own is taken"


def test_icons_get_the_codepoints_that_they_bring_where_those_are_free() -> None:
    known = board("a,U+E001,live", "gone,U+E002,retired")
    wanted = {"b": 0xE005, "c": 0xE001, "d": 0xE002, "e": 0xD800, "f": 0xE005}
    done = known.update(["a", "b", "c", "d", "e", "f"], Codes((range(0xE000, 0xE010),)), wanted_codes=wanted)
    pegs = {name: peg.codepoint for name, peg in done.board.pegs.items()}
    assert pegs["b"] == 0xE005 and pegs["a"] == 0xE001 and pegs["gone"] == 0xE002
    # taken, retired, a surrogate, and brought by two: the next free ones, in the order of names
    assert [pegs[name] for name in "cdef"] == [0xE000, 0xE003, 0xE004, 0xE006]
    assert all(peg.icon == name for name, peg in done.board.pegs.items())
    assert done.changes.added == ["b", "c", "d", "e", "f"]


def test_lines_end_in_any_way_and_cells_may_be_quoted() -> None:
    wanted = board("a,U+E001,live", "b,U+E002,live")
    assert parse_board("icon,codepoint,state\ra,U+E001,live\rb,U+E002,live\r") == wanted
    assert parse_board('icon,codepoint,state\r\n"a","U+E001","live"\r\nb,U+E002,live\r\n') == wanted
    assert "conflict-marker" in refused(lambda: parse_board('<<<<<<< "mine, all\na,U+E001,live\n'))
    with pytest.raises(OddPegError) as found:
        parse_board("icon,codepoint,state\na,U+E001,live\n\nnothing\n")
    assert [d.line for d in found.value.diagnostics] == [4]
