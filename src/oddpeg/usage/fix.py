"""Correction of names in place, after a search for references."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.sources.code import LARGEST_SOURCE, decoded, encoded
from oddpeg.store.state import write_files
from oddpeg.store.tree import Tree
from oddpeg.usage.report import UsageReport


class Change(NamedTuple):
    """A name to be replaced.

    Attributes:
        file: relative to the project, with slashes.
        line: from 1.
        before, after: the name.
        at: its offset in the file, in characters.
    """

    file: str
    line: int
    before: str
    after: str
    at: int


def planned(report: UsageReport) -> list[Change]:
    """Return the names that can be corrected, in files of the project only: unknown names that one known name is near
    to, and names from before a rename."""
    wrong = [*report.unknown, *(one for those in report.older.values() for one in those)]
    return sorted(
        Change(one.place.file, one.place.line, one.name, one.nearest, one.place.part[0])
        for one in wrong
        if one.nearest and not one.place.file.startswith("../")
    )


def apply(root: Path, changes: Sequence[Change]) -> int:
    """Replace names in their files; return how many files changed. Raise `OddPegError` where a file is not as it was
    read."""
    tree, texts = Tree(root), {}
    for file in dict.fromkeys(change.file for change in changes):
        texts[file] = decoded(tree.read(file, LARGEST_SOURCE))
    for change in sorted(changes, key=lambda edit: -edit.at):  # from the end, so that offsets stay true
        text = texts[change.file]
        end = change.at + len(change.before)
        if text[change.at : end] != change.before:
            message = "changed while it was looked at; nothing was written"
            raise OddPegError(Diagnostic("edited-file", message, "run the command again", change.file, change.line))
        texts[change.file] = text[: change.at] + change.after + text[end:]
    write_files({root / file: encoded(text) for file, text in texts.items()}, root)
    return len(texts)
