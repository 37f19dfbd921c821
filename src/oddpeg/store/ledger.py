"""The record of deliveries: files, their content, and the icons that they show.

`delivered.json` is committed with delivered files. It is trusted only while its seal (`seals.json`, never committed)
shows that it was written on this machine.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any, NamedTuple

from oddpeg.store.records import json_sides
from oddpeg.store.seals import is_sealed, seal
from oddpeg.store.state import STATE, read_state

_LARGEST = 64_000_000  # bytes
_PURPOSE = "delivered"

Digests = frozenset[str]


class Ledger(NamedTuple):
    """The record of deliveries.

    Attributes:
        bundles: by bundle and path (relative to the project, with slashes) the hashes of the delivered content: one, or
            after a merge one of each side.
        shown: the codepoint of each icon by bundle, if known.
        trusted: the record was written on this machine, for this folder.
    """

    bundles: Mapping[str, Mapping[str, Digests]]
    shown: Mapping[str, Mapping[str, int]]
    trusted: bool

    def paths(self) -> set[str]:
        """Return every path that was delivered to."""
        return {path for files in self.bundles.values() for path in files}

    def digests(self, path: str) -> Digests:
        """Return the hashes of the content that was written to a path."""
        return frozenset().union(*(files.get(path, frozenset()) for files in self.bundles.values()))

    def updated(self, files: Mapping[str, Mapping[str, str]], shown: Mapping[str, Mapping[str, int]]) -> Ledger:
        """Return the record once some bundles are delivered. files: digests by bundle and path; a bundle without any
        is forgotten."""
        bundles = {name: paths for name, paths in self.bundles.items() if name not in files}
        bundles |= {name: {p: frozenset([d]) for p, d in paths.items()} for name, paths in files.items() if paths}
        now = {name: icons for name, icons in {**self.shown, **shown}.items() if name in bundles}
        return Ledger(bundles, now, True)

    def files(self, root: Path) -> dict[str, bytes]:
        """Return the files that keep the record, by path. root: of the project."""
        bundles = {name: {p: min(found) for p, found in paths.items()} for name, paths in self.bundles.items()}
        record = (json.dumps({"bundles": bundles}, indent=1, sort_keys=True) + "\n").encode()
        shown = json.dumps({"shown": self.shown}, sort_keys=True, separators=(",", ":")) + "\n"
        seals = json.dumps({"delivered": seal(root, _PURPOSE, record)}) + "\n"
        return {
            f"{STATE}/delivered.json": record,
            f"{STATE}/shown.json": shown.encode(),
            f"{STATE}/seals.json": seals.encode(),
        }


def read_ledger(root: Path) -> Ledger:
    """Return the record of a project; a damaged one counts as none. root: of the project."""
    data = read_state(root, "delivered.json", _LARGEST)
    bundles: dict[str, dict[str, Digests]] = {}
    for side in json_sides(data):
        for name, files in _table(_table(side).get("bundles")).items():
            paths = bundles.setdefault(str(name), {})
            for path, digest in _table(files).items():
                paths[str(path)] = paths.get(str(path), frozenset()) | {str(digest)}
    seals = next(iter(json_sides(read_state(root, "seals.json", _LARGEST))), None)
    trusted = data is not None and is_sealed(root, _PURPOSE, data, _table(seals).get("delivered"))
    shown = next(iter(json_sides(read_state(root, "shown.json", _LARGEST))), None)
    icons = {
        str(name): {str(k): v for k, v in _table(some).items() if isinstance(v, int)}
        for name, some in _table(_table(shown).get("shown")).items()
    }
    return Ledger(bundles, icons, trusted)


def _table(value: Any) -> dict[Any, Any]:
    return value if isinstance(value, dict) else {}
