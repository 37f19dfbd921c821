"""Seals, which distinguish files written by this user on this machine from files that came with a folder.

A seal is a keyed hash (HMAC-SHA-256, RFC 2104). The key is random, made once, and kept outside of every project: in the
user's state folder, or in a private folder for temporary files if that is not writable.
"""

from __future__ import annotations

import contextlib
import hashlib
import hmac
import os
import stat
from collections.abc import Iterator
from functools import cache
from pathlib import Path

from oddpeg.store.tree import read_regular

_SIZE = 32  # bytes of the key


def seal(root: Path, purpose: str, data: bytes) -> str:
    """Return the seal of data that belongs to a project. root: the project's folder, without links; purpose: the kind
    of data, so that one kind of record never passes for another."""
    text = b"\0".join((purpose.encode(), str(root).encode("utf-8", "surrogateescape"), data))
    return hmac.new(_key(), text, hashlib.sha256).hexdigest()


def is_sealed(root: Path, purpose: str, data: bytes, given: object) -> bool:
    """Return whether `found` is the seal of data."""
    return isinstance(given, str) and hmac.compare_digest(seal(root, purpose, data).encode(), given.encode())


def derived_key(purpose: str) -> bytes:
    """Return a secret of this user for one purpose, 32 bytes."""
    return hmac.new(_key(), purpose.encode(), hashlib.sha256).digest()


@cache
def _key() -> bytes:
    for folder in _folders():
        with contextlib.suppress(OSError):
            return _key_in(folder)
    return os.urandom(_SIZE)  # nothing can be kept: what this process seals, only it can tell


def _folders() -> Iterator[Path]:
    """Yield places for the key, best first."""
    import tempfile

    from platformdirs import user_state_path

    with contextlib.suppress(RuntimeError, OSError):
        state_path = user_state_path("oddpeg", appauthor=False)
        if state_path.is_absolute():
            yield state_path
    yield Path(tempfile.gettempdir()) / f"oddpeg-{os.getuid() if hasattr(os, 'getuid') else 'user'}"


def _key_in(folder: Path) -> bytes:
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    status = folder.lstat()
    if not stat.S_ISDIR(status.st_mode) or (hasattr(os, "getuid") and status.st_uid != os.getuid()):
        raise PermissionError(f"{folder} is not ours")
    path = folder / "key"
    with contextlib.suppress(OSError):
        key = read_regular(str(path), _SIZE)
        if len(key) == _SIZE:
            return key
    import tempfile

    fd, temporary = tempfile.mkstemp(dir=folder)  # readable for its owner alone
    try:
        with os.fdopen(fd, "wb") as out:
            out.write(os.urandom(_SIZE))
        try:
            if path.exists() and path.stat().st_size != _SIZE:  # damaged
                path.unlink()
            os.link(temporary, path)  # of several processes, the first one's stays
        except FileExistsError:
            pass
        except OSError:  # no second names on this file system
            os.replace(temporary, path)
            return read_regular(str(path), _SIZE)
        os.unlink(temporary)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(temporary)
        raise
    return read_regular(str(path), _SIZE)
