"""The check command: a verdict on every drawing, and its files."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated

from oddpeg.checking.contact_page import contact_page
from oddpeg.checking.contact_sheet import contact_sheet
from oddpeg.checking.face_review import compare_faces
from oddpeg.checking.normalize import normalized_svg
from oddpeg.checking.review import Reviewed, Rules, examine_all, joined, review
from oddpeg.checking.verdict import Verdict
from oddpeg.config.renamed import renamed_keys
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, OddPegError, counted
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from oddpeg.progress import SILENT, Progress
from oddpeg.project.config_review import output_problems, unmatched_patterns
from oddpeg.project.em import NOTHING_KEPT, choose_em, kept_choice, project_em
from oddpeg.project.icon_sets import Pegs, load_pegs
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.raster.straight_glyph import StraightGlyph, coverage
from oddpeg.reports import Key, reported
from oddpeg.sources.drawings import (
    DrawingFile,
    Source,
    Sources,
    find_files,
    find_sources,
    one_for_each_icon,
    read_sources,
)
from oddpeg.store.delivery import NewFile
from oddpeg.svg.model import Translucent

_ENDINGS = (".svg", ".svgz")


@dataclass(slots=True)
class CheckReport(Reviewed):
    """The result of a check.

    Attributes:
        em: the em that drawings were measured on.
    """

    faults: Annotated[list[Diagnostic], Key("files that cannot be checked")] = field(default_factory=list)
    em: Em = field(default_factory=Em)

    @reported("drawings by verdict", name="count")
    def verdict_counts(self) -> dict[str, int]:
        """Drawings by verdict."""
        return {verdict.value: self.count(verdict) for verdict in Verdict}

    def diagnostics(self) -> list[Diagnostic]:
        """Return everything that was found."""
        return [d for _, one, _ in self.drawings for d in one.diagnostics] + self.set_findings

    def count(self, verdict: Verdict) -> int:
        """Return how many drawings have this verdict."""
        return sum(one.verdict is verdict for _, one, _ in self.drawings)

    def worst(self) -> Level:
        """Return the most serious level of all that was found."""
        levels = [d.level for d in [*self.diagnostics(), *self.faults]]
        return max(levels, key=lambda level: level.rank, default=Level.SILENT)


def check(snapshot: Snapshot, paths: Sequence[Path] = (), progress: Progress = SILENT) -> CheckReport:
    """Check all drawings of a project, or the named files and folders. Raise `OddPegError` if no drawing is found."""
    if paths:
        return _check(snapshot, {"": named_sources(paths)}, False, progress)
    return _check(snapshot, snapshot.face_sources, True, progress)


def check_files(folder: Path, paths: Sequence[Path] = (), progress: Progress = SILENT) -> CheckReport:
    """Check files and folders without a project: all drawings in or below `folder`, where none are named."""
    sources = (
        named_sources(paths) if paths else find_sources(find_files(folder, [f"**/*{ending}" for ending in _ENDINGS]))
    )
    return _check(None, {"": sources}, False, progress)


def _check(snapshot: Snapshot | None, faces: Mapping[str, Sources], whole: bool, progress: Progress) -> CheckReport:
    """Return the report of some drawings.

    faces: the drawings by the face that they are for; whole: these are all drawings of the project, so its tables and
    patterns are checked too.
    """
    faults = list(dict.fromkeys(problem for sources in faces.values() for problem in sources.problems))
    ready: dict[str, list[DrawingFile]] = {}
    for face, sources in faces.items():
        read = read_sources(sources.found)
        faults += read.problems
        ready[face] = read.drawings
    progress.begin(sum(map(len, ready.values())))
    # one drawing of each icon, as a build takes it
    unique = list({s.name: s for drawings in reversed(ready.values()) for s, _ in drawings}.values())
    pegs = load_pegs(snapshot, unique) if snapshot and whole else None
    project = snapshot.project if snapshot else None
    config = project.config if project else None
    files = [data for drawings in ready.values() for _, data in drawings]
    if snapshot and not whole:
        em = project_em(snapshot).em  # all drawings decide what some of them stand on
    else:
        em = choose_em(config, files, kept_choice(snapshot) if snapshot else NOTHING_KEPT).em
    options = Options(em)
    if config:
        options = Options(em, precision=config.font.curve_precision, translucent=Translucent(config.icons.translucent))
    reviews = {face: _reviewed(project, face, drawings, options, pegs, progress) for face, drawings in ready.items()}
    if project and len(reviews) > 1 and whole:
        compare_faces(project, reviews, Rules(project, pegs))
    reviewed = joined(reviews)
    report = CheckReport(
        reviewed.drawings, reviewed.set_statistics, reviewed.set_findings, reviewed.silenced, faults, em
    )
    if project and pegs:
        aliases = pegs.board.aliases()
        icons = [pegs.named_icon(source.name, aliases) for source in unique]
        report.set_findings += unmatched_patterns(project, icons, {s.name: s.where for s in unique})
        report.set_findings += snapshot.unmatched_drawings() if snapshot else []
        report.set_findings += [*output_problems(project), *renamed_keys(project.config_path)]
    return report


def _reviewed(
    project: Project | None,
    face: str,
    drawings: Sequence[DrawingFile],
    options: Options,
    pegs: Pegs | None,
    progress: Progress,
) -> Reviewed:
    """Return the findings on the drawings of a face, or for a size."""
    examined = examine_all([(data, None) for _, data in drawings], options, progress.advance)
    if project and any(part.root == face for plan in project.faces for part in plan.parts if part.px):
        for result in examined:  # drawings for a size have a baseline of their own
            result.diagnostics[:] = [d for d in result.diagnostics if d.code != "between-pixels"]
    return review(project, [source for source, _ in drawings], examined, pegs)


def named_sources(paths: Sequence[Path]) -> Sources:
    """Return the drawings among files and folders that the command line names; raise `OddPegError` where there are
    none."""
    files: dict[str, Source] = {}
    for path in paths:
        inside = path.rglob("*") if path.is_dir() else []
        drawings = sorted(p for p in inside if p.suffix.lower() in _ENDINGS and p.is_file())
        for drawing in drawings if path.is_dir() else [path]:
            files[str(drawing)] = Source.of(str(drawing), str(drawing).replace(os.sep, "/"), drawing.name)
    if not files:
        cure, where = "name SVG files, or folders that hold some", ", ".join(map(str, paths))
        raise OddPegError(Diagnostic("no-drawings", "no drawings found", cure, where))
    return one_for_each_icon(files.values())


def normalized_files(report: CheckReport) -> list[NewFile]:
    """Return every usable drawing as the plainest SVG there is."""
    return [
        NewFile(f"{drawing.label}.svg", normalized_svg(one.outline, report.em, one.measures.grid).encode())
        for drawing in report.drawings
        for one in [drawing.examined]
        if one.outline is not None and one.measures is not None
    ]


def _title(report: CheckReport) -> str:
    fits, adjusted, rejected = (report.count(v) for v in Verdict)
    return f"{counted(len(report.drawings), 'drawing')}: {fits} fit, {adjusted} adjusted, {rejected} rejected"


def sheet_page(report: CheckReport) -> bytes:
    """Return the contact sheet of everything that was checked, as an HTML page."""
    return contact_page(_title(report), report.drawings, report.em).encode()


def sheet_picture(report: CheckReport, px: int = 208) -> bytes:
    """Return the contact sheet of everything that was checked, as a PNG. px: of an icon."""
    pictures = {}
    for drawing in report.drawings:
        outline = drawing.examined.outline
        if outline is not None:
            edges = outline.contours.segments().scaled(1 / report.em.units).flattened(8)
            glyph = StraightGlyph(*edges, outline.advance / report.em.units)
            pictures[drawing.label] = coverage(glyph, px, report.em.drop)
    return contact_sheet(_title(report), report.drawings, pictures)
