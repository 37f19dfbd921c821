"""Commands in any order, with faults at any write: no live peg moves, no file of the user's changes, and the next
correct build succeeds."""

from __future__ import annotations

import contextlib
import shutil
import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from oddpeg.building.report import BuildOptions
from oddpeg.building.run import build
from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.file_format import parse_board
from oddpeg.pegboard.states import State
from oddpeg.pegs import rename_icon, restore_icons, retire_icons
from oddpeg.project.project import Project
from oddpeg.store.transaction import lock
from support.faults import Fault, failing
from support.project import CONFIG

# no fonts and no pictures: what is tried here is the order of writing
QUICK = CONFIG.replace('fonts = ["woff2", "woff", "ttf"]\n', "").replace(', "specimen"', "")
names = st.sampled_from(["anchor", "buoy", "cleat"])
faults = st.one_of(st.none(), st.tuples(st.sampled_from(["ENOSPC", "EACCES", "KILL"]), st.integers(1, 16)))


class Pegs(RuleBasedStateMachine):
    """A project, and what was promised in it: the codepoint of every icon that ever was delivered."""

    @initialize()
    def start(self) -> None:
        self.root = Path(tempfile.mkdtemp()).resolve()
        (self.root / "icons").mkdir()
        (self.root / "oddpeg.toml").write_text(QUICK)
        (self.root / "notes.txt").write_text("mine")
        self.content: dict[str, int] = {}
        self.promised: dict[int, str] = {}
        self.add("anchor")
        build(Project.open(self.root / "oddpeg.toml"))
        self.note()

    def teardown(self) -> None:
        shutil.rmtree(self.root, ignore_errors=True)

    def add(self, name: str) -> None:
        size = 4 + len(self.content)
        self.content[name] = size
        frame = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 240 240"'
        (self.root / f"icons/{name}.svg").write_text(f'<svg {frame}><path d="M4 4h{size}v{size}H4z"/></svg>')

    def project(self) -> Project:
        return Project.open(self.root / "oddpeg.toml")

    def note(self) -> None:
        """Promise what the board holds: a codepoint belongs to one icon, under whatever name, for ever."""
        board = parse_board((self.root / "pegboard.csv").read_text())
        for peg in board.pegs.values():
            if peg.state is not State.ALIAS:
                self.promised[peg.codepoint] = peg.icon

    @rule(name=names)
    def draw(self, name: str) -> None:
        board = parse_board((self.root / "pegboard.csv").read_text())
        peg = board.pegs.get(name)
        if not (self.root / f"icons/{name}.svg").exists() and not (peg and peg.state is State.ALIAS):
            self.add(name)

    @rule(name=names)
    def erase(self, name: str) -> None:
        if len(list((self.root / "icons").glob("*.svg"))) > 1:
            (self.root / f"icons/{name}.svg").unlink(missing_ok=True)

    @rule(fault=faults)
    def build(self, fault: Fault | None) -> None:
        with failing(fault):
            build(self.project(), BuildOptions(as_new=True))

    @rule(old=names, new=names, fault=faults)
    def rename(self, old: str, new: str, fault: Fault | None) -> None:
        before = {p.name: p.read_bytes() for p in (self.root / "icons").iterdir()}
        with failing(fault):
            rename_icon(self.project(), old, new)
        with contextlib.suppress(OddPegError), lock(self.project().root):
            pass  # completes, or takes back, what was begun
        after = {p.name: p.read_bytes() for p in (self.root / "icons").iterdir()}
        assert sorted(before.values()) == sorted(after.values()), "a drawing was lost, or is there twice"
        board = parse_board((self.root / "pegboard.csv").read_text())
        for code, icon in list(self.promised.items()):
            if icon == old and board.holder(code) == new:
                self.promised[code] = new

    @rule(name=names, fault=faults)
    def retire(self, name: str, fault: Fault | None) -> None:
        with failing(fault):
            retire_icons(self.project(), [name])

    @rule(name=names, fault=faults)
    def restore(self, name: str, fault: Fault | None) -> None:
        with failing(fault):
            restore_icons(self.project(), [name])

    @precondition(lambda self: hasattr(self, "root"))
    @invariant()
    def nothing_is_lost(self) -> None:
        try:
            build(self.project(), BuildOptions(as_new=True))
        except OddPegError as found:  # what a user can be told to put right first
            assert {d.code for d in found.diagnostics} <= {"alias-drawing", "no-glyphs", "no-drawings"}
        board = parse_board((self.root / "pegboard.csv").read_text())
        for code, icon in self.promised.items():
            assert board.holder(code) == icon, f"{icon} lost U+{code:04X} to {board.holder(code)}"
        self.note()
        assert (self.root / "notes.txt").read_text() == "mine"
        for path in (self.root / "icons").iterdir():
            assert path.read_bytes().startswith(b"<svg") and path.suffix == ".svg"
        assert not (self.root / ".oddpeg/journal.json").exists() and not (self.root / ".oddpeg/stage").exists()


Pegs.TestCase.settings = settings(
    max_examples=20, stateful_step_count=12, deadline=None, suppress_health_check=list(HealthCheck)
)
TestPegs = pytest.mark.exhaustive(Pegs.TestCase)
