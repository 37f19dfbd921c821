"""The main job: drawings → outlines → fonts → outputs → disk, as one readable line.

Knows: the order of the rooms. Does not know: how anything is shown to the user.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, Level, OddPegError, UsageError
from oddpeg.outline.model import Made, Options, Outline
from oddpeg.outline.pipeline import OutlineResult, em_for
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import ALIAS, Changes, Pegboard
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.tasks.bundles import FontMaker, carries, check_classes, contents, early_texts, stocked, typed
from oddpeg.tasks.outlining import load_libraries, outline_all
from oddpeg.workspace.arrivals import Arrivals
from oddpeg.workspace.board_file import load_board
from oddpeg.workspace.code_stamp import code_stamp
from oddpeg.workspace.delivery import Delivered, Delivery
from oddpeg.workspace.metadata import FactBook, load_facts
from oddpeg.workspace.outline_cache import Cache
from oddpeg.workspace.renames import FILE as DRAWINGS
from oddpeg.workspace.renames import digest, find_renames, load_digests, rename_faults
from oddpeg.workspace.settings import BundleTable, Config
from oddpeg.workspace.sources import Source, drawing_folders, find_sources, read_sources
from oddpeg.workspace.text_cache import KeptTexts
from oddpeg.workspace.transaction import STATE, icons_text, interrupted, lock

MOST_ICONS = 65_533  # glyph numbers have 16 bits; two go to the missing character and the space


@dataclass(slots=True)
class Report:
    """What a build did. faults: what kept an icon out or needs a hand; notes: per icon, what was mended or left out;
    fallbacks: icons whose outline had to be made another way; reused: outlines out of the cache; seconds: per stage;
    files: path → (bundle, bytes).
    """

    family: str = ""
    icons: int = 0
    units_per_em: int = 0
    on_grid: bool = True
    fallbacks: int = 0
    reused: int = 0
    faults: list[Diagnostic] = field(default_factory=list)
    notes: list[Diagnostic] = field(default_factory=list)
    changes: Changes = field(default_factory=Changes)
    delivered: Delivered = field(default_factory=Delivered)
    files: dict[str, tuple[str, int]] = field(default_factory=dict)
    seconds: dict[str, float] = field(default_factory=dict)


@dataclass(slots=True)
class Stopwatch:
    """Adds up seconds by stage."""

    seconds: dict[str, float]
    last: float = field(default_factory=time.perf_counter)

    def lap(self, stage: str) -> None:
        now = time.perf_counter()
        self.seconds[stage] = round(self.seconds.get(stage, 0.0) + now - self.last, 4)
        self.last = now


@dataclass(frozen=True)
class Wishes:
    """How to build. bundles: their names, None for all; force: replace foreign and edited files; frozen: change
    nothing; as_new: a drawing under a new name is a new icon, even if its content is known."""

    bundles: list[str] | None = None
    force: bool = False
    frozen: bool = False
    as_new: bool = False


@dataclass(frozen=True)
class Listener:
    """Who hears how far a build is. begin: how many drawings there are; advance: how many more are done; waiting:
    another process is at work."""

    begin: Callable[[int], None] = lambda total: None
    advance: Callable[[int], None] = lambda count: None
    waiting: Callable[[], None] = lambda: None


def build(root: Path, config: Config, wishes: Wishes = Wishes(), listener: Listener = Listener()) -> Report:
    """Build the project in `root`. Raise `OddPegError` where nothing could be built; faults that spare the rest come
    with the report."""
    if not wishes.frozen:
        with lock(root, listener.waiting):
            return _build(root, config, wishes, listener)
    if interrupted(root):
        raise OddPegError(
            Diagnostic(
                "build-interrupted",
                "an earlier build was interrupted before it had moved all its files",
                "run `oddpeg build`",
            )
        )
    return _build(root, config, wishes, listener)


def _build(root: Path, config: Config, wishes: Wishes, listener: Listener) -> Report:
    chosen = _chosen(config, wishes.bundles)
    report = Report(family=config.font.family)
    clock = Stopwatch(report.seconds)
    gathered = _gather(root, config, wishes, report)
    clock.lap("gather")
    options, report.on_grid = _options(config, [d for _, d in gathered.drawings])
    report.units_per_em = options.em.units
    listener.begin(len(gathered.drawings))
    results = _outlines(root, [d for _, d in gathered.drawings], options, wishes, listener, report, clock)
    drawn = _sort_out([s for s, _ in gathered.drawings], results, report)
    if not drawn:
        raise OddPegError(
            *report.faults,
            Diagnostic(
                "no-glyphs", "no drawing could become a glyph; nothing was written", "mend at least one of them"
            ),
        )
    if len(drawn) > MOST_ICONS:
        raise OddPegError(
            Diagnostic(
                "too-many-icons",
                f"a font holds at most {MOST_ICONS:,} icons, and there are {len(drawn):,}",
                "split the set into two projects",
            )
        )
    kept = KeptTexts(root)
    findings = _findings(config, options, gathered, {s.name: r.outline for s, r in drawn}, chosen, kept, clock)
    makers = _makers(config, options, gathered, drawn, chosen, findings, report)
    clock.lap("tables")
    delivery = Delivery(root, wishes.force, drawing_folders(root, config.icons.from_))
    with ThreadPoolExecutor() as pool:  # packers leave Python's lock: texts are written beside them
        for maker in dict.fromkeys(makers.values()):
            maker.start([chosen[name] for name, its in makers.items() if its is maker], pool)
        texts = {name: early_texts(root, bundle, makers[name], kept) for name, bundle in chosen.items()}
        if not wishes.frozen:
            kept.save()
        clock.lap("outputs")
        for maker in makers.values():
            maker.wait()
        clock.lap("pack")
    for name, bundle in chosen.items():
        delivery.start(name)
        for path, data in contents(root, bundle, makers[name], texts[name]):
            report.files[delivery.add(name, path, data)] = (name, len(data))
    clock.lap("outputs")
    if wishes.bundles is None:
        delivery.drop_bundles_not_in(list(config.bundle))
    extra = {
        root / PEGBOARD: gathered.board.text().encode(),
        root / STATE / DRAWINGS: icons_text(gathered.digests),
        gathered.arrivals.path: gathered.arrivals.text(gathered.board.pegs[s.name].codepoint for s, _ in drawn),
    }
    report.delivered = delivery.foresee(extra) if wishes.frozen else delivery.commit(extra)
    report.faults += report.delivered.kept
    report.icons = len(drawn)
    clock.lap("deliver")
    return report


@dataclass(slots=True)
class _Gathered:
    """What a build starts from. drawings: those that can be read; digests: by icon."""

    drawings: list[tuple[Source, bytes]]
    board: Pegboard
    digests: dict[str, str]
    facts: FactBook
    arrivals: Arrivals


def _gather(root: Path, config: Config, wishes: Wishes, report: Report) -> _Gathered:
    """Read all drawings and give every icon its peg."""
    sources, report.faults = find_sources(root, config.icons.from_, config.icons.folders)
    data, unreadable = read_sources(sources)
    report.faults += unreadable
    before = load_board(root / PEGBOARD)
    board, report.changes = before.update([s.name for s in sources], config.pegs.codes(), config.pegs.assign)
    digests = {s.name: digest(d) for s, d in zip(sources, data, strict=True) if d is not None}
    if not wishes.as_new and report.changes.added and report.changes.retired:
        pairs = find_renames(report.changes, load_digests(root), digests)
        if pairs:
            raise OddPegError(*rename_faults(pairs, before))
    left_out = set(report.changes.withdrawn)
    drawings = [(s, d) for s, d in zip(sources, data, strict=True) if d is not None and s.name not in left_out]
    facts = load_facts(
        root, config, [s for s, _ in drawings], {p.icon for p in board.pegs.values() if p.state == ALIAS}
    )
    report.faults += [d for _, d in facts.faults if d.code == "no-licence"]
    report.notes += [d for _, d in facts.faults if d.code != "no-licence"]
    return _Gathered(drawings, board, digests, facts, Arrivals(root, config.font.version))


def _outlines(
    root: Path,
    drawings: list[bytes],
    options: Options,
    wishes: Wishes,
    listener: Listener,
    report: Report,
    clock: Stopwatch,
) -> list[OutlineResult]:
    """Return one result per drawing: from the cache where it is known, else worked out."""
    cache = Cache(root, options)
    keys = [cache.key(d) for d in drawings]
    cache.load()
    known = {key: result for key in keys if (result := cache.get(key))}
    new = {key: d for key, d in zip(keys, drawings, strict=True) if key not in known}
    report.reused = len(drawings) - len(new)
    listener.advance(report.reused)
    clock.lap("cache")
    if new:
        load_libraries(len(new))
        clock.lap("load")
    found = {**known, **dict(zip(new, outline_all(list(new.values()), options, listener.advance), strict=True))}
    clock.lap("outlines")
    if new and not wishes.frozen:
        cache.save({key: found[key] for key in keys})
    clock.lap("cache")
    return [found[key] for key in keys]


def _chosen(config: Config, names: list[str] | None) -> dict[str, BundleTable]:
    if names is None:
        return config.bundle
    unknown = [n for n in names if n not in config.bundle]
    if unknown:
        raise UsageError(
            *[
                Diagnostic("unknown-bundle", f"there is no bundle {n!r}", f"bundles are: {', '.join(config.bundle)}")
                for n in unknown
            ]
        )
    return {n: config.bundle[n] for n in names}


def _options(config: Config, files: list[bytes]) -> tuple[Options, bool]:
    """Return what outlines depend on, and whether all grids fall on whole units."""
    em, fits = em_for(config.font.units_per_em, config.font.drop, files)
    return Options(em, config.font.fit, keep_faint=config.icons.keep_faint), fits


def _sort_out(
    sources: list[Source], results: list[OutlineResult], report: Report
) -> list[tuple[Source, OutlineResult]]:
    """Return the drawings that became glyphs; put the others, and all notes, into the report."""
    drawn: list[tuple[Source, OutlineResult]] = []
    for source, result in zip(sources, results, strict=True):
        report.notes += [d._replace(where=source.where) for d in result.diagnostics]
        if result.problem:
            report.faults.append(result.problem._replace(where=source.where))
        else:
            drawn.append((source, result))
            report.fallbacks += result.outline is not None and result.outline.made is not Made.CURVES
    return drawn


def _findings(
    config: Config,
    options: Options,
    gathered: _Gathered,
    outlines: dict[str, Outline | None],
    chosen: dict[str, BundleTable],
    kept: KeptTexts,
    clock: Stopwatch,
) -> dict[str, tuple[Diagnostic, ...]]:
    """Return the warnings and errors of a check by icon, if any finished output shows them; what each drawing
    shows by itself is kept from build to build."""
    if not any(
        KINDS[output.kind].findings for bundle in chosen.values() if not bundle.draft for output in bundle.outputs
    ):
        return {}
    from oddpeg.checks.examine import Examined, Examinee
    from oddpeg.tasks.review import examine_all, review

    program = code_stamp()
    sources, files = [s for s, _ in gathered.drawings], [d for _, d in gathered.drawings]

    framed = options._replace(
        fit="frame"
    )  # whatever becomes of them, drawings are judged by their frames, as in a check

    def look(rows: list[int]) -> list[str]:
        known = outlines if framed == options else {}
        drawings = [Examinee(files[i], known.get(sources[i].name)) for i in rows]
        return [one.packed() for one in examine_all(drawings, framed)]

    texts = kept.get_all(look, [(program, gathered.digests[s.name], framed) for s in sources])
    found = review(sources, list(map(Examined.unpacked, texts)), config.checks, gathered.facts)
    clock.lap("findings")
    serious = {
        s.name: tuple(d for d in one.diagnostics if d.level.rank >= Level.WARNING.rank) for s, one in found.drawings
    }
    return {name: those for name, those in serious.items() if those}


def _makers(
    config: Config,
    options: Options,
    gathered: _Gathered,
    drawn: list[tuple[Source, OutlineResult]],
    chosen: dict[str, BundleTable],
    findings: Mapping[str, tuple[Diagnostic, ...]],
    report: Report,
) -> dict[str, FontMaker]:
    """Return who makes the fonts of each bundle; bundles of the same icons share one."""
    stock = stocked(
        drawn, {s.name: d for s, d in gathered.drawings}, gathered.board, gathered.facts, gathered.arrivals, findings
    )
    icons = stock.icons
    check_classes(config, icons)
    if config.font.ligatures and (never := typed(icons)[1]):
        report.notes.append(
            Diagnostic(
                "ligature-too-short",
                f"cannot be typed, as a name of one letter is that letter: {', '.join(never)}",
                "give them an alias in icons.csv",
                "font.ligatures",
            )
        )
    shared: dict[frozenset[str], FontMaker] = {}
    makers = {}
    for name, bundle in chosen.items():
        names = frozenset(icon.name for icon in icons if not (bundle.only or bundle.without) or carries(bundle, icon))
        if not names:
            raise OddPegError(
                Diagnostic(
                    "empty-bundle", f"bundle.{name} leaves out every icon", "let `only` and `without` leave some"
                )
            )
        if names not in shared:
            shared[names] = FontMaker(config, options.em, stock, names)
        makers[name] = shared[names]
    return makers
