"""Files that the command line names, anywhere on the disk."""

from __future__ import annotations

from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.store.tree import read_regular

LARGEST = 128_000_000  # bytes


def read_named_file(path: Path) -> bytes:
    """Return the bytes of a file that the command line names; raise `OddPegError` where it cannot be read."""
    try:
        return read_regular(str(path.resolve()), LARGEST)
    except OSError as problem:
        message = f"cannot be read: {problem.strerror}"
        raise OddPegError(Diagnostic("file-unreadable", message, "check the path", str(path))) from None
