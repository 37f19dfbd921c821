"""Drawings that lie where the config looks for drawings, and that no pattern matches."""

from __future__ import annotations

import os
from collections.abc import Collection, Iterator, Sequence
from pathlib import Path

from oddpeg.diagnostics import Diagnostic
from oddpeg.sources.drawings import Own
from oddpeg.sources.globs import clean_pattern, fixed_part

_SHOWN = 3
_MOST_READ = 200  # files with other endings
_HEAD = 400  # bytes
_PASSED_OVER = frozenset(("node_modules", "__pycache__"))


def unmatched_drawings(
    root: Path, patterns: Sequence[str], matched: Collection[str], delivered: Own
) -> list[Diagnostic]:
    """Return warnings of SVG files in the folders of patterns that none of them matches, and of files that are SVG by
    their content only. A pattern that selects by more than the ending means it, so its folder is not looked at.

    matched: paths; delivered: files that are delivered, relative to the project.
    """
    named, disguised = [], []
    budget = _MOST_READ
    for folder in _folders(root, patterns):
        for path in _files(folder):
            where = os.path.relpath(path, root).replace(os.sep, "/")
            if path in matched or where in delivered:
                continue
            if path.lower().endswith(".svg"):
                named.append(where)
            elif "." not in os.path.basename(path) or path.lower().endswith((".xml", ".txt", ".svgz", ".sgv", ".vsg")):
                budget -= 1
                if budget >= 0 and _is_svg(path):
                    disguised.append(where)
    warnings = []
    if named:
        cure = "add a pattern to icons.from such as FOLDER/**/*.svg, or move them elsewhere"
        message = f"{_listed(named)}: no pattern of icons.from matches, so {_no_icons(named)}"
        warnings.append(Diagnostic("drawing-unmatched", message, cure, "oddpeg.toml"))
    if disguised:
        message = f"{_listed(disguised)}: SVG by content, but not by name, so {_no_icons(disguised)}"
        warnings.append(Diagnostic("drawing-unmatched", message, "rename to NAME.svg", "oddpeg.toml"))
    return warnings


def _listed(places: Sequence[str]) -> str:
    shown = ", ".join(sorted(places)[:_SHOWN])
    return f"{shown} and {len(places) - _SHOWN} more" if len(places) > _SHOWN else shown


def _no_icons(places: Sequence[str]) -> str:
    return "it is no icon" if len(places) == 1 else "they are no icons"


def _folders(root: Path, patterns: Sequence[str]) -> list[str]:
    """Return the folders of patterns, without those in others; the project itself is none of drawings only."""
    found: dict[str, bool] = {}
    for pattern in map(clean_pattern, patterns):
        fixed = fixed_part(pattern)
        if fixed and not Path(fixed).is_absolute() and ".." not in fixed.split("/"):
            folder = str(root / fixed)
            found[folder] = found.get(folder, True) and pattern.rpartition("/")[2].lower() == "*.svg"
    return [
        folder
        for folder, all_drawings in found.items()
        if all_drawings and not any(folder.startswith(other + os.sep) for other in found)
    ]


def _files(folder: str) -> Iterator[str]:
    """Yield the regular files in and below a folder; links are not followed."""
    for place, folders, files in os.walk(folder):
        folders[:] = sorted(name for name in folders if not name.startswith(".") and name not in _PASSED_OVER)
        for name in sorted(files):
            if not name.startswith(".") and not os.path.islink(os.path.join(place, name)):
                yield os.path.join(place, name)


def _is_svg(path: str) -> bool:
    """Return whether a file begins like an SVG document, or like a packed one."""
    if not os.path.isfile(path):  # a pipe would never end
        return False
    try:
        with Path(path).open("rb") as file:
            head = file.read(_HEAD)
    except OSError:
        return False
    if head.startswith(b"\x1f\x8b"):
        return path.lower().endswith(".svgz")
    head = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    return head.startswith((b"<svg", b"<?xml", b"<!--", b"<!DOCTYPE svg")) and b"<svg" in head
