"""`oddpeg pegs settle` where git cannot tell what was shipped first: said, and nothing moved unasked."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.merges import holds_conflict, merge_sides
from oddpeg.sources import git as git_history
from oddpeg.sources.git import History
from support.clients import Client, run
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


def test_a_repository_without_commits_is_no_failure(project: ProjectFolder, client: Client) -> None:
    (project.root / "pegboard.csv").write_text(CLASH, encoding="utf-8")
    run(client("git"), "init", "-q", cwd=project.root)
    result = project.run("pegs", "settle")
    assert result.returncode == 0 and "MOVED buoy" in result.stdout, result.stderr


def test_both_sides_of_a_merge_are_read_and_not_their_ancestor() -> None:
    text = "a\n<<<<<<< ours\nb\n||||||| base\nz\n=======\nc\n>>>>>>> theirs\n=======\n"
    assert holds_conflict(text) and not holds_conflict("a\n=======\n")
    assert merge_sides(text) == ["a\nb\n=======\n", "a\nc\n=======\n"], "a rule under a heading is no mark"
