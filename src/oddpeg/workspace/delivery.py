"""What a build puts on disk: created, replaced, removed, and never anyone else's."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.workspace.project import Project
from oddpeg.workspace.transaction import STATE, change_all, relative, write_files

RECORD = "delivered.json"


@dataclass(slots=True)
class Delivered:
    """What a delivery did, or would do. Paths are relative to the project, with slashes. extra: written beside what
    was asked for (the pegboard)."""

    written: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    removed: list[str] = field(default_factory=list)
    kept: list[Diagnostic] = field(default_factory=list)
    extra: list[str] = field(default_factory=list)

    def changes(self) -> list[str]:
        """Return every path that is not as it was."""
        return [*self.extra, *self.written, *self.removed]


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _digest_of(path: Path) -> str | None:
    try:
        return _digest(path.read_bytes())
    except OSError:
        return None


class Delivery:
    """The files of one build: `add` them all, then `commit`, or `foresee` what that would do.
    Nothing is delivered among the drawings."""

    def __init__(self, project: Project, force: bool = False) -> None:
        self.root = root = project.root
        self._inside = root.resolve()
        self._drawings = [folder.resolve() for folder in project.drawing_folders]
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
        shown = relative(path, self.root)
        self.start(bundle)
        for other, files in self._files.items():
            if shown in files:
                raise UsageError(
                    Diagnostic(
                        "same-target",
                        f"two outputs of {bundle!r} and {other!r} go to this one file",
                        'give one another place with "to"',
                        shown,
                    )
                )
        self._files[bundle][shown] = data
        return shown

    def drop_bundles_not_in(self, names: Collection[str]) -> None:
        """Plan the removal of everything delivered for bundles that the config no longer has."""
        for bundle in self._known:
            if bundle not in names:
                self.start(bundle)

    def _check(self) -> None:
        """Refuse the whole delivery where one file would destroy what is not ours."""
        faults: list[Diagnostic] = []
        ours = {path: digest for files in self._known.values() for path, digest in files.items()}
        for files in self._files.values():
            for shown, data in files.items():
                if obstacle := self._obstacle(shown, data, ours.get(shown)):
                    faults.append(obstacle)
        if faults:
            raise OddPegError(*faults)

    def _obstacle(self, shown: str, data: bytes, recorded: str | None) -> Diagnostic | None:
        """Return what keeps a file from being written, None where nothing does."""
        return self._wrong_place(shown) or self._conflict(shown, data, recorded)

    def _wrong_place(self, shown: str) -> Diagnostic | None:
        path = self.root / shown
        real = path.resolve()
        if not real.is_relative_to(self._inside):
            how = "" if shown.startswith("../") else f" (it leads to {real})"
            what = f"lies outside the project{how}; nothing was written"
            cure = "choose a place in or below the folder of oddpeg.toml, or move oddpeg.toml up"
            return Diagnostic("outside-project", what, cure, shown)
        if any(real.is_relative_to(folder) for folder in self._drawings):
            what, cure = (
                "lies among the drawings; nothing was written",
                "deliver into a folder of its own, like dist/web",
            )
            return Diagnostic("among-drawings", what, cure, shown)
        for folder in path.parents:
            if folder.exists() and not folder.is_dir():
                what = "is a file, but a folder is needed there"
                cure = "move it away, or change the bundle's place in oddpeg.toml"
                return Diagnostic("folder-is-file", what, cure, relative(folder, self.root))
        if path.is_dir():
            what, cure = (
                "is a folder, but a file goes there",
                "move it away, or change the output's place in oddpeg.toml",
            )
            return Diagnostic("file-is-folder", what, cure, shown)
        return None

    def _conflict(self, shown: str, data: bytes, recorded: str | None) -> Diagnostic | None:
        """Return why a file that is there may not be replaced. recorded: the digest of what we wrote there."""
        path = self.root / shown
        if self.force or not path.exists() or _digest_of(path) in (_digest(data), recorded):
            return None
        if recorded is None:
            what = "exists and was not written by Odd Peg; nothing was written"
            return Diagnostic("foreign-file", what, "move it away, or run again with --force to replace it", shown)
        what = "was edited by hand since it was written; nothing was written"
        cure = "make the change in the drawings or oddpeg.toml, then run again with --force"
        return Diagnostic("edited-file", what, cure, shown)

    def foresee(self, extra: dict[Path, bytes]) -> Delivered:
        """Return what `commit` would do."""
        return self._plan(extra)[0]

    def commit(self, extra: dict[Path, bytes]) -> Delivered:
        """Write everything, and `extra` files (the pegboard) with it; remove what is stale; all as one change. Raise
        `OddPegError` before anything changed where something stands in the way."""
        done, changed, stale = self._plan(extra)
        change_all(self.root, changed, stale)
        return done

    def _plan(self, extra: dict[Path, bytes]) -> tuple[Delivered, dict[Path, bytes], list[Path]]:
        """Return what will be done, the files that change and those to remove. First the pegboard, then fonts, then
        texts: whatever stands on disk between two moves, no icon is looked for where it is not."""
        self._check()
        done = Delivered()
        planned = {self.root / shown: data for files in self._files.values() for shown, data in files.items()}
        stale = self._stale(done)
        record = {b: dict(f) for b, f in self._known.items() if b not in self._files}
        record |= {b: {s: _digest(d) for s, d in files.items()} for b, files in self._files.items() if files}
        text = json.dumps({"bundles": record}, indent=1, sort_keys=True) + "\n"
        changed: dict[Path, bytes] = {}
        for path, data in {**extra, **planned, self._record_path: text.encode()}.items():
            same = _digest_of(path) == _digest(data)
            if not same:
                changed[path] = data
            if path in planned:
                (done.unchanged if same else done.written).append(relative(path, self.root))
            elif path in extra and not same and STATE not in path.parts:
                done.extra.append(relative(path, self.root))
        return done, changed, stale

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
                    done.kept.append(
                        Diagnostic(
                            "stale-edited",
                            "is no longer asked for, but was edited by hand, so it was kept",
                            "delete it yourself",
                            shown,
                        )
                    )
        return found


class NewFile(NamedTuple):
    """A file to be written. name: relative to the folder it goes into, with slashes."""

    name: str
    data: bytes


def write_new(folder: Path, files: Sequence[NewFile], force: bool) -> None:
    """Write a set of files into a folder; without `force`, files there that differ are never replaced."""
    faults = [
        Diagnostic(
            "file-exists",
            "exists and differs; nothing was written",
            "choose another folder, or run again with --force",
            str(folder / name),
        )
        for name, data in files
        if (folder / name).exists() and _digest_of(folder / name) != _digest(data)
    ]
    if folder.exists() and not folder.is_dir():
        faults = [
            Diagnostic(
                "folder-is-file", "is a file, but a folder is needed there", "choose another folder", str(folder)
            )
        ]
    if faults and (not force or not (folder.is_dir() or not folder.exists())):
        raise OddPegError(*faults)
    write_files({folder / name: data for name, data in files if _digest_of(folder / name) != _digest(data)}, folder)
