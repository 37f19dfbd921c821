"""A build that has work to do, as a pipeline: gather → outline → pegs → icon set → fonts → texts → deliver.

Each stage is a function of values; the report is made once, at the end.
"""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import NamedTuple

from oddpeg.building.bundles import BuiltBundle
from oddpeg.building.fonts import BundleFonts, ligatures
from oddpeg.building.gather import Gathered, gather
from oddpeg.building.glyphs import Lap, Outlined, drawn_icons, options_of, outline_faces, refuse_counts, whole_faces
from oddpeg.building.last_build import Inputs, remember
from oddpeg.building.pegging import Pegged, give_pegs
from oddpeg.building.placing import RECORD, kept_notes, placement_record
from oddpeg.building.repack_tables import bundle_name, repack_table
from oddpeg.building.report import BuildOptions, BuildReport, BuiltFile
from oddpeg.building.text_cache import TextCache
from oddpeg.config.renamed import renamed_keys
from oddpeg.config.settings import BundleTable, Config
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.model import IconSet
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.file_format import board_text
from oddpeg.pegboard.states import State
from oddpeg.progress import Progress
from oddpeg.project.bundle_views import holds
from oddpeg.project.config_review import output_problems, unmatched_patterns
from oddpeg.project.em import choose_em, kept_choice, outline_options
from oddpeg.project.icon_sets import check_classes, icon_set, in_colours, unnamed_colours
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.cache import Cache
from oddpeg.store.delivery import BundleFiles, Delivery
from oddpeg.store.records import shapes_bytes
from oddpeg.store.state import STATE

Findings = Mapping[str, tuple[Diagnostic, ...]]


class _Stopwatch:
    """The seconds of each stage."""

    def __init__(self) -> None:
        self.seconds: dict[str, float] = {}
        self._last = time.perf_counter()

    def lap(self, stage: str) -> None:
        """Add the time since the last lap to a stage."""
        now = time.perf_counter()
        self.seconds[stage] = round(self.seconds.get(stage, 0.0) + now - self._last, 4)
        self._last = now


class _Selection(NamedTuple):
    """The icons and faces of a bundle: bundles with the same share their fonts."""

    icons: frozenset[str]
    faces: frozenset[str]
    colour: str


def run_stages(snapshot: Snapshot, options: BuildOptions, progress: Progress, inputs: Inputs) -> BuildReport:
    """Build, and return the report. Raise `OddPegError` where nothing can be built; nothing has changed then."""
    watch, config = _Stopwatch(), snapshot.project.config
    texts = TextCache(snapshot.project.root)
    chosen = chosen_bundles(config, options.bundles)
    gathered = gather(snapshot, inputs)
    watch.lap("gather")
    em = choose_em(config, gathered.files, kept_choice(snapshot))
    outlining = outline_options(config, em.em)
    outlined = _outlined(snapshot, gathered, outlining, not options.frozen, progress, watch.lap)
    pegged = give_pegs(snapshot, gathered, outlined, outlining, options.as_new)
    watch.lap("pegs")
    shown_findings = findings(snapshot, gathered, outlined, pegged, outlining, texts) if shows_findings(chosen) else {}
    watch.lap("findings")
    icons = make_icon_set(snapshot, gathered, outlined, pegged, shown_findings)
    notes = [*_notes(snapshot, gathered, outlined, pegged, icons), *kept_notes(em, len(icons.icons)), *inputs.unmatched]
    if config.needs_usage:
        snapshot = _with_usage(snapshot, icons, notes)
        watch.lap("usage")
    bundles = share_fonts(snapshot, icons, chosen)
    watch.lap("tables")
    progress.phase("packing")
    files = write_bundles(snapshot, bundles, texts, options, watch.lap)
    repacked = [repack_table(snapshot, *t) for t in config.repack.items() if options.bundles is None]
    files |= {one.bundle: one.files for one in repacked if one.files is not None}
    watch.lap("outputs")
    report = BuildReport(
        family=config.font.family,
        icons=len(icons.icons),
        em=em,
        fallbacks=outlined.fallbacks,
        reused=outlined.reused,
        faults=[
            *gathered.errors,
            *pegged.errors,
            *outlined.errors,
            *(fault for one in repacked for fault in one.faults),
        ],
        notes=notes + [note for one in repacked for note in one.notes],
        changes=pegged.changes,
        files=[BuiltFile(path, name, len(data)) for name, one in files.items() for path, data in one.all().items()],
        seconds=watch.seconds,
    )
    progress.phase("writing")
    deliver(snapshot, options, files, _records(snapshot, pegged, icons, em.em), report)
    _remember(snapshot, options, inputs, pegged, report)
    watch.lap("deliver")
    return report


def _outlined(
    snapshot: Snapshot, gathered: Gathered, outlining: Options, keep: bool, progress: Progress, lap: Lap
) -> Outlined:
    """Return the outlines of all faces; raise `OddPegError` where a font cannot hold them. keep: in the cache."""
    cache = Cache(snapshot.project.root)
    outlined = outline_faces(gathered.faces, outlining, cache, keep, progress, lap)
    refuse_counts(outlined.faces, [*gathered.errors, *outlined.errors])
    return outlined


def _notes(
    snapshot: Snapshot, gathered: Gathered, outlined: Outlined, pegged: Pegged, icons: IconSet
) -> list[Diagnostic]:
    """Return the messages on drawings and icons that do not stop a build."""
    untypable = untypable_names(icons) if snapshot.project.config.font.ligatures else []
    levels = leveled(snapshot, gathered, pegged, outlined.notes)
    return [*pegged.notes, *levels, *icon_set_notes(snapshot, gathered, icons), *untypable]


def _remember(snapshot: Snapshot, options: BuildOptions, inputs: Inputs, pegged: Pegged, report: BuildReport) -> None:
    """Keep the report for a build with the same inputs, unless this program failed, or wrote nothing."""
    if not options.frozen and not options.draft and not any(fault.code == "internal-error" for fault in report.faults):
        board = board_text(pegged.pegs.board).encode()
        remember(snapshot, inputs, board, replace(report, reused=len(pegged.hashes)))


def _with_usage(snapshot: Snapshot, icons: IconSet, notes: list[Diagnostic]) -> Snapshot:
    """Return the snapshot with the icons that code uses; add messages to the notes."""
    from oddpeg.usage.run import used_icons  # few builds need it

    used = used_icons(snapshot, icons)
    notes += used.messages
    return snapshot.with_used_icons(used.names)


def chosen_bundles(config: Config, names: Sequence[str] | None) -> dict[str, BundleTable]:
    """Return the bundles to build, by name; all where no names are given. Raise `UsageError` for unknown names."""
    unknown = [name for name in names or () if name not in config.bundle]
    if unknown:
        cure = f"bundles are: {', '.join(config.bundle)}"
        raise UsageError(*(Diagnostic("unknown-bundle", f"there is no bundle {name!r}", cure) for name in unknown))
    return dict(config.bundle) if names is None else {name: config.bundle[name] for name in names}


def shows_findings(chosen: Mapping[str, BundleTable]) -> bool:
    """Return whether any finished output of the bundles shows the findings of a check."""
    finished = [bundle for bundle in chosen.values() if not bundle.draft]
    return any(KINDS[output.kind].findings for bundle in finished for output in bundle.outputs)


def findings(
    snapshot: Snapshot, gathered: Gathered, outlined: Outlined, pegged: Pegged, outlining: Options, texts: TextCache
) -> Findings:
    """Return the warnings and errors of a check, by icon. The findings of each single drawing are cached."""
    from oddpeg.checking.examine import CheckResult
    from oddpeg.checking.review import examine_all, review

    drawings = gathered.drawings
    # drawings are judged by their frames, however the font places them, as in a check
    framed = outlining._replace(fit="frame", padding=0.0)
    as_drawn = [face for face in outlined.faces if not face.plan.px and options_of(face.plan, framed) == outlining]
    outlines = {source.file: face.results[name].outline for face in as_drawn for name, source in face.sources.items()}

    def examine(rows: list[int]) -> list[str]:
        some = [drawings[i] for i in rows]
        results = examine_all([(d.data, outlines.get(d.source.file)) for d in some], framed)
        return [result.packed() for result in results]

    kept = texts.get_all(examine, framed, [pegged.hashes[d.source.name] for d in drawings])
    results = [CheckResult.unpacked(text) for text in kept]
    reviewed = review(snapshot.project, [d.source for d in drawings], results, pegged.pegs)
    serious = {
        source.name: tuple(d for d in one.diagnostics if d.level.rank >= Level.WARNING.rank)
        for source, one, _ in reviewed.drawings
    }
    return {name: diagnostics for name, diagnostics in serious.items() if diagnostics}


def make_icon_set(
    snapshot: Snapshot, gathered: Gathered, outlined: Outlined, pegged: Pegged, shown_findings: Findings
) -> IconSet:
    """Return the icon set of everything that was outlined; raise `OddPegError` where two classes would be the same."""
    faces = whole_faces(outlined.em, outlined.faces, snapshot.project.faces)
    drawings = {(source.name, 0): data for source, data in gathered.drawings}
    for plan, files in gathered.faces:
        drawings |= {(source.name, plan.px): data for source, data in files} if plan.px else {}
    icons = icon_set(snapshot, drawn_icons(gathered.drawings, outlined.faces), pegged.pegs, faces)
    icons = in_colours(snapshot, icons.with_drawings(drawings, shown_findings))
    check_classes(icons)
    return icons


def icon_set_notes(snapshot: Snapshot, gathered: Gathered, icons: IconSet) -> list[Diagnostic]:
    """Return notes on colours without a name, on patterns that match nothing, and on outputs without a font."""
    places = {source.name: source.where for source, _ in gathered.drawings}
    sized = [d.source for face in gathered.faces if face.plan.px for d in face.drawings]
    return [
        *(
            Diagnostic("size-alone", "is drawn for a small size only", "draw it for the face itself too", source.where)
            for source in sized
            if source.name not in places
        ),
        *unnamed_colours(snapshot, icons),
        *unmatched_patterns(snapshot.project, icons.icons, places),
        *output_problems(snapshot.project),
        *renamed_keys(snapshot.project.config_path),
    ]


def leveled(snapshot: Snapshot, gathered: Gathered, pegged: Pegged, notes: Sequence[Diagnostic]) -> list[Diagnostic]:
    """Return notes on drawings at the levels that the config sets, without silenced ones."""
    if not snapshot.project.config.checks:
        return list(notes)
    from oddpeg.checking.review import Rules  # few projects need it

    rules = Rules(snapshot.project, pegged.pegs)
    names = {d.source.where: d.source.name for face in gathered.faces for d in face.drawings}
    diagnostics: list[Diagnostic] = []
    for note in notes:
        diagnostics += rules.applied(names.get(note.where, ""), [note], {})
    return diagnostics


def untypable_names(icons: IconSet) -> list[Diagnostic]:
    """Return a note on names that cannot be a ligature."""
    typed = {ligature.name for ligature in ligatures(icons)}
    never = [name for icon in icons.icons for name in icon.names if name not in typed]
    if not never:
        return []
    message = f"cannot be typed, as a name of one letter is that letter: {', '.join(never)}"
    return [Diagnostic("ligature-too-short", message, "give them an alias in icons.csv", "font.ligatures")]


def share_fonts(snapshot: Snapshot, icons: IconSet, chosen: Mapping[str, BundleTable]) -> list[BuiltBundle]:
    """Return the bundles with their fonts; bundles with the same icons share one. Raise `OddPegError` for a bundle
    without icons."""
    shared: dict[_Selection, BundleFonts] = {}
    bundles = []
    for name, bundle in chosen.items():
        faces = frozenset(plan.name for plan in snapshot.project.faces_of(bundle))
        held = frozenset(icon.name for icon in icons.icons if holds(snapshot, bundle, icon))
        selection = _Selection(held, faces, bundle.colour_mode)
        if selection not in shared:
            selected = icons.in_colours(bundle.colour_mode).select(held)
            selected = selected.select_faces(faces, snapshot.project.default_face(bundle).name)
            if not selected.icons:
                cure = "let `only`, `without` and `faces` leave some"
                raise OddPegError(Diagnostic("empty-bundle", f"bundle.{name} leaves out every icon", cure))
            shared[selection] = BundleFonts(snapshot.project, selected)
        bundles.append(BuiltBundle(name, bundle, shared[selection], snapshot))
    return bundles


def write_bundles(
    snapshot: Snapshot, bundles: Sequence[BuiltBundle], texts: TextCache, options: BuildOptions, lap: Lap
) -> dict[str, BundleFiles]:
    """Return the files of every bundle, by name."""
    with ThreadPoolExecutor() as pool:  # packers release Python's lock, so texts are written at the same time
        fonts = list(dict.fromkeys(bundle.fonts for bundle in bundles))
        for fontset in fonts:
            fontset.start([bundle.table for bundle in bundles if bundle.fonts is fontset], pool)
        prerendered = {bundle.name: bundle.prerender(texts) for bundle in bundles}
        if not options.frozen:
            texts.save()
        lap("outputs")
        for fontset in fonts:
            fontset.wait()
        lap("pack")
    live = {peg.icon: peg.codepoint for peg in snapshot.board.in_state(State.LIVE)}
    shown = snapshot.ledger.shown
    return {
        bundle.name: bundle.contents(
            prerendered.pop(bundle.name), shown.get(bundle.name, live), keep_pictures=options.draft
        )
        for bundle in bundles
    }


def _records(snapshot: Snapshot, pegged: Pegged, icons: IconSet, em: Em) -> dict[str, bytes]:
    """Return the pegboard and the records that are written with the bundles, by path."""
    return {
        PEGBOARD: board_text(pegged.pegs.board).encode(),
        RECORD: placement_record(snapshot.project, em),
        f"{STATE}/shapes.json": shapes_bytes(pegged.shapes),
        f"{STATE}/arrivals.json": snapshot.arrivals.record(icon.codepoint for icon in icons.icons),
    }


def deliver(
    snapshot: Snapshot,
    options: BuildOptions,
    files: Mapping[str, BundleFiles],
    records: Mapping[str, bytes],
    report: BuildReport,
) -> None:
    """Put all files on the disk as one change, or in a frozen build compute the changes; enter them in the report."""
    delivery = Delivery(snapshot.places(), snapshot.ledger, options.force)
    for name, bundle_files in files.items():
        delivery.add(name, bundle_files)
    if options.bundles is None:
        config = snapshot.project.config
        delivery.drop_bundles_not_in({*config.bundle, *map(bundle_name, config.repack)})
    report.delivered = delivery.dry_run(records) if options.frozen else delivery.commit(records)
    written = set(report.delivered.written)
    report.files = [file._replace(changed=file.path in written) for file in report.files]
    report.faults += report.delivered.kept
