"""`oddpeg pegs settle` where git cannot tell what was shipped first: said, and nothing moved unasked."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.workspace import git_history
from oddpeg.workspace.git_history import History
from support.project import ProjectFolder

CLASH = "icon,codepoint,state\nanchor,U+E000,live\nbuoy,U+E000,live\n"

pytestmark = pytest.mark.skipif(os.name == "nt", reason="stands a script in for git")


@pytest.fixture
def clash(project: ProjectFolder) -> ProjectFolder:
    """A project in a repository, whose pegboard has two icons on one codepoint."""
    (project.root / "pegboard.csv").write_text(CLASH, encoding="utf-8")
    (project.root / ".git").mkdir()
    return project


def stand_in_for_git(folder: Path, script: str) -> str:
    """Return a PATH on which `git` is a shell script."""
    folder.mkdir()
    program = folder / "git"
    program.write_text(f"#!/bin/sh\n{script}\n", encoding="utf-8")
    program.chmod(0o755)
    return f"{folder}:{os.environ['PATH']}"


def test_a_git_that_fails_moves_nothing(clash: ProjectFolder, tmp_path: Path) -> None:
    path = stand_in_for_git(tmp_path / "bin", "echo 'fatal: bad object HEAD' >&2; exit 128")
    result = clash.run("pegs", "settle", PATH=path)
    assert result.returncode == 1, "a shipped codepoint may be at stake"
    assert "history-unknown" in clash.run("pegs", "settle", "--json", PATH=path).stdout
    assert "fatal: bad object HEAD" in result.stderr and "--ignore-history" in result.stderr
    assert clash.read("pegboard.csv") == CLASH
    asked = clash.run("pegs", "settle", "--ignore-history", PATH=path)
    assert asked.returncode == 0 and "MOVED buoy: U+E000 → U+E001" in asked.stdout


def test_a_git_that_is_missing_or_slow_is_said(
    clash: ProjectFolder, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("PATH", stand_in_for_git(tmp_path / "bin", "exec sleep 30"))
    monkeypatch.setattr(git_history, "TIMEOUT", 0.2)
    with pytest.raises(OddPegError, match=r"longer than 0\.2 seconds"):
        History.of(clash.root / "pegboard.csv")
    monkeypatch.setenv("PATH", str(tmp_path / "nothing"))
    with pytest.raises(OddPegError, match="nothing was changed"):
        History.of(clash.root / "pegboard.csv")


def test_a_repository_without_commits_is_no_failure(project: ProjectFolder) -> None:
    git = shutil.which("git")
    if not git:
        pytest.skip("git is not installed")
    (project.root / "pegboard.csv").write_text(CLASH, encoding="utf-8")
    subprocess.run([git, "init", "-q"], cwd=project.root, check=True)
    result = project.run("pegs", "settle")
    assert result.returncode == 0 and "MOVED buoy" in result.stdout, result.stderr


def test_nothing_that_a_repository_configures_is_run(project: ProjectFolder, tmp_path: Path) -> None:
    git = shutil.which("git")
    if not git:
        pytest.skip("git is not installed")
    trap, mark = tmp_path / "trap", tmp_path / "sprung"
    trap.write_text(f"#!{sys.executable}\nopen({str(mark)!r}, 'w')\n", encoding="utf-8")
    trap.chmod(0o755)
    (project.root / "pegboard.csv").write_text(CLASH, encoding="utf-8")
    (project.root / ".gitattributes").write_text("*.csv diff=trap\n", encoding="utf-8")
    commands = [
        ["init", "-q"],
        *(["config", key, str(trap)] for key in ("core.fsmonitor", "core.pager", "diff.trap.textconv")),
        ["config", "diff.external", str(trap)],
        ["-c", "core.fsmonitor=false", "add", "-A"],
        [*["-c", "core.fsmonitor=false", "-c", "user.name=a", "-c", "user.email=a@b", "commit", "-qm", "first"]],
    ]
    for command in commands:
        subprocess.run([git, *command], cwd=project.root, check=True)
    mark.unlink(missing_ok=True)
    assert project.run("pegs", "settle").returncode == 0 and not mark.exists()
