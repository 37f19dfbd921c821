"""The proof: every glyph of the finished font against its drawing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from pathlib import Path
from typing import NamedTuple

from oddpeg.config.faces import FacePlan
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError, counted
from oddpeg.font.read.unpack import LARGEST_FONT
from oddpeg.iconset.metadata import unknown_icon_cure
from oddpeg.outline.model import ColourMode
from oddpeg.outline.placement import Em
from oddpeg.parallel import map_batches
from oddpeg.pegboard.codes import spell
from oddpeg.pegboard.states import State
from oddpeg.progress import SILENT, Progress
from oddpeg.project.em import outline_options, project_em
from oddpeg.project.snapshot import Snapshot
from oddpeg.proof.colours import coloured_fonts
from oddpeg.proof.figures import TargetResult, failed_target, opinions_on, rendering, target_results
from oddpeg.proof.locations import Location, locations_of
from oddpeg.proof.model import ProofOptions, ProofTarget, RenderSettings
from oddpeg.proof.renderers import NAMES, find_witness
from oddpeg.proof.report import TOLERANCE, Figure, Proof, Witness
from oddpeg.raster.proof_picture import PictureRow, proof_picture
from oddpeg.sources.drawings import read_sources
from oddpeg.store.cache import Cache

_BATCH_PIXELS = 100 * 128 * 128  # compared at once
_PROVED = "proved"
_EVERYTHING = ProofOptions()
INSTALL_WITNESS = "run pip install 'oddpeg[witness]'"


class _FaceProof(NamedTuple):
    """The glyphs of a face to compare."""

    settings: RenderSettings
    targets: list[ProofTarget]


def _finished_fonts(snapshot: Snapshot, bundles: Sequence[str], faces: Sequence[str]) -> dict[str, Path]:
    """Return for each face the delivered font file that is fastest to read, of the named bundles and faces (of any,
    where none is named); raise `OddPegError` where there is none."""
    chosen = [snapshot.project.config.bundle[name] for name in bundles or snapshot.project.config.bundle]
    plans = [plan for plan in snapshot.project.faces if plan.name in faces or not faces]
    paths = {plan.name: snapshot.readable_font(chosen, plan) for plan in plans}
    existing = {name: path for name, path in paths.items() if path is not None}
    if not existing:
        has_fonts = any(bundle.fonts for bundle in chosen)
        cure = "run `oddpeg build` first" if has_fonts else 'add fonts = ["woff2"] to a bundle'
        raise OddPegError(Diagnostic("no-font", "there is no finished font to prove", cure))
    return existing


def _read_font(snapshot: Snapshot, path: str) -> bytes:
    """Return a delivered font; raise `OddPegError` where it cannot be read. path: relative to the project."""
    try:
        return snapshot.read_input(path, LARGEST_FONT)
    except OSError as problem:
        message, cure = f"cannot be read: {problem.strerror}", "run `oddpeg build` again"
        raise OddPegError(Diagnostic("file-unreadable", message, cure, path)) from None


def prove(snapshot: Snapshot, options: ProofOptions = _EVERYTHING, progress: Progress = SILENT) -> Proof:
    """Compare glyphs with their drawings. Raise `OddPegError` where there is no font, `UsageError` where there is no
    such icon, face or witness."""
    names = [plan.name for plan in snapshot.project.faces]
    if unknown := [name for name in options.faces if name not in names]:
        cure = f"faces are: {', '.join(names)}" if snapshot.project.config.face else "the config has no faces"
        raise UsageError(*(Diagnostic("unknown-face", f"there is no face {name!r}", cure) for name in unknown))
    proof, em = Proof(witness=_wanted_witness(options.witness)), project_em(snapshot).em
    fonts = _finished_fonts(snapshot, (), options.faces)
    everything = _prepare(snapshot, proof, options.icons, em, fonts, options.weights)
    for face_proof in everything + _coloured(snapshot, options.icons, em, (), options.faces):
        _compare(face_proof, face_proof.targets, options.sizes, proof, progress)
    return proof


def _wanted_witness(name: str) -> Witness | None:
    """Return the witness of a name, of any where it is empty; raise `UsageError` where the named one is missing."""
    if name == "none":
        return None
    if name and name not in NAMES:
        message, cure = f"there is no witness {name!r}", f"witnesses are: {', '.join(NAMES)}, none"
        raise UsageError(Diagnostic("unknown-witness", message, cure))
    witness = find_witness(name)
    if name and witness is None:
        cure = INSTALL_WITNESS if name == NAMES[0] else "install it, so that it is on the path"
        raise UsageError(Diagnostic("unknown-witness", f"the witness {name!r} is not installed", cure))
    return witness


def prove_changes(
    snapshot: Snapshot, bundles: Sequence[str], em: Em, remember: bool, progress: Progress = SILENT
) -> Proof:
    """Compare all glyphs that changed since they were last proved, at 128 pixels, in the fonts of the named bundles (of
    all, where none is named). em: of the glyphs; remember: keep glyphs within `TOLERANCE` in the cache, so that they
    are not proved again."""
    proof, cache = Proof(witness=find_witness()), Cache(snapshot.project.root)
    passed: dict[bytes, bytes] = {}
    everything = _prepare(snapshot, proof, (), em, _finished_fonts(snapshot, bundles, ()))
    for face_proof in everything + _coloured(snapshot, (), em, bundles, ()):
        face = (
            f"{face_proof.settings.face}@{face_proof.settings.weight}"
            if face_proof.settings.weight is not None
            else face_proof.settings.face
        )
        face += f"+{face_proof.settings.colour.value}" if face_proof.settings.colour is not ColourMode.NONE else ""
        face += f" by {proof.witness.label}" if proof.witness else ""
        contents = [repr((face, c.codepoint)).encode() + c.drawing for c in face_proof.targets]
        keys = cache.keys(_PROVED, tuple(face_proof.settings.options), contents)
        known = cache.get(_PROVED, keys)
        changed = [c for c, key in zip(face_proof.targets, keys, strict=True) if key not in known]
        proof.known += len(known)
        _compare(face_proof, changed, [128], proof, progress)
        names = _passed(face_proof, changed, proof)
        passed |= {key: b"" for c, key in zip(face_proof.targets, keys, strict=True) if c.icon in names or key in known}
    if remember:
        cache.put(_PROVED, passed)
    return proof


def _passed(face_proof: _FaceProof, compared: Sequence[ProofTarget], proof: Proof) -> set[str]:
    """Return the icons of those compared in a face that are within `TOLERANCE`; where colours are looked at, those
    without any too."""
    settings, coloured = face_proof.settings, face_proof.settings.colour is not ColourMode.NONE
    figures = [
        f for f in proof.figures if (f.face, f.weight, bool(f.part)) == (settings.face, settings.weight, coloured)
    ]
    seen = {c.icon for c in compared} if coloured else {f.icon for f in figures}
    return seen - {f.icon for f in figures if max(f.wrong, f.witness or 0.0) > TOLERANCE}


def _compare(
    face_proof: _FaceProof, targets: Sequence[ProofTarget], sizes: Sequence[int], proof: Proof, progress: Progress
) -> None:
    """Put the figures of targets of a face into the proof, on all processors."""
    progress.begin(len(targets))
    settings = face_proof.settings._replace(witness=proof.witness)
    most = max(1, _BATCH_PIXELS // sum(px * px for px in sizes))
    work = partial(target_results, settings, sizes)
    for batch in map_batches(work, targets, most, progress.advance, _failed, starts_programs=True):
        for figures, problem in batch:
            proof.figures += figures
            proof.faults += [problem] if problem else []


def _failed(target: ProofTarget, problem: Diagnostic) -> list[TargetResult]:
    return [failed_target(target, problem)]


def _prepare(
    snapshot: Snapshot,
    proof: Proof,
    icons: Sequence[str],
    em: Em,
    paths: Mapping[str, Path],
    weights: Sequence[int] = (),
) -> list[_FaceProof]:
    """Return the glyphs to compare in each face that has a font; add glyphs that fonts lack to the proof. paths: of the
    fonts, by face; weights: of variable fonts, every named one where none are given."""
    names = {s.name for s in snapshot.sources.found}
    if unknown := [name for name in icons if name not in names]:
        cures = {name: unknown_icon_cure(name, names) for name in unknown}
        raise UsageError(*(Diagnostic("unknown-icon", f"there is no icon {n!r}", cure) for n, cure in cures.items()))
    proof.fonts = {face: snapshot.project.relative(path) for face, path in paths.items()}
    proof.font = next(iter(proof.fonts.values()))
    face_proofs = []
    for plan in snapshot.project.faces:
        if plan.name in paths:
            font = _read_font(snapshot, proof.fonts[plan.name])
            for location in locations_of(plan):
                data = location.font(font)
                targets = _targets(snapshot, location.plan, icons, data, proof, proof.fonts[plan.name])
                chosen = weights or ([] if location.plan is plan else location.ends)
                face_proofs += [
                    _FaceProof(settings, location.without_drawing(snapshot, targets))
                    for settings in _all_settings(snapshot, location, em, (font, data), chosen)
                ]
    proof.faults = list(dict.fromkeys(proof.faults))  # faces of the same drawings have the same to say of them
    return face_proofs


def _coloured(
    snapshot: Snapshot, icons: Sequence[str], em: Em, bundles: Sequence[str], faces: Sequence[str]
) -> list[_FaceProof]:
    """Return the colour glyphs to compare in each face. Missing glyphs are in the proof already."""
    face_proofs = []
    for font in coloured_fonts(snapshot, bundles, faces):
        data, plan = _read_font(snapshot, snapshot.project.relative(font.path)), font.plan
        options = outline_options(snapshot.project.config, em, plan.strokes)
        settings = RenderSettings(data, options, plan.name, colour=font.mode)
        targets = _targets(snapshot, plan, icons, data, Proof(), "")
        face_proofs.append(_FaceProof(settings, targets))
    return face_proofs


def _all_settings(
    snapshot: Snapshot, location: Location, em: Em, fonts: tuple[bytes, bytes], weights: Sequence[int]
) -> list[RenderSettings]:
    """Return how a face's font is to be looked at: a variable one at several weights. fonts: as delivered, and at the
    location, where nothing tells any more whether strokes vary with the size."""
    from oddpeg.font.read.glyphs import fixed_codepoints

    whole, font = fonts
    plan, em = location.plan, location.em(em)
    strokes = plan.strokes * location.factor
    if plan.axis is None:
        placed_at = plan.strokes if location.factor != 1 else None
        fixed = frozenset(fixed_codepoints(whole)) if location.factor != 1 else frozenset()
        options = outline_options(snapshot.project.config, em, strokes)
        return [RenderSettings(font, options, location.label, fixed=fixed, placed_at=placed_at)]
    fixed = frozenset(fixed_codepoints(font))
    all_settings = []
    for weight in weights or [stop.weight for stop in plan.axis.stops]:
        options = outline_options(snapshot.project.config, em, strokes * plan.axis.factor(weight))
        all_settings.append(RenderSettings(font, options, location.label, weight, fixed, plan.strokes))
    return all_settings


def _targets(
    snapshot: Snapshot, plan: FacePlan, icons: Sequence[str], font: bytes, proof: Proof, where: str
) -> list[ProofTarget]:
    """Return the glyphs to compare in a face; add glyphs that its font lacks to the proof. where: path of the font."""
    from oddpeg.font.read.glyphs import codepoints

    board, (sources, problems) = snapshot.board, snapshot.face_sources[plan.root]
    read = read_sources(s for s in sources if not icons or s.name in icons)
    proof.faults += [*problems, *read.problems]
    in_font = codepoints(font)
    targets = []
    usual = {s.name for s in snapshot.sources.found}
    for source, data in read.drawings:
        if plan.px and source.name not in usual:
            continue  # drawn for a small size only, which `check` reports
        peg = board.pegs.get(source.name)
        if peg is not None and peg.state is State.WITHDRAWN:
            continue  # withdrawn icons are not in the font
        if peg is None or peg.codepoint not in in_font:
            proof.missing.append(source.name)
            at = f" at {spell(peg.codepoint)}" if peg else ""
            message = f"the icon {source.name!r} is not in {where}{at}"
            cure = "build again, and correct the drawing if the build names it"
            proof.faults.append(Diagnostic("glyph-missing", message, cure, source.where))
        else:
            targets.append(ProofTarget(source.name, data, peg.codepoint))
    return targets


def proof_image(snapshot: Snapshot, proof: Proof, icons: Sequence[str] = (), limit: int = 12, px: int = 224) -> bytes:
    """Return a PNG of the icons named, else of the disputed ones and the `limit` worst: drawing, glyph and difference,
    px pixels to the em. Disputed and named icons are shown as the witness draws them too."""
    figures = [figure for figure in proof.worst() if not figure.part]
    disputed = [figure for figure in proof.disputed(proof.tolerance) if not figure.part]
    worst = disputed[:limit] + [figure for figure in figures if figure not in disputed][: max(0, limit - len(disputed))]
    chosen = [f for f in figures if f.icon in icons] if icons else worst
    em, rows = project_em(snapshot).em, []
    for figure in chosen:
        rows += _picture_rows(snapshot, proof, em, figure, px, bool(icons) or figure in disputed)
    naming = snapshot.project.naming
    opinion = f", witness {proof.witness.label}" if proof.witness else ""
    return proof_picture(f"{naming.family} {naming.version}: proof of {counted(len(figures), 'glyph')}{opinion}", rows)


def _picture_rows(
    snapshot: Snapshot, proof: Proof, em: Em, figure: Figure, px: int, with_witness: bool
) -> list[PictureRow]:
    """Return the rows of one glyph; none where its drawing is gone since it was compared."""
    locations = [(plan, location) for plan in snapshot.project.faces for location in locations_of(plan)]
    plan, location = next(pair for pair in locations if pair[1].label == figure.face)
    sources = [s for s in snapshot.face_sources[location.plan.root].found if s.name == figure.icon]
    rows = []
    for _, data in read_sources(sources).drawings:
        whole = _read_font(snapshot, proof.fonts[plan.name])
        fonts = whole, location.font(whole)
        weights = [figure.weight] if figure.weight is not None else []
        settings = _all_settings(snapshot, location, em, fonts, weights)[0]._replace(witness=proof.witness)
        shown = rendering(settings, ProofTarget(figure.icon, data, snapshot.board.pegs[figure.icon].codepoint), px)
        if shown is None:
            continue
        rows.append(PictureRow(figure.label, figure.wrong, *shown.views))
        (seen,) = opinions_on(settings, [shown]) if with_witness else (None,)
        if seen is not None and proof.witness is not None:
            rows.append(
                PictureRow(f"{figure.icon}: by {proof.witness.name}", figure.witness or 0.0, seen, shown.views.glyph)
            )
    return rows
