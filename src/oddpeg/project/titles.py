"""The drawings' own titles and descriptions, kept so that a search need not read every file: an entry holds as long as
the file's size and time do."""

from __future__ import annotations

import json
import os
from collections.abc import Sequence
from pathlib import Path

from oddpeg.sources.drawings import LARGEST_DRAWING, Source
from oddpeg.store.cache import Cache
from oddpeg.store.tree import read_regular
from oddpeg.svg.texts import OwnTexts, own_texts

_TITLES = "titles"
_NONE = OwnTexts("", "")


def titles_of(root: Path, sources: Sequence[Source]) -> dict[str, OwnTexts]:
    """Return the texts of each source that has any, by icon name. root: of the project."""
    cache, marks = Cache(root), {}
    for source in sources:
        if source.glyph is None and (mark := _mark(source)):
            marks[source.name] = mark
    drawn = [source for source in sources if source.name in marks]
    keys = cache.keys(_TITLES, (), (marks[source.name] for source in drawn))
    kept, new, titles = cache.get(_TITLES, keys), {}, {}
    for source, key in zip(drawn, keys, strict=True):
        if key in kept:
            texts = OwnTexts(*json.loads(kept[key]))
        else:
            texts = _read(source)
            new[key] = json.dumps(texts).encode()
        if texts != _NONE:
            titles[source.name] = texts
    if new:
        cache.put(_TITLES, new, keys)
    return titles


def _mark(source: Source) -> bytes:
    """Return a file's path, size and time; nothing where it is gone."""
    try:
        status = os.stat(source.file)  # noqa: PTH116  thousands of them
    except OSError:
        return b""
    return repr((source.where, status.st_size, status.st_mtime_ns)).encode()


def _read(source: Source) -> OwnTexts:
    try:
        return own_texts(read_regular(source.file, LARGEST_DRAWING))
    except OSError:
        return _NONE
