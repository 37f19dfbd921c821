"""The main job: drawings → outlines → fonts → outputs → disk, as one readable line.

Knows: the order of the rooms. Does not know: how anything is shown to the user.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

from oddpeg.faults import Fault, FaultsFound, WrongUse
from oddpeg.font.compile import Compiler
from oddpeg.font.facts import FIXED_TIME, FontFacts, file_stem
from oddpeg.font.glyphset import Glyph
from oddpeg.journey import Result, frame_height, travel_all
from oddpeg.outline.frame import Em, auto_units
from oddpeg.outline.model import Made, Options
from oddpeg.outputs.catalogue import Catalogue, Icon, Surroundings
from oddpeg.outputs.credits import licence_text
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.registry import KINDS
from oddpeg.project.cache import Cache
from oddpeg.project.delivery import Delivered, Delivery
from oddpeg.project.facts import FactBook, load_facts
from oddpeg.project.kept_texts import KeptTexts
from oddpeg.project.pegboard import ALIAS, Changes, Pegboard
from oddpeg.project.pegboard import FILE as PEGBOARD
from oddpeg.project.renames import FILE as DRAWINGS
from oddpeg.project.renames import digest, find_renames, load_digests, rename_faults
from oddpeg.project.settings import BundleTable, Config, OutputTable
from oddpeg.project.sources import Source, drawing_folders, find_sources, read_sources
from oddpeg.project.transaction import STATE, icons_text, interrupted, lock

MOST_ICONS = 65_533  # glyph numbers have 16 bits; two go to the missing character and the space
_OFFER = ("woff2", "woff", "ttf")  # smallest first: browsers take the first they know


@dataclass(slots=True)
class Report:
    """What a build did. faults: what kept an icon out or needs a hand; notes: per icon, what was mended or
    left out; fallbacks: icons whose outline had to be made another way; reused: outlines out of the cache; seconds: per stage; files: path → (bundle, bytes)."""

    family: str = ""
    icons: int = 0
    units_per_em: int = 0
    on_grid: bool = True
    fallbacks: int = 0
    reused: int = 0
    faults: list[Fault] = field(default_factory=list)
    notes: list[Fault] = field(default_factory=list)
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


@dataclass(frozen=True, slots=True)
class Wishes:
    """How to build. bundles: their names, None for all; force: replace foreign and edited files; frozen: change
    nothing; as_new: a drawing under a new name is a new icon, even if its content is known."""

    bundles: list[str] | None = None
    force: bool = False
    frozen: bool = False
    as_new: bool = False


@dataclass(frozen=True, slots=True)
class Listener:
    """Who hears how far a build is. begin: how many drawings there are; advance: how many more are done; waiting:
    another process is at work."""

    begin: Callable[[int], None] = lambda total: None
    advance: Callable[[int], None] = lambda count: None
    waiting: Callable[[], None] = lambda: None


def build(root: Path, config: Config, wishes: Wishes = Wishes(), listener: Listener = Listener()) -> Report:
    """Build the project in `root`. Raise `FaultsFound` where nothing could be built; faults that spare the rest come
    with the report."""
    if not wishes.frozen:
        with lock(root, listener.waiting):
            return _build(root, config, wishes, listener)
    if interrupted(root):
        raise FaultsFound([Fault("an earlier build was interrupted before it had moved all its files", "run `oddpeg build`")])
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
    results = _outlines(root, [d for _, d in gathered.drawings], options, wishes, listener, report)
    drawn = _sort_out([s for s, _ in gathered.drawings], results, report)
    clock.lap("outlines")
    if not drawn:
        raise FaultsFound([*report.faults, Fault("no drawing could become a glyph; nothing was written", "mend at least one of them")])
    if len(drawn) > MOST_ICONS:
        raise FaultsFound([Fault(f"a font holds at most {MOST_ICONS:,} icons, and there are {len(drawn):,}", "split the set into two projects")])
    fonts = _Fonts(config, options, gathered, drawn)
    clock.lap("tables")
    delivery = Delivery(root, wishes.force, drawing_folders(root, config.icons.from_))
    with ThreadPoolExecutor() as pool:  # packers leave Python's lock: texts are written beside them
        fonts.start(chosen, pool)
        kept = KeptTexts(root)
        texts = {(name, i): text for name, bundle in chosen.items() for i, text in _texts(root, bundle, fonts, kept).items()}
        if not wishes.frozen:
            kept.save()
        clock.lap("outputs")
        fonts.wait()
        clock.lap("pack")
    for name, bundle in chosen.items():
        _plan(delivery, root, name, bundle, fonts, texts, report)
    clock.lap("outputs")
    if wishes.bundles is None:
        delivery.drop_bundles_not_in(list(config.bundle))
    extra = {root / PEGBOARD: gathered.board.text().encode(), root / STATE / DRAWINGS: icons_text(gathered.digests)}
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


def _gather(root: Path, config: Config, wishes: Wishes, report: Report) -> _Gathered:
    """Read all drawings and give every icon its peg."""
    sources, report.faults = find_sources(root, config.icons.from_, config.icons.folders)
    data, unreadable = read_sources(sources)
    report.faults += unreadable
    before = Pegboard.load(root / PEGBOARD)
    board, report.changes = before.update([s.name for s in sources], config.pegs.codes(), config.pegs.assign)
    digests = {s.name: digest(d) for s, d in zip(sources, data, strict=True) if d is not None}
    if not wishes.as_new and report.changes.added and report.changes.retired:
        pairs = find_renames(report.changes, load_digests(root), digests)
        if pairs:
            raise FaultsFound(rename_faults(pairs, before))
    left_out = set(report.changes.withdrawn)
    drawings = [(s, d) for s, d in zip(sources, data, strict=True) if d is not None and s.name not in left_out]
    facts = load_facts(root, config, [s for s, _ in drawings], {p.icon for p in board.pegs.values() if p.state == ALIAS})
    report.faults += [f for code, _, f in facts.faults if code == "no-licence"]
    report.notes += [f for code, _, f in facts.faults if code != "no-licence"]
    return _Gathered(drawings, board, digests, facts)


def _outlines(
    root: Path, drawings: list[bytes], options: Options, wishes: Wishes, listener: Listener, report: Report,
) -> list[Result]:  # fmt: skip
    """Return one result per drawing: from the cache where it is known, else worked out."""
    cache = Cache(root, options)
    keys = [cache.key(d) for d in drawings]
    cache.load()
    known = {key: result for key in keys if (result := cache.get(key))}
    new = {key: d for key, d in zip(keys, drawings, strict=True) if key not in known}
    report.reused = len(drawings) - len(new)
    listener.advance(report.reused)
    found = {**known, **dict(zip(new, travel_all(list(new.values()), options, listener.advance), strict=True))}
    if new and not wishes.frozen:
        cache.save({key: found[key] for key in keys})
    return [found[key] for key in keys]


def _chosen(config: Config, names: list[str] | None) -> dict[str, BundleTable]:
    if names is None:
        return config.bundle
    unknown = [n for n in names if n not in config.bundle]
    if unknown:
        raise WrongUse(
            [Fault(f"there is no bundle {n!r}", f"bundles are: {', '.join(config.bundle)}") for n in unknown]
        )
    return {n: config.bundle[n] for n in names}


def _options(config: Config, files: list[bytes]) -> tuple[Options, bool]:
    """Return what outlines depend on, and whether all grids fall on whole units."""
    units, fits = config.font.units_per_em, True
    if isinstance(units, str):  # "auto"
        units, fits = auto_units(h for h in map(frame_height, files) if h is not None)
    return Options(Em(units, config.font.drop), config.font.fit, keep_faint=config.icons.keep_faint), fits


def _sort_out(sources: list[Source], results: list[Result], report: Report) -> list[tuple[Source, Result]]:
    """Return the drawings that became glyphs; put the others, and all notes, into the report."""
    drawn: list[tuple[Source, Result]] = []
    for source, result in zip(sources, results, strict=True):
        report.notes += [Fault(n.text, n.cure, source.where, n.line) for n in result.notes]
        if result.problem:
            report.faults.append(Fault(result.problem.text, result.problem.cure, source.where, result.problem.line))
        else:
            drawn.append((source, result))
            report.fallbacks += result.outline is not None and result.outline.made is not Made.CURVES
    return drawn


class _Fonts:
    """The font in every format asked for, and the catalogue that goes with it."""

    def __init__(self, config: Config, options: Options, gathered: _Gathered, drawn: list[tuple[Source, Result]]) -> None:
        em, font = options.em, config.font
        created = int(os.environ.get("SOURCE_DATE_EPOCH") or FIXED_TIME)
        glyphs, icons = [], []
        aliases = gathered.board.aliases()
        for source, result in drawn:
            outline = result.outline
            assert outline is not None
            code = gathered.board.pegs[source.name].codepoint
            known, older = gathered.facts.of(source.name), tuple(aliases.get(code, ()))
            glyphs.append(Glyph(source.name, code, outline.advance, outline.xy, outline.on, outline.ends,
                                outline.made is Made.OVERLAPPING))  # fmt: skip
            icons.append(Icon(source.name, code, source.where, outline.advance, known.title or result.title, (*older, *known.aliases),
                              known.tags, older, result.description, known.licence, known.credit))  # fmt: skip
        self._check_classes(config, icons)
        self.stem = file_stem(font.family)
        self.catalogue = Catalogue(
            font.family, font.version, self.stem, em.units, font.drop, config.classes.prefix, config.base_class,
            tuple(sorted(icons, key=lambda i: i.name)), font.copyright, font.licence, font.licence_url, font.designer,
        )  # fmt: skip
        self.digest = self.catalogue.digest()
        facts = FontFacts(font.family, font.version, em.units, em.ascender, -em.depth, font.copyright, font.designer,
                          licence_text(font.licence, icons), font.licence_url, font.embedding, created)  # fmt: skip
        self._compiler = Compiler(glyphs, facts)
        self._pending: dict[tuple[str, bool], Future[bytes]] = {}
        self.files: dict[tuple[str, bool], bytes] = {}

    @staticmethod
    def _check_classes(config: Config, icons: list[Icon]) -> None:
        for icon in icons:
            for name in (icon.name, *icon.aliases):
                if f"{config.classes.prefix}-{name}" == config.base_class:
                    raise FaultsFound([Fault(f"the class of the icon {name!r} would be the base class .{config.base_class}",
                                             "set another one: classes.base in oddpeg.toml, or rename the icon", icon.source)])  # fmt: skip

    def start(self, bundles: dict[str, BundleTable], pool: ThreadPoolExecutor) -> None:
        """Begin to write every format that is needed, once each."""
        needed = {(f, b.draft) for b in bundles.values() for f in b.fonts}
        needed |= {("woff2", b.draft) for b in bundles.values() if any(KINDS[o.kind].embeds for o in b.outputs)}
        order = sorted(needed, key=lambda key: (key[0] != "woff2", key))  # the slowest first
        self._pending = {key: pool.submit(self._compiler.write, *key) for key in order}

    def wait(self) -> None:
        """Have all files ready."""
        self.files = {key: job.result() for key, job in self._pending.items()}


def _around(place: Path, folder: Path, bundle: BundleTable, fonts: _Fonts) -> Surroundings:
    """Return where an output at `place` finds the bundle's fonts (and, once they are ready, the fonts)."""
    offered = [f for f in _OFFER if f in bundle.fonts]
    urls = {f: os.path.relpath(folder / f"{fonts.stem}.{f}", place.parent).replace(os.sep, "/") for f in offered}
    ready = fonts.files
    return Surroundings(
        {f: url_path(url) for f, url in urls.items()},
        {f: len(ready[f, bundle.draft]) for f in offered if ready},
        ready.get(("woff2", bundle.draft), b""),
    )


def _place(folder: Path, output: OutputTable, fonts: _Fonts) -> Path:
    return folder / (output.to or KINDS[output.kind].file.format(stem=fonts.stem))


def _texts(root: Path, bundle: BundleTable, fonts: _Fonts, kept: KeptTexts) -> dict[int, str]:
    """Return the outputs, by number, that do not carry a font within them; those whose icons and surroundings are as
    they were at the last build are not written out again."""
    folder, found = root / bundle.into, {}
    for i, output in enumerate(bundle.outputs):
        kind = KINDS[output.kind]
        if not kind.embeds:
            place = _place(folder, output, fonts)
            around = _around(place, folder, bundle, fonts)
            found[i] = kept.get(partial(kind.write, fonts.catalogue, around), kind.name, around.urls, fonts.digest)
    return found


def _plan(
    delivery: Delivery, root: Path, name: str, bundle: BundleTable, fonts: _Fonts, texts: dict[tuple[str, int], str],
    report: Report,
) -> None:  # fmt: skip
    """Plan every file of one bundle."""
    folder = root / bundle.into
    delivery.start(name)
    for kind in bundle.fonts:
        data = fonts.files[kind, bundle.draft]
        report.files[delivery.add(name, folder / f"{fonts.stem}.{kind}", data)] = (name, len(data))
    for i, output in enumerate(bundle.outputs):
        place = _place(folder, output, fonts)
        text = texts.get((name, i))
        if text is None:
            text = KINDS[output.kind].write(fonts.catalogue, _around(place, folder, bundle, fonts))
        data = text.encode("utf-8")
        report.files[delivery.add(name, place, data)] = (name, len(data))
