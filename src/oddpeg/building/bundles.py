"""Bundles being built: the files of each, in the order in which they can be written."""

from __future__ import annotations

import hashlib
import posixpath
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import NamedTuple

from oddpeg.building.fonts import BundleFonts
from oddpeg.building.text_cache import TextCache
from oddpeg.config.settings import BundleTable, OutputTable
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import FinishedFile, OutputContext
from oddpeg.outputs.kind import OutputKind
from oddpeg.parallel import map_batches
from oddpeg.project.bundle_views import BundleView, FontKey, kind_of, options_of
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.delivery import BundleFiles, same_target


class PrerenderedOutputs(NamedTuple):
    """Outputs of a bundle that are rendered before its fonts are ready.

    Attributes:
        texts: complete outputs, by the output's number.
        parts: text for each icon, of outputs that embed a font, by the output's number.
    """

    texts: dict[int, str]
    parts: dict[int, list[str]]


class BuiltBundle(NamedTuple):
    """A bundle and its fonts.

    Attributes:
        name: its name in the config.
        table: its table in the config.
        fonts: its fonts; some may still be packed.
        snapshot: the files of its project.
    """

    name: str
    table: BundleTable
    fonts: BundleFonts
    snapshot: Snapshot

    def view(self) -> BundleView:
        """Return the bundle as its outputs see it now."""
        return BundleView(self.snapshot, self.table, self.fonts.icons, self.fonts.files)

    def prerender(self, cache: TextCache) -> PrerenderedOutputs:
        """Return the texts that can be written before the fonts are ready. Texts with unchanged inputs come from the
        cache."""
        prerendered, view, icons = PrerenderedOutputs({}, {}), self.view(), self.fonts.icons
        for number, output in enumerate(self.table.outputs):
            kind, context = kind_of(output), view.context(output)
            if kind.embeds(context.options):
                if kind.write_icons is not None:
                    prerendered.parts[number] = self._of_icons(kind, context, cache)
                continue
            if kind.needs_final_names or self.table.hashed:
                continue  # the names of other files are not known yet
            write = partial(_text, kind, icons, context)
            drawings = icons.hashes.drawings if kind.shows_drawings(icons, context) else ""
            prerendered.texts[number] = cache.get(write, *_cache_key(kind, context), self.fonts.digest, drawings)
        return prerendered

    def _of_icons(self, kind: OutputKind, context: OutputContext, cache: TextCache) -> list[str]:
        """Return an output's text for each icon. Texts of unchanged icons come from the cache."""
        write, icons, snapshot = kind.write_icons, self.fonts.icons, self.snapshot
        assert write is not None
        # the lines to paste for an icon may come from any bundle
        used = None if snapshot.used is None else sorted(snapshot.used)
        common = (_cache_key(kind, context), snapshot.project.config, used, icons.hashes.context)
        return cache.get_all(
            lambda rows: write(icons, context, [icons.icons[row] for row in rows]), common, icons.hashes.icons
        )

    def contents(
        self, prerendered: PrerenderedOutputs, before: Mapping[str, int], keep_pictures: bool = False
    ) -> BundleFiles:
        """Return every file.

        prerendered: texts that are written already; before: the codepoint of each icon in the files on disk;
        keep_pictures: as they were delivered, where they were.
        """
        snapshot, view, icons = self.snapshot, self.view(), self.fonts.icons
        fonts: dict[str, bytes] = {}
        others: dict[str, bytes] = {}
        finished: list[FinishedFile] = []
        shown = snapshot.project.default_face(self.table)
        for plan in sorted(snapshot.project.faces_of(self.table), key=lambda plan: plan is not shown):
            for file_format in self.table.fonts:
                data = self.fonts.files[FontKey(file_format, self.table.draft, plan.name)]
                name = snapshot.project.relative(snapshot.project.font_path(self.table, file_format, plan.name))
                path = self._delivered_name(name, data, True)
                finished.append(FinishedFile(file_format, name, path, data, first=plan is shown))
                self._put(fonts, path, data, {})
        for number, output in sorted(enumerate(self.table.outputs), key=_place_in_order):
            kind, view = kind_of(output), view._replace(finished=finished)
            context = replace(view.context(output), prerendered=prerendered.parts.pop(number, ()))
            content: str | bytes | None = prerendered.texts.get(number)
            if content is None and keep_pictures and kind.is_picture:
                content = self._delivered(view.path_of(output))
            if content is None:
                content = _written(kind, icons, context)
            place, data = snapshot.project.relative(view.path_of(output)), _bytes(content)
            path = self._delivered_name(place, data, kind.hash_in_name)
            self._put(others, path, data, fonts)
            finished.append(FinishedFile(kind.name, place, path, data, kind.hash_in_name))
            for other, text in _companion_files(path, kind.companions(icons, replace(context, file=path))):
                self._put(others, other, text, fonts)
                finished.append(FinishedFile(kind.name, other, other, text, False))
        codes = {icon.name: icon.codepoint for icon in icons.icons}
        return BundleFiles(fonts, others, self._interim(others, codes, before), codes)

    def _delivered(self, path: Path) -> bytes | None:
        """Return a file as it was delivered, None where it was not."""
        finished = self.snapshot.finished_file(self.table, path)
        try:
            return self.snapshot.read_input(self.snapshot.project.relative(finished)) if finished is not None else None
        except OSError:
            return None

    def _delivered_name(self, name: str, data: bytes, hash_in_name: bool) -> str:
        """Return the path that a file gets: with a digest in it where the bundle asks for that, and pages load it."""
        if not (self.table.hashed and hash_in_name):
            return name
        stem, _, ending = name.rpartition(".")
        mark = "_" if self.snapshot.project.in_resources(self.table) else "."
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
        interim: dict[str, bytes | None] = {}
        view = self.view()
        few = view._replace(icons=self.fonts.icons.select(kept)) if kept else None
        for output in self.table.outputs:
            if kind_of(output).needs_final_names or kind_of(output).embeds(options_of(output)):
                continue  # carries its own font, or names files that come last
            place = self.snapshot.project.relative(view.path_of(output))
            if few is None:
                interim[place] = None
                continue
            kind, context = kind_of(output), few.context(output)
            interim[place] = _bytes(_written(kind, few.icons, context))
            interim |= dict(_companion_files(place, kind.companions(few.icons, context)))
        return interim


def _cache_key(kind: OutputKind, context: OutputContext) -> tuple[object, ...]:
    """Return the inputs of a text that are known before the fonts are ready, without its icons."""
    faces = [(face.name, face.urls) for face in context.faces]
    places = (context.default, faces, context.sibling_outputs, context.file, context.font_stem, context.draft)
    return kind.name, places, dict(context.options)


def _place_in_order(numbered: tuple[int, OutputTable]) -> tuple[int, int]:
    """Return the sort key of an output: outputs that name other files come last, sorted by rank."""
    number, output = numbered
    kind = kind_of(output)
    return (kind.rank, number) if kind.needs_final_names else (-1, number)


def _companion_files(place: str, companions: Mapping[str, str]) -> Iterator[tuple[str, bytes]]:
    """Yield the path and the bytes of an output's further files. place: of the output, relative to the project."""
    for name, text in companions.items():
        yield posixpath.normpath(posixpath.join(posixpath.dirname(place), name)), text.encode()


def _bytes(content: str | bytes) -> bytes:
    return content if isinstance(content, bytes) else content.encode("utf-8")


def _written(kind: OutputKind, icons: IconSet, context: OutputContext) -> str | bytes:
    """Return an output's content. A template of the user is rendered in a bounded worker."""
    if "template" not in kind.options:
        return kind.write(icons, context)

    def failed(_: IconSet, problem: Diagnostic) -> str:
        where, message = str(context.options["template"]), f"cannot be filled in: it {problem.what}"
        raise OddPegError(Diagnostic("template-failed", message, "write a template with less work", where))

    return next(map_batches(lambda one: kind.write(one[0], context), [icons], 1, failed=failed))


def _text(kind: OutputKind, icons: IconSet, context: OutputContext) -> str:
    content = _written(kind, icons, context)
    assert isinstance(content, str), "only what carries a font file may be more than text"
    return content
