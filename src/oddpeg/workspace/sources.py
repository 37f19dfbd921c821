"""Drawings on disk: which files, and which icon each one is.

Knows: globs, folders, file names. Does not know: what the files hold.
"""

from __future__ import annotations

import os
import re
from collections.abc import Mapping
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


def find_sources(root: Path, patterns: list[str], folders: str = "ignore") -> tuple[list[Source], list[Diagnostic]]:
    """Return the drawings that globs name, ordered by icon name, and what is wrong with them. folders: "prefix" puts
    the folders below the glob's fixed part before the name. Raise `OddPegError` where nothing can be built at all."""
    faults: list[Diagnostic] = []
    files: dict[str, tuple[str, str]] = {}
    inside = str(root) + os.sep
    for pattern in patterns:
        clean = pattern.replace("\\", "/").removeprefix("./")
        try:
            found = _matches(root, clean)
        except (ValueError, NotImplementedError) as problem:
            raise UsageError(
                Diagnostic(
                    "bad-pattern",
                    f"icons.from: {pattern!r} is not a usable pattern: {problem}",
                    "use a form like icons/**/*.svg",
                )
            ) from None
        faults += _unreadable_folders(root / fixed_part(clean))
        fixed = len(fixed_part(clean)) + 1 if fixed_part(clean) else 0
        for path in found:
            where = _shown(path, inside)
            files.setdefault(path, (where, where[fixed:] if folders == "prefix" else where.rpartition("/")[2]))
    if not files:
        raise OddPegError(
            *faults,
            Diagnostic(
                "no-drawings",
                f"no drawings found for {', '.join(patterns)}",
                "check icons.from in oddpeg.toml; it is relative to that file",
                str(root),
            ),
        )
    sources, clashes = name_all(files)
    return sources, faults + clashes


def name_all(files: Mapping[str, tuple[str, str]]) -> tuple[list[Source], list[Diagnostic]]:
    """Return files as icons, ordered by name, and which were left out because their names clash or are none.
    files: path → (path to show, the part of it to name the icon after)."""
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
    return kept, faults


def renamed_file(source: Source, name: str) -> Path | None:
    """Return the file that would make a source the icon of another name; None where its folder forbids that name."""
    folder = icon_name(source.named.rpartition("/")[0])
    if folder and not name.startswith(folder + "-"):
        return None
    return source.path.with_name((name.removeprefix(folder + "-") if folder else name) + source.path.suffix)


def drawing_folders(root: Path, patterns: list[str]) -> list[Path]:
    """Return the folders that are set apart for drawings: where globs begin, unless that is the project itself."""
    folders = [root / fixed_part(pattern.replace("\\", "/").removeprefix("./")) for pattern in patterns]
    return [
        folder
        for folder in folders
        if folder.resolve() != root.resolve() and not root.resolve().is_relative_to(folder.resolve())
    ]


def read_sources(sources: list[Source]) -> tuple[list[bytes | None], list[Diagnostic]]:
    """Return each file's bytes (None where it cannot be read) and what is wrong."""
    found: list[bytes | None] = []
    faults: list[Diagnostic] = []
    for source in sources:
        try:
            with open(source.file, "rb", buffering=0) as file:  # noqa: PTH123  thousands of small ones
                found.append(file.readall())
        except OSError as problem:
            found.append(None)
            faults.append(
                Diagnostic(
                    "file-unreadable",
                    f"cannot be read: {problem.strerror}",
                    "give yourself the right to read it",
                    source.where,
                )
            )
    return found, faults
