"""Drawings on disk: which files, and which icon each one is."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Mapping, Sequence
from glob import glob
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.names import icon_name


class Source(NamedTuple):
    """One drawing's file. file: its path; where: the same as messages and maps show it, relative to the project, with
    slashes; named: the part of it that the icon is named after."""

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


def _unreadable_folders(root: Path) -> list[Diagnostic]:
    faults: list[Diagnostic] = []

    def failed(problem: OSError) -> None:
        faults.append(
            Diagnostic(
                "folder-unreadable",
                f"cannot be listed: {problem.strerror}",
                "give yourself the right to read it",
                str(problem.filename),
            )
        )

    if root.is_dir():
        for _ in os.walk(root, onerror=failed):
            pass
    return faults


def _matches(root: Path, pattern: str) -> list[str]:
    """Return the paths of files. Strings rather than paths: thousands of them are made, compared and looked up."""
    parts = pattern.split("/")
    if any("**" in part and part != "**" for part in parts):
        raise ValueError("** stands for whole folders, so it needs a / on both sides")
    base = Path(Path(pattern).anchor) if Path(pattern).is_absolute() else root
    if base != root:
        pattern = str(Path(pattern).relative_to(base)).replace(os.sep, "/")
    while pattern.startswith("../"):
        base, pattern = base.parent, pattern[3:]
    if not pattern or ".." in pattern.split("/"):
        raise ValueError("'..' may stand at the start only")
    stem = os.path.join(base, "")
    found = (stem + name for name in glob(pattern, root_dir=base, recursive=True, include_hidden=True))  # noqa: PTH207
    return sorted(filter(os.path.isfile, found))


def _shown(path: str, inside: str) -> str:
    """Return a path as messages show it. inside: the project's path with a separator at its end."""
    short = path[len(inside) :] if path.startswith(inside) else os.path.relpath(path, inside)
    return short.replace(os.sep, "/")


class Sources(NamedTuple):
    """Drawings' files, ordered by icon name, and what is wrong with others that were left out."""

    found: list[Source]
    problems: list[Diagnostic]


class NamedFile(NamedTuple):
    """A file to become a source. where: as messages show it; named: the part of it that the icon is named after."""

    where: str
    named: str


def clean_pattern(pattern: str) -> str:
    """Return a glob with slashes, and without `./` before it."""
    return pattern.replace("\\", "/").removeprefix("./")


def find_sources(root: Path, patterns: Sequence[str], folders: str = "ignore") -> Sources:
    """Return the drawings that globs name. folders: "prefix" puts the folders below the glob's fixed part before the
    name. Raise `OddPegError` where nothing can be built at all."""
    problems: list[Diagnostic] = []
    files: dict[str, NamedFile] = {}
    inside = str(root) + os.sep
    for pattern in patterns:
        clean = clean_pattern(pattern)
        try:
            found = _matches(root, clean)
        except (ValueError, NotImplementedError) as problem:
            what = f"icons.from: {pattern!r} is not a usable pattern: {problem}"
            raise UsageError(Diagnostic("bad-pattern", what, "use a form like icons/**/*.svg")) from None
        problems += _unreadable_folders(root / fixed_part(clean))
        fixed = len(fixed_part(clean)) + 1 if fixed_part(clean) else 0
        for path in found:
            where = _shown(path, inside)
            named = where[fixed:] if folders == "prefix" else where.rpartition("/")[2]
            files.setdefault(path, NamedFile(where, named))
    if not files:
        what = f"no drawings found for {', '.join(patterns)}"
        cure = "check icons.from in oddpeg.toml; it is relative to that file"
        raise OddPegError(*problems, Diagnostic("no-drawings", what, cure, str(root)))
    found_sources, clashes = name_all(files)
    return Sources(found_sources, problems + clashes)


def name_all(files: Mapping[str, NamedFile]) -> Sources:
    """Return files as icons, and which were left out because their names clash or are none. files: by path."""
    faults: list[Diagnostic] = []
    by_name: dict[str, list[Source]] = {}
    for path, (where, named) in files.items():
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


def read_sources(sources: Iterable[Source]) -> list[ReadFile]:
    """Return the bytes of each source, in order."""
    found: list[ReadFile] = []
    for source in sources:
        try:
            with open(source.file, "rb", buffering=0) as file:  # noqa: PTH123  thousands of small ones
                found.append(ReadFile(source, file.readall()))
        except OSError as problem:
            what, cure = f"cannot be read: {problem.strerror}", "give yourself the right to read it"
            found.append(ReadFile(source, None, Diagnostic("file-unreadable", what, cure, source.where)))
    return found
