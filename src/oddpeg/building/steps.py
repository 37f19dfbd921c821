"""The steps of a build that has work to do."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import NamedTuple

from oddpeg.building.bundles import BuiltBundle
from oddpeg.building.fonts import BundleFonts, ligatures
from oddpeg.building.glyphs import (
    Drawing,
    DrawnFace,
    FaceDrawings,
    Gathered,
    Glyphs,
    options_of,
    refuse_counts,
    shown_icons,
)
from oddpeg.building.last_build import Inputs, remember
from oddpeg.building.repack_tables import bundle_name, repack_table
from oddpeg.building.report import BuildOptions, BuildReport, BuiltFile
from oddpeg.building.text_cache import TextCache
from oddpeg.config.settings import BundleTable
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.faces import Face
from oddpeg.iconset.model import IconSet
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import board_text
from oddpeg.pegboard.renames import find_renames, rename_diagnostics
from oddpeg.pegboard.states import State
from oddpeg.progress import Progress
from oddpeg.project.bundle_views import holds
from oddpeg.project.config_review import outputs_without_font, unmatched_patterns
from oddpeg.project.em import choose_em, outline_options
from oddpeg.project.icon_sets import check_classes, icon_set, in_colours, load_pegs, unnamed_colours
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import read_sources
from oddpeg.store.delivery import Delivery
from oddpeg.store.records import drawing_digest, read_record, record_bytes
from oddpeg.store.state import STATE


class _Selection(NamedTuple):
    """What a bundle holds: bundles of the same share their fonts."""

    icons: frozenset[str]
    faces: frozenset[str]
    colour: str


def _face_of(em: Em, face: DrawnFace) -> Face:
    """Return a face of what was drawn."""
    plan = face.plan
    return Face(
        em,
        {name: one.outline for name, one in face.drawn.items()},
        plan.name,
        plan.weight,
        layers={name: one.result.layers for name, one in face.drawn.items() if one.result.layers},
        axis=plan.axis,
        masters={name: one.result.masters for name, one in face.drawn.items() if one.result.masters},
        stands_for=plan.stands_for,
    )


class BuildSteps:
    """One build: its report, and how long each stage takes."""

    def __init__(self, snapshot: Snapshot, options: BuildOptions, progress: Progress, inputs: Inputs) -> None:
        self.snapshot, self.options, self.progress, self.inputs = snapshot, options, progress, inputs
        self.report = BuildReport(family=snapshot.project.config.font.family)
        self.texts = TextCache(snapshot.project.root)
        self._last = time.perf_counter()

    def lap(self, stage: str) -> None:
        """Add the time since the last lap to a stage."""
        now, seconds = time.perf_counter(), self.report.seconds
        seconds[stage] = round(seconds.get(stage, 0.0) + now - self._last, 4)
        self._last = now

    def run(self) -> BuildReport:
        """Return what was done."""
        chosen = self.chosen()
        gathered = self.gather()
        self.lap("gather")
        outlining = self.outlining(gathered)
        drawn = self.outline(gathered, outlining)
        findings = self.findings(gathered, drawn, outlining, chosen)
        icons = self.icons(gathered, drawn, outlining, findings)
        bundles = self.fonts(icons, chosen)
        self.lap("tables")
        delivery = self.write(bundles, gathered.before)
        if self.options.bundles is None:
            self.repack(delivery)
            tables = map(bundle_name, self.snapshot.project.config.repack)
            delivery.drop_bundles_not_in({*self.snapshot.project.config.bundle, *tables})
        snapshot = self.snapshot
        board = board_text(gathered.pegs.board).encode()
        extra = {
            PEGBOARD: board,
            f"{STATE}/drawings.json": record_bytes(gathered.digests),
            f"{STATE}/arrivals.json": snapshot.arrivals.record(icon.codepoint for icon in icons.icons),
        }
        self.report.delivered = delivery.dry_run(extra) if self.options.frozen else delivery.commit(extra)
        self.report.faults += self.report.delivered.kept
        self.report.icons = len(icons.icons)
        if not self.options.frozen and not any(d.code == "internal-error" for d in self.report.faults):
            remember(snapshot, self.inputs, board, replace(self.report, reused=len(gathered.drawings)))
        self.lap("deliver")
        return self.report

    def repack(self, delivery: Delivery) -> None:
        """Add the files of fonts that exist; what is wrong with one spares the rest."""
        for name, table in self.snapshot.project.config.repack.items():
            bundle, files, faults, notes = repack_table(self.snapshot, name, table)
            self.report.faults += faults
            self.report.notes += notes
            if files is not None:
                delivery.add(bundle, files)
                self.report.files += [BuiltFile(path, bundle, len(data)) for path, data in files.all().items()]

    def chosen(self) -> dict[str, BundleTable]:
        """Return the bundles to build, by name."""
        all_bundles, names = self.snapshot.project.config.bundle, self.options.bundles
        unknown = [name for name in names or () if name not in all_bundles]
        if unknown:
            cure = f"bundles are: {', '.join(all_bundles)}"
            raise UsageError(*(Diagnostic("unknown-bundle", f"there is no bundle {name!r}", cure) for name in unknown))
        return all_bundles if names is None else {name: all_bundles[name] for name in names}

    def gather(self) -> Gathered:
        """Read all drawings and give every icon its peg."""
        snapshot, report = self.snapshot, self.report
        sources, problems = snapshot.sources
        read = {name: read_sources(found.found, self.inputs.drawings) for name, found in snapshot.face_sources.items()}
        report.faults += [*problems, *(one.problem for files in read.values() for one in files if one.problem)]
        before, table = snapshot.board, snapshot.project.config.pegs
        if not before.pegs:
            snapshot.refuse_lost_board()
        board, report.changes = before.update(
            [s.name for s in sources], table.codes(), table.assign, snapshot.font_codes
        )
        withdrawn = set(report.changes.withdrawn)
        there = {
            name: [Drawing(one.source, one.data) for one in files if one.data is not None]
            for name, files in read.items()
        }
        by_file = {drawing.source.file: drawing for drawings in there.values() for drawing in drawings}
        first = [by_file[source.file] for source in sources if source.file in by_file]
        digests = {drawing.source.name: drawing_digest(drawing.data) for drawing in first}
        self.refuse_renames(before, digests)
        drawings = [drawing for drawing in first if drawing.source.name not in withdrawn]
        faces = [
            FaceDrawings(plan, [drawing for drawing in there[plan.root] if drawing.source.name not in withdrawn])
            for plan in snapshot.project.faces
        ]
        pegs = load_pegs(snapshot, [drawing.source for drawing in drawings], board)
        for _, problem in pegs.metadata.problems:
            (report.faults if problem.level is Level.ERROR else report.notes).append(problem)
        return Gathered(drawings, faces, pegs, digests, before)

    def refuse_renames(self, before: Pegboard, digests: Mapping[str, str]) -> None:
        """Raise `OddPegError` where a drawing came under a new name, and nobody said what that means."""
        changes = self.report.changes
        if not self.options.as_new and changes.added and changes.retired:
            known = read_record(self.snapshot.project.root, "drawings.json")
            if renames := find_renames(changes, known, digests):
                raise OddPegError(*rename_diagnostics(renames, before))

    def outlining(self, gathered: Gathered) -> Options:
        """Return what outlines depend on, besides the width of strokes."""
        self.report.em = choose_em(self.snapshot.project.config, gathered.files, self.snapshot.font_drop)
        return outline_options(self.snapshot.project.config, self.report.em.em)

    def outline(self, gathered: Gathered, outlining: Options) -> list[DrawnFace]:
        """Return the glyphs of every face; put what there is to say of drawings into the report."""
        glyphs = Glyphs(self.snapshot.project.root, self.progress, self.lap)
        drawn = glyphs.outline(gathered.faces, outlining, remember=not self.options.frozen)
        self.report.reused, self.report.fallbacks = glyphs.reused, glyphs.fallbacks
        self.report.notes += glyphs.notes
        self.report.faults += glyphs.faults
        refuse_counts(drawn, self.report.faults)
        return drawn

    def findings(
        self, gathered: Gathered, drawn: Sequence[DrawnFace], outlining: Options, chosen: Mapping[str, BundleTable]
    ) -> dict[str, tuple[Diagnostic, ...]]:
        """Return the warnings and errors of a check by icon, if any finished output shows them; what each drawing
        shows by itself is kept from build to build."""
        finished = [bundle for bundle in chosen.values() if not bundle.draft]
        if not any(KINDS[output.kind].findings for bundle in finished for output in bundle.outputs):
            return {}
        from oddpeg.checking.examine import CheckInput, CheckResult
        from oddpeg.checking.review import examine_all, review

        drawings = gathered.drawings
        # whatever becomes of them, drawings are judged by their frames, as in a check
        framed = outlining._replace(fit="frame", padding=0.0)
        as_drawn = [face for face in drawn if options_of(face.plan, framed) == outlining]
        outlines = {one.source.file: one.outline for face in as_drawn for one in face.drawn.values()}

        def examine(rows: list[int]) -> list[str]:
            some = [drawings[i] for i in rows]
            return [
                one.packed()
                for one in examine_all([CheckInput(d.data, outlines.get(d.source.file)) for d in some], framed)
            ]

        texts = self.texts.get_all(examine, framed, [gathered.digests[d.source.name] for d in drawings])
        examined = [CheckResult.unpacked(text) for text in texts]
        found = review(self.snapshot.project, [d.source for d in drawings], examined, gathered.pegs)
        self.lap("findings")
        serious = {
            source.name: tuple(d for d in one.diagnostics if d.level.rank >= Level.WARNING.rank)
            for source, one, _ in found.drawings
        }
        return {name: those for name, those in serious.items() if those}

    def icons(
        self,
        gathered: Gathered,
        drawn: Sequence[DrawnFace],
        outlining: Options,
        findings: Mapping[str, tuple[Diagnostic, ...]],
    ) -> IconSet:
        """Return the icon set of everything that was drawn."""
        em = outlining.em
        faces = [_face_of(em, face) for face in sorted(drawn, key=lambda face: face.plan.weight)]
        drawings = {source.name: data for source, data in gathered.drawings}
        icons = icon_set(self.snapshot, shown_icons(gathered.drawings, drawn), gathered.pegs, faces)
        icons = in_colours(self.snapshot, icons.with_drawings(drawings, findings))
        check_classes(icons)
        self.report.notes += unnamed_colours(self.snapshot, icons)
        places = {source.name: source.where for source, _ in gathered.drawings}
        self.report.notes += unmatched_patterns(self.snapshot.project, icons.icons, places)
        self.report.notes += outputs_without_font(self.snapshot.project)
        self.look_up_usage(icons)
        if self.snapshot.project.config.font.ligatures:
            typed = {ligature.name for ligature in ligatures(icons)}
            if never := [name for icon in icons.icons for name in icon.names if name not in typed]:
                what = f"cannot be typed, as a name of one letter is that letter: {', '.join(never)}"
                cure = "give them an alias in icons.csv"
                self.report.notes.append(Diagnostic("ligature-too-short", what, cure, "font.ligatures"))
        return icons

    def look_up_usage(self, icons: IconSet) -> None:
        """Go on with the icons that the project's code uses, if a bundle holds only those."""
        if not self.snapshot.project.config.needs_usage:
            return
        from oddpeg.usage.run import used_icons  # few builds need it

        found = used_icons(self.snapshot, icons)
        self.snapshot = self.snapshot.with_used_icons(found.names)
        self.report.notes += found.messages
        self.lap("usage")

    def fonts(self, icons: IconSet, chosen: Mapping[str, BundleTable]) -> list[BuiltBundle]:
        """Return the bundles with what makes their fonts; bundles of the same icons share one."""
        shared: dict[_Selection, BundleFonts] = {}
        bundles = []
        for name, bundle in chosen.items():
            faces = frozenset(plan.name for plan in self.snapshot.project.faces_of(bundle))
            held = frozenset(icon.name for icon in icons.icons if holds(self.snapshot, bundle, icon))
            selection = _Selection(held, faces, bundle.colour_mode)
            if selection not in shared:
                selected = (
                    icons.in_colours(bundle.colour_mode)
                    .select(held)
                    .select_faces(faces, self.snapshot.project.default_face(bundle).name)
                )
                if not selected.icons:
                    cure = "let `only`, `without` and `faces` leave some"
                    raise OddPegError(Diagnostic("empty-bundle", f"bundle.{name} leaves out every icon", cure))
                shared[selection] = BundleFonts(self.snapshot.project, selected)
            bundles.append(BuiltBundle(name, bundle, shared[selection], self.snapshot))
        return bundles

    def write(self, bundles: Sequence[BuiltBundle], before: Pegboard) -> Delivery:
        """Return the delivery of every file of every bundle. before: the pegboard as it was."""
        delivery = Delivery(self.snapshot.places(), self.snapshot.ledger, self.options.force)
        with ThreadPoolExecutor() as pool:  # packers leave Python's lock: texts are written beside them
            fonts = list(dict.fromkeys(bundle.fonts for bundle in bundles))
            for one in fonts:
                one.start([bundle.table for bundle in bundles if bundle.fonts is one], pool)
            early = {bundle.name: bundle.write_early(self.texts) for bundle in bundles}
            if not self.options.frozen:
                self.texts.save()
            self.lap("outputs")
            for one in fonts:
                one.wait()
            self.lap("pack")
        live = {peg.icon: peg.codepoint for peg in before.in_state(State.LIVE)}
        for bundle in bundles:
            shown = delivery.shown_before(bundle.name)
            files = bundle.contents(early.pop(bundle.name), live if shown is None else shown)
            delivery.add(bundle.name, files)
            self.report.files += [BuiltFile(path, bundle.name, len(data)) for path, data in files.all().items()]
        self.lap("outputs")
        return delivery
