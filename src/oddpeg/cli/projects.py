"""The project that a command works on."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from oddpeg.project.project import Project
    from oddpeg.project.snapshot import Snapshot

also_read: list[Path] = []  # as the command line says; filled once, before a command runs


def opened(config: Path | None = None, remember: bool = False) -> Project:
    """Return the project of a config (the nearest upwards, where none is named); raise `UsageError` where its config is
    wrong."""
    from oddpeg.project.project import Project

    return Project.open(config, remember, also_read)


def snapshot(config: Path | None = None) -> Snapshot:
    """Return a snapshot of the project of a config; raise `UsageError` where its config is wrong."""
    from oddpeg.project.snapshot import Snapshot

    return Snapshot(opened(config))
