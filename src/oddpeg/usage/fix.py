"""Correction of names in place, after a search for references."""

from __future__ import annotations

import hashlib
import stat
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.progress import SILENT, Progress
from oddpeg.sources.code import LARGEST_SOURCE, decoded, encoded
from oddpeg.store.transaction import FileStep, change_all, lock
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
    """Return the corrections of files in the project: unknown names with one near name, names from before a rename, and
    problems with one right answer."""
    wrong = [*report.unknown, *(one for those in report.older.values() for one in those)]
    corrected = [(one.place, one.name, one.nearest) for one in wrong]
    corrected += [(problem.place, problem.place.text, problem.fix) for problem in report.problems]
    changes: dict[tuple[str, int], Change] = {}  # one for each place
    for place, before, after in corrected:
        at = place.part[0]
        if after and not place.file.startswith("../"):
            changes.setdefault((place.file, at), Change(place.file, place.line, before, after, at))
    return sorted(changes.values())


def complete_interrupted(root: Path, progress: Progress = SILENT) -> None:
    """Complete a correction whose process was killed, or take it back."""
    with lock(root, progress.waiting):
        pass


def apply(root: Path, changes: Sequence[Change], progress: Progress = SILENT) -> int:
    """Replace names in their files, as one change; return how many files changed. Raise `OddPegError`, with everything
    as it was, where a file is not as it was read, or where a new file would not be the same one: read-only, or with
    several names."""
    with lock(root, progress.waiting):
        tree, texts, read = Tree(root), {}, {}
        for file in dict.fromkeys(change.file for change in changes):
            _require_replaceable(root / file, file)
            data = tree.read(file, LARGEST_SOURCE)
            read[file], texts[file] = hashlib.sha256(data).hexdigest(), decoded(data)
        for change in sorted(changes, key=lambda edit: -edit.at):  # from the end, so that offsets stay true
            text = texts[change.file]
            end = change.at + len(change.before)
            if text[change.at : end] != change.before:
                message = "changed while it was looked at; nothing was written"
                raise OddPegError(Diagnostic("edited-file", message, "run the command again", change.file, change.line))
            texts[change.file] = text[: change.at] + change.after + text[end:]
        change_all(root, [FileStep(file, encoded(text), read[file]) for file, text in texts.items()])
    return len(texts)


def _require_replaceable(path: Path, file: str) -> None:
    status = path.lstat()
    if not status.st_mode & stat.S_IWUSR:
        raise OddPegError(Diagnostic("edited-file", "is read-only; nothing was written", "make it writable", file))
    if status.st_nlink > 1:
        message = "is one file with several names (hard links), which would part; nothing was written"
        raise OddPegError(Diagnostic("edited-file", message, "correct the names in it yourself", file))
