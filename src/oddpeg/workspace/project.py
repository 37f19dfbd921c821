"""A project: a folder, its config, and every question about where things are and what they are called.

Method once for each command. What is found on disk is found once, when it is first asked for.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Collection
from contextlib import AbstractContextManager
from functools import cached_property
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.info import file_stem, resource_name
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.model import ClassNames, Naming
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import parse_board
from oddpeg.workspace.config import FILE, load_config
from oddpeg.workspace.icon_tables import load_metadata
from oddpeg.workspace.records import Arrivals, read_record
from oddpeg.workspace.settings import BundleTable, Config, OutputTable
from oddpeg.workspace.sources import Source, Sources, drawing_folders, find_sources
from oddpeg.workspace.transaction import STATE, interrupted, lock


def find_config(given: Path | None) -> Path:
    """Return the config named (the file, or the folder it is in), or the nearest upwards from where we are."""
    if given is not None:
        return given / FILE if given.is_dir() else given
    here = Path.cwd()
    for folder in (here, *here.parents):
        if (folder / FILE).is_file():
            return folder / FILE
    return here / FILE


class Project:
    """One project. root: the folder of its config; config: what that says."""

    def __init__(self, root: Path, config: Config, config_path: Path | None = None) -> None:
        self.root = root
        self.config = config
        self.config_path = config_path or root / FILE

    @classmethod
    def open(cls, config: Path | None = None, remember: bool = False) -> Project:
        """Return the project of a config (the nearest upwards, where none is named); raise `UsageError` with every
        fault in it.

        remember: note beside the project that the config is valid, which makes the next start faster.
        """
        path = find_config(config)
        return cls(path.resolve().parent, load_config(path, remember), path.resolve())

    # -- names --------------------------------------------------------------------------------

    def relative(self, path: Path) -> str:
        """Return a path as messages and records show it: relative to the project, with slashes."""
        return os.path.relpath(path, self.root).replace(os.sep, "/")

    @cached_property
    def naming(self) -> Naming:
        """What the font is called and says of itself."""
        font = self.config.font
        stem = file_stem(font.family)
        return Naming(font.family, font.version, stem, font.copyright, font.licence, font.licence_url, font.designer)

    @cached_property
    def classes(self) -> ClassNames:
        """Names in stylesheets."""
        table = self.config.classes
        return ClassNames(
            table.prefix, self.config.base_class, tuple(table.sizes.items()), tuple(table.colours.items())
        )

    def font_stem(self, bundle: BundleTable) -> str:
        """Return the name of a bundle's font files, without ending."""
        stem = self.naming.stem
        return resource_name(stem) if any(KINDS[o.kind].resource_names for o in bundle.outputs) else stem

    def font_path(self, bundle: BundleTable, file_format: str) -> Path:
        """Return where a bundle's font of a format goes."""
        return self.root / bundle.into / f"{self.font_stem(bundle)}.{file_format}"

    def output_path(self, bundle: BundleTable, output: OutputTable) -> Path:
        """Return where an output goes."""
        return self.root / bundle.into / (output.to or KINDS[output.kind].file_name(self.naming))

    def state_path(self, name: str) -> Path:
        """Return the path of a file in the folder that holds the project's records and caches."""
        return self.root / STATE / name

    def line_of(self, key: str) -> int | None:
        """Return the line of the config that a key, or the nearest thing around it, stands on."""
        from oddpeg.workspace.toml_lines import key_lines, line_of

        try:
            return line_of(key_lines(self.config_path.read_text(encoding="utf-8-sig")), tuple(key.split(".")))
        except (OSError, UnicodeDecodeError):
            return None

    # -- what is there ------------------------------------------------------------------------

    @cached_property
    def sources(self) -> Sources:
        """The drawings; raises `OddPegError` where there are none."""
        return find_sources(self.root, self.config.icons.from_, self.config.icons.folders)

    @cached_property
    def drawing_folders(self) -> list[Path]:
        """The folders that are set apart for drawings."""
        return drawing_folders(self.root, self.config.icons.from_)

    @property
    def board_path(self) -> Path:
        """Where the pegboard is."""
        return self.root / PEGBOARD

    def board_text(self) -> str:
        """Return the pegboard's text; raise FileNotFoundError where there is none yet, `OddPegError` where it cannot be
        read."""
        try:
            return self.board_path.read_text(encoding="utf-8-sig")
        except FileNotFoundError:
            raise
        except (OSError, UnicodeDecodeError) as problem:
            cure = "restore it from version control"
            raise OddPegError(Diagnostic("pegboard-unreadable", f"cannot be read: {problem}", cure, PEGBOARD)) from None

    def load_board(self) -> Pegboard:
        """Return the pegboard as it is on disk, empty where there is none yet; raise `OddPegError` with every fault."""
        try:
            return parse_board(self.board_text())
        except FileNotFoundError:
            return Pegboard()

    def metadata(self, sources: Collection[Source], older: Collection[str]) -> Metadata:
        """Return what is known of icons besides their drawings. older: names that the pegboard keeps for icons
        renamed."""
        return load_metadata(self.root, self.config, sources, older)

    @cached_property
    def arrivals(self) -> Arrivals:
        """With which version each codepoint came."""
        return Arrivals(read_record(self.state_path("arrivals.json")), self.config.font.version)

    # -- changing it --------------------------------------------------------------------------

    def lock(self, waiting: Callable[[], None] = lambda: None) -> AbstractContextManager[None]:
        """Hold the project alone; complete what a killed process left. waiting: called once if another one is at
        work."""
        return lock(self.root, waiting)

    def interrupted(self) -> bool:
        """Return whether a killed process left a change to be completed."""
        return interrupted(self.root)
