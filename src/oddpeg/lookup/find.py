"""Icons by half-remembered words.

The cache keeps the index of a large set, so that it is read again only where something changed: a drawing's name, size
or time, the pegboard, a table or the config.
"""

from __future__ import annotations

import json
import os
from typing import TYPE_CHECKING

from oddpeg.iconset.search import Hit, SearchIndex, icon_text
from oddpeg.iconset.search import find as search
from oddpeg.iconset.synonyms import with_builtin
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.tables import table_places
from oddpeg.store.cache import Cache
from oddpeg.store.state import STATE

if TYPE_CHECKING:
    from collections.abc import Sequence

    from oddpeg.iconset.model import Icon

_SEARCH = "search"
_MIN_KEPT = 500  # icons; fewer are known as fast as an index is read


def find(snapshot: Snapshot, query: str, face: str = "") -> list[Hit]:
    """Return the icons that match every word of a query, best first. face: only icons that this face has."""
    hits = search(_index(snapshot), query, with_builtin(snapshot.project.config.synonyms))
    return [hit for hit in hits if not face or face in hit.icon.faces]


def _index(snapshot: Snapshot) -> SearchIndex:
    """Return the index to search, the kept one where nothing has changed."""
    cache = Cache(snapshot.project.root)
    key = _key(snapshot, cache)
    if key and (kept := cache.get(_SEARCH, [key])):
        return _decoded(kept[key])
    from oddpeg.project.icon_sets import known_icons

    icons = known_icons(snapshot).icons
    if key and len(icons) >= _MIN_KEPT:
        body = "\n".join(f"{icon_text(icon)}\t{json.dumps(icon)}" for icon in icons).encode()
        cache.put(_SEARCH, {key: body})
    return SearchIndex.of(icons)


def _key(snapshot: Snapshot, cache: Cache) -> bytes:
    """Return the cache key of the index; empty where icons come from fonts, whose index is not kept."""
    files, project = snapshot.drawing_files, snapshot.project
    if files.fonts or len(files.files) < _MIN_KEPT:
        return b""
    tables = table_places(project.config.patterns)
    names = (project.relative(project.config_path), f"{STATE}/arrivals.json", *tables, PEGBOARD)
    read = [(name, _content(snapshot, name)) for name in names]
    return cache.key(_SEARCH, list(map(str, project.also_read)), read, [(p, _status(p)) for p in files.files])


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


def _decoded(data: bytes) -> SearchIndex:
    texts, _, rows = zip(*(line.partition("\t") for line in data.decode().split("\n")), strict=True)
    return SearchIndex(texts, _Rows(rows))


class _Rows:
    """Icons that are read when they are asked for."""

    def __init__(self, rows: Sequence[str]) -> None:
        self._rows = rows

    def __getitem__(self, number: int) -> Icon:
        from oddpeg.iconset.model import Icon

        values = json.loads(self._rows[number])
        return Icon._make(tuple(value) if isinstance(value, list) else value for value in values)
