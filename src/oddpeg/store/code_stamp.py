"""A stamp of this program's own code: cache entries of another version are not used."""

from __future__ import annotations

import hashlib
import os
from functools import cache
from pathlib import Path

from oddpeg._version import __version__


@cache
def code_stamp() -> str:
    """Return a digest of the version and of the size and time of every file of this package.

    The whole package counts, so that no list of modules has to be kept true by hand.
    """
    facts: list[tuple[str, int, int]] = []
    folders = [str(Path(__file__).parent.parent)]
    while folders:
        with os.scandir(folders.pop()) as entries:
            for entry in entries:
                if entry.is_dir():
                    folders += [entry.path] if entry.name != "__pycache__" else []
                else:
                    status = entry.stat()
                    facts.append((entry.path, status.st_size, status.st_mtime_ns))
    return hashlib.blake2b(repr((__version__, sorted(facts))).encode(), digest_size=16).hexdigest()
