"""The steps of a build that has work to do."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, Level, OddPegError, UsageError
from oddpeg.iconset.model import Face, IconSet
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import board_text
from oddpeg.pegboard.renames import find_renames, rename_diagnostics
from oddpeg.pegboard.states import State
from oddpeg.tasks.build_report import BuildOptions, BuildReport, BuiltFile
from oddpeg.tasks.bundle_fonts import BundleFonts, ligatures
from oddpeg.tasks.bundle_views import holds
from oddpeg.tasks.bundles import BuiltBundle
from oddpeg.tasks.config_review import outputs_without_font, unmatched_patterns
from oddpeg.tasks.icon_sets import DrawnIcon, Pegs, check_classes, icon_set, load_pegs
from oddpeg.tasks.last_build import Inputs, remember
from oddpeg.tasks.outlining import choose_em, load_libraries, outline_all, outline_options
from oddpeg.tasks.progress import Progress
from oddpeg.workspace.delivery import Delivery
from oddpeg.workspace.outline_cache import OutlineCache
from oddpeg.workspace.project import Project
from oddpeg.workspace.records import drawing_digest, read_record, record_bytes
from oddpeg.workspace.settings import BundleTable
from oddpeg.workspace.sources import Source, read_sources
from oddpeg.workspace.state import STATE
from oddpeg.workspace.text_cache import TextCache

MOST_ICONS = 65_533  # glyph numbers have 16 bits; two go to the missing character and the space


class _Drawing(NamedTuple):
    """A drawing that can be read."""

    source: Source
    data: bytes


class _Gathered(NamedTuple):
    """What a build starts from.

    Attributes:
        drawings: in order of names.
        pegs: what pegboard and tables know of them.
        digests: of drawings, by icon.
        before: the pegboard as it was.
    """

    drawings: list[_Drawing]
    pegs: Pegs
    digests: dict[str, str]
    before: Pegboard

    @property
    def files(self) -> list[bytes]:
        """The bytes of all drawings."""
        return [drawing.data for drawing in self.drawings]


class _Drawn(NamedTuple):
    """A drawing that became a glyph."""

    source: Source
    result: OutlineResult
    outline: Outline


class BuildSteps:
    """One build: its report, and how long each stage takes."""

    def __init__(self, project: Project, options: BuildOptions, progress: Progress, inputs: Inputs) -> None:
        self.project, self.options, self.progress, self.inputs = project, options, progress, inputs
        self.report = BuildReport(family=project.config.font.family)
        self.texts = TextCache(project.root)
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
        drawn = self.sort_out(gathered, self.outline(gathered, outlining))
        findings = self.findings(gathered, drawn, outlining, chosen)
        icons = self.icons(gathered, drawn, outlining, findings)
        bundles = self.fonts(icons, chosen)
        self.lap("tables")
        delivery = self.write(bundles, gathered.before)
        if self.options.bundles is None:
            delivery.drop_bundles_not_in(self.project.config.bundle)
        project = self.project
        board = board_text(gathered.pegs.board).encode()
        extra = {
            PEGBOARD: board,
            f"{STATE}/drawings.json": record_bytes(gathered.digests),
            f"{STATE}/arrivals.json": project.arrivals.record(icon.codepoint for icon in icons.icons),
        }
        self.report.delivered = delivery.foresee(extra) if self.options.frozen else delivery.commit(extra)
        self.report.faults += self.report.delivered.kept
        self.report.icons = len(icons.icons)
        if not self.options.frozen and not any(d.code == "internal-error" for d in self.report.faults):
            remember(project, self.inputs, board, replace(self.report, reused=len(gathered.drawings)))
        self.lap("deliver")
        return self.report

    def chosen(self) -> dict[str, BundleTable]:
        """Return the bundles to build, by name."""
        all_bundles, names = self.project.config.bundle, self.options.bundles
        unknown = [name for name in names or () if name not in all_bundles]
        if unknown:
            cure = f"bundles are: {', '.join(all_bundles)}"
            raise UsageError(*(Diagnostic("unknown-bundle", f"there is no bundle {name!r}", cure) for name in unknown))
        return all_bundles if names is None else {name: all_bundles[name] for name in names}

    def gather(self) -> _Gathered:
        """Read all drawings and give every icon its peg."""
        project, report = self.project, self.report
        sources, problems = project.sources
        read = read_sources(sources, self.inputs.drawings)
        report.faults += [*problems, *(one.problem for one in read if one.problem)]
        before, table = project.load_board(), project.config.pegs
        if not before.pegs:
            project.refuse_lost_board()
        board, report.changes = before.update([s.name for s in sources], table.codes(), table.assign)
        there = [_Drawing(one.source, one.data) for one in read if one.data is not None]
        digests = {drawing.source.name: drawing_digest(drawing.data) for drawing in there}
        self.refuse_renames(before, digests)
        withdrawn = set(report.changes.withdrawn)
        drawings = [drawing for drawing in there if drawing.source.name not in withdrawn]
        pegs = load_pegs(project, [drawing.source for drawing in drawings], board)
        for _, problem in pegs.metadata.problems:
            (report.faults if problem.level is Level.ERROR else report.notes).append(problem)
        return _Gathered(drawings, pegs, digests, before)

    def refuse_renames(self, before: Pegboard, digests: Mapping[str, str]) -> None:
        """Raise `OddPegError` where a drawing came under a new name, and nobody said what that means."""
        changes = self.report.changes
        if not self.options.as_new and changes.added and changes.retired:
            known = read_record(self.project.root, "drawings.json")
            if renames := find_renames(changes, known, digests):
                raise OddPegError(*rename_diagnostics(renames, before))

    def outlining(self, gathered: _Gathered) -> Options:
        """Return what outlines depend on."""
        self.report.em = choose_em(self.project.config, gathered.files)
        return outline_options(self.project.config, self.report.em.em)

    def outline(self, gathered: _Gathered, outlining: Options) -> list[OutlineResult]:
        """Return one result per drawing: out of the cache where it is known, else worked out."""
        files, report = gathered.files, self.report
        self.progress.begin(len(files))
        cache = OutlineCache(self.project.root, outlining)
        keys = [cache.key(data) for data in files]
        cache.load()
        known = {key: result for key in keys if (result := cache.get(key))}
        new = {key: data for key, data in zip(keys, files, strict=True) if key not in known}
        report.reused = len(files) - len(new)
        self.progress.advance(report.reused)
        self.lap("cache")
        if new:
            load_libraries(len(new))
            self.lap("load")
        made = outline_all(list(new.values()), outlining, self.progress.advance)
        found = {**known, **dict(zip(new, made, strict=True))}
        self.lap("outlines")
        if new and not self.options.frozen:
            sound = (key for key in keys if (problem := found[key].problem) is None or problem.code != "internal-error")
            cache.save({key: found[key] for key in sound})
        self.lap("cache")
        return [found[key] for key in keys]

    def sort_out(self, gathered: _Gathered, results: Sequence[OutlineResult]) -> list[_Drawn]:
        """Return the drawings that became glyphs; put what is wrong with the others, and all notes, into the report."""
        drawn: list[_Drawn] = []
        report = self.report
        for (source, _), result in zip(gathered.drawings, results, strict=True):
            report.notes += [d._replace(where=source.where) for d in result.diagnostics]
            if result.problem:
                report.faults.append(result.problem._replace(where=source.where))
            elif result.outline is not None:
                drawn.append(_Drawn(source, result, result.outline))
                report.fallbacks += result.outline.made is not Method.CURVES
        if not drawn:
            what = "no drawing could become a glyph; nothing was written"
            raise OddPegError(*report.faults, Diagnostic("no-glyphs", what, "correct at least one of them"))
        if len(drawn) > MOST_ICONS:
            what = f"a font holds at most {MOST_ICONS:,} icons, and there are {len(drawn):,}"
            raise OddPegError(Diagnostic("too-many-icons", what, "split the set into two projects"))
        return drawn

    def findings(
        self, gathered: _Gathered, drawn: Sequence[_Drawn], outlining: Options, chosen: Mapping[str, BundleTable]
    ) -> dict[str, tuple[Diagnostic, ...]]:
        """Return the warnings and errors of a check by icon, if any finished output shows them; what each drawing
        shows by itself is kept from build to build."""
        finished = [bundle for bundle in chosen.values() if not bundle.draft]
        if not any(KINDS[output.kind].findings for bundle in finished for output in bundle.outputs):
            return {}
        from oddpeg.checks.examine import Examined, Examinee
        from oddpeg.tasks.review import examine_all, review

        drawings = gathered.drawings
        # whatever becomes of them, drawings are judged by their frames, as in a check
        framed = outlining._replace(fit="frame", padding=0.0)
        outlines = {d.source.name: d.outline for d in drawn} if framed == outlining else {}

        def examine(rows: list[int]) -> list[str]:
            some = [drawings[i] for i in rows]
            return [
                one.packed()
                for one in examine_all([Examinee(d.data, outlines.get(d.source.name)) for d in some], framed)
            ]

        texts = self.texts.get_all(examine, [(gathered.digests[d.source.name], framed) for d in drawings])
        examined = [Examined.unpacked(text) for text in texts]
        found = review(self.project, [d.source for d in drawings], examined, gathered.pegs)
        self.lap("findings")
        serious = {
            source.name: tuple(d for d in one.diagnostics if d.level.rank >= Level.WARNING.rank)
            for source, one in found.drawings
        }
        return {name: those for name, those in serious.items() if those}

    def icons(
        self,
        gathered: _Gathered,
        drawn: Sequence[_Drawn],
        outlining: Options,
        findings: Mapping[str, tuple[Diagnostic, ...]],
    ) -> IconSet:
        """Return the icon set of everything that was drawn."""
        faces = [Face(outlining.em, {d.source.name: d.outline for d in drawn})]
        shown = [DrawnIcon(s, outline.advance, r.title, r.description) for s, r, outline in drawn]
        drawings = {source.name: data for source, data in gathered.drawings}
        icons = icon_set(self.project, shown, gathered.pegs, faces).with_drawings(drawings, findings)
        check_classes(icons)
        places = {source.name: source.where for source, _ in gathered.drawings}
        self.report.notes += unmatched_patterns(self.project, icons.icons, places)
        self.report.notes += outputs_without_font(self.project)
        self.report.notes += self.used(icons)
        if self.project.config.font.ligatures:
            typed = {ligature.name for ligature in ligatures(icons)}
            if never := [name for icon in icons.icons for name in icon.names if name not in typed]:
                what = f"cannot be typed, as a name of one letter is that letter: {', '.join(never)}"
                cure = "give them an alias in icons.csv"
                self.report.notes.append(Diagnostic("ligature-too-short", what, cure, "font.ligatures"))
        return icons

    def used(self, icons: IconSet) -> list[Diagnostic]:
        """Let the project know which icons its code uses, if that matters; return what there is to say."""
        if not self.project.config.bundles_of_used:
            return []
        from oddpeg.tasks.usage import settle_used  # few builds need it

        found = settle_used(self.project, icons)
        self.lap("usage")
        return found

    def fonts(self, icons: IconSet, chosen: Mapping[str, BundleTable]) -> list[BuiltBundle]:
        """Return the bundles with what makes their fonts; bundles of the same icons share one."""
        shared: dict[frozenset[str], BundleFonts] = {}
        bundles = []
        for name, bundle in chosen.items():
            held = frozenset(icon.name for icon in icons.icons if holds(self.project, bundle, icon))
            if not held:
                cure = "let `only` and `without` leave some"
                raise OddPegError(Diagnostic("empty-bundle", f"bundle.{name} leaves out every icon", cure))
            if held not in shared:
                shared[held] = BundleFonts(self.project, icons.select(held))
            bundles.append(BuiltBundle(name, bundle, shared[held], self.project))
        return bundles

    def write(self, bundles: Sequence[BuiltBundle], before: Pegboard) -> Delivery:
        """Return the delivery of every file of every bundle. before: the pegboard as it was."""
        delivery = Delivery(self.project, self.options.force)
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
