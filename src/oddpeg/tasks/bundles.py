"""From icons to the files of a bundle: fonts in every format asked for, and every output beside them.

Knows: what a bundle holds, where each file goes and what it finds around it. Does not know: how outlines came about,
how files are written to disk.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Collection, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from fnmatch import fnmatchcase
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, Protocol

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.info import FIXED_TIME, FontFacts, file_stem
from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.credits import licence_text
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.kind import Kind, anywhere, no_lines
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import RETIRED, WITHDRAWN, Pegboard
from oddpeg.workspace.arrivals import Arrivals
from oddpeg.workspace.metadata import FactBook
from oddpeg.workspace.settings import BundleTable, Config, OutputTable
from oddpeg.workspace.sources import Source
from oddpeg.workspace.text_cache import KeptTexts

if TYPE_CHECKING:  # finding icons needs none of these, and they take longer to load than a search
    from oddpeg.font.glyphset import Glyph
    from oddpeg.outline.model import Outline
    from oddpeg.outline.pipeline import OutlineResult
    from oddpeg.outline.placement import Em
    from oddpeg.svg.clean import Original

_OFFER = ("woff2", "woff", "ttf", "eot", "svg")  # smallest first: browsers take the first they know; legacy last


class Stock(NamedTuple):
    """Everything bundles choose from: icons, by name; glyphs; outlines and drawings by name; what is gone; what
    checking found."""

    icons: list[Icon]
    glyphs: list[Glyph]
    outlines: dict[str, Outline]
    drawings: dict[str, bytes]
    retired: tuple[tuple[str, int], ...]
    findings: Mapping[str, tuple[Diagnostic, ...]]


def stocked(
    drawn: list[tuple[Source, OutlineResult]],
    drawings: dict[str, bytes],
    board: Pegboard,
    book: FactBook,
    arrivals: Arrivals,
    findings: Mapping[str, tuple[Diagnostic, ...]],
) -> Stock:
    """Return what there is, given all results, drawings by name and what is known of the icons."""
    from oddpeg.font.glyphset import Glyph
    from oddpeg.outline.model import Made

    icons, glyphs, outlines = [], [], {}
    aliases = board.aliases()
    for source, result in drawn:
        outline = result.outline
        assert outline is not None
        code = board.pegs[source.name].codepoint
        outlines[source.name] = outline
        known, older = book.of(source.name), tuple(aliases.get(code, ()))
        glyphs.append(
            Glyph(
                source.name,
                code,
                outline.advance,
                outline.xy,
                outline.on,
                outline.ends,
                outline.made is Made.OVERLAPPING,
            )
        )
        icons.append(
            Icon(
                source.name,
                code,
                source.where,
                outline.advance,
                known.title or result.title,
                (*older, *known.aliases),
                known.tags,
                older,
                result.description,
                known.licence,
                known.credit,
                arrivals.of(code),
            )
        )
    retired = tuple((p.icon, p.codepoint) for p in board.pegs.values() if p.state in (RETIRED, WITHDRAWN))
    return Stock(sorted(icons, key=lambda i: i.name), glyphs, outlines, drawings, retired, findings)


def carries(bundle: BundleTable, icon: Icon) -> bool:
    """Return whether a bundle holds an icon. Patterns name icons, or tags where they begin with `#`."""
    return (not bundle.only or _fits(icon, bundle.only)) and not _fits(icon, bundle.without)


def _fits(icon: Icon, patterns: list[str]) -> bool:
    return any(
        any(fnmatchcase(tag, p[1:].lower()) for tag in icon.tags) if p.startswith("#") else fnmatchcase(icon.name, p)
        for p in patterns
    )


def looks(
    config: Config, icons: list[Icon]
) -> tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...], tuple[str, ...]]:
    """Return the named sizes and colours, and which icons are mirrored."""
    classes = config.classes
    mirrored = tuple(icon.name for icon in icons if _fits(icon, classes.mirrored))
    return tuple(classes.sizes.items()), tuple(classes.colours.items()), mirrored


def check_classes(config: Config, icons: list[Icon]) -> None:
    """Raise `OddPegError` where an icon's class would be the base class, or that of a size or colour."""
    taken = {config.base_class: "the base class"}
    taken |= {f"{config.classes.prefix}-size-{name}": "the class of a size" for name in config.classes.sizes}
    taken |= {f"{config.classes.prefix}-colour-{name}": "the class of a colour" for name in config.classes.colours}
    for icon in icons:
        for name in (icon.name, *icon.aliases):
            own = f"{config.classes.prefix}-{name}"
            if own in taken:
                raise OddPegError(
                    Diagnostic(
                        "class-clash",
                        f"the class of the icon {name!r} would be {taken[own]} .{own}",
                        "set another one: classes.base (or the size or colour) in oddpeg.toml, or rename the icon",
                        icon.source,
                    )
                )


def typed(icons: list[Icon]) -> tuple[tuple[tuple[str, int], ...], list[str]]:
    """Return (name, codepoint) of everything that can be typed to get an icon, and the names that cannot: a ligature
    takes at least two letters, and letters of the first plane."""
    pairs = [(name, icon.codepoint) for icon in icons for name in (icon.name, *icon.aliases)]
    fit = {pair: None for pair in pairs if len(pair[0]) > 1 and max(pair[0]) <= "\uffff"}
    return tuple(fit), [pair[0] for pair in pairs if pair not in fit]


def synonyms(config: Config) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Return word → words that mean the same here."""
    return tuple((word, tuple(others)) for word, others in config.synonyms.items())


def _original(drawings: Mapping[str, bytes], name: str) -> Original | None:
    from oddpeg.svg.clean import original

    return original(drawings[name]) if name in drawings else None


class Known(Protocol):
    """What places and surroundings depend on: a catalogue, its file name, the font files that are ready, and all
    bundles."""

    @property
    def catalogue(self) -> Catalogue: ...
    @property
    def stem(self) -> str: ...
    @property
    def files(self) -> dict[tuple[str, bool], bytes]: ...
    @property
    def bundles(self) -> Mapping[str, BundleTable]: ...


class FontMaker:
    """One selection of icons: its catalogue, and its font in every format asked for."""

    def __init__(self, config: Config, em: Em, stock: Stock, names: Collection[str]) -> None:
        from oddpeg.font.compile import Compiler
        from oddpeg.outputs.pictures import Pictures

        font = config.font
        icons = [icon for icon in stock.icons if icon.name in names]
        created = int(os.environ.get("SOURCE_DATE_EPOCH") or FIXED_TIME)
        self.stem = file_stem(font.family)
        self.bundles: Mapping[str, BundleTable] = config.bundle
        self.catalogue = Catalogue(
            font.family,
            font.version,
            self.stem,
            em.units,
            font.drop,
            config.classes.prefix,
            config.base_class,
            tuple(icons),
            font.copyright,
            font.licence,
            font.licence_url,
            font.designer,
            *looks(config, icons),
            synonyms(config),
            stock.retired,
            Pictures({name: o for name, o in stock.outlines.items() if name in names}, em),
            partial(_original, stock.drawings),
            stock.findings,
        )
        self.digest = self.catalogue.digest()
        facts = FontFacts(
            font.family,
            font.version,
            em.units,
            em.ascender,
            -em.depth,
            font.copyright,
            font.designer,
            licence_text(font.licence, icons),
            font.licence_url,
            font.embedding,
            created,
            typed(icons)[0] if font.ligatures else (),
        )
        self._compiler = Compiler([g for g in stock.glyphs if g.name in names], facts)
        self._pending: dict[tuple[str, bool], Future[bytes]] = {}
        self.files: dict[tuple[str, bool], bytes] = {}

    def start(self, bundles: list[BundleTable], pool: ThreadPoolExecutor) -> None:
        """Begin to write every format that is needed, once each."""
        needed = {(f, b.draft) for b in bundles for f in b.fonts}
        needed |= {
            (f, b.draft)
            for b in bundles
            for o in b.outputs
            for f in KINDS[o.kind].carries({**KINDS[o.kind].defaults(), **o.options})
        }
        order = sorted(needed, key=lambda key: (key[0] != "woff2", key))  # the slowest first
        self._pending = {key: pool.submit(self._compiler.write, *key) for key in order}

    def wait(self) -> None:
        """Have all files ready."""
        self.files = {key: job.result() for key, job in self._pending.items()}


def surroundings(root: Path, place: Path, bundle: BundleTable, output: OutputTable, maker: Known) -> Surroundings:
    """Return what an output at `place` finds around it: where the bundle's fonts are and, once they are ready, the
    fonts."""
    folder = root / bundle.into
    offered = [f for f in _OFFER if f in bundle.fonts]
    urls = {f: _url(folder / f"{font_stem(bundle, maker)}.{f}", place) for f in offered}
    files = {kind: data for (kind, draft), data in maker.files.items() if draft == bundle.draft}
    options = {**KINDS[output.kind].defaults(), **output.options}
    if "template" in options:
        options["source"] = _template(root, str(options["template"]))
    return Surroundings(
        urls,
        {f: len(files[f]) for f in offered if f in files},
        tuple((o.kind, _url(place_of(root, bundle, o, maker), place)) for o in bundle.outputs if o is not output),
        files,
        os.path.relpath(place, root).replace(os.sep, "/"),
        bundle.draft,
        options,
        _liner(root, bundle, maker),
    )


def _url(file: Path, place: Path) -> str:
    """Return where a file is, seen from an output at `place`."""
    return url_path(os.path.relpath(file, place.parent).replace(os.sep, "/"))


def served(root: Path, bundle: BundleTable, maker: Known) -> list[tuple[Kind, Surroundings]]:
    """Return the outputs of a bundle that say how an icon is used, with what is around each."""
    useful = [output for output in bundle.outputs if KINDS[output.kind].use is not no_lines]
    return [(KINDS[o.kind], surroundings(root, place_of(root, bundle, o, maker), bundle, o, maker)) for o in useful]


def _liner(root: Path, bundle: BundleTable, maker: Known) -> Callable[[str], list[tuple[str, str]]]:
    """Return what tells the lines to paste for an icon, those of `bundle` first; it looks round all bundles once,
    when it is first asked."""
    order = sorted(maker.bundles.values(), key=lambda other: other is not bundle)

    @cache
    def round_about(number: int) -> list[tuple[Kind, Surroundings]]:
        return served(root, order[number], maker)

    def lines(name: str) -> list[tuple[str, str]]:
        icon = maker.catalogue.named(name)
        places = [pair for number, other in enumerate(order) if carries(other, icon) for pair in round_about(number)]
        found = [line for kind, around in places for line in kind.use(maker.catalogue, around, icon)]
        return list(dict.fromkeys((line.place, line.text) for line in [*found, *anywhere(icon)]))

    return lines


def _template(root: Path, path: str) -> str:
    """Return the text of a user's own template."""
    try:
        return (root / path).read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as problem:
        told = problem.strerror if isinstance(problem, OSError) else "it is not UTF-8"
        raise OddPegError(
            Diagnostic(
                "template-unreadable",
                f"cannot be read: {told}",
                "name the template's file in the output's key `template`",
                path or "template",
            )
        ) from None


def font_stem(bundle: BundleTable, maker: Known) -> str:
    """Return the name of a bundle's font files, without ending; with underscores where resources of Android demand
    it."""
    return maker.stem.replace("-", "_") if any(o.kind == "android-xml" for o in bundle.outputs) else maker.stem


def place_of(root: Path, bundle: BundleTable, output: OutputTable, maker: Known) -> Path:
    """Return where an output goes."""
    kind = KINDS[output.kind]
    return root / bundle.into / (output.to or kind.file_name(maker.catalogue))


def early_texts(root: Path, bundle: BundleTable, maker: FontMaker, kept: KeptTexts) -> dict[int, str]:
    """Return the outputs, by number, that do not carry a font within them. Those whose icons and surroundings are as
    they were at the last build are not written out again, unless they hold pictures too."""
    found = {}
    for i, output in enumerate(bundle.outputs):
        kind = KINDS[output.kind]
        place = place_of(root, bundle, output, maker)
        around = surroundings(root, place, bundle, output, maker)
        write = partial(_text, kind, maker.catalogue, around)
        if kind.carries(around.options):
            continue
        if kind.pictures and not around.draft:
            found[i] = write()
        else:
            found[i] = kept.get(
                write,
                kind.name,
                around.urls,
                around.beside,
                around.file,
                around.draft,
                dict(around.options),
                maker.digest,
            )
    return found


def _text(kind: Kind, catalogue: Catalogue, around: Surroundings) -> str:
    content = kind.write(catalogue, around)
    assert isinstance(content, str), "only what carries a font file may be more than text"
    return content


def contents(root: Path, bundle: BundleTable, maker: FontMaker, texts: dict[int, str]) -> Iterator[tuple[Path, bytes]]:
    """Yield (path, content) of every file of one bundle."""
    for kind in bundle.fonts:
        yield root / bundle.into / f"{font_stem(bundle, maker)}.{kind}", maker.files[kind, bundle.draft]
    for i, output in enumerate(bundle.outputs):
        place = place_of(root, bundle, output, maker)
        content: str | bytes | None = texts.get(i)
        if content is None:
            content = KINDS[output.kind].write(maker.catalogue, surroundings(root, place, bundle, output, maker))
        yield place, content if isinstance(content, bytes) else content.encode("utf-8")
