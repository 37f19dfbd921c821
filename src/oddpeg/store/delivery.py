"""Changes of a build on disk: files created, replaced and removed, never a file of another owner."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.outputs.generated import is_generated
from oddpeg.reports import Key, reported
from oddpeg.store.ledger import Ledger, read_ledger
from oddpeg.store.places import Places
from oddpeg.store.records import read_record, record_bytes
from oddpeg.store.state import STATE, write_files
from oddpeg.store.transaction import FileStep, change_all
from oddpeg.store.tree import Kind, Tree

_LARGEST_DELIVERED = 256_000_000  # bytes of a file that is looked at to see whether it is ours


@dataclass(slots=True)
class Delivered:
    """The changes of a delivery. Paths are relative to the project, with slashes.

    Attributes:
        written: new or changed.
        unchanged: had the same content.
        removed: stale.
        kept: stale, but edited since the last build.
        extra: written in addition (the pegboard).
    """

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


class BundleFiles(NamedTuple):
    """The files of one bundle, by path relative to the project.

    Attributes:
        fonts: their bytes.
        texts: their bytes.
        interim: texts of the icons that the bundle has both before and after, None for a text that is better missing
            for a moment.
        shown: the codepoint of each icon.
    """

    fonts: Mapping[str, bytes]
    texts: Mapping[str, bytes]
    interim: Mapping[str, bytes | None]
    shown: Mapping[str, int]

    def all(self) -> dict[str, bytes]:
        """Return every file in its final form."""
        return {**self.fonts, **self.texts}


class Delivery:
    """The files of one build: `add` every bundle, then `commit`, or `dry_run` to see the changes."""

    def __init__(self, places: Places, ledger: Ledger, force: bool = False) -> None:
        """Prepare a delivery. ledger: the record of deliveries; force: replace edited and foreign files."""
        self.root = places.root
        self.force = force
        self._tree = Tree(places.root)
        self._places = places
        self._ledger = ledger
        self._bundles: dict[str, BundleFiles] = {}

    def add(self, bundle: str, files: BundleFiles) -> None:
        """Plan the files of a bundle."""
        for other, before in self._bundles.items():
            if shared := sorted(before.all().keys() & files.all().keys()):
                message = f"two outputs of {bundle!r} and {other!r} go to this one file"
                raise UsageError(same_target(message, shared[0]))
        self._bundles[bundle] = files

    def drop_bundles_not_in(self, names: Collection[str]) -> None:
        """Plan the removal of everything delivered for bundles that the config no longer has."""
        for bundle in self._ledger.bundles:
            if bundle not in names:
                self._bundles.setdefault(bundle, BundleFiles({}, {}, {}, {}))

    def dry_run(self, extra: Mapping[str, bytes]) -> Delivered:
        """Return the changes that `commit` would make, without making them."""
        return self._plan(extra).done

    def commit(self, extra: Mapping[str, bytes]) -> Delivered:
        """Write everything, and `extra` files (the pegboard) with it, and remove stale files, all as one change. Raise
        `OddPegError` before any change where a file cannot be written."""
        plan = self._plan(extra)
        change_all(self.root, plan.steps)
        return plan.done

    def _plan(self, extra: Mapping[str, bytes]) -> _Plan:
        """Return the steps. First the pegboard; then each bundle, so that no text ever names an icon that its fonts
        lack; last stale files, texts before fonts."""
        planned = {path: data for files in self._bundles.values() for path, data in files.all().items()}
        digests = _Digests(
            {path: _digest(data) for path, data in planned.items()}, {path: self._tree.digest(path) for path in planned}
        )
        self._check(digests)
        done = Delivered()
        stale = self._stale(planned, done)
        steps = list(self._changes(extra))
        done.extra += [step.target for step in steps if not step.target.startswith(f"{STATE}/")]
        changed = {path for path, digest in digests.planned.items() if digests.there[path] != digest}
        done.written += [path for path in planned if path in changed]
        done.unchanged += [path for path in planned if path not in changed]
        for files in self._bundles.values():
            steps += _in_order(files, changed, self._tree)
        fonts = (".woff2", ".woff", ".ttf", ".eot", ".svg")
        steps += [FileStep(path, None) for path in sorted(stale, key=lambda path: path.endswith(fonts))]
        files_now = {name: {p: digests.planned[p] for p in b.all()} for name, b in self._bundles.items()}
        shown_now = {name: files.shown for name, files in self._bundles.items()}
        steps += self._changes(self._ledger.updated(files_now, shown_now).files(self.root))
        return _Plan(done, steps)

    def _changes(self, files: Mapping[str, bytes]) -> Iterator[FileStep]:
        for path, data in files.items():
            if self._tree.digest(path) != _digest(data):
                yield FileStep(path, data)

    def _check(self, digests: _Digests) -> None:
        """Refuse the whole delivery where one file has no place, or would replace a foreign file."""
        faults = self._places.clashes(list(digests.planned))
        for path in digests.planned:
            if obstacle := self._places.obstacle(path) or self._conflict(path, digests):
                faults.append(obstacle)
        if faults:
            raise OddPegError(*faults)

    def _conflict(self, path: str, digests: _Digests) -> Diagnostic | None:
        """Return why a file that is there may not be replaced."""
        on_disk = digests.there[path]
        if self.force or on_disk in (None, digests.planned[path]) or self._is_ours(path, on_disk):
            return None
        if path not in self._ledger.paths():
            message = "exists and was not written by Odd Peg; build aborted"
            return Diagnostic("foreign-file", message, "move it away, or run again with --force to replace it", path)
        if self._has_conflict_marker(path):
            message = "holds a conflict marker of a merge; build aborted"
            return Diagnostic("conflict-marker", message, "run `oddpeg pegs settle`, then build", path)
        if on_disk in self._ledger.digests(path):  # recorded on another machine, and without our mark
            message = "was delivered elsewhere, and nothing in it tells that Odd Peg wrote it; build aborted"
            return Diagnostic("foreign-file", message, "run again with --force to replace it", path)
        message = "was edited since the last build; build aborted"
        cure = "make the change in the drawings or oddpeg.toml, then run again with --force"
        return Diagnostic("edited-file", message, cure, path)

    def _has_conflict_marker(self, path: str) -> bool:
        try:
            return b"\n<<<<<<< " in b"\n" + self._tree.read(path, _LARGEST_DELIVERED)
        except OSError:
            return False

    def _is_ours(self, path: str, digest: str | None) -> bool:
        """Return whether a file is as we delivered it. A record that came with the folder is believed only where the
        file itself tells the same."""
        if digest not in self._ledger.digests(path):
            return False
        if self._ledger.trusted:
            return True
        return _bears_our_mark(self._tree, path)

    def _stale(self, planned: Collection[str], done: Delivered) -> list[str]:
        """Return files of earlier builds that this one does not write; edited files are kept and reported."""
        stale: list[str] = []
        for bundle in self._bundles:
            for path in self._ledger.bundles.get(bundle, {}):
                if path in planned or path in stale or self._tree.kind(path) is Kind.NOTHING:
                    continue
                if self._places.obstacle(path) is None and (
                    self._is_ours(path, self._tree.digest(path)) or (self.force and self._ledger.trusted)
                ):
                    done.removed.append(path)
                    stale.append(path)
                elif self._ledger.trusted:
                    message = "is no longer an output, but was edited since the last build, so it was kept"
                    done.kept.append(Diagnostic("stale-edited", message, "delete it yourself", path))
                # what a record names that came with the folder may be anybody's: it is left alone, and forgotten
        return stale


class _Digests(NamedTuple):
    """Hashes of files' contents, by path.

    Attributes:
        planned: after the delivery.
        there: on disk; None if there is no regular file.
    """

    planned: Mapping[str, str]
    there: Mapping[str, str | None]


class _Plan(NamedTuple):
    done: Delivered
    steps: list[FileStep]


def same_target(message: str, where: str) -> Diagnostic:
    """Return the error for two outputs on one path."""
    return Diagnostic(
        "same-target",
        message,
        'give one another path in oddpeg.toml: "to" of the output, or "into" of the bundle',
        where,
    )


def _in_order(files: BundleFiles, changed: Collection[str], tree: Tree) -> list[FileStep]:
    """Return the steps of one bundle: fonts under new names, interim texts, fonts, texts."""

    def puts(some: Mapping[str, bytes | None]) -> list[FileStep]:
        return [FileStep(path, data) for path, data in some.items() if path in changed]

    new = {path: data for path, data in files.fonts.items() if tree.kind(path) is Kind.NOTHING}
    replaced = {path: data for path, data in files.fonts.items() if path not in new}
    interim = {path: data for path, data in files.interim.items() if tree.kind(path) is not Kind.NOTHING}
    # where the interim text is the final one (icons only went), it is written once
    final = {path: data for path, data in files.texts.items() if interim.get(path, b"") != data}
    return [*puts(new), *puts(interim), *puts(replaced), *puts(final)]


def delivered_text(root: Path, path: str) -> str | None:
    """Return a text as it was last delivered; None where it is missing, or was edited."""
    try:
        data = Tree(root).read(path, _LARGEST_DELIVERED)
        return data.decode("utf-8") if _digest(data) in read_ledger(root).digests(path) else None
    except (OSError, UnicodeDecodeError):
        return None


class SettledRecords(NamedTuple):
    """The records of a project after a merge.

    Attributes:
        files: their new content, by path.
        merged: delivered files that the merge changed, which the next build writes anew.
    """

    files: dict[str, bytes]
    merged: list[str]


def settled_records(root: Path, ledger: Ledger) -> SettledRecords:
    """Return sound records after a merge, with delivered files as the merge left them.

    A record with a valid seal saw no merge. Otherwise only files with the mark of generated files count as delivered,
    since the record may have come with the folder.
    """
    tree = Tree(root)
    if ledger.trusted or not ledger.bundles:
        return SettledRecords({}, [])
    files: dict[str, dict[str, str]] = {}
    merged: list[str] = []
    for bundle, paths in ledger.bundles.items():
        for path, digests in paths.items():
            on_disk = tree.digest(path)
            if on_disk is None or not _bears_our_mark(tree, path):
                continue
            files.setdefault(bundle, {})[path] = on_disk
            if on_disk not in digests or len(digests) > 1:
                merged.append(path)
    arrivals = read_record(root, "arrivals.json")
    changed = ledger.updated({**{name: {} for name in ledger.bundles}, **files}, {}).files(root)
    if arrivals:
        changed[f"{STATE}/arrivals.json"] = record_bytes(arrivals)
    return SettledRecords({p: data for p, data in changed.items() if tree.digest(p) != _digest(data)}, sorted(merged))


def _bears_our_mark(tree: Tree, path: str) -> bool:
    try:
        return is_generated(tree.read(path, _LARGEST_DELIVERED))
    except OSError:
        return False


class NewFile(NamedTuple):
    """A file to be written."""

    name: Annotated[str, Key("path, relative to the folder it goes into, with slashes", name="path")]
    data: bytes

    @reported("size", name="bytes")
    def size(self) -> int:
        """Size in bytes."""
        return len(self.data)


_NOTHING: Mapping[str, str] = {}


def write_new(folder: Path, files: Sequence[NewFile], force: bool, ours: Mapping[str, str] = _NOTHING) -> None:
    """Write a set of files into a folder; without `force`, files there that differ are never replaced. A relative path
    is refused where a link within the current folder leads it out. ours: hashes of files that an earlier run wrote,
    by name; as long as they have these, they are replaced."""
    if (
        not folder.is_absolute()
        and ".." not in folder.parts
        and not folder.resolve().is_relative_to(Path.cwd().resolve())
    ):
        message, cure = f"leads out of the current folder through a link, to {folder.resolve()}", "name that folder"
        raise OddPegError(Diagnostic("outside-project", message, cure, str(folder)))
    faults = [
        Diagnostic(
            "file-exists",
            "exists and differs; nothing was written",
            "choose another folder, or run again with --force",
            str(folder / name),
        )
        for name, data in files
        if (folder / name).exists() and _digest_of(folder / name) not in (_digest(data), ours.get(name, ""))
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
