"""What bundles hold: which icons, fonts in every format asked for, and every output with what it finds around it."""

from __future__ import annotations

import hashlib
import os
import posixpath
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.font.info import FIXED_TIME, FontInfo, Ligature
from oddpeg.iconset.model import Face, Icon, IconSet
from oddpeg.iconset.selection import selects
from oddpeg.outputs.context import Delivered, Neighbour, OutputContext, Snippet
from oddpeg.outputs.credits import licence_text
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.kind import OptionValue, OutputKind, no_snippets, plain_snippets
from oddpeg.outputs.registry import KINDS
from oddpeg.workspace.delivery import BundleFiles, same_target
from oddpeg.workspace.project import Project
from oddpeg.workspace.settings import BundleTable, OutputTable
from oddpeg.workspace.text_cache import TextCache

if TYPE_CHECKING:
    from oddpeg.font.glyphset import Glyph

_OFFER = ("woff2", "woff", "ttf", "eot", "svg")  # smallest first: browsers take the first they know; legacy last


def holds(project: Project, bundle: BundleTable, icon: Icon) -> bool:
    """Return whether a bundle holds an icon. One that holds what is used holds all as long as nobody looked."""
    if bundle.only == "used":
        return (project.used is None or icon.name in project.used) and selects(icon, [], bundle.without)
    return selects(icon, bundle.only, bundle.without)


class FontKey(NamedTuple):
    """One file of a font.

    Attributes:
        format: as the config has it.
        draft: packed fast rather than small.
    """

    format: str
    draft: bool


def ligatures(icons: IconSet) -> list[Ligature]:
    """Return everything that can be typed to get an icon: a ligature takes at least two letters, of the first plane."""
    pairs = dict.fromkeys(Ligature(name, icon.codepoint) for icon in icons.icons for name in icon.names)
    return [pair for pair in pairs if len(pair.name) > 1 and max(pair.name) <= "\uffff"]


class BundleFonts:
    """The font of one selection of icons, in every format asked for; bundles of the same icons share it."""

    def __init__(self, project: Project, icons: IconSet) -> None:
        """icons: those of the bundle, outlined."""
        from oddpeg.font.compile import FontCompiler

        face = icons.face
        assert face is not None, "fonts are made of outlines"
        self.icons = icons
        self.digest = icons.digest()
        self._compiler = FontCompiler(_glyphs(icons, face), _font_info(project, icons, face))
        self._pending: dict[FontKey, Future[bytes]] = {}
        self.files: dict[FontKey, bytes] = {}

    def start(self, bundles: Collection[BundleTable], pool: ThreadPoolExecutor) -> None:
        """Begin to write every format that is needed, once each."""
        needed = {FontKey(f, b.draft) for b in bundles for f in b.fonts}
        for bundle in bundles:
            for output in bundle.outputs:
                needed |= {FontKey(f, bundle.draft) for f in _kind_of(output).embeds(_options(output))}
        order = sorted(needed, key=lambda key: (key.format != "woff2", key))  # the slowest first
        self._pending = {key: pool.submit(self._compiler.write, *key) for key in order}

    def wait(self) -> None:
        """Have all files ready."""
        self.files = {key: job.result() for key, job in self._pending.items()}


def _glyphs(icons: IconSet, face: Face) -> list[Glyph]:
    from oddpeg.font.glyphset import Glyph

    return [Glyph.of(icon.name, icon.codepoint, face.outlines[icon.name]) for icon in icons.icons]


def _created() -> int:
    """Return the time that fonts say they were made at, in Unix seconds; raise `UsageError` where the environment names
    none that can be one. Source: the specification of SOURCE_DATE_EPOCH."""
    text = os.environ.get("SOURCE_DATE_EPOCH", "")
    if text and not (text.isascii() and text.isdigit() and len(text) <= 10):
        what, cure = f"SOURCE_DATE_EPOCH is {text[:40]!r}", "set it to a number of seconds since 1970, or unset it"
        raise UsageError(Diagnostic("bad-environment", what, cure))
    return int(text or FIXED_TIME)


def _font_info(project: Project, icons: IconSet, face: Face) -> FontInfo:
    font = project.config.font
    return FontInfo(
        family=font.family,
        version=font.version,
        units=face.em.units,
        ascender=face.em.ascender,
        descender=-face.em.depth,
        copyright=font.copyright,
        designer=font.designer,
        licence=licence_text(font.licence, icons.icons),
        licence_url=font.licence_url,
        embedding=font.embedding,
        created=_created(),
        weight=face.weight,
        ligatures=tuple(ligatures(icons)) if font.ligatures else (),
    )


def _kind_of(output: OutputTable) -> OutputKind:
    return KINDS[output.kind]


def _options(output: OutputTable) -> dict[str, OptionValue]:
    """Return an output's options: what the config gives, else the kind's defaults."""
    return _kind_of(output).options_with_defaults(output.options)


class Finished(NamedTuple):
    """A file that is written.

    Attributes:
        kind: of the output, or the font format.
        name: its path relative to the project, without a digest in it.
        path: as it is delivered.
        data: its bytes.
        served: pages load it by its name.
    """

    kind: str
    name: str
    path: str
    data: bytes
    served: bool = True

    def seen_from(self, root: Path, place: Path) -> Delivered:
        """Return the file as an output at `place` finds it. root: of the project."""
        return Delivered(
            self.kind, _url(root / self.name, place), _url(root / self.path, place), self.data, self.served
        )


class BundleView(NamedTuple):
    """A bundle as its outputs see it.

    Attributes:
        project: whose bundle it is.
        bundle: its name and table.
        icons: that it has.
        files: its fonts, as far as they are ready.
        finished: its files, as far as they are written.
    """

    project: Project
    bundle: BundleTable
    icons: IconSet
    files: Mapping[FontKey, bytes] = {}
    finished: Sequence[Finished] = ()

    def path_of(self, output: OutputTable) -> Path:
        """Return where an output goes."""
        return self.project.output_path(self.bundle, output)

    def context(self, output: OutputTable) -> OutputContext:
        """Return what an output finds around it."""
        project, bundle, place = self.project, self.bundle, self.path_of(output)
        offered = [f for f in _OFFER if f in bundle.fonts]
        real = {project.root / file.name: project.root / file.path for file in self.finished}
        fonts = {f: project.font_path(bundle, f) for f in bundle.fonts}
        stem = real[fonts["ttf"]].stem if fonts.get("ttf") in real else project.font_stem(bundle)
        files = {key.format: data for key, data in self.files.items() if key.draft == bundle.draft}
        options = _options(output)
        if "template" in options:
            options["source"] = _template(project, str(options["template"]))
        others = [o for o in bundle.outputs if o is not output]
        return OutputContext(
            urls={f: _url(real.get(fonts[f], fonts[f]), place) for f in offered},
            sizes={f: len(files[f]) for f in offered if f in files},
            beside=tuple(Neighbour(o.kind, _url(real.get(at, at), place)) for o in others for at in [self.path_of(o)]),
            delivered=tuple(file.seen_from(project.root, place) for file in self.finished),
            files=files,
            file=project.relative(place),
            font_stem=stem,
            draft=bundle.draft,
            options=options,
            snippets=self.snippets(),
        )

    def useful(self) -> list[OutputTable]:
        """Return the outputs that say how an icon is used."""
        return [output for output in self.bundle.outputs if _kind_of(output).snippets is not no_snippets]

    def snippets(self) -> Callable[[str], list[Snippet]]:
        """Return what tells what to paste for an icon, by name: for every bundle that holds it, this one first. It
        looks round all bundles once, when it is first asked."""
        order = sorted(self.project.config.bundle.values(), key=lambda other: other is not self.bundle)
        views = [self._replace(bundle=other, files={}) for other in order]

        @cache
        def placed(number: int) -> list[tuple[OutputKind, OutputContext]]:
            return [(_kind_of(o), views[number].context(o)) for o in views[number].useful()]

        def lines(name: str) -> list[Snippet]:
            icon = self.icons.named(name)
            pairs = [
                pair
                for number, other in enumerate(order)
                if holds(self.project, other, icon)
                for pair in placed(number)
            ]
            found = [line for kind, context in pairs for line in kind.snippets(self.icons, context, icon)]
            return list(dict.fromkeys([*found, *plain_snippets(icon)]))

        return lines


def _url(file: Path, place: Path) -> str:
    """Return where a file is, seen from an output at `place`."""
    return url_path(os.path.relpath(file, place.parent).replace(os.sep, "/"))


def _template(project: Project, path: str) -> str:
    """Return the text of a user's own template."""
    try:
        return project.read_input(path).decode("utf-8-sig")
    except (OSError, UnicodeDecodeError) as problem:
        reason = problem.strerror if isinstance(problem, OSError) else "it is not UTF-8"
        cure = "name the template's file in the output's key `template`"
        where = path or "template"
        raise OddPegError(Diagnostic("template-unreadable", f"cannot be read: {reason}", cure, where)) from None


class Early(NamedTuple):
    """What of a bundle's outputs is written before its fonts are ready.

    Attributes:
        texts: whole outputs, by number.
        parts: of outputs that carry a font within them, by number.
    """

    texts: dict[int, str]
    parts: dict[int, bytes]


class BuiltBundle(NamedTuple):
    """A bundle that is being built.

    Attributes:
        name: as the config calls it.
        table: its table in the config.
        fonts: as they are made.
        project: whose bundle it is.
    """

    name: str
    table: BundleTable
    fonts: BundleFonts
    project: Project

    def view(self) -> BundleView:
        """Return the bundle as its outputs see it now."""
        return BundleView(self.project, self.table, self.fonts.icons, self.fonts.files)

    def write_early(self, cache: TextCache) -> Early:
        """Return what can be written before the fonts are ready. Texts whose icons and surroundings are as they were at
        the last build are not written out again."""
        found, view = Early({}, {}), self.view()
        for number, output in enumerate(self.table.outputs):
            kind, context = _kind_of(output), view.context(output)
            if kind.embeds(context.options):
                found.parts[number] = kind.write_early(self.fonts.icons, context)
                continue
            if kind.refers or self.table.hashed:
                continue  # the names of other files are not known yet
            write = partial(_text, kind, self.fonts.icons, context)
            icons = self.fonts.icons
            around = (context.urls, context.beside, context.file, context.font_stem, context.draft)
            drawings = icons.drawings_digest if kind.shows_drawings(icons, context) else ""
            found.texts[number] = cache.get(
                write, kind.name, around, dict(context.options), self.fonts.digest, drawings
            )
        return found

    def contents(self, early: Early, before: Mapping[str, int]) -> BundleFiles:
        """Return every file. early: what is written already; before: the codepoint of each icon that the files on disk
        show."""
        project, view, icons = self.project, self.view(), self.fonts.icons
        fonts: dict[str, bytes] = {}
        others: dict[str, bytes] = {}
        finished: list[Finished] = []
        for file_format in self.table.fonts:
            data = self.fonts.files[FontKey(file_format, self.table.draft)]
            name = project.relative(project.font_path(self.table, file_format))
            finished.append(Finished(file_format, name, self._delivered_name(name, data, True), data))
            self._put(fonts, finished[-1].path, data, {})
        for number, output in sorted(enumerate(self.table.outputs), key=_place_in_order):
            kind, view = _kind_of(output), view._replace(finished=finished)
            content: str | bytes | None = early.texts.get(number)
            if content is None:
                context = replace(view.context(output), early=early.parts.pop(number, b""))
                content = kind.write(icons, context)
            place, data = project.relative(view.path_of(output)), _bytes(content)
            path = self._delivered_name(place, data, kind.served)
            self._put(others, path, data, fonts)
            finished.append(Finished(kind.name, place, path, data, kind.served))
            for path, text in _beside(place, kind.companions(icons, view.context(output))):
                self._put(others, path, text, fonts)
                finished.append(Finished(kind.name, path, path, text, False))
        shown = {icon.name: icon.codepoint for icon in icons.icons}
        return BundleFiles(fonts, others, self._interim(others, shown, before), shown)

    def _delivered_name(self, name: str, data: bytes, served: bool) -> str:
        """Return the path that a file gets: with a digest in it where the bundle asks for that, and pages load it."""
        if not (self.table.hashed and served):
            return name
        stem, _, ending = name.rpartition(".")
        mark = "_" if self.project.font_stem(self.table) != self.project.naming.stem else "."
        return f"{stem}{mark}{hashlib.sha256(data).hexdigest()[:10]}.{ending}"

    def _put(self, files: dict[str, bytes], path: str, data: bytes, others: Mapping[str, bytes]) -> None:
        if path in files or path in others:
            raise UsageError(same_target(f"two outputs of {self.name!r} go to this one file", path))
        files[path] = data

    def _interim(
        self, final: Mapping[str, bytes], shown: Mapping[str, int], before: Mapping[str, int]
    ) -> dict[str, bytes | None]:
        """Return the texts to stand while fonts are replaced: of the icons that are in the fonts before and after.
        None are needed where no icon goes; where none comes, they are the final ones."""
        if self.table.hashed:
            return {}  # new files have new names, and stand beside the old ones until the last text is there
        kept = {name for name, code in shown.items() if before.get(name) == code}
        if len(kept) == len(before):
            return {}
        if len(kept) == len(shown):
            return dict(final)
        found: dict[str, bytes | None] = {}
        view = self.view()
        few = view._replace(icons=self.fonts.icons.select(kept)) if kept else None
        for output in self.table.outputs:
            if _kind_of(output).refers or _kind_of(output).embeds(_options(output)):
                continue  # carries its own font, or names files that come last
            place = self.project.relative(view.path_of(output))
            if few is None:
                found[place] = None
                continue
            kind, context = _kind_of(output), few.context(output)
            found[place] = _bytes(kind.write(few.icons, context))
            found |= dict(_beside(place, kind.companions(few.icons, context)))
        return found


def _place_in_order(numbered: tuple[int, OutputTable]) -> tuple[int, int]:
    """Return when an output is written: those that name other files come last, and among them by rank."""
    number, output = numbered
    kind = _kind_of(output)
    return (kind.rank, number) if kind.refers else (-1, number)


def _beside(place: str, companions: Mapping[str, str]) -> Iterator[tuple[str, bytes]]:
    """Yield the path and the bytes of an output's further files. place: of the output, relative to the project."""
    for name, text in companions.items():
        yield posixpath.join(posixpath.dirname(place), name), text.encode()


def _bytes(content: str | bytes) -> bytes:
    return content if isinstance(content, bytes) else content.encode("utf-8")


def _text(kind: OutputKind, icons: IconSet, context: OutputContext) -> str:
    content = kind.write(icons, context)
    assert isinstance(content, str), "only what carries a font file may be more than text"
    return content
