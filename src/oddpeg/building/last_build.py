"""Builds with nothing to do: the reports of earlier builds, by the hash of everything that went in and came out."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any, NamedTuple

from oddpeg.building.report import BuildReport, BuiltFile
from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.parallel import processors
from oddpeg.pegboard.board import Changes
from oddpeg.project.snapshot import LARGEST_INPUT, Snapshot
from oddpeg.sources.drawings import Contents, read_files
from oddpeg.sources.tables import table_places
from oddpeg.store.cache import Cache
from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.delivery import Delivered
from oddpeg.store.state import read_state
from oddpeg.store.tree import Tree, read_regular

_BUILD = "build"
_RECORDS = ("delivered.json", "shown.json", "seals.json", "arrivals.json", "shapes.json", "placement.json")


class Inputs(NamedTuple):
    """The inputs of a build.

    Attributes:
        drawings: by path.
        digest: of all that makes its result, but the pegboard and the records.
        unmatched: warnings of drawings that no pattern matches.
    """

    drawings: Contents
    digest: str
    unmatched: list[Diagnostic]


def read_inputs(snapshot: Snapshot, bundles: Sequence[str] | None) -> Inputs:
    """Read the drawings, and hash them together with all other inputs of a build of these bundles."""
    sources = snapshot.drawing_files
    drawings = read_files(path for path, file in sources.files.items() if file.glyph is None)
    total = hashlib.blake2b(digest_size=16)
    unmatched = snapshot.unmatched_drawings()
    around = (code_stamp(), os.environ.get("SOURCE_DATE_EPOCH"), bundles, sources.problems, unmatched)
    files = [
        str(snapshot.project.config_path),
        *table_places(snapshot.project.config.patterns),
        *snapshot.project.named_inputs,
    ]
    for values in (around, [(name, _digest_of_input(snapshot, name)) for name in files]):
        total.update(repr(values).encode())
    for font in sources.fonts:
        total.update(repr((font.path, len(font.data))).encode() + font.data)
    for path, data in drawings.items():
        size = len(data) if isinstance(data, bytes) else str(data)
        total.update(repr((path, size)).encode())
        if isinstance(data, bytes):
            total.update(data)
    return Inputs(drawings, total.hexdigest(), unmatched)


def recall(snapshot: Snapshot, inputs: Inputs) -> BuildReport | None:
    """Return the report of an earlier build with the same inputs, if all its files exist; None where there is work to
    do."""
    try:
        board = read_regular(str(snapshot.project.board_path), LARGEST_INPUT)
    except OSError:
        return None
    ledger, cache = snapshot.ledger, Cache(snapshot.project.root)
    key = cache.key(_BUILD, _whole_digest(snapshot, inputs, board))
    entries = cache.get(_BUILD, [key])
    if not entries or not ledger.trusted:
        return None
    kept = _parsed(json.loads(entries[key]))
    if not _uses_the_same(snapshot, kept.used):
        return None
    tree, paths = Tree(snapshot.project.root), [file.path for file in kept.report.files]
    with ThreadPoolExecutor(processors()) as pool:  # digests leave Python's lock
        for path, digest in zip(paths, pool.map(tree.digest, paths), strict=True):
            if digest not in ledger.digests(path):
                return None
    return kept.report


def _uses_the_same(snapshot: Snapshot, used: Sequence[str] | None) -> bool:
    """Return whether the project's code refers to the icons that it did, if a bundle holds only those."""
    if not snapshot.project.config.needs_usage:
        return True
    from oddpeg.usage.run import find_usage

    return used is not None and sorted(find_usage(snapshot).needed()) == list(used)


def remember(snapshot: Snapshot, inputs: Inputs, board: bytes, report: BuildReport) -> None:
    """Keep the report of a build that was delivered. board: the pegboard as it was written; report: as a build of the
    same has it, with every outline out of the cache."""
    kept_back = set(report.delivered.kept)
    values = {
        "family": report.family,
        "icons": report.icons,
        "em": [report.em.em, *report.em[1:]],
        "fallbacks": report.fallbacks,
        "reused": report.reused,
        "faults": [d.as_dict() for d in report.faults if d not in kept_back],
        "notes": [d.as_dict() for d in report.notes],
        "withdrawn": report.changes.withdrawn,
        "files": [file[:3] for file in report.files],
        "used": None if snapshot.used is None else sorted(snapshot.used),
    }
    cache = Cache(snapshot.project.root)
    cache.put(_BUILD, {cache.key(_BUILD, _whole_digest(snapshot, inputs, board)): json.dumps(values).encode()})


class _Kept(NamedTuple):
    """A report in the cache.

    Attributes:
        report: of a build of the same, in which nothing changes.
        used: icons that the code referred to, if that mattered.
    """

    report: BuildReport
    used: Sequence[str] | None


def _parsed(values: dict[str, Any]) -> _Kept:
    em, on_grid, grid, suited = values["em"]
    files = [BuiltFile(*row) for row in values["files"]]
    report = BuildReport(
        family=values["family"],
        icons=values["icons"],
        em=ChosenEm(Em(*em), on_grid, grid, suited and Em(*suited)),
        fallbacks=values["fallbacks"],
        reused=values["reused"],
        faults=_diagnostics(values["faults"]),
        notes=_diagnostics(values["notes"]),
        changes=Changes(withdrawn=values["withdrawn"]),
        delivered=Delivered(unchanged=[file.path for file in files]),
        files=files,
    )
    return _Kept(report, values["used"])


def _diagnostics(rows: Iterable[dict[str, object]]) -> list[Diagnostic]:
    return [Diagnostic.from_dict(row) for row in rows]


def _whole_digest(snapshot: Snapshot, inputs: Inputs, board: bytes) -> str:
    """Return the digest of everything that makes a build's result."""
    total = hashlib.blake2b(inputs.digest.encode(), digest_size=16)
    for data in (board.replace(b"\r\n", b"\n"), *(read_state(snapshot.project.root, name) for name in _RECORDS)):
        total.update(b"-" if data is None else b"%d\n" % len(data) + data)
    return total.hexdigest()


def _digest_of_input(snapshot: Snapshot, name: str) -> str:
    """Return the hash of a file that the config names, or the error that reading it raises."""
    try:
        return hashlib.blake2b(snapshot.read_input(name), digest_size=16).hexdigest()
    except OSError as problem:
        return str(problem)
