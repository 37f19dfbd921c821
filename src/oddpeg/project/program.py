"""What stands for this program's own code: what other code kept is of no use.

Knows: where the code lies. Does not know: what is kept.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

from oddpeg import __version__


def stamp(*rooms: str) -> str:
    """Return what changes whenever a file in these rooms does. rooms: folders and files of this package."""
    home = Path(__file__).parent.parent
    files = [
        f
        for room in rooms
        for f in ((home / room).rglob("*.*") if "." not in room else [home / room])
        if f.suffix != ".pyc"
    ]
    facts = sorted((str(f.relative_to(home)), s.st_size, s.st_mtime_ns) for f in files for s in [f.stat()])
    return hashlib.blake2b(repr((__version__, facts)).encode(), digest_size=16).hexdigest()
