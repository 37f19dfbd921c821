"""The files of a project's own code, and their text."""

from __future__ import annotations

import errno
import os
import subprocess
from collections.abc import Iterator, Sequence
from enum import Enum
from pathlib import Path
from typing import NamedTuple

from oddpeg.outputs.generated import is_generated
from oddpeg.sources.git import ENVIRONMENT, git_command
from oddpeg.sources.globs import clean_pattern
from oddpeg.store.state import STATE
from oddpeg.store.tree import Tree, belongs_to_version_control, read_regular

LARGEST_SOURCE = 8_000_000  # bytes: no one wrote more than that into one file
_IGNORE_FILES = (".gitignore", ".ignore")
_VENDORED = frozenset(
    ("node_modules", "bower_components", "vendor", "third_party", "site-packages", "Pods", "Carthage", "__pycache__")
)
_LONG_LINE = 2000  # characters in the mean: no one wrote that
_NOT_CODE = """png jpg jpeg gif webp avif ico bmp tif tiff pdf zip gz xz bz2 7z jar class o a so dll exe wasm woff woff2
ttf otf eot mp3 mp4 ogg webm mov wav pyc lock map svg svgz csv"""
_BINARY = frozenset(_NOT_CODE.split())
_TIMEOUT = 60  # seconds for git


class PassedOver(Enum):
    """Why a file is not read as code."""

    BINARY = "binary"
    GENERATED = "written by Odd Peg"
    MINIFIED = "minified"
    LARGE = "too large"
    UNREADABLE = "unreadable"
    VENDORED = "folders of other people's code"


class SourceText(NamedTuple):
    """The text of a code file, or the reason why it was skipped."""

    text: str
    passed: PassedOver | None = None


class CodeFiles(NamedTuple):
    """Files of code.

    Attributes:
        paths: sorted.
        vendored: number of skipped folders with third-party code.
    """

    paths: list[str]
    vendored: int


def list_files(root: Path, places: Sequence[Path], ignored: frozenset[str]) -> CodeFiles:
    """Return the files of code in some folders, without vendored, ignored and generated ones.

    root: of the project; places: files or folders, by default the whole project; ignored: delivered files, relative to
    the project.
    """
    paths: dict[str, None] = {}
    vendored: set[str] = set()
    for place in places or [root]:
        if place.is_file():
            paths[str(place)] = None
            continue
        names = [] if places else _tracked(place, vendored)
        paths |= dict.fromkeys(names or _walked(place, vendored))
    inside = str(root) + os.sep
    kept = (path for path in paths if path.removeprefix(inside).replace(os.sep, "/") not in ignored)
    return CodeFiles(sorted(path for path in kept if path.rpartition(".")[2].lower() not in _BINARY), len(vendored))


def may_be_code(where: str, places: Sequence[str]) -> bool:
    """Return whether `usage` reads a file. where: relative to the project, with slashes; places: files and folders to
    read; empty for all.
    """
    parts = where.split("/")
    if parts[-1].rpartition(".")[2].lower() in _BINARY or _VENDORED.intersection(parts):
        return False
    wanted = [clean_pattern(name).rstrip("/") for name in places]
    return not wanted or any(where == place or where.startswith(f"{place}/") for place in wanted)


def _tracked(folder: Path, vendored: set[str]) -> list[str]:
    """Return the files that git tracks, or would if they were added; nothing without a repository, or where git fails.
    vendored: gets the folders that were skipped."""
    if not any((parent / ".git").exists() for parent in (folder, *folder.parents)):
        return []
    try:
        listing = subprocess.run(
            [*git_command(folder), "ls-files", "-z", "--cached", "--others", "--exclude-standard"],
            cwd=folder,
            capture_output=True,
            stdin=subprocess.DEVNULL,
            timeout=_TIMEOUT,
            check=True,
            env={**os.environ, **ENVIRONMENT},
        )
    except (OSError, subprocess.SubprocessError):
        return []
    names = (os.fsdecode(name) for name in listing.stdout.split(b"\0") if name)
    kept = []
    for name in names:
        parts = name.split("/")
        if os.path.isabs(name) or ".." in parts:
            continue  # no index that git wrote has such names
        first = next((number for number, part in enumerate(parts[:-1], 1) if part in _VENDORED), 0)
        if first:
            vendored.add("/".join(parts[:first]))
        else:
            kept.append(os.path.join(folder, name))
    return kept


def _walked(folder: Path, vendored: set[str]) -> Iterator[str]:
    """Yield the files below a folder that no ignore file excludes. Links are not followed. vendored: gets the folders
    that were skipped."""
    from pathspec import GitIgnoreSpec

    waiting: list[tuple[str, list[tuple[str, GitIgnoreSpec]]]] = [(str(folder), [])]
    while waiting:
        here, specs = waiting.pop()
        lines = [line for name in _IGNORE_FILES for line in _lines(os.path.join(here, name))]
        if lines:
            specs = [*specs, (here, GitIgnoreSpec.from_lines(lines))]
        try:
            with os.scandir(here) as entries:
                ordered = sorted(entries, key=lambda entry: entry.name)
        except OSError:
            continue
        for entry in ordered:
            if entry.is_symlink() or _is_ignored(entry, specs):
                continue
            if entry.is_dir():
                if entry.name in _VENDORED:
                    vendored.add(entry.path)
                elif not entry.name.startswith(".") and entry.name != STATE:
                    waiting.append((entry.path, specs))
            elif entry.is_file() and not belongs_to_version_control(entry.name):
                yield entry.path


def _is_ignored(entry: os.DirEntry[str], specs: Sequence[tuple[str, object]]) -> bool:
    for base, spec in specs:
        name = os.path.relpath(entry.path, base).replace(os.sep, "/")
        if spec.match_file(name + "/" if entry.is_dir() else name):  # type: ignore[attr-defined]
            return True
    return False


def _lines(path: str) -> list[str]:
    try:
        return read_regular(path, 1_000_000).decode("utf-8", "replace").splitlines()
    except OSError:
        return []


def decoded(data: bytes) -> str:
    """Return a source's bytes as text, of which `encoded` makes the same bytes again, invalid UTF-8 and all."""
    return data.decode("utf-8", "surrogateescape")


def encoded(text: str) -> bytes:
    """Return the bytes of a text that was `decoded`."""
    return text.encode("utf-8", "surrogateescape")


def read_source(root: Path, path: str) -> SourceText:
    """Return the text of a file. root: of the project, within which no link is followed, not even on the way to the
    file."""
    inside = str(root) + os.sep
    try:
        if path.startswith(inside):
            data = Tree(root).read(path.removeprefix(inside).replace(os.sep, "/"), LARGEST_SOURCE)
        else:
            data = read_regular(path, LARGEST_SOURCE)
    except OSError as problem:
        return SourceText("", PassedOver.LARGE if problem.errno == errno.EFBIG else PassedOver.UNREADABLE)
    if b"\0" in data[:8192]:
        return SourceText("", PassedOver.BINARY)
    name = os.path.basename(path)
    minified = ".min." in name or (len(data) > 20_000 and len(data) > _LONG_LINE * (data.count(b"\n") + 1))
    if minified:
        return SourceText("", PassedOver.MINIFIED)
    if is_generated(data):
        return SourceText("", PassedOver.GENERATED)
    return SourceText(decoded(data))
