"""The place of one output, and the files around it."""

from __future__ import annotations

import posixpath
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple
from urllib.parse import unquote


class Snippet(NamedTuple):
    """Lines to paste for one icon.

    Attributes:
        place: the kind of file or framework that they are for.
        text: the lines.
    """

    place: str
    text: str


class Neighbour(NamedTuple):
    """Another output of the same bundle.

    Attributes:
        kind: its name.
        url: its path relative to the output.
        options: its keys, including defaults.
    """

    kind: str
    url: str
    options: Mapping[str, str | bool | None] = {}


class FinishedFile(NamedTuple):
    """A file of a bundle that is finished.

    Attributes:
        kind: the output's, or the font format.
        name: its path as it would be without a digest in it; for outputs, relative to them.
        url: the path that it really has.
        data: its bytes.
        hash_in_name: pages load it by its name; the name gets a hash if the bundle sets that option.
        first: it is no font of another face than the default one.
    """

    kind: str
    name: str
    url: str
    data: bytes
    hash_in_name: bool = True
    first: bool = True


class FaceFiles(NamedTuple):
    """The fonts of one face.

    Attributes:
        name: name of the face.
        urls: font format → path relative to the output, in the order of the stylesheet.
        files: font format → font file; formats that are not packed yet are missing.
    """

    name: str
    urls: Mapping[str, str] = {}
    files: Mapping[str, bytes] = {}


@dataclass(frozen=True, slots=True)
class OutputContext:
    """The inputs of one output, in addition to the icon set.

    Attributes:
        faces: the bundle's fonts, by face.
        default: name of the default face.
        sibling_outputs: other outputs of the bundle.
        delivered: fonts and other outputs of the bundle, for outputs that name them.
        prerendered: text for each icon that was rendered before the fonts were ready.
        file: path of the output, relative to the project, or to `user_folder`.
        user_folder: of the file to paste into, relative to the project; empty for the project.
        font_stem: name of the bundle's font files, without extension.
        draft: fonts are compressed fast.
        import_ending: what imports of TypeScript end in; empty where the project's resolution adds it.
        options: the output's keys, including defaults.
        snippets: lines to paste for outputs of all bundles, by icon name; the output's own bundle comes first.
    """

    faces: tuple[FaceFiles, ...] = ()
    default: str = ""
    sibling_outputs: tuple[Neighbour, ...] = ()
    delivered: tuple[FinishedFile, ...] = field(default=(), repr=False)
    prerendered: Sequence[str] = field(default=(), repr=False)
    file: str = ""
    user_folder: str = ""
    font_stem: str = ""
    draft: bool = False
    import_ending: str = ""
    options: Mapping[str, str | bool | None] = field(default_factory=dict)
    snippets: Callable[[str], list[Snippet]] = field(default=lambda name: [], repr=False)

    @property
    def _first(self) -> FaceFiles:
        return next((face for face in self.faces if face.name == self.default), FaceFiles(""))

    @property
    def urls(self) -> Mapping[str, str]:
        """Of the default face: font format → path relative to the output, in the order to offer them."""
        return self._first.urls

    @property
    def files(self) -> Mapping[str, bytes]:
        """Of the default face: font format → font file, for outputs that carry fonts within them."""
        return self._first.files

    @property
    def sizes(self) -> dict[str, int]:
        """Sizes of the default face: font format → bytes, as far as known."""
        return {f: len(self.files[f]) for f in self.urls if f in self.files}

    def beside(self, other: Neighbour) -> str:
        """Return the path of another output of the bundle, relative to where `file` is."""
        return posixpath.normpath(posixpath.join(posixpath.dirname(self.file), unquote(other.url)))

    def font_file(self, stem: str, file_format: str = "") -> str:
        """Return the name of the bundle's font file of a format, of the TTF where none is given and there is one. stem:
        of the family, where no bundle says another."""
        return f"{self.font_stem or stem}.{file_format or self._app_format}"

    @property
    def _app_format(self) -> str:
        return "ttf" if "ttf" in self.urls else next(iter(self.urls), "ttf")

    def font_path(self, stem: str) -> str:
        """Return the path of the bundle's font file, relative to the project: programs and project files name it so."""
        url = unquote(self.urls.get(self._app_format, self.font_file(stem)))
        return self.in_project(posixpath.join(posixpath.dirname(self.file), url))

    def in_project(self, path: str) -> str:
        """Return a path that is relative to where `file` is, relative to the project."""
        return posixpath.normpath(posixpath.join(self.user_folder, path))

    @property
    def font_folder(self) -> str:
        """The URL of the fonts' folder, seen from the output."""
        return next((posixpath.dirname(url) or "." for url in self.urls.values()), ".")
