"""When a peg was first recorded, as far as git can tell.

Knows: the `git` command. Does not know: what is done with the answer. Without git, or outside of a repository, nothing
is known and nothing fails.
"""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

from oddpeg.pegboard.board import spell

_LINE = re.compile(r"\+([^,\r\n]+),\s*(U\+[0-9A-Fa-f]+),")


class History:
    """The pegboard's past. Asked once, for all pegs together."""

    def __init__(self, board: Path) -> None:
        self._first = _first_seen(board)

    def shipped(self, icon: str, codepoint: int) -> float | None:
        """Return the time (seconds) of the first commit, on any branch, that gave an icon this codepoint."""
        return self._first.get((icon, spell(codepoint)))


def _first_seen(board: Path) -> dict[tuple[str, str], float]:
    """Return by (icon, codepoint) the time of the first commit that wrote that line."""
    command = [
        "git",
        "log",
        "--all",
        "--full-history",
        "--no-color",
        "--no-ext-diff",
        "--format=@%ct",
        "-p",
        "-U0",
        "--",
        board.name,
    ]
    try:
        found = subprocess.run(
            command,
            cwd=board.parent,
            capture_output=True,
            text=True,
            encoding="utf-8",
            errors="replace",
            timeout=60,
            check=True,
        )
    except (OSError, subprocess.SubprocessError):
        return {}
    first: dict[tuple[str, str], float] = {}
    when = 0.0
    for line in found.stdout.splitlines():
        if line.startswith("@") and line[1:].isdigit():
            when = float(line[1:])
        elif match := _LINE.match(line):
            key = (match[1].strip().strip('"'), match[2].upper())
            first[key] = min(when, first.get(key, when))
    return first
