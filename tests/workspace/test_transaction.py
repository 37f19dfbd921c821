"""Builds that are killed, that meet each other, that find damaged records: the disk stays whole."""

from __future__ import annotations

import itertools
import json
import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

from oddpeg.building.report import BuildOptions
from oddpeg.building.run import build
from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.file_format import parse_board
from oddpeg.pegs import rename_icon
from oddpeg.project.project import Project
from oddpeg.store.cache import cache_file
from oddpeg.store.transaction import interrupted
from support.faults import failing
from support.launcher import ODDPEG
from support.project import CONFIG, RING, SQUARE, ProjectFolder, codepoints, oddpeg_fresh


def snapshot(project: ProjectFolder) -> dict[str, bytes]:
    return {
        **{f"dist/{f}": project.bytes(f"dist/{f}") for f in project.files()},
        "pegboard.csv": project.bytes("pegboard.csv"),
    }


def whole(project: ProjectFolder) -> None:
    """Nothing half-written, and every icon that a delivered file names is where pegboard and font have it."""
    board = parse_board(project.read("pegboard.csv"))
    for name, code in codepoints(project).items():
        assert board.pegs[name].codepoint == code
    for kind in ("ttf", "woff", "woff2"):
        held = set(TTFont(project.root / f"dist/tide-marks.{kind}").getBestCmap())
        assert held - {0x20, 0xA0} <= {p.codepoint for p in board.pegs.values()}
    assert not list((project.root / "dist").glob("*.part"))


def grow(project: ProjectFolder, number: int) -> None:
    project.icon(f"new-{number}", SQUARE.replace("M4 4", f"M4.{number:03} 4"))


def test_a_killed_build_leaves_the_disk_whole(project: ProjectFolder) -> None:
    """SIGKILL to the real process, early, in the middle and late."""
    project.deliver()
    start = time.perf_counter()
    oddpeg_fresh("build", "--force", cwd=project.root)
    length = time.perf_counter() - start
    for number, share in enumerate((0.4, 0.7, 0.9)):
        before, left_over = snapshot(project), interrupted(project.root)
        grow(project, number)
        process = subprocess.Popen([ODDPEG, "build", "-q"], cwd=project.root)
        try:
            process.wait(length * share)
        except subprocess.TimeoutExpired:
            process.send_signal(signal.SIGKILL)
        process.wait()
        whole(project)
        if snapshot(project) != before and not left_over:  # else it may be the build before that was completed
            assert f"new-{number}" in project.read("pegboard.csv"), "the pegboard comes first"
    project.deliver()
    assert len(codepoints(project)) == 5 and not (project.root / ".oddpeg/stage").exists()


def drawings_change(project: ProjectFolder, gone: Sequence[str], new: bool) -> Callable[[], object]:
    """Change the drawings, and return the build that delivers that."""
    for name in gone:
        (project.root / f"icons/{name}.svg").unlink()
    if new:
        project.icon("davit", RING.replace('"8"', '"6"'))
    return lambda: build(Project.open(project.root / "oddpeg.toml"), BuildOptions(as_new=True))


CHANGES: dict[str, Callable[[ProjectFolder], Callable[[], object]]] = {
    "one comes": lambda project: drawings_change(project, [], True),
    "one goes": lambda project: drawings_change(project, ["buoy"], False),
    "one goes, one comes": lambda project: drawings_change(project, ["buoy"], True),
    "all go, one comes": lambda project: drawings_change(project, ["anchor", "buoy", "cleat"], True),
    "a rename": lambda project: lambda: rename_icon(Project.open(project.root / "oddpeg.toml"), "anchor", "mooring"),
}


CLOSELY = ("one goes, one comes", "a rename")  # killed at every second write; all else at every sixth


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """Three icons and a table, in two formats; tests work on copies."""
    text = CONFIG.replace('"woff2", "woff", "ttf"', '"ttf"').replace(', "specimen"', "")
    project = ProjectFolder(tmp_path_factory.mktemp("built") / "set").config(text).icon("anchor").icon("buoy", RING)
    project.write("icons/icons.csv", "icon,tags\nanchor,hook\n")
    project.icon("cleat", RING.replace('"8"', '"7"')).deliver()
    return project


@pytest.mark.parametrize("fault", ["KILL", "ENOSPC", "EACCES"])
@pytest.mark.parametrize("change", CHANGES)
def test_any_write_of_a_change_may_fail(built: ProjectFolder, tmp_path: Path, change: str, fault: str) -> None:
    """After each: no delivered text names an icon that a font lacks; a change that ended in an error changed nothing
    that the user has; the next build completes what was begun."""
    said = ""
    for number in itertools.count(1, 2 if fault == "KILL" and change in CLOSELY else 6):
        project = ProjectFolder(Path(shutil.copytree(built.root, tmp_path / f"copy-{number}")))
        work = CHANGES[change](project)
        before = snapshot(project)
        with failing((fault, number)) as outcome:
            work()
        if not outcome.met:
            break
        assert_consistent(project)
        if outcome.problem is not None:
            assert snapshot(project) == before, (number, outcome.problem)
            said += str(outcome.problem)
        build(Project.open(project.root / "oddpeg.toml"), BuildOptions(as_new=True))
        assert_consistent(project)
        assert not (project.root / ".oddpeg/stage").exists() and not interrupted(project.root)
        shutil.rmtree(project.root)
    assert number > 5
    if fault != "KILL":
        assert f"cannot be written: {fault}" in said and f"{fault}; the whole change was rolled back" in said, said


def assert_consistent(project: ProjectFolder) -> None:
    """Each codepoint that a delivered text names is in every font."""
    held = {0xE000, 0xE001, 0xE002, 0xE003}
    for kind in ("ttf",):
        held &= set(TTFont(project.root / f"dist/tide-marks.{kind}").getBestCmap())
    texts = "".join(p.read_text() for p in (project.root / "dist").iterdir() if p.suffix in (".css", ".json", ".ts"))
    named = {code for code in range(0xE000, 0xE004) if f"\\{code:x}" in texts or f'"codepoint": {code}' in texts}
    assert named <= held, f"{named - held} are named and not there"


def test_a_journal_cannot_reach_out_of_the_project(project: ProjectFolder) -> None:
    project.deliver()
    victim = project.root.parent / "victim"
    victim.write_text("mine")
    (project.root / ".oddpeg/stage").mkdir()
    (project.root / ".oddpeg/stage/0").write_text("theirs")
    body = json.dumps({"steps": [["../victim", None, "0"], ["../victim", "0", None]], "forward": True})
    (project.root / ".oddpeg/journal.json").write_text(json.dumps({"body": body, "seal": "0" * 64}))
    result = project.build()
    assert "an unfinished change that was not begun here; it was not obeyed" in result.stdout + result.stderr
    assert victim.read_text() == "mine" and not (project.root / ".oddpeg/journal.json").exists()


def test_two_builds_at_the_same_time(project: ProjectFolder) -> None:
    for number in range(40):
        grow(project, number)
    both = [
        subprocess.Popen([ODDPEG, "build"], cwd=project.root, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        for _ in range(4)
    ]
    told = [process.communicate(timeout=120) for process in both]
    assert [process.returncode for process in both] == [0] * 4, told
    assert any("another oddpeg is at work" in err for _, err in told)
    whole(project)


def test_a_build_that_never_ends_is_waited_for_and_named(project: ProjectFolder) -> None:
    script = (
        "import pathlib, sys, oddpeg.store.transaction as t; t.PATIENCE = 0.5\n"
        "from oddpeg.cli.entry import main; sys.argv[1:] = ['build']; main()"
    )
    from oddpeg.store.transaction import lock

    with lock(project.root):
        result = subprocess.run(
            [sys.executable, "-c", script], cwd=project.root, capture_output=True, text=True, check=False
        )
    assert (
        result.returncode == 1
        and "another oddpeg is at work in this project\n  cure: wait for it to finish" in result.stderr
    )
    project.deliver()


DAMAGED = [b"", b"{}", b"\x00" * 5000, b'{"index": 9, "checksum": 0}\n[[]]', b'{"index": 99999999, "checksum": 1}\n']


def test_a_damaged_cache_is_ignored(project: ProjectFolder) -> None:
    project.build()  # the command, which keeps that the config is valid
    good = snapshot(project)
    cache = project.root / cache_file()
    whole = cache.read_bytes()
    changed = (
        whole[:-7],
        whole[: len(whole) // 2],
        whole.replace(b"anchor", b"anchox"),
        whole.replace(b"Tide", b"Tidy"),
    )
    for data in (*DAMAGED, *changed):
        cache.write_bytes(data)
        project.deliver()
        assert snapshot(project) == good, data[:40]


def test_the_cache_spares_what_has_not_changed(project: ProjectFolder) -> None:
    assert json.loads(project.build("--json").stdout)["reused"] == 0
    good = snapshot(project)
    assert json.loads(project.build("--json").stdout)["reused"] == 2
    assert json.loads(project.icon("anchor", RING).build("--json").stdout)["reused"] == 2, "known under another name"
    assert (
        json.loads(
            project.icon("anchor", SQUARE)
            .config(CONFIG.replace("[icons]", "descent = 0.2\n[icons]"))
            .build("--json")
            .stdout
        )["reused"]
        == 0
    )
    project.config().deliver()
    assert snapshot(project) == good


def test_a_config_is_validated_anew_when_it_changes(project: ProjectFolder) -> None:
    project.build()  # the command, which keeps that the config is valid
    project.config(CONFIG.replace("woff2", "wof2")).build(code=2)
    assert "Moorings" in project.config(CONFIG.replace("Tide Marks", "Moorings")).build().stdout
    assert project.config().run("build", "--frozen").returncode != 0, "other names are other files"


def test_notes_and_faults_come_out_of_the_cache_as_they_went_in(project: ProjectFolder) -> None:
    project.icon("bad", "<svg").icon("faint", SQUARE.replace("<path", '<path opacity=".4"'))
    first, second = (json.loads(project.build("--json", code=1).stdout) for _ in range(2))
    assert second["reused"] == 4 and first["notes"] == second["notes"] and first["faults"] == second["faults"]


def test_frozen_changes_nothing_and_says_what_would(project: ProjectFolder) -> None:
    first = project.run("build", "--frozen")
    assert first.returncode == 1 and "pegs added: anchor, buoy" in first.stderr and "write pegboard.csv" in first.stderr
    assert {p.name for p in project.root.iterdir()} == {"icons", "oddpeg.toml"}
    project.deliver()
    assert project.run("build", "--frozen").returncode == 0
    before = snapshot(project)
    for path in project.root.rglob("*"):
        if path.is_file():
            os.utime(path, (1, 1))
    assert project.icon("cleat", RING.replace('"8"', '"7"')).run("build", "--frozen").returncode == 1
    assert snapshot(project) == before
    touched = [p.name for p in project.root.rglob("*") if p.is_file() and p.stat().st_mtime > 2]
    assert touched == ["cleat.svg"]


def test_a_folder_without_rights_is_noticed_before_anything_moves(
    project: ProjectFolder, monkeypatch: pytest.MonkeyPatch
) -> None:
    project.deliver()
    grow(project, 1)
    # rights do not bind root, so the system's answer is given for it
    monkeypatch.setattr("os.access", lambda path, mode: mode != os.W_OK or not str(path).endswith("dist"))
    with pytest.raises(OddPegError, match=r"dist/tide-marks.woff2: cannot be written: no right to write there"):
        build(Project.open(project.root / "oddpeg.toml"))
    assert not (project.root / ".oddpeg/journal.json").exists()


def test_a_large_pegboard_with_anything_editors_do_to_it(project: ProjectFolder) -> None:
    lines = [f"icon-{i:05},U+{0xF0000 + i:04X},retired" for i in range(20_000)]
    text = (
        "\ufefficon,codepoint,state\r\n"
        + "\r\n".join([*lines[::-1], " anchor , u+f9999 , live ".replace("u+", "U+"), ""])
        + "\r\n"
    )
    (project.root / "pegboard.csv").write_text(text, encoding="utf-8", newline="")
    project.deliver()
    assert codepoints(project) == {"anchor": 0xF9999, "buoy": 0xE000}
    board = project.read("pegboard.csv").splitlines()
    assert len(board) == 20_003 and board[0] == "icon,codepoint,state" and board[1] == "anchor,U+F9999,live"


def test_a_frozen_build_where_delivered_files_are_not_committed(project: ProjectFolder) -> None:
    project.deliver()
    for folder in ("dist", ".oddpeg/cache"):
        shutil.rmtree(project.root / folder)
    assert project.run("build", "--frozen").returncode == 1
    assert project.run("build", "--frozen-pegs").returncode == 0 and not (project.root / "dist").exists()
    added = project.icon("cleat", RING.replace('"8"', '"7"')).run("build", "--frozen-pegs")
    assert added.returncode == 1 and "write pegboard.csv" in added.stderr and "dist/" not in added.stderr
    assert project.icon("cleat", "<svg").run("build", "--frozen-pegs").returncode == 1, "it does not succeed"
