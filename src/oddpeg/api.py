"""The functions of the public API; `oddpeg` itself is where they are imported from."""

from __future__ import annotations

from collections.abc import Sequence
from os import PathLike
from pathlib import Path

from oddpeg.building import run as _build
from oddpeg.building.report import DEFAULTS, BuildOptions, BuildReport
from oddpeg.checking import run as _check
from oddpeg.checking.run import CheckReport
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.iconset.search import Hit
from oddpeg.lookup import find as _find
from oddpeg.lookup import use as _lookup
from oddpeg.lookup.use import Use
from oddpeg.progress import SILENT, Progress
from oddpeg.project import icon_sets as _icon_sets
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.proof import run as _prove
from oddpeg.proof.model import ProofOptions
from oddpeg.proof.report import Proof


def open_project(config: str | PathLike[str] | None = None, also_read: Sequence[str | PathLike[str]] = ()) -> Project:
    """Return the project of an `oddpeg.toml`.

    config: the file or its folder; by default the nearest one, from the current folder upwards; also_read: folders
    outside of the project that drawings, tables and templates may be read from. Raise `UsageError` with every error in
    the file, or if there is no file.
    """
    return Project.open(None if config is None else Path(config), also_read=[Path(folder) for folder in also_read])


def _required(project: Project) -> Project:
    """Return the project that a function was given.

    Raise `TypeError` where something else is given, such as a path.
    """
    if not isinstance(project, Project):
        given = f"{type(project).__name__} {str(project)!r}"
        raise TypeError(f"a project is needed, not {given}: open it with oddpeg.open_project({str(project)!r})")
    return project


def _now(project: Project) -> Snapshot:
    return Snapshot(_required(project))


def build(project: Project, options: BuildOptions = DEFAULTS, progress: Progress = SILENT) -> BuildReport:
    """Build the font and all outputs as one change on disk, and return the report.

    Raise `OddPegError` where nothing can be built; nothing has changed then. Errors that exclude single icons are in
    `faults` of the report.
    """
    return _build.build(_required(project), options, progress)


def check(project: Project, paths: Sequence[str | PathLike[str]] = (), progress: Progress = SILENT) -> CheckReport:
    """Return a verdict on every drawing of the project, or of the files and folders named. Nothing is written.

    Raise `OddPegError` where there are no drawings.
    """
    return _check.check(_now(project), [Path(path) for path in paths], progress)


def prove(
    project: Project, icons: Sequence[str] = (), sizes: Sequence[int] = (128,), progress: Progress = SILENT
) -> Proof:
    """Compare glyphs of the finished font with their drawings, as our own painter shows them and as a witness does: an
    independent renderer, if one is installed.

    icons: names, all where none is given; sizes: pixels to the em. Raise `OddPegError` where nothing was built yet,
    `UsageError` where there is no such icon.
    """
    return _prove.prove(_now(project), ProofOptions(icons, sizes), progress)


def icon_set(project: Project) -> IconSet:
    """Return every icon that has a peg and a drawing, with its codepoint and all that is known of it.

    Nothing is outlined: advances are 0, and there are no faces. Raise `OddPegError` where there are no drawings, or the
    pegboard is wrong.
    """
    return _icon_sets.known_icons(_now(project))


def find(project: Project, query: str, face: str = "") -> list[Hit]:
    """Return the icons that fit every word of a query, best first; scores go from 0 to 1. face: only icons that it has.

    Words are looked for in names, aliases, tags, titles and descriptions; a codepoint (U+E001) is found too.
    """
    return _find.find(_now(project), query, face)


def snippets(project: Project, icon: str) -> list[Use]:
    """Return the lines to paste for an icon, for every output of the project's bundles, and for use without a bundle.

    icon: its name, an alias, or its codepoint. Raise `OddPegError` with similar names if no icon has this one.
    """
    current = _now(project)
    icons = _icon_sets.known_icons(current)
    resolved: Icon = _lookup.icon_named(icons, icon)
    return _lookup.uses(current, icons, resolved)
