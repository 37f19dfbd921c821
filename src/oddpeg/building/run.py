"""The main job, as one readable line: drawings → outlines → fonts → outputs → disk."""

from __future__ import annotations

import time
from dataclasses import replace

from oddpeg.building.last_build import read_inputs, recall
from oddpeg.building.report import DEFAULTS, BuildOptions, BuildReport
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.progress import SILENT, Progress
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.transaction import interrupted, lock


def build(project: Project, options: BuildOptions = DEFAULTS, progress: Progress = SILENT) -> BuildReport:
    """Build a project. Raise `OddPegError` where nothing could be built; faults that spare the rest come with the
    report."""
    if not options.frozen:
        with lock(project.root, progress.waiting) as recovery:
            report = _build(project, options, progress)
            report.notes[:0] = recovery
            return report
    if interrupted(project.root):
        message = "an earlier build was interrupted before it had moved all its files"
        raise OddPegError(Diagnostic("build-interrupted", message, "run `oddpeg build`"))
    return _build(project, options, progress)


def _build(project: Project, options: BuildOptions, progress: Progress) -> BuildReport:
    started = time.perf_counter()
    if options.draft:
        project = replace(project, config=project.config.drafted())
    snapshot = Snapshot(project)
    inputs = read_inputs(snapshot, options.bundles)
    report = recall(snapshot, inputs)
    seconds = {"compare": round(time.perf_counter() - started, 4)}
    if report is None:
        # what draws and writes takes longer to load than comparing takes
        from oddpeg.building.steps import run_stages

        report = run_stages(snapshot, options, progress, inputs)
    report.seconds = {**seconds, **report.seconds}
    return report
