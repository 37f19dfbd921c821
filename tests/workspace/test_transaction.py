"""Builds that are killed, that meet each other, that find damaged records: the disk stays whole."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from typing import Any

import pytest
from fontTools.ttLib import TTFont

from oddpeg.pegboard.file_format import parse_board
from oddpeg.workspace.transaction import interrupted
from support.project import CONFIG, ODDPEG, RING, SQUARE, ProjectFolder, codepoints


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


def test_killed_at_any_moment(project: ProjectFolder) -> None:
    """SIGKILL over the whole length of a build, again and again."""
    project.build()
    start = time.perf_counter()
    grow(project, 0)
    project.build()
    length = time.perf_counter() - start
    killed = 0
    for number in range(1, 29):
        before, left_over = snapshot(project), interrupted(project.root)
        grow(project, number)
        process = subprocess.Popen(
            [ODDPEG, "build", "-q"], cwd=project.root, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        try:
            process.wait(length * (0.15 + 0.8 * number / 28))
        except subprocess.TimeoutExpired:
            process.send_signal(signal.SIGKILL)
            killed += 1
        process.wait()
        whole(project)
        if snapshot(project) != before and not left_over:  # else it may be the build before that was completed
            assert f"new-{number}" in project.read("pegboard.csv"), "the pegboard comes first"
    assert killed > 5
    project.build()
    assert len(codepoints(project)) == 31 and not (project.root / ".oddpeg/stage").exists()


@pytest.mark.parametrize("stop", range(1, 12))
def test_killed_between_any_two_moves(project: ProjectFolder, stop: int) -> None:
    """Every point of the moving itself, which random kills rarely meet."""
    project.build()
    grow(project, 1)
    done = project.run_changed(
        f"""
left, real = [{stop}], t.Tree.move
def move(tree, source, target):
    if source.startswith('.oddpeg/stage/'):
        if not left[0]: os.kill(os.getpid(), 9)
        left[0] -= 1
    real(tree, source, target)
t.Tree.move = move"""
    )
    whole(project)
    assert done.returncode == -9, "there are more files than that"
    frozen = project.run("build", "--frozen")
    assert frozen.returncode == 1 and "an earlier build was interrupted" in frozen.stderr
    after = project.build("--json")
    assert json.loads(after.stdout)["changes"] == [], "what was begun was completed before anything else"
    assert codepoints(project)["new-1"] == 0xE002


def test_a_journal_cannot_reach_out_of_the_project(project: ProjectFolder) -> None:
    project.build()
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
        "import pathlib, sys, oddpeg.workspace.transaction as t; t.PATIENCE = 0.5\n"
        "from oddpeg.cli.entry import main; sys.argv[1:] = ['build']; main()"
    )
    from oddpeg.workspace.transaction import lock

    with lock(project.root):
        result = subprocess.run(
            [sys.executable, "-c", script], cwd=project.root, capture_output=True, text=True, check=False
        )
    assert (
        result.returncode == 1
        and "another oddpeg is at work in this project\n  cure: wait for it to finish" in result.stderr
    )
    project.build()


DAMAGED = [b"", b"{}", b"\x00" * 5000, b'{"index": 9, "checksum": 0}\n[[]]', b'{"index": 99999999, "checksum": 1}\n']


@pytest.mark.parametrize("name", ["outlines", "config", "texts"])
def test_a_damaged_cache_is_ignored(project: ProjectFolder, name: str) -> None:
    project.build()
    good = snapshot(project)
    cache = project.root / ".oddpeg/cache" / name
    whole = cache.read_bytes()
    changed = (whole[:-7], whole.replace(b"anchor", b"anchox", 1), whole.replace(b"Tide", b"Tidy"))
    for data in (*DAMAGED, *changed):
        cache.write_bytes(data)
        project.build()
        assert snapshot(project) == good, data[:40]


def test_the_cache_spares_what_has_not_changed(project: ProjectFolder) -> None:
    assert json.loads(project.build("--json").stdout)["reused"] == 0
    good = snapshot(project)
    assert json.loads(project.build("--json").stdout)["reused"] == 2
    assert json.loads(project.icon("anchor", RING).build("--json").stdout)["reused"] == 2, "known under another name"
    assert (
        json.loads(
            project.icon("anchor", SQUARE)
            .config(CONFIG.replace("[icons]", "drop = 0.2\n[icons]"))
            .build("--json")
            .stdout
        )["reused"]
        == 0
    )
    project.config().build()
    assert snapshot(project) == good


def test_the_cache_stays_small_and_holds_nothing_of_another_program(
    project: ProjectFolder, monkeypatch: pytest.MonkeyPatch
) -> None:
    from oddpeg.outline.model import Options
    from oddpeg.outline.pipeline import outline_files
    from oddpeg.outline.placement import Em
    from oddpeg.workspace import outline_cache as cache

    options = Options(Em(1000, 0.125))
    drawings = [SQUARE.replace("<path", f'<path id="p{i}"').encode() for i in range(1300)]
    results = outline_files(drawings, options)

    def known(own: list[bytes], save: list[Any] | None = None) -> int:
        kept = cache.OutlineCache(project.root)
        kept.load()
        if save:
            kept.save(dict(zip(kept.keys(own, options), save, strict=True)))
        return sum(kept.get(key) is not None for key in kept.keys(own, options))

    for start in range(0, 1300, 20):
        known(drawings[start : start + 20], results[start : start + 20])
    assert known(drawings[-20:]) == 20 and 250 <= known(drawings) <= 520
    monkeypatch.setattr(cache, "code_stamp", lambda: "another")
    assert known(drawings) == 0
    known(drawings[:1], results[:1])
    assert known(drawings) == 1


def test_a_config_is_validated_anew_when_it_changes(project: ProjectFolder) -> None:
    project.build()
    assert (project.root / ".oddpeg/cache/config").exists()
    project.config(CONFIG.replace("woff2", "wof2")).build(code=2)
    assert "Moorings" in project.config(CONFIG.replace("Tide Marks", "Moorings")).build().stdout
    assert project.config().run("build", "--frozen").returncode != 0, "other names are other files"


def test_texts_are_written_anew_when_what_they_say_changes(project: ProjectFolder) -> None:
    without = CONFIG.replace(', "specimen"', "").replace('"typescript"', '{ kind = "typescript", hover = false }')
    project.config(without).build()
    kept = project.root / ".oddpeg/cache/texts"
    before = kept.stat().st_mtime_ns
    project.icon("anchor", RING).build()
    assert kept.stat().st_mtime_ns == before, "outlines are not in the texts"
    project.icon("pier", RING).build()
    assert kept.stat().st_mtime_ns != before and ".tm-pier" in project.read("dist/tide-marks.css")


def test_notes_and_faults_come_out_of_the_cache_as_they_went_in(project: ProjectFolder) -> None:
    project.icon("bad", "<svg").icon("faint", SQUARE.replace("<path", '<path opacity=".4"'))
    first, second = (json.loads(project.build("--json", code=1).stdout) for _ in range(2))
    assert second["reused"] == 4 and first["notes"] == second["notes"] and first["faults"] == second["faults"]


def test_frozen_changes_nothing_and_says_what_would(project: ProjectFolder) -> None:
    first = project.run("build", "--frozen")
    assert first.returncode == 1 and "pegs added: anchor, buoy" in first.stderr and "write pegboard.csv" in first.stderr
    assert {p.name for p in project.root.iterdir()} == {"icons", "oddpeg.toml"}
    project.build()
    assert project.run("build", "--frozen").returncode == 0
    before = snapshot(project)
    for path in project.root.rglob("*"):
        if path.is_file():
            os.utime(path, (1, 1))
    assert project.icon("cleat", RING.replace('"8"', '"7"')).run("build", "--frozen").returncode == 1
    assert snapshot(project) == before
    touched = [p.name for p in project.root.rglob("*") if p.is_file() and p.stat().st_mtime > 2]
    assert touched == ["cleat.svg"]


@pytest.mark.parametrize(
    ("into", "told"),
    [
        ("../elsewhere", "lies outside the project"),
        ("a/../../elsewhere", "lies outside the project"),
        ("/tmp/elsewhere-of-oddpeg", "lies outside the project"),
        ("link", "lies outside the project"),
        ("icons", "lies among the drawings"),
        ("icons/fonts", "lies among the drawings"),
    ],
)
def test_places_that_nothing_is_delivered_to(project: ProjectFolder, into: str, told: str) -> None:
    outside = project.root.parent / "outside"
    outside.mkdir()
    (project.root / "link").symlink_to(outside)
    result = project.config(CONFIG.replace('into = "dist"', f'into = "{into}"')).build(code=1)
    assert told in result.stderr and "cure:" in result.stderr
    assert (
        not list(outside.iterdir())
        and not (project.root.parent / "elsewhere").exists()
        and not (project.root / "pegboard.csv").exists()
    )
    assert {p.name for p in (project.root / "icons").iterdir()} == {"anchor.svg", "buoy.svg"}


def test_a_full_disk_loses_nothing(project: ProjectFolder) -> None:
    project.build()
    before = snapshot(project)
    grow(project, 1)
    result = project.run_changed(
        """
real, count = t.Tree.write_new, [4]
def write(tree, name, *rest):
    count[0] -= name.startswith('.oddpeg/stage/')
    if count[0] < 0: raise OSError(errno.ENOSPC, "No space left on device", name)
    real(tree, name, *rest)
t.Tree.write_new = write"""
    )
    assert result.returncode == 1 and "No space left on device" in result.stderr and "Traceback" not in result.stderr
    assert snapshot(project) == before and not (project.root / ".oddpeg/stage").exists()
    project.build()


def test_a_folder_without_rights_is_noticed_before_anything_moves(project: ProjectFolder) -> None:
    project.build()
    before = snapshot(project)
    grow(project, 1)  # rights do not bind root, so the system's answer is given for it
    result = project.run_changed("t.os.access = lambda path, mode: not str(path).endswith('dist')")
    assert (
        result.returncode == 1 and "dist/tide-marks.woff2: cannot be written: no right to write there" in result.stderr
    )
    assert snapshot(project) == before and not (project.root / ".oddpeg/journal.json").exists()


def test_a_move_that_fails_takes_the_whole_change_back(project: ProjectFolder) -> None:
    project.build()
    before = snapshot(project)
    grow(project, 1)
    result = project.run_changed(
        """
real, count = t.Tree.move, [4]
def move(tree, source, target):
    count[0] -= source.startswith('.oddpeg/stage/')
    if count[0] == 0: raise OSError(errno.EACCES, "Permission denied", target)
    real(tree, source, target)
t.Tree.move = move"""
    )
    assert result.returncode == 1 and "Permission denied; the whole change was taken back" in result.stderr
    assert "Traceback" not in result.stderr
    assert snapshot(project) == before and not interrupted(project.root)
    project.build()
    assert "new-1" in codepoints(project)


def test_a_large_pegboard_with_anything_editors_do_to_it(project: ProjectFolder) -> None:
    lines = [f"icon-{i:05},U+{0xF0000 + i:04X},retired" for i in range(20_000)]
    text = (
        "\ufefficon,codepoint,state\r\n"
        + "\r\n".join([*lines[::-1], " anchor , u+f9999 , live ".replace("u+", "U+"), ""])
        + "\r\n"
    )
    (project.root / "pegboard.csv").write_text(text, encoding="utf-8", newline="")
    project.build()
    assert codepoints(project) == {"anchor": 0xF9999, "buoy": 0xE000}
    board = project.read("pegboard.csv").splitlines()
    assert len(board) == 20_003 and board[0] == "icon,codepoint,state" and board[1] == "anchor,U+F9999,live"
