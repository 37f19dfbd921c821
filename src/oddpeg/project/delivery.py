"""Files onto disk: created, replaced, removed, and never anyone else's.

Knows: folders, temporary names, what earlier builds delivered (`.oddpeg/delivered.json`). Does not
know: what the files hold. Everything is first written beside its place under a temporary name; only when all of it
is there are the files renamed into place.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from dataclasses import dataclass, field
from pathlib import Path

from oddpeg.faults import Fault, FaultsFound

STATE = ".oddpeg"
RECORD = "delivered.json"


@dataclass(slots=True)
class Delivered:
    """What a delivery did. Paths are relative to the project, with slashes."""

    written: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    removed: list[str] = field(default_factory=list)
    kept: list[Fault] = field(default_factory=list)


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _digest_of(path: Path) -> str | None:
    try:
        return _digest(path.read_bytes())
    except OSError:
        return None


class Delivery:
    """The files of one build: `add` them all, then `commit`."""

    def __init__(self, root: Path, force: bool = False) -> None:
        self.root = root
        self.force = force
        self._record_path = root / STATE / RECORD
        self._known = self._read_record()
        self._files: dict[str, dict[str, bytes]] = {}

    def _read_record(self) -> dict[str, dict[str, str]]:
        """Return bundle → path → digest; a damaged record counts as none."""
        try:
            bundles = json.loads(self._record_path.read_text(encoding="utf-8"))["bundles"]
            return {str(b): {str(p): str(d) for p, d in files.items()} for b, files in bundles.items()}
        except (OSError, ValueError, KeyError, AttributeError, TypeError):
            return {}

    def start(self, bundle: str) -> None:
        """Take responsibility for a bundle, even if it turns out empty."""
        self._files.setdefault(bundle, {})

    def add(self, bundle: str, path: Path, data: bytes) -> str:
        """Plan one file; return its path as messages show it."""
        shown = os.path.relpath(path, self.root).replace(os.sep, "/")
        self.start(bundle)
        for other, files in self._files.items():
            if shown in files:
                raise FaultsFound([Fault(f"two outputs of {bundle!r} and {other!r} go to this one file", 'give one another place with "to"', shown)], 2)
        self._files[bundle][shown] = data
        return shown

    def drop_bundles_not_in(self, names: list[str]) -> None:
        """Plan the removal of everything delivered for bundles that the config no longer has."""
        for bundle in self._known:
            if bundle not in names:
                self.start(bundle)

    def _check(self) -> None:
        """Refuse the whole delivery where one file would destroy what is not ours."""
        faults: list[Fault] = []
        ours = {path: digest for files in self._known.values() for path, digest in files.items()}
        for files in self._files.values():
            for shown, data in files.items():
                faults += self._obstacle(shown, data, ours.get(shown))
        if faults:
            raise FaultsFound(faults)

    def _obstacle(self, shown: str, data: bytes, recorded: str | None) -> list[Fault]:
        path = self.root / shown
        for folder in path.parents:
            if folder.exists() and not folder.is_dir():
                place = os.path.relpath(folder, self.root).replace(os.sep, "/")
                return [Fault("is a file, but a folder is needed there", "move it away, or change the bundle's place in oddpeg.toml", place)]
        if path.is_dir():
            return [Fault("is a folder, but a file goes there", "move it away, or change the output's place in oddpeg.toml", shown)]
        if self.force or not path.exists():
            return []
        now = _digest_of(path)
        if now in (_digest(data), recorded):
            return []
        if recorded is None:
            return [Fault("exists and was not written by Odd Peg; nothing was written", "move it away, or run again with --force to replace it", shown)]
        return [Fault("was edited by hand since it was written; nothing was written",
                      "make the change in the drawings or oddpeg.toml, then run again with --force", shown)]  # fmt: skip

    def commit(self, extra: dict[Path, bytes]) -> Delivered:
        """Write everything, and `extra` files (the pegboard) with it; remove what is stale. Raise
        `FaultsFound` before anything changed where something stands in the way."""
        self._check()
        done = Delivered()
        planned = {self.root / shown: data for files in self._files.values() for shown, data in files.items()}
        stale = self._stale(done)
        record = {b: dict(f) for b, f in self._known.items() if b not in self._files}
        record |= {b: {s: _digest(d) for s, d in files.items()} for b, files in self._files.items() if files}
        text = json.dumps({"bundles": record}, indent=1, sort_keys=True) + "\n"
        changed: dict[Path, bytes] = {}
        for path, data in {**planned, **extra, self._record_path: text.encode()}.items():
            same = _digest_of(path) == _digest(data)
            if not same:
                changed[path] = data
            if path in planned:
                shown = os.path.relpath(path, self.root).replace(os.sep, "/")
                (done.unchanged if same else done.written).append(shown)
        write_files(changed, self.root)
        for path in stale:
            path.unlink(missing_ok=True)
            _remove_empty(path.parent, self.root)
        return done

    def _stale(self, done: Delivered) -> list[Path]:
        """Return what earlier builds wrote and this one does not; edited files are kept and said."""
        found: list[Path] = []
        now = {shown for files in self._files.values() for shown in files}
        for bundle in self._files:
            for shown, digest in self._known.get(bundle, {}).items():
                path = self.root / shown
                if shown in now or not path.exists():
                    continue
                if _digest_of(path) == digest or self.force:
                    done.removed.append(shown)
                    found.append(path)
                else:
                    done.kept.append(Fault("is no longer asked for, but was edited by hand, so it was kept", "delete it yourself", shown))
        return found


def write_files(files: dict[Path, bytes], root: Path) -> None:
    """Write all files under temporary names, then rename them into place."""
    ready: list[tuple[Path, Path]] = []
    try:
        for path, data in files.items():
            path.parent.mkdir(parents=True, exist_ok=True)
            temporary = path.with_name(f".{path.name}.{os.getpid()}.part")
            ready.append((temporary, path))
            with temporary.open("wb") as out:
                out.write(data)
                out.flush()
        for temporary, path in ready:
            temporary.replace(path)
    except OSError as problem:
        place = os.path.relpath(str(problem.filename or root), root).replace(os.sep, "/")
        raise FaultsFound([Fault(f"cannot be written: {problem.strerror}", "check the rights of the folder and the space on the disk", place)]) from None
    finally:
        for temporary, _ in ready:
            with contextlib.suppress(OSError):
                temporary.unlink(missing_ok=True)


def _remove_empty(folder: Path, root: Path) -> None:
    """Remove folders that a removal left empty, up to the project's own."""
    while folder != root and root in folder.parents:
        try:
            folder.rmdir()
        except OSError:
            return
        folder = folder.parent


def write_new(folder: Path, files: list[tuple[str, bytes]], force: bool) -> None:
    """Write a set of files into a folder; without `force`, files there that differ are never replaced."""
    faults = [
        Fault("exists and differs; nothing was written", "choose another folder, or run again with --force", str(folder / name))
        for name, data in files
        if (folder / name).exists() and _digest_of(folder / name) != _digest(data)
    ]
    if folder.exists() and not folder.is_dir():
        faults = [Fault("is a file, but a folder is needed there", "choose another folder", str(folder))]
    if faults and (not force or not (folder.is_dir() or not folder.exists())):
        raise FaultsFound(faults)
    write_files({folder / name: data for name, data in files if _digest_of(folder / name) != _digest(data)}, folder)
