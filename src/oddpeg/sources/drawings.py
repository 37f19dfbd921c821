"""Drawings on disk: which files, and which icon each one is."""

from __future__ import annotations

import errno
import os
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.names import icon_name
from oddpeg.sources.fonts import FontFile, is_font_file, open_font
from oddpeg.sources.globs import clean_pattern, fixed_part, search
from oddpeg.store.tree import read_regular

if TYPE_CHECKING:
    from oddpeg.font.read.drawings import GlyphDrawing

LARGEST_DRAWING = 32_000_000  # bytes

Own = frozenset[str]  # paths of files that are delivered, relative to the project


class Source(NamedTuple):
    """File of a drawing.

    Attributes:
        name: of its icon; empty where the file's name holds no letter or digit.
        file: its path.
        where: the path that messages and maps show, relative to the project, with slashes.
        named: the part of the path that the icon is named after.
        glyph: glyph of a font, where the icon comes from one; `file` is then unique but not a path.
    """

    name: str
    file: str
    where: str
    named: str
    glyph: GlyphDrawing | None = None

    @property
    def path(self) -> Path:
        return Path(self.file)

    @staticmethod
    def of(file: str, where: str, named: str, glyph: GlyphDrawing | None = None) -> Source:
        """Return the file as the icon that it is named after."""
        return Source(icon_name(named), file, where, named, glyph)


def _shown(path: str, inside: str) -> str:
    """Return a path as messages show it. inside: the project's path with a separator at its end."""
    short = path[len(inside) :] if path.startswith(inside) else os.path.relpath(path, inside)
    return short.replace(os.sep, "/")


class Sources(NamedTuple):
    """Files of drawings, ordered by icon name, and errors of others that were skipped."""

    found: list[Source]
    problems: list[Diagnostic]


class FoundFiles(NamedTuple):
    """Files that match globs.

    Attributes:
        files: by path; several may have the same icon name, or none.
        problems: errors of skipped files.
        fonts: the font files among them; their glyphs are in `files`.
    """

    files: dict[str, Source]
    problems: list[Diagnostic]
    fonts: tuple[FontFile, ...] = ()

    def with_names(self, names: Mapping[int, str]) -> FoundFiles:
        """Return the same with glyphs of fonts named by a map. names: by codepoint."""
        fonts = tuple(
            font._replace(
                glyphs=tuple(
                    glyph._replace(named=f"{names.get(glyph.drawing.codepoint, glyph.drawing.name)}.svg")
                    for glyph in font.glyphs
                )
            )
            for font in self.fonts
        )
        renamed = {glyph.file: Source.of(*glyph) for font in fonts for glyph in font.glyphs}
        return self._replace(files=self.files | renamed, fonts=fonts)

    def without(self, taken: Collection[str]) -> FoundFiles:
        """Return the same without some files."""
        return self._replace(files={path: file for path, file in self.files.items() if path not in taken})

    def without_size(self, px: int, names: Collection[str] | None = None) -> FoundFiles:
        """Return the same with icons named without the size at the end of a file's name: `anchor-16.svg`. names: the
        icons that this makes, None for all."""
        end = re.compile(rf"[-_@ ]{px}(?:px)?(?=\.\w+$)", re.IGNORECASE)
        renamed = {path: Source.of(f.file, f.where, end.sub("", f.named), f.glyph) for path, f in self.files.items()}
        chosen = {path: file for path, file in renamed.items() if names is None or file.name in names}
        return self._replace(files=self.files | chosen)


def find_files(
    root: Path,
    patterns: Sequence[str],
    folders: str = "ignore",
    also_read: Sequence[Path] = (),
    delivered: Own = frozenset(),
    key: str = "icons.from",
) -> FoundFiles:
    """Return the files that globs name.

    Args:
        folders: "prefix" puts the folders below the glob's fixed part before the name.
        also_read: folders outside of the project that may be read.
        delivered: files that are delivered here, which never count.
        key: of the config that holds the globs.

    Raise `OddPegError` where nothing can be built at all.
    """
    problems: list[Diagnostic] = []
    files: dict[str, Source] = {}
    fonts: list[FontFile] = []
    inside = str(root) + os.sep
    readable = [root, *(folder.resolve() for folder in also_read)]
    for pattern in patterns:
        matched = search(root, pattern, readable)
        problems += [d._replace(where=_shown(d.where, inside)) for d in matched.problems]
        fixed = fixed_part(clean_pattern(pattern))
        for path in sorted(matched.found):
            where = _shown(path, inside)
            named = where[len(fixed) + 1 if fixed else 0 :] if folders == "prefix" else where.rpartition("/")[2]
            if where not in delivered and is_font_file(path):
                fonts.append(open_font(path, where))
            elif where not in delivered:
                files.setdefault(path, Source.of(path, where, named))
    for font in fonts:
        files |= {glyph.file: Source.of(*glyph) for glyph in font.glyphs}
        problems += font.problems
    problems = list(dict.fromkeys(problems))
    if not files:
        message = f"no drawings found for {', '.join(patterns)}"
        cure = f"check {key} in oddpeg.toml; it is relative to that file"
        raise OddPegError(*problems, Diagnostic("no-drawings", message, cure, str(root)))
    return FoundFiles(files, problems, tuple(fonts))


def find_sources(files: FoundFiles) -> Sources:
    """Return the files that globs match, one for each icon."""
    named = one_for_each_icon(files.files.values())
    return Sources(named.found, files.problems + named.problems)


def _is_text(name: str) -> bool:
    if name.isascii():
        return True
    try:
        name.encode()
    except UnicodeEncodeError:
        return False
    return True


def one_for_each_icon(files: Iterable[Source]) -> Sources:
    """Return one file for each icon, and errors for files whose names are duplicates or unusable."""
    faults: list[Diagnostic] = []
    by_name: dict[str, list[Source]] = {}
    for source in files:
        if not _is_text(source.where):
            shown = source.where.encode("utf-8", "backslashreplace").decode()
            message, cure = "its name is not UTF-8, so nothing can say where the icon comes from", "rename the file"
            faults.append(Diagnostic("name-not-text", message, cure, shown))
            continue
        if not source.name:
            message = "its name holds no letter or digit, so the icon has no name"
            faults.append(Diagnostic("no-name", message, "rename the file", source.where))
            continue
        by_name.setdefault(source.name, []).append(source)
    kept: list[Source] = []
    for name in sorted(by_name):
        # a drawing takes the place of a font's glyph; a file that is called exactly like the icon has the better claim;
        # then the first path
        first, *others = (
            by_name[name]
            if len(by_name[name]) == 1
            else sorted(by_name[name], key=lambda s: (s.glyph is not None, s.named.rpartition(".")[0] != name, s.where))
        )
        kept.append(first)
        faults += [
            Diagnostic(
                "name-taken",
                f"is the icon {name!r} too, like {first.where}; this one was skipped",
                _cure_of_clash(s, first),
                s.where,
            )
            for s in others
            if s.glyph is None or first.glyph is not None
        ]
    return Sources(kept, faults)


def _cure_of_clash(source: Source, first: Source) -> str:
    """Return the cure for two drawings of one icon; folders help where they differ and do not count yet."""
    apart = source.where.rpartition("/")[0] != first.where.rpartition("/")[0] and "/" not in source.named
    return 'rename one of the two, or set icons.folders = "prefix"' if apart else "rename one of the two"


def renamed_file(source: Source, name: str) -> Path | None:
    """Return the file that would make a source the icon of another name; None where its folder forbids that name."""
    if source.glyph is not None:
        return None
    folder = icon_name(source.named.rpartition("/")[0])
    if folder and not name.startswith(folder + "-"):
        return None
    return source.path.with_name((name.removeprefix(folder + "-") if folder else name) + source.path.suffix)


def drawing_folders(root: Path, patterns: list[str]) -> list[Path]:
    """Return the folders that are set apart for drawings: where globs begin, unless that is the project itself."""
    folders = [root / fixed_part(clean_pattern(pattern)) for pattern in patterns]
    return [
        folder
        for folder in folders
        if folder.resolve() != root.resolve() and not root.resolve().is_relative_to(folder.resolve())
    ]


class DrawingFile(NamedTuple):
    """File of a drawing, and its bytes."""

    source: Source
    data: bytes


class DrawingFiles(NamedTuple):
    """Files of drawings that were read, and the errors of unreadable files."""

    drawings: list[DrawingFile]
    problems: list[Diagnostic]


Contents = Mapping[str, bytes | OSError]  # by path: a file's bytes, or why it cannot be read


def _read(path: str) -> bytes:
    try:
        return read_regular(path, LARGEST_DRAWING)
    except OSError as problem:
        if problem.errno not in (errno.ELOOP, errno.EMLINK):
            raise
        return read_regular(os.path.realpath(path), LARGEST_DRAWING)  # where it leads was looked at when it was found


def read_files(paths: Iterable[str]) -> Contents:
    """Return the contents of files."""
    contents: dict[str, bytes | OSError] = {}
    for path in paths:
        try:
            contents[path] = _read(path)
        except OSError as problem:
            contents[path] = problem
    return contents


def read_sources(sources: Iterable[Source], contents: Contents | None = None) -> DrawingFiles:
    """Return the bytes of each source, in order. contents: of all their files, where they are read already."""
    sources = list(sources)
    held = read_files(source.file for source in sources if source.glyph is None) if contents is None else contents
    read = DrawingFiles([], [])
    for source in sources:
        data = source.glyph.svg if source.glyph is not None else held[source.file]
        if isinstance(data, bytes):
            read.drawings.append(DrawingFile(source, data))
        else:
            message, cure = f"cannot be read: {data.strerror}", "check its rights, its size, and that it is a file"
            read.problems.append(Diagnostic("file-unreadable", message, cure, source.where))
    return read
