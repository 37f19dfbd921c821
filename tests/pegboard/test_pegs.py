"""`oddpeg pegs`: what people do to codepoints by hand, and what merges do to them, in real git repositories."""

from __future__ import annotations

import re
import shutil
import subprocess

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard import changes as peg_moves
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.codes import Codes
from oddpeg.pegboard.file_format import board_text, parse_board
from oddpeg.pegboard.settle import settle
from oddpeg.pegboard.states import State
from support.clients import Client
from support.project import CONFIG, RING, SQUARE, ProjectFolder, codepoints

CODES = Codes((range(0xE000, 0xE040), range(0xF0000, 0xF0100)))


def svg(size: int) -> str:
    return SQUARE.replace("M4 4", f"M{size} 4")


def test_a_renamed_drawing_is_recognised(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "icons/anchor.svg").rename(project.root / "icons/kedge.svg")
    refused = project.build(code=1)
    assert "'anchor' is gone, and 'kedge' is new with the very same drawing" in refused.stderr
    assert "oddpeg pegs rename anchor kedge" in refused.stderr and "kedge" not in project.read("pegboard.csv")
    assert project.run("pegs", "rename", "anchor", "kedge").returncode == 0
    project.deliver()
    assert codepoints(project) == {"buoy": 0xE001, "kedge": 0xE000}
    css, ts = project.read("dist/tide-marks.css"), project.read("dist/tide-marks.ts")
    assert ".tm-anchor::before" in css and "anchor: {\n    codepoint: 0xe000" in ts
    assert next(i for i in project.read_json("dist/tide-marks.json")["icons"] if i["name"] == "kedge")["aliases"] == [
        "anchor"
    ]
    assert project.run("pegs", "retire", "anchor").returncode == 0
    project.deliver()
    assert "anchor" not in project.read("dist/tide-marks.css") + project.read("pegboard.csv")


KEDGE = RING.replace("<circle", '<path d="M12 4v16M6.25 14.5l5.75 5.25L17.75 14.5" stroke="#000" fill="none"/><circle')
EXPORTED = {
    "a line more": KEDGE + "\n",
    "a declaration": '<?xml version="1.0" encoding="UTF-8"?>\n' + KEDGE,
    "another size": KEDGE.replace("viewBox", 'width="48" height="48" viewBox'),
    "another colour": KEDGE.replace("#000", "#1a73e8"),
    "split paths": KEDGE.replace("v16M", 'v16" stroke="#000" fill="none"/><path d="M').replace(
        "5.75 5.25", "5.7500 5.25"
    ),
    "a hundredth smaller": KEDGE.replace("<path", '<g transform="translate(.12 .12) scale(.99)"><path').replace(
        "</svg>", "</g></svg>"
    ),
    "moved": KEDGE.replace('viewBox="0 0', 'viewBox=".1 -.1'),
}


@pytest.mark.parametrize("how", EXPORTED)
def test_a_drawing_that_was_exported_again_is_recognised_in_a_fresh_clone(project: ProjectFolder, how: str) -> None:
    project.icon("anchor", KEDGE).icon("coil", RING).deliver()
    shutil.rmtree(project.root / ".oddpeg/cache")
    for name in (project.root / ".oddpeg/.gitignore").read_text().split():  # as a clone has it
        (project.root / ".oddpeg" / name).unlink(missing_ok=True)
    (project.root / "icons/anchor.svg").unlink()
    refused = project.icon("kedge", EXPORTED[how]).build(code=1)
    assert re.search("'anchor' is gone, and 'kedge' is new with (nearly )?the same drawing", refused.stderr)
    assert project.run("pegs", "rename", "anchor", "kedge").returncode == 0
    project.deliver()
    assert codepoints(project)["kedge"] == 0xE000


def test_drawings_that_differ_in_what_the_font_omits_are_two(project: ProjectFolder) -> None:
    ground = '<path d="M{} 3h9v18H{}z" opacity=".4"/>'
    left, right = (SQUARE.replace("<path", ground.format(x, x) + '<path fill="none" stroke="#000"') for x in (3, 12))
    project.icon("pane-left", left).build()
    (project.root / "icons/pane-left.svg").unlink()
    assert "1 new" in project.icon("pane-right", right).build().stdout
    (project.root / "icons/pane-right.svg").unlink()
    assert "looks renamed" in project.icon("pane-end", right + "\n").build(code=1).stderr


def test_another_drawing_is_a_new_icon_and_one_that_returns_late_is_asked_about(project: ProjectFolder) -> None:
    project.icon("anchor", KEDGE).deliver()
    (project.root / "icons/anchor.svg").unlink()
    other = KEDGE.replace("M12 4v16", "M12 5.5v14.5")
    assert "1 new" in project.icon("grapnel", other).build().stdout
    assert "'anchor' is gone, and 'kedge' is new" in project.icon("kedge", EXPORTED["moved"]).build(code=1).stderr
    assert "1 new" in project.build("--as-new").stdout


def test_a_drawing_holds_no_codepoint_before_it_is_a_glyph(project: ProjectFolder) -> None:
    project.icon("broken", "<svg").icon("empty", RING.replace('"#000"', '"none"')).icon("crate", KEDGE)
    assert "3 new" in project.build(code=1).stdout
    assert [line.split(",")[0] for line in project.read("pegboard.csv").splitlines()[1:]] == ["anchor", "buoy", "crate"]
    project.icon("crate", "<svg").icon("broken", KEDGE.replace("M12 4", "M12 6")).build(code=1)
    assert "crate,U+E002,live" in project.read("pegboard.csv") and "broken,U+E003" in project.read("pegboard.csv")


def test_an_icon_gets_a_certain_codepoint_before_it_is_delivered(project: ProjectFolder) -> None:
    assert "anchor is on U+E100" in project.run("pegs", "set", "anchor", "U+E100").stdout
    assert "ferry is on U+E101, which waits for its drawing" in project.run("pegs", "set", "ferry", "e101").stdout
    project.deliver()
    assert codepoints(project) == {"anchor": 0xE100, "buoy": 0xE000}
    for words, why in (
        (["buoy", "U+E100"], "held by 'anchor'"),
        (["buoy", "U+E101"], "held by 'ferry' (retired)"),
        (["buoy", "U+0300"], "combining mark"),
        (["buoy", "here"], "no codepoint"),
        (["Buoy", "U+E102"], "write 'buoy'"),
        (["buoy", "U+E102"], "was delivered on U+E000"),
    ):
        refused = project.run("pegs", "set", *words)
        assert refused.returncode in (1, 2) and why in refused.stderr and "cure:" in refused.stderr
    project.run("pegs", "set", "buoy", "U+E102", "--move")
    project.icon("ferry", KEDGE).deliver()
    assert codepoints(project) == {"anchor": 0xE100, "buoy": 0xE102, "ferry": 0xE101}


def test_rename_takes_the_drawing_along(project: ProjectFolder) -> None:
    project.deliver()
    result = project.run("pegs", "rename", "anchor", "kedge", "--no-alias")
    assert "renamed icons/anchor.svg to kedge.svg" in result.stdout
    assert (project.root / "icons/kedge.svg").exists() and not (project.root / "icons/anchor.svg").exists()
    project.deliver()
    assert codepoints(project) == {"buoy": 0xE001, "kedge": 0xE000}


def test_an_icon_taken_out_by_hand_stays_out_until_it_is_restored(project: ProjectFolder) -> None:
    project.deliver()
    project.run("pegs", "retire", "anchor")
    result = project.build()
    assert "withdrawn, though their drawings are there: anchor" in result.stdout and codepoints(project) == {
        "buoy": 0xE001
    }
    assert project.run("proof").returncode == 0, "what is left out on purpose is not missed"
    project.icon("cleat", svg(5)).deliver()
    assert codepoints(project)["cleat"] == 0xE002
    project.run("pegs", "restore", "anchor")
    project.deliver()
    assert codepoints(project)["anchor"] == 0xE000


def test_a_drawing_with_the_name_of_an_alias(project: ProjectFolder) -> None:
    project.deliver()
    project.run("pegs", "rename", "anchor", "kedge")
    result = project.icon("anchor", svg(6)).build(code=1)
    assert "alias of 'kedge'" in result.stderr and "oddpeg pegs retire anchor" in result.stderr


def test_the_list(project: ProjectFolder) -> None:
    project.deliver()
    project.run("pegs", "rename", "anchor", "kedge")
    text = project.run("pegs", "list").stdout
    assert "alias of kedge" in text and "6,398 codepoints free in U+E000-U+F8FF" in text
    report = project.json("pegs", "list", "k*")
    assert [p["icon"] for p in report["pegs"]] == ["kedge"] and report["count"]["live"] == 2 and report["free"] == 6398


def test_several_ranges_fill_in_order(project: ProjectFolder) -> None:
    project.icon("cleat", svg(5)).config(CONFIG + '\n[pegs]\nrange = ["U+E000-U+E001", "U+F0000-U+F0001"]\n').deliver()
    assert codepoints(project) == {"anchor": 0xE000, "buoy": 0xE001, "cleat": 0xF0000}
    wrong = project.config(CONFIG + '\n[pegs]\nrange = ["U+E000-U+E001", "F000"]\n').run("build")
    assert wrong.returncode == 2 and "pegs.range" in wrong.stderr and 'must look like "U+E000-U+F8FF"' in wrong.stderr


def git(project: ProjectFolder, *args: str, code: int = 0) -> str:
    env = {
        "GIT_AUTHOR_NAME": "a",
        "GIT_AUTHOR_EMAIL": "a@b",
        "GIT_COMMITTER_NAME": "a",
        "GIT_COMMITTER_EMAIL": "a@b",
        "GIT_CONFIG_GLOBAL": "/dev/null",
        "PATH": "/usr/bin:/bin:/usr/local/bin",
        "HOME": str(project.root),
    }
    git.clock += 60  # type: ignore[attr-defined]
    when = f"{git.clock} +0000"  # type: ignore[attr-defined]
    done = subprocess.run(
        ["git", *args],
        cwd=project.root,
        capture_output=True,
        text=True,
        check=False,
        env={**env, "GIT_AUTHOR_DATE": when, "GIT_COMMITTER_DATE": when},
    )
    assert done.returncode == code, done.stdout + done.stderr
    return done.stdout


git.clock = 1_700_000_000  # type: ignore[attr-defined]


@pytest.fixture
def repository(project: ProjectFolder, client: Client) -> ProjectFolder:
    client("git")
    project.deliver()
    git(project, "init", "-q", "-b", "main")
    git(project, "add", "-A")
    git(project, "commit", "-qm", "first")
    return project


def test_two_branches_add_icons_and_nothing_shipped_moves(repository: ProjectFolder) -> None:
    shipped = codepoints(repository)
    git(repository, "checkout", "-qb", "harbour")
    repository.icon("zephyr", svg(5)).icon("winch", svg(6)).deliver()
    git(repository, "add", "-A")
    git(repository, "commit", "-qm", "harbour")  # earlier, although later in the alphabet
    early = codepoints(repository)
    git(repository, "checkout", "-q", "main")
    repository.icon("cleat", svg(7)).icon("davit", RING.replace('"8"', '"6"')).deliver()
    git(repository, "add", "-A")
    git(repository, "commit", "-qm", "main")
    git(repository, "merge", "harbour", code=1)
    assert "<<<<<<<" in repository.read("pegboard.csv")
    assert "oddpeg pegs settle" in repository.build(code=1).stderr
    assert "<<<<<<<" in repository.read(".oddpeg/delivered.json") and "<<<<<<<" in repository.read(
        "dist/tide-marks.css"
    )
    result = repository.run("pegs", "settle")
    assert result.returncode == 0 and "MOVED davit" in result.stdout
    assert "MOVED cleat: U+E002 → U+E004" in result.stdout
    assert "delivered files that the merge changed" in result.stdout
    repository.deliver()
    assert "<<<<<<<" not in repository.read(".oddpeg/arrivals.json") + repository.read("dist/tide-marks.json")
    now = codepoints(repository)
    assert early.items() <= now.items() and shipped.items() <= now.items(), "what was there first has not moved"
    assert len(set(now.values())) == len(now) == 6
    assert "nothing to settle" in repository.run("pegs", "settle").stdout


def test_without_history_the_alphabet_decides(project: ProjectFolder) -> None:
    project.icon("cleat", svg(5))
    (project.root / "pegboard.csv").write_text(
        "icon,codepoint,state\ncleat,U+E000,live\nbuoy,U+E000,live\nanchor,U+E003,live\nanchor,U+E001,live\n"
    )
    result = project.run("pegs", "settle")
    assert (
        "MOVED cleat: U+E000 → U+E002" in result.stdout
        and "anchor stays on U+E001; its other line, U+E003, is gone" in result.stdout
    )
    project.deliver()
    assert codepoints(project) == {"anchor": 0xE001, "buoy": 0xE000, "cleat": 0xE002}


def test_the_common_ancestor_of_a_three_way_marker_counts_for_nothing() -> None:
    text = (
        "icon,codepoint,state\n<<<<<<< a\nx,U+E000,live\n|||||||"
        " base\nold,U+E000,live\n=======\ny,U+E000,live\n>>>>>>> b\n"
    )
    result = settle(text, CODES, "next", lambda icon, code: {"x": 2.0, "y": 1.0}[icon])
    assert set(result.board.pegs) == {"x", "y"} and result.board.pegs["y"].codepoint == 0xE000 and result.marks == 4


NAMES = st.sampled_from([f"icon-{c}" for c in "abcdefghij"])


class AnyOrder(RuleBasedStateMachine):
    """Builds, renames, retirements and merges in random order: no live peg ever moves but in settling, as the
    newcomer."""

    def __init__(self) -> None:
        super().__init__()
        self.board, self.there = Pegboard(), set[str]()
        self.ever: dict[int, str] = {}  # codepoint → who held it first, under its present name

    @rule(names=st.sets(NAMES, min_size=1), how=st.sampled_from(["next", "hashed"]))
    def build(self, names: set[str], how: str) -> None:
        aliases = {n for n, p in self.board.pegs.items() if p.state is State.ALIAS}
        before = dict(self.board.pegs)
        self.there = names - aliases
        self.board, _ = self.board.update(sorted(self.there), CODES, how)
        for name, peg in before.items():
            assert self.board.pegs[name].codepoint == peg.codepoint
        for name in self.there:
            peg = self.board.pegs[name]
            assert self.ever.setdefault(peg.codepoint, name) == name, "a codepoint was given away twice"

    @precondition(lambda self: self.board.pegs)
    @rule(data=st.data(), new=NAMES)
    def rename(self, data: st.DataObject, new: str) -> None:
        old = data.draw(st.sampled_from(sorted(self.board.pegs)))
        code = self.board.pegs[old].codepoint
        try:
            self.board, _ = peg_moves.rename(self.board, old, new, self.there, data.draw(st.booleans()))
        except OddPegError:
            return
        self.there = {new if n == old else n for n in self.there}
        assert self.board.pegs[new].codepoint == code
        self.ever[code] = new

    @precondition(lambda self: self.board.pegs)
    @rule(data=st.data())
    def retire_or_restore(self, data: st.DataObject) -> None:
        name = data.draw(st.sampled_from(sorted(self.board.pegs)))
        move = data.draw(st.sampled_from([peg_moves.retire, peg_moves.restore]))
        try:
            self.board, _ = move(self.board, name, self.there)
        except OddPegError:
            return

    @rule(mine=st.sets(NAMES, max_size=3), theirs=st.sets(NAMES, max_size=3))
    def merge(self, mine: set[str], theirs: set[str]) -> None:
        aliases = {n for n, p in self.board.pegs.items() if p.state is State.ALIAS}
        sides = [self.board.update(sorted((self.there | new) - aliases), CODES)[0] for new in (mine, theirs)]
        shipped = {(p.icon, p.codepoint): 1.0 for p in self.board.pegs.values()}
        lines = sorted({line for side in sides for line in board_text(side).splitlines()[1:]})
        result = settle(
            "\n".join(["icon,codepoint,state", "<<<<<<< a", *lines, "=======", ">>>>>>> b"]),
            CODES,
            "next",
            lambda icon, code: shipped.get((icon, code)),
        )
        for name, peg in self.board.pegs.items():
            assert result.board.pegs[name].codepoint == peg.codepoint, "what was shipped moved"
        self.board, self.there = result.board, (self.there | mine | theirs) - aliases
        for name, peg in self.board.pegs.items():
            if peg.state is not State.ALIAS:
                assert self.ever.setdefault(peg.codepoint, name) == name

    @invariant()
    def sound(self) -> None:
        assert parse_board(board_text(self.board)).pegs == self.board.pegs


AnyOrder.TestCase.settings = settings(max_examples=60, stateful_step_count=20, deadline=None, derandomize=True)
test_any_order_of_changes_keeps_every_promise = AnyOrder.TestCase
