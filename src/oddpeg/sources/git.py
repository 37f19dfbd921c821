"""When a peg was first recorded, as far as git can tell."""

from __future__ import annotations

import os
import re
import subprocess
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.codes import spell

TIMEOUT = 60  # seconds

_LINE = re.compile(r"\+([^,\r\n]+),\s*(U\+[0-9A-Fa-f]+),")
# the repository may be a stranger's: nothing that it configures or holds is run
_SAFE_OPTIONS = [
    "--no-pager",
    "-c",
    "core.fsmonitor=false",
    "-c",
    "core.hooksPath=/dev/null",
    "-c",
    "log.showSignature=false",
    "-c",
    "diff.external=",
    "-c",
    "core.sshCommand=false",
    "-c",
    "protocol.allow=never",
    "-c",
    "credential.helper=",
]
_LOG = [
    "log",
    "--all",
    "--full-history",
    "--no-color",
    "--no-ext-diff",
    "--no-textconv",
    "--format=@%ct",
    "-p",
    "-U0",
    "--",
]


# no prompts, no pager, nothing fetched, and no repository but the one the project is in
ENVIRONMENT = {
    "GIT_TERMINAL_PROMPT": "0",
    "GIT_OPTIONAL_LOCKS": "0",
    "GIT_NO_LAZY_FETCH": "1",
    "GIT_PAGER": "cat",
    "GIT_EXTERNAL_DIFF": "",
    "LC_ALL": "C",
}


def git_command(folder: Path) -> list[str]:
    """Return the start of a git command: an absolute path outside of the repository, and options that keep the
    repository from running anything. Raise FileNotFoundError without git. folder: in the repository."""
    inside = folder.resolve()
    repositories = (parent for parent in (inside, *inside.parents[:-1]) if (parent / ".git").exists())
    root = next(repositories, inside)
    name = "git.exe" if os.name == "nt" else "git"
    for entry in os.get_exec_path():
        program = Path(entry, name)
        runs = program.is_absolute() and program.is_file() and os.access(program, os.X_OK)
        if runs and not program.resolve().is_relative_to(root):
            return [str(program), *_SAFE_OPTIONS]
    raise FileNotFoundError("git is not on the path")


class History:
    """The pegboard's past: empty where there is no version control, or the first commits that wrote each line."""

    def __init__(self, first: dict[tuple[str, str], float]) -> None:
        self._first = first

    @staticmethod
    def of(board: Path) -> History:
        """Return the history of a pegboard's file; raise `OddPegError` where there is a repository and git cannot
        tell it."""
        folder = board.resolve().parent
        if not any((parent / ".git").exists() for parent in (folder, *folder.parents)):
            return History({})
        return History(_first_seen(board))

    def shipped(self, icon: str, codepoint: int) -> float | None:
        """Return the time (seconds) of the first commit, on any branch, that gave an icon this codepoint."""
        return self._first.get((icon, spell(codepoint)))


def _first_seen(board: Path) -> dict[tuple[str, str], float]:
    """Return by (icon, codepoint) the time of the first commit that wrote that line."""
    try:
        log = subprocess.run(
            [*git_command(board.parent), *_LOG, board.name],
            cwd=board.parent,
            capture_output=True,
            stdin=subprocess.DEVNULL,
            text=True,
            encoding="utf-8",
            errors="replace",
            timeout=TIMEOUT,
            check=True,
            env={**os.environ, **ENVIRONMENT},
        )
    except (OSError, subprocess.SubprocessError) as problem:
        raise OddPegError(_unknown(problem, board)) from None
    first: dict[tuple[str, str], float] = {}
    when = 0.0
    for line in log.stdout.splitlines():
        if line.startswith("@") and line[1:].isdigit():
            when = float(line[1:])
        elif match := _LINE.match(line):
            key = (match[1].strip().strip('"'), match[2].upper())
            first[key] = min(when, first.get(key, when))
    return first


def _unknown(problem: OSError | subprocess.SubprocessError, board: Path) -> Diagnostic:
    if isinstance(problem, subprocess.TimeoutExpired):
        reason = f"it took longer than {TIMEOUT} seconds"
    elif isinstance(problem, subprocess.CalledProcessError):
        reason = (
            problem.stderr.strip().splitlines()[-1] if problem.stderr.strip() else f"exit code {problem.returncode}"
        )
    else:
        reason = str(problem)
    message = f"git cannot tell what was shipped first ({reason}); nothing was changed"
    cure = "make `git log` work here and run it again, or let the alphabet decide with --ignore-history"
    return Diagnostic("history-unknown", message, cure, board.name)
