"""Values kept between runs, so that work is not done twice. The cache may be deleted at any time.

It is one SQLite file in `.oddpeg/cache/`. Its name and every key are digests keyed with this user's secret (`seals`):
a file that came with a cloned folder, or its journal, is never opened, and an entry made elsewhere never matches.
Several processes may use it at once. A file that is damaged or of another form counts as empty.
"""

from __future__ import annotations

import contextlib
import hashlib
import sqlite3
import zlib
from collections.abc import Callable, Collection, Iterable, Mapping
from pathlib import Path
from typing import TypeVar

from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.seals import derived_key
from oddpeg.store.state import CACHE, STATE
from oddpeg.store.tree import Kind, Tree

_FORM = "CREATE TABLE kept (namespace TEXT, key BLOB, value BLOB, PRIMARY KEY (namespace, key)) WITHOUT ROWID"
_LARGEST = 1 << 30  # bytes of the file; a larger one is begun anew
_SPARE = 2  # times as many other values are kept as the last run used
_AT_ONCE = 500  # keys in one query
T = TypeVar("T")
_PATIENCE = 5  # seconds to wait for another process


def cache_file() -> str:
    """Return the path of the file in a project, which only this user knows."""
    name = hashlib.blake2b(_FORM.encode(), digest_size=8, key=derived_key("cache")).hexdigest()
    return f"{CACHE}/{name}.sqlite"


class Cache:
    """The cache of one project. Values are bytes; errors of the file system and of SQLite are ignored."""

    def __init__(self, root: Path) -> None:
        self._tree = Tree(root)
        self._secret = derived_key("cache")
        self._name = cache_file()

    def keys(self, namespace: str, common: object, contents: Iterable[bytes]) -> list[bytes]:
        """Return one key for each content. common: everything else that its value depends on, as its `repr`."""
        whole = repr((code_stamp(), namespace, common)).encode()
        salt = hashlib.blake2b(whole, digest_size=32, key=self._secret).digest()
        return [hashlib.blake2b(content, digest_size=16, key=salt).digest() for content in contents]

    def key(self, namespace: str, *made_from: object) -> bytes:
        """Return the key of a single value. made_from: everything that it depends on, as its `repr`."""
        return self.keys(namespace, made_from, [b""])[0]

    def get(self, namespace: str, keys: Collection[bytes]) -> dict[bytes, bytes]:
        """Return the values on record, by key."""
        wanted = list(dict.fromkeys(keys))

        def read(database: sqlite3.Connection) -> dict[bytes, bytes]:
            rows: dict[bytes, bytes] = {}
            for at in range(0, len(wanted), _AT_ONCE):
                some = wanted[at : at + _AT_ONCE]
                query = f"SELECT key, value FROM kept WHERE namespace = ? AND key IN ({','.join('?' * len(some))})"
                rows |= dict(database.execute(query, (namespace, *some)))
            return rows

        rows = self._do(read, create=False) or {}
        return {key: value[4:] for key, value in rows.items() if _is_sound(value)}

    def put(
        self, namespace: str, values: Mapping[bytes, bytes], used: Collection[bytes] = (), spare: int = 2_000
    ) -> None:
        """Keep values, and forget old ones of the namespace where there are many more than are in use.

        used: the keys that this run asked for; spare: how many others are kept at least, for other branches and
        yesterday. Nothing happens where the project has no state folder.
        """
        in_use = {*values, *used}

        def write(database: sqlite3.Connection) -> None:
            rows = ((namespace, key, _checksum(value) + value) for key, value in values.items())
            database.executemany("INSERT OR REPLACE INTO kept VALUES (?, ?, ?)", rows)
            (count,) = database.execute("SELECT count(*) FROM kept WHERE namespace = ?", (namespace,)).fetchone()
            if count > len(in_use) + max(_SPARE * len(in_use), spare):
                database.execute("CREATE TEMP TABLE used (key BLOB PRIMARY KEY)")
                database.executemany("INSERT INTO used VALUES (?)", ((key,) for key in in_use))
                unused = "namespace = ? AND key NOT IN (SELECT key FROM used)"
                database.execute(f"DELETE FROM kept WHERE {unused}", (namespace,))

        self._do(write, create=True)

    def _do(self, work: Callable[[sqlite3.Connection], T], create: bool) -> T | None:
        """Return what `work` returns for the open database, None where that fails; a damaged file is removed.

        create: make the file if it is missing.
        """
        try:
            if (database := self._open(create)) is None:
                return None
            with contextlib.closing(database), database:  # the inner one commits
                return work(database)
        except (sqlite3.OperationalError, OSError):  # locked, full, or read-only
            return None
        except sqlite3.Error:
            self._discard()
            return None

    def _open(self, create: bool) -> sqlite3.Connection | None:
        kind = self._tree.kind(self._name)
        if kind is Kind.NOTHING and create and self._tree.kind(STATE) is Kind.FOLDER:
            (self._tree.root / CACHE).mkdir(exist_ok=True)
            kind = self._tree.kind(self._name)
        elif kind is not Kind.FILE:
            return None
        path = self._tree.root / self._name
        if kind is Kind.FILE and path.stat().st_size > _LARGEST:
            self._discard()
        database = sqlite3.connect(path, timeout=_PATIENCE)
        try:
            database.execute("PRAGMA trusted_schema = OFF")
            database.execute("PRAGMA cell_size_check = ON")
            database.execute("PRAGMA synchronous = OFF")  # what a power failure damages is computed again
            if (form := database.execute("SELECT sql FROM sqlite_master").fetchall()) != [(_FORM,)]:
                if form:
                    raise sqlite3.DatabaseError("another form")
                database.execute(_FORM)
        except BaseException:
            database.close()
            raise
        return database

    def _discard(self) -> None:
        for name in (self._name, f"{self._name}-journal"):
            with contextlib.suppress(OSError):
                self._tree.remove(name)


def _is_sound(value: object) -> bool:
    return isinstance(value, bytes) and value[:4] == _checksum(value[4:])


def _checksum(value: bytes) -> bytes:
    return zlib.crc32(value).to_bytes(4, "big")
