"""The em of a build, pinned by the first delivery."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.progress import SILENT, Progress
from oddpeg.project.em import DESCENT, NOTHING_KEPT, UNITS, asked_for, project_em
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.records import Choice, choices_bytes
from oddpeg.store.state import STATE
from oddpeg.store.transaction import FileStep, change_all, lock

RECORD = f"{STATE}/placement.json"


class Repinned(NamedTuple):
    """The pinned em of a project before and after."""

    before: Em
    after: Em


def placement_record(project: Project, em: Em) -> bytes:
    """Return the content of the placement record."""
    asked = asked_for(project.config)
    return choices_bytes({UNITS: Choice(asked[UNITS], em.units), DESCENT: Choice(asked[DESCENT], em.drop)})


def kept_notes(chosen: ChosenEm, icons: int) -> list[Diagnostic]:
    """Return a warning if another em suits the drawings better than the pinned one. icons: that would change."""
    if chosen.suited is None:
        return []
    old, new = chosen.em, chosen.suited
    parts = [f"{new.units} units per em in place of {old.units}"] if new.units != old.units else []
    if abs(new.drop - old.drop) > 1e-6:
        parts.append(f"a descent of {new.drop:.4g} in place of {old.drop:.4g}")
    message = f"{' and '.join(parts)} would suit the drawings, and change all {icons} icons; the old values were kept"
    cure = f"run `oddpeg config --repin` to change them, or set font.units_per_em = {old.units} and "
    cure += f"font.descent = {old.drop:.6g} to keep them for good"
    return [Diagnostic("placement-kept", message, cure, "oddpeg.toml")]


def repin(project: Project, progress: Progress = SILENT) -> Repinned:
    """Choose and pin the best em for the drawings of a project. Raise `OddPegError` where
    there are no drawings, or the record cannot be written."""
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        before, after = project_em(snapshot), project_em(snapshot, NOTHING_KEPT._replace(font_drop=snapshot.font_drop))
        change_all(project.root, [FileStep(RECORD, placement_record(project, after.em))])
    return Repinned(before.em, after.em)
