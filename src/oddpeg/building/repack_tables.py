"""The `[repack.*]` tables of a config: fonts that exist, packed again in every build that has work to do."""

from __future__ import annotations

import posixpath
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.config.font_settings import RepackTable
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.read.unpack import LARGEST_FONT
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.delivery import BundleFiles

if TYPE_CHECKING:
    from oddpeg.existing_fonts.repack import RepackOptions


def bundle_name(name: str) -> str:
    """Return the name under which the files of a table are delivered; no bundle is called so."""
    return f"repack {name}"


class RepackedTable(NamedTuple):
    """The files of a `[repack]` table, or the errors that prevent them.

    Attributes:
        bundle: name of the delivery.
        files: None if there is an error.
        faults, notes: errors; warnings and notices.
    """

    bundle: str
    files: BundleFiles | None
    faults: list[Diagnostic]
    notes: list[Diagnostic]


def repack_table(snapshot: Snapshot, name: str, table: RepackTable) -> RepackedTable:
    """Return the packed font of a table."""
    from oddpeg.existing_fonts.repack import RepackOptions, repack_data  # much to load, for few projects

    codes = _used(snapshot) if table.used else frozenset()
    options = RepackOptions(table.fonts, table.css, table.only, table.text, codes, table.drop_layout, table.family)
    try:
        options = _with_files(snapshot, name, table, options)
        data = snapshot.read_input(table.font, LARGEST_FONT)
        results = repack_data(Path(table.font), data, options)
    except OSError as problem:
        message, cure = f"cannot be read: {problem.strerror}", f"set repack.{name}.font to the font file"
        return RepackedTable(bundle_name(name), None, [Diagnostic("file-unreadable", message, cure, table.font)], [])
    except OddPegError as problem:
        return RepackedTable(bundle_name(name), None, list(problem.diagnostics), [])
    folder = snapshot.project.relative(snapshot.project.root / table.into)
    files = {posixpath.join(folder, file.name): file.data for one in results for file in one.files}
    fonts = {path: data for path, data in files.items() if not path.endswith((".css", ".txt"))}
    texts = {path: data for path, data in files.items() if path not in fonts}
    notes = [warning for one in results for warning in one.warnings]
    return RepackedTable(bundle_name(name), BundleFiles(fonts, texts, {}, {}), [], notes)


def _with_files(snapshot: Snapshot, name: str, table: RepackTable, options: RepackOptions) -> RepackOptions:
    """Return options with the content of the files that a table names; raise `OddPegError` where one cannot be read."""
    from oddpeg.existing_fonts.repack import labels_in, line_metrics_in

    if table.names:
        data = snapshot.input_named(table.names, f"repack.{name}.names")
        options = replace(options, labels=labels_in(data, table.names))
    if table.metrics_of:
        data = snapshot.input_named(table.metrics_of, f"repack.{name}.metrics_of")
        options = replace(options, like=line_metrics_in(data, table.metrics_of))
    return options


def _used(snapshot: Snapshot) -> frozenset[int]:
    """Return the codepoints of the icons that the project's code uses."""
    pegs = snapshot.board.pegs
    return frozenset(pegs[name].codepoint for name in snapshot.used or () if name in pegs)
