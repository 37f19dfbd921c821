"""Where a project may deliver to, and where never."""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from pathlib import Path

from oddpeg.diagnostics import Diagnostic
from oddpeg.store.state import STATE
from oddpeg.store.tree import Kind, Tree, belongs_to_version_control

_ELSEWHERE = "deliver into a folder of its own, like dist/web"


class Places:
    """The places of one project. Paths are relative to its root, with slashes."""

    def __init__(
        self, root: Path, inputs: Iterable[str], drawings: Iterable[str], drawing_folders: Iterable[str]
    ) -> None:
        """inputs: files that a build reads; drawing_folders: folders that hold drawings only."""
        self.root = root
        self._tree = Tree(root)
        self._drawing_folders = [_folded(folder) + "/" for folder in drawing_folders]
        self._drawings = {_folded(where) for where in drawings}
        self._inputs = {_folded(path) for path in inputs}
        self._longest = longest_name(root)

    def obstacle(self, path: str) -> Diagnostic | None:
        """Return the reason why a file at a path may not be written or removed, None where it may."""
        return self._outside(path) or self._reserved(path) or self._wrong_kind(path)

    def clashes(self, paths: Sequence[str]) -> list[Diagnostic]:
        """Return which of the paths to be written are in each other's way."""
        faults = []
        folded = {_folded(path): path for path in paths}
        if len(folded) < len(set(paths)):
            twins = sorted(path for path in paths if folded[_folded(path)] != path)
            message = "differs from another output's file in letter case alone; many file systems hold only one of them"
            faults += [Diagnostic("same-target", message, 'give one another place with "to"', path) for path in twins]
        for path in paths:
            for folder in _parents(path):
                if _folded(folder) in folded:
                    message = f"is needed as a folder for {path}, but an output goes to this very name"
                    faults.append(Diagnostic("file-is-folder", message, 'give one another place with "to"', folder))
        return faults

    def _outside(self, path: str) -> Diagnostic | None:
        if path == ".":
            message = "is the project's own folder, but a file goes there; build aborted"
            return Diagnostic("file-is-folder", message, "name a file", path)
        outside = path == ".." or path.startswith("../") or os.path.isabs(path)
        link = None if outside else self._tree.obstacle(path)
        if link is None and not outside:
            return None
        where = os.path.realpath(self.root / (link or path))
        if link is not None and Path(where).is_relative_to(self.root):
            message = f"is reached through the link {link}; build aborted"
            return Diagnostic("through-link", message, "name the folder that the link leads to", path)
        how = f" (the link {link} leads to {where})" if link else ""
        message = f"lies outside the project{how}; build aborted"
        cure = "choose a place in or below the folder of oddpeg.toml, or move oddpeg.toml up"
        return Diagnostic("outside-project", message, cure, path)

    def _reserved(self, path: str) -> Diagnostic | None:
        name = _folded(path)
        if name.split("/")[0].rstrip(". ") == STATE:
            message = "lies among Odd Peg's own records; build aborted"
            return Diagnostic("reserved-place", message, _ELSEWHERE, path)
        if belongs_to_version_control(path):
            message = "belongs to version control; build aborted"
            return Diagnostic("reserved-place", message, _ELSEWHERE, path)
        if name in self._inputs:
            message = "is what the build itself reads; build aborted"
            return Diagnostic("reserved-place", message, _ELSEWHERE, path)
        if name in self._drawings or any(name.startswith(folder) for folder in self._drawing_folders):
            return Diagnostic("among-drawings", "lies among the drawings; build aborted", _ELSEWHERE, path)
        return None

    def _wrong_kind(self, path: str) -> Diagnostic | None:
        if unusable := _unusable(path, self._longest):
            cure = 'name another "into" or "to" in oddpeg.toml'
            return Diagnostic("bad-place", f"{unusable}; build aborted", cure, path)
        for folder in _parents(path):
            if self._tree.kind(folder) not in (Kind.FOLDER, Kind.NOTHING):
                message = "is a file, but a folder is needed there"
                return Diagnostic(
                    "folder-is-file", message, "move it away, or change the bundle's place in oddpeg.toml", folder
                )
        if self._tree.kind(path) not in (Kind.FILE, Kind.NOTHING):
            kind = self._tree.kind(path).value
            cure = "move it away, or change the output's place in oddpeg.toml"
            return Diagnostic("file-is-folder", f"is {kind}, but a file goes there", cure, path)
        return None


def _folded(path: str) -> str:
    return path.casefold()


def _parents(path: str) -> list[str]:
    parts = path.split("/")
    return ["/".join(parts[:number]) for number in range(1, len(parts))]


def longest_name(root: Path) -> int:
    """Return how many bytes a file's name may have."""
    try:
        return os.pathconf(root, "PC_NAME_MAX")
    except (AttributeError, OSError, ValueError):
        return 255


def _unusable(path: str, longest: int) -> str | None:
    if path.startswith("~"):
        return "begins with ~, which is no home folder here"
    for part in path.split("/"):
        if part in ("", "."):
            return "is no path to a file below the project"
        size = len(part.encode("utf-8", "surrogateescape"))
        if size > longest:
            return f"holds a name of {size} bytes, and the file system takes {longest}"
        if any(ord(c) < 0x20 or ord(c) == 0x7F for c in part):
            return "holds a control character"
        if os.name == "nt" and (part != part.rstrip(". ") or ":" in part):
            return "is no name that Windows can hold"
    if len(os.fsencode(path)) > 3000:
        return "is longer than file systems take"
    return None
