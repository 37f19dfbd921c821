"""The command as a shell starts it: entry points, what is loaded, what surrounds it. Every start here is fresh."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from support.launcher import ODDPEG
from support.project import RING, SQUARE, ProjectFolder, oddpeg_fresh

pytestmark = pytest.mark.skipif(os.name == "nt", reason="closes and breaks what a process writes to")
HEAVY = ("numpy", "lxml", "pydantic", "fontTools", "PIL", "jinja2", "pyclipper", "rich", "brotli")
COMMANDS = [
    ("--version",), ("--help",), ("outputs",), ("config",), ("build",), ("check", "--json"), ("find", "anchor"),
    ("use", "buoy"), ("usage",), ("pegs", "list", "--json"), ("proof", "--size", "64"), ("build", "--frozen"),
    ("biuld",),
]  # fmt: skip


@pytest.mark.exhaustive
@pytest.mark.parametrize("command", COMMANDS, ids=" ".join)
def test_a_fresh_start_does_what_a_fork_does(project: ProjectFolder, command: tuple[str, ...]) -> None:
    project.deliver()
    fresh, forked = oddpeg_fresh(*command, cwd=project.root), project.run(*command)
    assert (fresh.returncode, fresh.stderr) == (forked.returncode, forked.stderr)
    assert re.sub(r"[0-9.]+ s\b", "", fresh.stdout) == re.sub(r"[0-9.]+ s\b", "", forked.stdout)


def test_help_loads_nothing_heavy(tmp_path: Path) -> None:
    command = [sys.executable, "-X", "importtime", "-m", "oddpeg", "--help"]
    done = subprocess.run(command, cwd=tmp_path, capture_output=True, text=True, check=True)
    loaded = {line.rpartition("|")[2].strip().partition(".")[0] for line in done.stderr.splitlines()}
    assert "oddpeg" in loaded and not loaded & set(HEAVY)


@pytest.mark.parametrize("gone", [{"HOME": ""}, {"HOME": "/nonexistent", "XDG_STATE_HOME": "relative"}])
def test_without_a_home(project: ProjectFolder, gone: dict[str, str]) -> None:
    for _ in range(2):
        assert oddpeg_fresh("build", cwd=project.icon("cleat", RING).root, **gone).returncode == 0
    assert {p.name for p in project.root.iterdir()} == {"icons", "oddpeg.toml", ".oddpeg", "pegboard.csv", "dist"}


def test_a_deleted_working_directory(tmp_path: Path) -> None:
    folder = tmp_path / "gone"
    folder.mkdir()
    script = (
        f"import os, sys; os.chdir({str(folder)!r}); os.rmdir({str(folder)!r}); sys.argv[1:] = ['build']\n"
        "from oddpeg.cli.entry import main; main()"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
    assert done.returncode == 2 and "Traceback" not in done.stderr and "cure:" in done.stderr


@pytest.mark.parametrize("closed", [(1,), (2,), (1, 2)], ids=str)
def test_a_closed_output(project: ProjectFolder, closed: tuple[int, ...]) -> None:
    def close() -> None:
        for number in closed:
            os.close(number)

    done = subprocess.run([ODDPEG, "build"], cwd=project.root, stdin=subprocess.DEVNULL, preexec_fn=close, check=False)
    assert done.returncode == 0 and (project.root / "dist/tide-marks.css").is_file()


def test_a_full_output_and_one_that_nobody_reads(project: ProjectFolder) -> None:
    with Path("/dev/full").open("w") as full:
        done = subprocess.run([ODDPEG, "outputs"], stdout=full, stderr=subprocess.PIPE, text=True, check=False)
    assert done.returncode == 1 and "No space left" in done.stderr and "bug" not in done.stderr
    unread, end = os.pipe()
    os.close(unread)
    done = subprocess.run(
        [ODDPEG, "build"], cwd=project.root, stdout=end, stderr=subprocess.PIPE, text=True, check=False
    )
    os.close(end)
    assert done.returncode in (0, 1) and not done.stderr


def test_a_terminal_that_lacks_characters(project: ProjectFolder) -> None:
    result = oddpeg_fresh("build", cwd=project.icon("bö", SQUARE).root, PYTHONIOENCODING="ascii")
    assert result.returncode == 0
    result = oddpeg_fresh("pegs", "list", cwd=project.root, PYTHONIOENCODING="ascii")
    assert result.returncode == 0 and "U+E002" in result.stdout
