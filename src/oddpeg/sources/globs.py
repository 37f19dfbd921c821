"""Globs of files: the folder that each begins in, and a walk through it."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Sequence
from fnmatch import translate
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.store.state import STATE
from oddpeg.store.tree import belongs_to_version_control

Reached = frozenset[int]  # numbers of components of a glob that may match the components of a path so far


def clean_pattern(pattern: str) -> str:
    """Return a glob with slashes, and without `./` before it."""
    return pattern.replace("\\", "/").removeprefix("./")


def has_wildcard(pattern: str) -> bool:
    """Return whether a glob is more than the path of one file."""
    return re.search(r"[*?\[]", pattern) is not None


def fixed_part(pattern: str) -> str:
    """Return the part of a glob before its first wildcard's path component."""
    return re.split(r"[*?\[]", pattern)[0].rpartition("/")[0]


def _split_pattern(root: Path, pattern: str) -> tuple[Path, str]:
    """Return the folder that a glob starts in, and the rest of it; raise ValueError where it is not usable."""
    parts = pattern.split("/")
    if any("**" in part and part != "**" for part in parts):
        raise ValueError("** matches whole folders, so it needs a / on both sides")
    base = Path(Path(pattern).anchor) if Path(pattern).is_absolute() else root
    if base != root:
        pattern = str(Path(pattern).relative_to(base)).replace(os.sep, "/")
    while pattern.startswith("../"):
        base, pattern = base.parent, pattern[3:]
    if not pattern or ".." in pattern.split("/") or "\0" in pattern:
        raise ValueError("'..' may stand at the start only")
    fixed = fixed_part(pattern)
    return base / fixed, pattern[len(fixed) + 1 :] if fixed else pattern


class Glob:
    """A glob, matched component by component: the work grows with the product of its length and the path's."""

    def __init__(self, pattern: str) -> None:
        self.parts = pattern.split("/")
        self._tests: list[Callable[[str], object] | None] = [  # None for `**`, which is any number of components
            None if part == "**" else _tester(os.path.normcase(part)) for part in self.parts
        ]
        self.start = self._onwards({0})

    def after(self, places: Reached, name: str) -> Reached:
        """Return the places after one more component of a path."""
        name, positions = os.path.normcase(name), set()
        for place in places:
            if place < len(self._tests):
                test = self._tests[place]
                if test is None:
                    positions.add(place)
                elif test(name):
                    positions.add(place + 1)
        return self._onwards(positions)

    def ends_with(self, places: Reached, name: str) -> bool:
        """Return whether a path that led to these places fits the whole glob with one more component."""
        last = self._tests[-1]
        if last is None:
            return self.is_end(self.after(places, name))
        return len(self.parts) - 1 in places and bool(last(os.path.normcase(name)))

    def is_end(self, places: Reached) -> bool:
        """Return whether a path that led to these places fits the whole glob."""
        return len(self.parts) in places

    def leads_on(self, places: Reached) -> bool:
        """Return whether longer paths than one that led to these places may fit."""
        return any(place < len(self.parts) for place in places)

    def fits(self, names: Sequence[str]) -> bool:
        """Return whether the components of a path fit."""
        places = self.start
        for name in names:
            places = self.after(places, name)
        return self.is_end(places)

    def _onwards(self, places: set[int]) -> Reached:
        """Return places, and those after every `**` that may match nothing."""
        for place in sorted(places):
            while place < len(self._tests) and self._tests[place] is None:
                place += 1
                places.add(place)
        return frozenset(places)


def _tester(part: str) -> Callable[[str], object]:
    """Return the test for one component; capitals in an ending make no difference (`SIGN.SVG`)."""
    stem, dot, ending = part.rpartition(".")
    if not dot or not ending.isalnum():
        return re.compile(translate(part)).match
    return re.compile(rf"{translate(stem + dot)[:-2]}(?i:{ending})\Z").match


class _Folder(NamedTuple):
    """A folder to be walked through, and the places in the glob that its path leads to."""

    path: str
    places: Reached


class Search:
    """A walk through folders for the files that one glob names. Links are followed only to where reading is allowed,
    and no folder is entered twice.

    Attributes:
        found: paths of files.
        problems: with other files, which were skipped.
    """

    def __init__(self, base: Path, pattern: str, readable: Sequence[Path]) -> None:
        self._glob = Glob(pattern)
        self._readable = readable
        self._entered: set[str] = set()
        self.found: list[str] = []
        self.problems: list[Diagnostic] = []
        self._walk(str(base))

    def _walk(self, base: str) -> None:
        waiting = [_Folder(base, self._glob.start)]
        while waiting:
            folder = waiting.pop()
            real = os.path.realpath(folder.path)
            if real in self._entered:
                continue
            self._entered.add(real)
            try:
                with os.scandir(folder.path) as entries:
                    ordered = sorted(entries, key=lambda entry: entry.name)
            except (FileNotFoundError, NotADirectoryError):
                continue
            except OSError as problem:
                message, cure = f"cannot be listed: {problem.strerror}", "give yourself the right to read it"
                self.problems.append(Diagnostic("folder-unreadable", message, cure, folder.path))
                continue
            for entry in ordered:
                if not self._is_folder(entry, self._glob.ends_with(folder.places, entry.name)):
                    continue
                places = self._glob.after(folder.places, entry.name)
                if self._glob.leads_on(places) and not _passed_over(entry.name):
                    waiting.append(_Folder(entry.path, places))

    def _is_folder(self, entry: os.DirEntry[str], named: bool) -> bool:
        """Return whether an entry is a folder to enter; note it where the glob names it and it is a file."""
        if entry.is_symlink():
            return self._leads_to_folder(entry, named)
        if entry.is_dir(follow_symlinks=False):
            return True
        if named:
            if entry.is_file(follow_symlinks=False):
                self.found.append(entry.path)
            else:
                self._leave_out(entry, "is neither a file nor a folder")
        return False

    def _leads_to_folder(self, entry: os.DirEntry[str], named: bool) -> bool:
        real = os.path.realpath(entry.path)
        allowed = any(Path(real).is_relative_to(folder) for folder in self._readable)
        if allowed and os.path.isdir(real):
            if not f"{os.path.dirname(entry.path)}/".startswith(f"{real}/"):
                return True
            self._leave_out(entry, "is a link back to a folder that it is in")
        elif named:
            if not allowed:
                message = f"is a link that leads out of the project, to {real}"
                self._leave_out(entry, message, "put the file itself there, or let it be read with --also-read FOLDER")
            elif os.path.isfile(real):
                self.found.append(entry.path)
            else:
                self._leave_out(entry, "is a link that leads nowhere")
        return False

    def _leave_out(
        self, entry: os.DirEntry[str], message: str, cure: str = "remove it, or put a drawing there"
    ) -> None:
        self.problems.append(Diagnostic("no-file", f"{message}; it was skipped", cure, entry.path))


def search(root: Path, pattern: str, readable: Sequence[Path]) -> Search:
    """Return the files that a glob matches. readable: folders whose files may be read; raise `UsageError` where the
    glob is not usable, or begins elsewhere."""
    try:
        base, rest = _split_pattern(root, clean_pattern(pattern))
    except ValueError as problem:
        message = f"icons.from: {pattern!r} is not a usable pattern: {problem}"
        raise UsageError(Diagnostic("bad-pattern", message, "use a form like icons/**/*.svg")) from None
    real = base.resolve()
    if any(real.is_relative_to(folder) for folder in readable):
        return Search(base, rest, readable)
    message = f"icons.from: {pattern!r} leads out of the project, to {real}"
    cure = f"if that is meant, allow it on the command line: oddpeg --also-read {real} …"
    raise UsageError(Diagnostic("outside-project", message, cure))


def _passed_over(name: str) -> bool:
    """Return whether a folder is skipped: it holds records or version control."""
    return name == STATE or (name.startswith(".") and belongs_to_version_control(name))
