"""Drawings on disk: which files, and which icon each one is."""

from __future__ import annotations

import errno
import os
import re
from collections.abc import Iterable, Mapping, Sequence
from fnmatch import fnmatch
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.names import icon_name
from oddpeg.workspace.state import STATE
from oddpeg.workspace.tree import belongs_to_version_control, read_regular

LARGEST_DRAWING = 32_000_000  # bytes

Own = frozenset[str]  # paths of files that are delivered, relative to the project


class Source(NamedTuple):
    """One drawing's file.

    Attributes:
        name: of its icon.
        file: its path.
        where: the same as messages and maps show it, relative to the project, with slashes.
        named: the part of it that the icon is named after.
    """

    name: str
    file: str
    where: str
    named: str

    @property
    def path(self) -> Path:
        return Path(self.file)


def fixed_part(pattern: str) -> str:
    """Return the part of a glob before its first wildcard's path component."""
    return re.split(r"[*?\[]", pattern)[0].rpartition("/")[0]


def _split_pattern(root: Path, pattern: str) -> tuple[Path, str]:
    """Return the folder that a glob starts in, and the rest of it; raise ValueError where it is not usable."""
    parts = pattern.split("/")
    if any("**" in part and part != "**" for part in parts):
        raise ValueError("** stands for whole folders, so it needs a / on both sides")
    base = Path(Path(pattern).anchor) if Path(pattern).is_absolute() else root
    if base != root:
        pattern = str(Path(pattern).relative_to(base)).replace(os.sep, "/")
    while pattern.startswith("../"):
        base, pattern = base.parent, pattern[3:]
    if not pattern or ".." in pattern.split("/") or "\0" in pattern:
        raise ValueError("'..' may stand at the start only")
    fixed = fixed_part(pattern)
    return base / fixed, pattern[len(fixed) + 1 :] if fixed else pattern


def fits(names: Sequence[str], parts: Sequence[str]) -> bool:
    """Return whether the components of a path fit those of a glob, `**` standing for any number of them. The work grows
    with the product of both lengths, whatever the glob."""

    def onwards(places: set[int]) -> set[int]:
        """Return places in the glob, and those behind every `**` that may stand for nothing."""
        for place in sorted(places):
            while place < len(parts) and parts[place] == "**":
                place += 1
                places.add(place)
        return places

    at = onwards({0})
    for name in names:
        at = onwards(
            {
                place if parts[place] == "**" else place + 1
                for place in at
                if place < len(parts) and (parts[place] == "**" or fnmatch(name, parts[place]))
            }
        )
    return len(parts) in at


class _Search:
    """A walk through folders for the files that one glob names. Links are followed only to where reading is allowed,
    and no folder is entered twice."""

    def __init__(self, base: Path, pattern: str, readable: Sequence[Path]) -> None:
        self._parts = pattern.split("/")
        self._readable = readable
        self._entered: set[str] = set()
        self.found: list[str] = []
        self.problems: list[Diagnostic] = []
        self._walk(str(base))

    def _walk(self, base: str) -> None:
        waiting: list[tuple[str, tuple[str, ...]]] = [(base, ())]
        while waiting:
            folder, names = waiting.pop()
            real = os.path.realpath(folder)
            if real in self._entered:
                continue
            self._entered.add(real)
            try:
                with os.scandir(folder) as entries:
                    found = sorted(entries, key=lambda entry: entry.name)
            except (FileNotFoundError, NotADirectoryError):
                continue
            except OSError as problem:
                what, cure = f"cannot be listed: {problem.strerror}", "give yourself the right to read it"
                self.problems.append(Diagnostic("folder-unreadable", what, cure, folder))
                continue
            for entry in found:
                if self._is_folder(entry, names) and len(self._parts) > 1 and not _passed_over(entry.name):
                    waiting.append((entry.path, (*names, entry.name)))

    def _is_folder(self, entry: os.DirEntry[str], names: tuple[str, ...]) -> bool:
        """Return whether an entry is a folder to enter; note it where it is what the glob names. names: of the folders
        that it is in."""
        if entry.is_symlink():
            return self._leads_to_folder(entry, names)
        if entry.is_dir(follow_symlinks=False):
            return True
        if self._is_named(entry, names):
            if entry.is_file(follow_symlinks=False):
                self.found.append(entry.path)
            else:
                self._leave_out(entry, "is neither a file nor a folder")
        return False

    def _leads_to_folder(self, entry: os.DirEntry[str], names: tuple[str, ...]) -> bool:
        real = os.path.realpath(entry.path)
        allowed = any(Path(real).is_relative_to(folder) for folder in self._readable)
        if allowed and os.path.isdir(real):
            if not f"{os.path.dirname(entry.path)}/".startswith(f"{real}/"):
                return True
            self._leave_out(entry, "is a link back to a folder that it is in")
        elif self._is_named(entry, names):
            if not allowed:
                what = f"is a link that leads out of the project, to {real}"
                self._leave_out(entry, what, "put the file itself there, or let it be read with --also-read FOLDER")
            elif os.path.isfile(real):
                self.found.append(entry.path)
            else:
                self._leave_out(entry, "is a link that leads nowhere")
        return False

    def _is_named(self, entry: os.DirEntry[str], names: tuple[str, ...]) -> bool:
        return fits((*names, entry.name), self._parts)

    def _leave_out(self, entry: os.DirEntry[str], what: str, cure: str = "remove it, or put a drawing there") -> None:
        self.problems.append(Diagnostic("no-file", f"{what}; it was left out", cure, entry.path))


def _passed_over(name: str) -> bool:
    """Return whether a folder holds no drawings of anybody's."""
    return name == STATE or (name.startswith(".") and belongs_to_version_control(name))


def _shown(path: str, inside: str) -> str:
    """Return a path as messages show it. inside: the project's path with a separator at its end."""
    short = path[len(inside) :] if path.startswith(inside) else os.path.relpath(path, inside)
    return short.replace(os.sep, "/")


class Sources(NamedTuple):
    """Drawings' files, ordered by icon name, and what is wrong with others that were left out."""

    found: list[Source]
    problems: list[Diagnostic]


class NamedFile(NamedTuple):
    """A file to become a source.

    Attributes:
        where: as messages show it.
        named: the part of it that the icon is named after.
    """

    where: str
    named: str


def clean_pattern(pattern: str) -> str:
    """Return a glob with slashes, and without `./` before it."""
    return pattern.replace("\\", "/").removeprefix("./")


def find_sources(
    root: Path, patterns: Sequence[str], folders: str = "ignore", also_read: Sequence[Path] = (), own: Own = frozenset()
) -> Sources:
    """Return the drawings that globs name.

    Args:
        folders: "prefix" puts the folders below the glob's fixed part before the name.
        also_read: folders outside of the project that may be read.
        own: files that are delivered here, which never count.

    Raise `OddPegError` where nothing can be built at all.
    """
    problems: list[Diagnostic] = []
    files: dict[str, NamedFile] = {}
    inside = str(root) + os.sep
    readable = [root, *(folder.resolve() for folder in also_read)]
    for pattern in patterns:
        clean = clean_pattern(pattern)
        try:
            base, rest = _split_pattern(root, clean)
            search = _Search(_allowed(base, readable, pattern), rest, readable)
        except ValueError as problem:
            what = f"icons.from: {pattern!r} is not a usable pattern: {problem}"
            raise UsageError(Diagnostic("bad-pattern", what, "use a form like icons/**/*.svg")) from None
        problems += [d._replace(where=_shown(d.where, inside)) for d in search.problems]
        fixed = len(fixed_part(clean)) + 1 if fixed_part(clean) else 0
        for path in sorted(search.found):
            where = _shown(path, inside)
            named = where[fixed:] if folders == "prefix" else where.rpartition("/")[2]
            if where not in own:
                files.setdefault(path, NamedFile(where, named))
    problems = list(dict.fromkeys(problems))
    if not files:
        what = f"no drawings found for {', '.join(patterns)}"
        cure = "check icons.from in oddpeg.toml; it is relative to that file"
        raise OddPegError(*problems, Diagnostic("no-drawings", what, cure, str(root)))
    found_sources, clashes = name_all(files)
    return Sources(found_sources, problems + clashes)


def _allowed(base: Path, readable: Sequence[Path], pattern: str) -> Path:
    """Return a glob's folder; raise `UsageError` where it must not be read."""
    real = base.resolve()
    if any(real.is_relative_to(folder) for folder in readable):
        return base
    what = f"icons.from: {pattern!r} leads out of the project, to {real}"
    cure = f"if that is meant, allow it on the command line: oddpeg --also-read {real} …"
    raise UsageError(Diagnostic("outside-project", what, cure))


def _is_text(name: str) -> bool:
    try:
        name.encode()
    except UnicodeEncodeError:
        return False
    return True


def name_all(files: Mapping[str, NamedFile]) -> Sources:
    """Return files as icons, and which were left out because their names clash or are none. files: by path."""
    faults: list[Diagnostic] = []
    by_name: dict[str, list[Source]] = {}
    for path, (where, named) in files.items():
        if not _is_text(where):
            shown = where.encode("utf-8", "backslashreplace").decode()
            what, cure = "its name is not UTF-8, so nothing can say where the icon comes from", "rename the file"
            faults.append(Diagnostic("name-not-text", what, cure, shown))
            continue
        name = icon_name(named)
        if not name:
            faults.append(
                Diagnostic(
                    "no-name", "its name holds no letter or digit, so the icon has no name", "rename the file", where
                )
            )
            continue
        by_name.setdefault(name, []).append(Source(name, path, where, named))
    kept: list[Source] = []
    for name in sorted(by_name):
        # a file that is called exactly like the icon has the better claim; then the first path
        first, *others = (
            by_name[name]
            if len(by_name[name]) == 1
            else sorted(by_name[name], key=lambda s: (s.named.rpartition(".")[0] != name, s.where))
        )
        kept.append(first)
        faults += [
            Diagnostic(
                "name-taken",
                f"is the icon {name!r} too, like {first.where}; this one was left out",
                "rename one of the two",
                s.where,
            )
            for s in others
        ]
    return Sources(kept, faults)


def renamed_file(source: Source, name: str) -> Path | None:
    """Return the file that would make a source the icon of another name; None where its folder forbids that name."""
    folder = icon_name(source.named.rpartition("/")[0])
    if folder and not name.startswith(folder + "-"):
        return None
    return source.path.with_name((name.removeprefix(folder + "-") if folder else name) + source.path.suffix)


def drawing_folders(root: Path, patterns: list[str]) -> list[Path]:
    """Return the folders that are set apart for drawings: where globs begin, unless that is the project itself."""
    folders = [root / fixed_part(clean_pattern(pattern)) for pattern in patterns]
    return [
        folder
        for folder in folders
        if folder.resolve() != root.resolve() and not root.resolve().is_relative_to(folder.resolve())
    ]


class ReadFile(NamedTuple):
    """One drawing's bytes, or why they cannot be read."""

    source: Source
    data: bytes | None
    problem: Diagnostic | None = None


def _read(path: str) -> bytes:
    try:
        return read_regular(path, LARGEST_DRAWING)
    except OSError as problem:
        if problem.errno not in (errno.ELOOP, errno.EMLINK):
            raise
        return read_regular(os.path.realpath(path), LARGEST_DRAWING)  # where it leads was looked at when it was found


def read_sources(sources: Iterable[Source]) -> list[ReadFile]:
    """Return the bytes of each source, in order."""
    found: list[ReadFile] = []
    for source in sources:
        try:
            found.append(ReadFile(source, _read(source.file)))
        except OSError as problem:
            what, cure = f"cannot be read: {problem.strerror}", "check its rights, its size, and that it is a file"
            found.append(ReadFile(source, None, Diagnostic("file-unreadable", what, cure, source.where)))
    return found
