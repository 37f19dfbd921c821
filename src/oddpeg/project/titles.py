"""The drawings' own titles and descriptions (`.oddpeg/cache/titles`, safe to delete), so that a search need not read
every file: what is known of a file holds as long as its size and time do."""

from __future__ import annotations

import json
import os
from collections.abc import Mapping, Sequence
from pathlib import Path

from oddpeg.sources.drawings import LARGEST_DRAWING, Source
from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.state import STATE, read_state, write_caches
from oddpeg.store.tree import read_regular
from oddpeg.svg.texts import OwnTexts, own_texts

_NONE = OwnTexts("", "")
_NAME = "cache/titles"


def titles_of(root: Path, sources: Sequence[Source]) -> dict[str, OwnTexts]:
    """Return the texts of each source that has any, by icon name."""
    known = _load(read_state(root, _NAME))
    files: dict[str, list[object]] = {}
    found: dict[str, OwnTexts] = {}
    for source in sources:
        if source.glyph is not None:
            continue
        try:
            status = os.stat(source.file)  # noqa: PTH116  thousands of them
        except OSError:
            continue
        mark = [status.st_size, status.st_mtime_ns]
        row = known.get(source.where)
        texts = OwnTexts(str(row[2]), str(row[3])) if row and row[:2] == mark else _read(source)
        files[source.where] = [*mark, *texts]
        if texts != _NONE:
            found[source.name] = texts
    if files != known and (root / STATE).is_dir():
        data = json.dumps({"program": code_stamp(), "files": files}, separators=(",", ":"))
        write_caches({_NAME: data.encode()}, root)
    return found


def _read(source: Source) -> OwnTexts:
    try:
        return own_texts(read_regular(source.file, LARGEST_DRAWING))
    except OSError:
        return _NONE


def _load(data: bytes | None) -> Mapping[str, list[object]]:
    try:
        values = json.loads(data or b"{}")
        rows = values["files"] if values["program"] == code_stamp() else {}
        sound = all(isinstance(row, list) and len(row) == 4 for row in rows.values())
        return rows if sound else {}
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return {}
