"""The proof: every glyph of the finished font against its drawing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError, OddPegError, UsageError
from oddpeg.font.unpack import LARGEST_FONT
from oddpeg.iconset.metadata import unknown_icon_cure
from oddpeg.isolation import isolated
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from oddpeg.outline.window import ink_windows
from oddpeg.parallel import map_batches
from oddpeg.pegboard.codes import spell
from oddpeg.pegboard.states import State
from oddpeg.raster.coverage import Views, differences, drawing_coverage, glyph_coverage, load_font
from oddpeg.raster.proof_picture import Row, proof_picture
from oddpeg.svg.reader import read_drawing
from oddpeg.tasks.outlining import outline_options, project_em
from oddpeg.tasks.progress import SILENT, Progress
from oddpeg.workspace.project import Project
from oddpeg.workspace.records import glyph_fingerprint, read_record, record_bytes
from oddpeg.workspace.sources import read_sources
from oddpeg.workspace.state import write_caches

TOLERANCE = 0.005  # wrong pixels that an icon may have, as a share of its ink
_BATCH = 25  # icons compared at once
_RECORD = "proved.json"


class Figure(NamedTuple):
    """How far one glyph is from its drawing at one size.

    Attributes:
        icon: its name.
        px: pixels of the em.
        wrong: pixels that differ by more than half, as a share of the ink.
        soft: summed difference, as a share of the ink.
    """

    icon: str
    px: int
    wrong: float
    soft: float


@dataclass(slots=True)
class Proof:
    """What a proof found.

    Attributes:
        font: the file that was read.
        figures: of each icon at each size.
        missing: icons whose glyph the font lacks.
        faults: what is wrong besides.
        known: how many glyphs were passed over because they were proved before.
    """

    font: str
    figures: list[Figure] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    faults: list[Diagnostic] = field(default_factory=list)
    known: int = 0

    def worst(self) -> list[Figure]:
        """Return the worst figure of each icon, worst first."""
        by_icon: dict[str, Figure] = {}
        for figure in self.figures:
            best = by_icon.get(figure.icon)
            if best is None or (figure.wrong, figure.soft) > (best.wrong, best.soft):
                by_icon[figure.icon] = figure
        return sorted(by_icon.values(), key=lambda f: (-f.wrong, -f.soft, f.icon))

    def missed(self, tolerance: float = TOLERANCE) -> list[Figure]:
        """Return the worst figure of each icon that has more wrong pixels than `tolerance`."""
        return [figure for figure in self.worst() if figure.wrong > tolerance]


class _Candidate(NamedTuple):
    """A glyph to be compared."""

    icon: str
    drawing: bytes
    codepoint: int


class _Look(NamedTuple):
    """What places a glyph, and how its drawing is read."""

    font: bytes
    options: Options


def _finished_font(project: Project, bundles: Sequence[str]) -> Path:
    """Return the delivered font file that is easiest to read, of the named bundles (of any, where none is named)."""
    chosen = [project.config.bundle[name] for name in bundles or project.config.bundle]
    for file_format in ("ttf", "woff", "woff2"):
        for bundle in chosen:
            path = project.finished_font(bundle, file_format)
            if file_format in bundle.fonts and path is not None:
                return path
    has_fonts = any(bundle.fonts for bundle in chosen)
    cure = "run `oddpeg build` first" if has_fonts else 'add fonts = ["woff2"] to a bundle'
    raise OddPegError(Diagnostic("no-font", "there is no finished font to prove", cure))


def _read_font(project: Project, path: str) -> bytes:
    """Return a delivered font; raise `OddPegError` where it cannot be read. path: relative to the project."""
    try:
        return project.read_input(path, LARGEST_FONT)
    except OSError as problem:
        what, cure = f"cannot be read: {problem.strerror}", "run `oddpeg build` again"
        raise OddPegError(Diagnostic("file-unreadable", what, cure, path)) from None


def _look(project: Project, font: bytes, em: Em) -> _Look:
    return _Look(font, outline_options(project.config, em))


def _views(look: _Look, candidate: _Candidate, px: int) -> Views | None:
    """Return a drawing and its glyph at px pixels to the em, or None where the drawing cannot be used."""
    try:
        drawing = read_drawing(candidate.drawing, look.options.keep_faint)
    except DrawingError:
        return None
    exact = px * (1 - look.options.em.drop)
    baseline = round(exact)
    window = (ink_windows([drawing], look.options)[0] if look.options.fit == "ink" else None) or drawing.box
    frame = px * window.width / window.height
    square = look.options.fit == "square"
    width = px if square else max(1, round(frame))
    shift = ((px - frame) / 2 if square else 0.0, baseline - exact)
    wanted = drawing_coverage(drawing, px, width, shift, window)
    return Views(wanted, glyph_coverage(load_font(look.font, px), candidate.codepoint, px, width, baseline))


class _Compared(NamedTuple):
    """The figures of one candidate, or what kept it from being compared."""

    figures: list[Figure]
    problem: Diagnostic | None = None


def _figures(look: _Look, sizes: Sequence[int], candidates: Sequence[_Candidate]) -> list[_Compared]:
    def failed(candidate: _Candidate, problem: Diagnostic) -> _Compared:
        return _Compared([], problem._replace(where=candidate.icon))

    def work(some: Sequence[_Candidate]) -> list[_Compared]:
        return [_Compared(_figures_of(look, sizes, candidate)) for candidate in some]

    return isolated(work, candidates, failed)


def _figures_of(look: _Look, sizes: Sequence[int], candidate: _Candidate) -> list[Figure]:
    views = ((px, _views(look, candidate, px)) for px in sizes)
    return [Figure(candidate.icon, px, *differences(both)) for px, both in views if both is not None]


def prove(
    project: Project, icons: Sequence[str] = (), sizes: Sequence[int] = (128,), progress: Progress = SILENT
) -> Proof:
    """Compare the named icons (all, where none is named) at every size in pixels. Raise `OddPegError` where there is
    no font, `UsageError` where there is no such icon."""
    path = _finished_font(project, ())
    font = _read_font(project, project.relative(path))
    proof = Proof(project.relative(path))
    candidates = _candidates(project, icons, font, proof)
    _compare(candidates, _look(project, font, project_em(project).em), sizes, proof, progress)
    return proof


def prove_changes(
    project: Project, bundles: Sequence[str], em: Em, remember: bool, progress: Progress = SILENT
) -> Proof:
    """Compare what has changed since it was last proved, at 128 pixels, in the fonts of the named bundles (of all,
    where none is named). em: of the glyphs; remember: keep what stays within `TOLERANCE`, so that it is not proved
    again."""
    path = _finished_font(project, bundles)
    font = _read_font(project, project.relative(path))
    proof = Proof(project.relative(path))
    config = project.config
    placed = tuple(outline_options(config, em))
    candidates = _candidates(project, (), font, proof)
    marks = {c.icon: glyph_fingerprint(c.drawing, c.codepoint, placed) for c in candidates}
    before = read_record(project.root, _RECORD)
    changed = [c for c in candidates if before.get(c.icon) != marks[c.icon]]
    proof.known = len(candidates) - len(changed)
    _compare(changed, _look(project, font, em), [128], proof, progress)
    if remember:
        passed = {f.icon for f in proof.figures if f.wrong <= TOLERANCE}
        kept = {icon: mark for icon, mark in marks.items() if icon in passed or before.get(icon) == mark}
        write_caches({_RECORD: record_bytes(kept)}, project.root)
    return proof


def _compare(
    candidates: Sequence[_Candidate], look: _Look, sizes: Sequence[int], proof: Proof, progress: Progress
) -> None:
    """Put the figures of all candidates into the proof, on all processors."""
    progress.begin(len(candidates))
    for batch in map_batches(partial(_figures, look, sizes), candidates, _BATCH, progress.advance):
        for figures, problem in batch:
            proof.figures += figures
            proof.faults += [problem] if problem else []


def _candidates(project: Project, icons: Sequence[str], font: bytes, proof: Proof) -> list[_Candidate]:
    """Return what is to be compared; note what the font lacks."""
    from oddpeg.font.foreign import codepoints

    board, (sources, problems) = project.load_board(), project.sources
    names = {s.name for s in sources}
    if unknown := [name for name in icons if name not in names]:
        cures = {name: unknown_icon_cure(name, names) for name in unknown}
        raise UsageError(*(Diagnostic("unknown-icon", f"there is no icon {n!r}", cure) for n, cure in cures.items()))
    read = read_sources(s for s in sources if not icons or s.name in icons)
    proof.faults += [*problems, *(one.problem for one in read if one.problem)]
    there = codepoints(font)
    found = []
    for source, data, _ in read:
        peg = board.pegs.get(source.name)
        if data is None or (peg is not None and peg.state is State.WITHDRAWN):
            continue  # what is withdrawn is left out on purpose
        if peg is None or peg.codepoint not in there:
            proof.missing.append(source.name)
            at = f" at {spell(peg.codepoint)}" if peg else ""
            what = f"the icon {source.name!r} is not in {proof.font}{at}"
            cure = "build again, and correct the drawing if the build names it"
            proof.faults.append(Diagnostic("glyph-missing", what, cure, source.where))
        else:
            found.append(_Candidate(source.name, data, peg.codepoint))
    return found


def proof_image(project: Project, proof: Proof, icons: Sequence[str] = (), limit: int = 12, px: int = 224) -> bytes:
    """Return a PNG of the icons named, else of the `limit` worst: drawing, glyph and difference, px pixels to the
    em."""
    figures = proof.worst()
    chosen = [f for f in figures if f.icon in icons] if icons else figures[:limit]
    board, sources = project.load_board(), {s.name: s for s in project.sources.found}
    look = _look(project, _read_font(project, proof.font), project_em(project).em)
    rows = []
    for figure, read in zip(chosen, read_sources(sources[figure.icon] for figure in chosen), strict=True):
        if read.data is None:
            continue  # it went since it was compared
        candidate = _Candidate(figure.icon, read.data, board.pegs[figure.icon].codepoint)
        views = _views(look, candidate, px)
        if views is not None:
            rows.append(Row(figure.icon, figure.wrong, *views))
    naming = project.naming
    return proof_picture(f"{naming.family} {naming.version}: proof of {len(figures)} icons", rows)
