"""Drawings on disk: which files, and which icon each one is.

Knows: globs, folders, file names. Does not know: what the files hold.
"""

from __future__ import annotations

import os
import re
from dataclasses import dataclass
from pathlib import Path

from oddpeg.faults import Fault, FaultsFound
from oddpeg.project.names import icon_name


@dataclass(frozen=True, slots=True)
class Source:
    """One drawing's file. where: its path as messages and maps show it, relative to the project, with slashes."""

    name: str
    path: Path
    where: str


def fixed_part(pattern: str) -> str:
    """Return the part of a glob before its first wildcard's path component."""
    return re.split(r"[*?\[]", pattern)[0].rpartition("/")[0]


def _unreadable_folders(root: Path) -> list[Fault]:
    faults: list[Fault] = []

    def failed(problem: OSError) -> None:
        faults.append(Fault(f"cannot be listed: {problem.strerror}", "give yourself the right to read it", str(problem.filename)))

    if root.is_dir():
        for _ in os.walk(root, onerror=failed):
            pass
    return faults


def _matches(root: Path, pattern: str) -> list[Path]:
    if Path(pattern).is_absolute():
        anchor = Path(Path(pattern).anchor)
        return [p for p in anchor.glob(str(Path(pattern).relative_to(anchor))) if p.is_file()]
    base, rest = root, pattern
    while rest.startswith("../"):
        base, rest = base.parent, rest[3:]
    return [p for p in base.glob(rest) if p.is_file()]


def _shown(path: str, inside: str) -> str:
    """Return a path as messages show it. inside: the project's path with a separator at its end."""
    short = path[len(inside) :] if path.startswith(inside) else os.path.relpath(path, inside)
    return short.replace(os.sep, "/")


def find_sources(root: Path, patterns: list[str]) -> tuple[list[Source], list[Fault]]:
    """Return the drawings that globs name, ordered by icon name, and what is wrong with them.
    Raise `FaultsFound` where nothing can be built at all."""
    faults: list[Fault] = []
    files: dict[Path, str] = {}
    inside = str(root) + os.sep
    for pattern in patterns:
        clean = pattern.replace("\\", "/").removeprefix("./")
        try:
            found = _matches(root, clean)
        except (ValueError, NotImplementedError) as problem:
            raise FaultsFound([Fault(f"icons.from: {pattern!r} is not a usable pattern: {problem}", "use a form like icons/**/*.svg")], 2) from None
        faults += _unreadable_folders(root / fixed_part(clean))
        for path in found:
            files.setdefault(path, _shown(str(path), inside))
    if not files:
        raise FaultsFound([*faults, Fault(f"no drawings found for {', '.join(patterns)}",
                                          "check icons.from in oddpeg.toml; it is relative to that file", str(root))])  # fmt: skip
    sources, clashes = name_all(files)
    return sources, faults + clashes


def name_all(files: dict[Path, str]) -> tuple[list[Source], list[Fault]]:
    """Return files as icons, ordered by name, and which were left out because their names clash or are none."""
    faults: list[Fault] = []
    by_name: dict[str, list[Source]] = {}
    for path, where in files.items():
        name = icon_name(path)
        if not name:
            faults.append(Fault("its name holds no letter or digit, so the icon has no name", "rename the file", where))
            continue
        by_name.setdefault(name, []).append(Source(name, path, where))
    kept: list[Source] = []
    for name in sorted(by_name):
        # a file that is called exactly like the icon has the better claim; then the first path
        first, *others = by_name[name] if len(by_name[name]) == 1 else sorted(by_name[name], key=lambda s: (s.path.stem != name, s.where))
        kept.append(first)
        faults += [
            Fault(f"is the icon {name!r} too, like {first.where}; this one was left out", "rename one of the two", s.where)
            for s in others
        ]
    return kept, faults


def drawing_folders(root: Path, patterns: list[str]) -> list[Path]:
    """Return the folders that are set apart for drawings: where globs begin, unless that is the project itself."""
    folders = [root / fixed_part(pattern.replace("\\", "/").removeprefix("./")) for pattern in patterns]
    return [folder for folder in folders if folder.resolve() != root.resolve() and not root.resolve().is_relative_to(folder.resolve())]


def read_sources(sources: list[Source]) -> tuple[list[bytes | None], list[Fault]]:
    """Return each file's bytes (None where it cannot be read) and what is wrong."""
    found: list[bytes | None] = []
    faults: list[Fault] = []
    for source in sources:
        try:
            found.append(source.path.read_bytes())
        except OSError as problem:
            found.append(None)
            faults.append(Fault(f"cannot be read: {problem.strerror}", "give yourself the right to read it", source.where))
    return found, faults
