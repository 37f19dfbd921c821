"""What surrounds a command: no home, a folder that is gone, an output that is closed, full or poor in characters."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from support.project import RING, SQUARE, ProjectFolder, oddpeg

pytestmark = pytest.mark.skipif(os.name == "nt", reason="speaks to a shell")


@pytest.mark.parametrize("gone", [{"HOME": ""}, {"HOME": "/nonexistent", "XDG_STATE_HOME": "relative"}])
def test_without_a_home(project: ProjectFolder, gone: dict[str, str]) -> None:
    for _ in range(2):
        assert project.icon("cleat", RING).run("build", **gone).returncode == 0
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


def test_a_closed_or_full_output(project: ProjectFolder) -> None:
    project.build()
    for redirect in (">&-", "2>&-", ">&- 2>&-", "| true"):
        done = subprocess.run(
            ["bash", "-c", f"set -o pipefail; {sys.executable} -m oddpeg build {redirect}"],
            cwd=project.root,
            capture_output=True,
            text=True,
            check=False,
        )
        assert done.returncode == (1 if "|" in redirect else 0) and not done.stderr, (redirect, done.stderr)
    full = f"{sys.executable} -m oddpeg outputs > /dev/full"
    done = subprocess.run(["bash", "-c", full], cwd=project.root, capture_output=True, text=True, check=False)
    assert done.returncode == 1 and "No space left" in done.stderr and "bug" not in done.stderr


def test_a_terminal_that_lacks_characters(project: ProjectFolder) -> None:
    result = oddpeg("build", cwd=project.icon("bö", SQUARE).root, PYTHONIOENCODING="ascii")
    assert result.returncode == 0
    result = oddpeg("pegs", "list", cwd=project.root, PYTHONIOENCODING="ascii")
    assert result.returncode == 0 and "U+E002" in result.stdout


@pytest.mark.parametrize("epoch", ["soon", "-1", "1e9", "99999999999999999999"])
def test_a_wrong_source_date_epoch(project: ProjectFolder, epoch: str) -> None:
    result = project.run("build", SOURCE_DATE_EPOCH=epoch)
    assert result.returncode == 2 and "SOURCE_DATE_EPOCH" in result.stderr and "cure:" in result.stderr
