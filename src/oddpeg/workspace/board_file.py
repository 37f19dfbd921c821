"""The pegboard's file on disk."""

from __future__ import annotations

from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.board import Pegboard


def load_board(path: Path) -> Pegboard:
    """Return the pegboard in a file; an absent file is an empty board. Raise `OddPegError` with every fault."""
    try:
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError:
        return Pegboard()
    except (OSError, UnicodeDecodeError) as problem:
        cure = "restore it from version control"
        raise OddPegError(Diagnostic("pegboard-unreadable", f"cannot be read: {problem}", cure, path.name)) from None
    return Pegboard.parse(text, path.name)
