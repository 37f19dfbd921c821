"""Icons by half-remembered words.

`.oddpeg/cache/search` keeps what was searched the last time, sealed, so that a large set is read anew only where
something changed: a drawing's name, size or time, the pegboard, a table or the config. It may be deleted at any time.
"""

from __future__ import annotations

import hashlib
import json
import os
from typing import TYPE_CHECKING

from oddpeg.iconset.search import Hit, SearchIndex, icon_text
from oddpeg.iconset.search import find as search
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.tables import table_places
from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.seals import is_sealed, seal
from oddpeg.store.state import STATE, read_state, write_caches

if TYPE_CHECKING:
    from collections.abc import Sequence

    from oddpeg.iconset.model import Icon

_NAME = "cache/search"
_MIN_KEPT = 500  # icons; fewer are known as fast as an index is read


def find(snapshot: Snapshot, query: str, face: str = "") -> list[Hit]:
    """Return the icons that fit every word of a query, best first. face: only those that it has."""
    hits = search(_index(snapshot), query, snapshot.project.config.synonyms)
    return [hit for hit in hits if not face or face in hit.icon.faces]


def _index(snapshot: Snapshot) -> SearchIndex:
    """Return what is searched: as it was the last time where nothing has changed."""
    mark = _mark(snapshot)
    kept = read_state(snapshot.project.root, _NAME) if mark else None
    if kept is not None and (index := _opened(snapshot, mark, kept)) is not None:
        return index
    from oddpeg.project.icon_sets import known_icons

    icons = known_icons(snapshot).icons
    if mark and len(icons) >= _MIN_KEPT and (snapshot.project.root / STATE).is_dir():
        body = "\n".join(f"{icon_text(icon)}\t{json.dumps(icon)}" for icon in icons).encode()
        write_caches(
            {_NAME: seal(snapshot.project.root, _purpose(mark), body).encode() + b"\n" + body}, snapshot.project.root
        )
    return SearchIndex.of(icons)


def _mark(snapshot: Snapshot) -> str:
    """Return a digest of all that the index depends on; empty where icons come from fonts, which are not kept."""
    files = snapshot.drawing_files
    if files.fonts or len(files.files) < _MIN_KEPT:
        return ""
    total = hashlib.blake2b(repr((code_stamp(), list(map(str, snapshot.project.also_read)))).encode(), digest_size=16)
    for name in (
        snapshot.project.relative(snapshot.project.config_path),
        f"{STATE}/arrivals.json",
        *table_places(snapshot.project.config.patterns),
    ):
        total.update(repr((name, _content(snapshot, name))).encode())
    total.update(repr(_content(snapshot, snapshot.project.relative(snapshot.project.board_path))).encode())
    total.update("\0".join([f"{path}\0{_status(path)}" for path in files.files]).encode("utf-8", "surrogateescape"))
    return total.hexdigest()


def _content(snapshot: Snapshot, name: str) -> bytes | None:
    try:
        return snapshot.read_input(name)
    except OSError:
        return None


def _status(path: str) -> str:
    try:
        status = os.stat(path)  # noqa: PTH116  thousands of them
    except OSError:
        return ""
    return f"{status.st_size} {status.st_mtime_ns}"


def _purpose(mark: str) -> str:
    return f"search {mark}"


def _opened(snapshot: Snapshot, mark: str, data: bytes) -> SearchIndex | None:
    """Return the index in a file, None where it is of something else, or was not written here."""
    found, _, body = data.partition(b"\n")
    if not is_sealed(snapshot.project.root, _purpose(mark), body, found.decode("ascii", "replace")):
        return None
    texts, _, rows = zip(*(line.partition("\t") for line in body.decode().split("\n")), strict=True)
    return SearchIndex(texts, _Rows(rows))


class _Rows:
    """Icons that are read when they are asked for."""

    def __init__(self, rows: Sequence[str]) -> None:
        self._rows = rows

    def __getitem__(self, number: int) -> Icon:
        from oddpeg.iconset.model import Icon

        values = json.loads(self._rows[number])
        return Icon._make(tuple(value) if isinstance(value, list) else value for value in values)
