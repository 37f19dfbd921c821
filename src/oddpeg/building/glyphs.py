"""Drawings → the glyphs of every face."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import chain
from pathlib import Path
from typing import NamedTuple

from oddpeg.building.outline_codec import decode, encode
from oddpeg.building.outlining import load_libraries, outline_all
from oddpeg.config.faces import FacePlan
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.pegboard.board import Pegboard
from oddpeg.progress import Progress
from oddpeg.project.icon_sets import DrawnIcon, Pegs
from oddpeg.sources.drawings import Source
from oddpeg.store.cache import Cache

_OUTLINES = "outlines"
MOST_ICONS = 65_533  # glyph numbers have 16 bits; two go to the missing character and the space


class Drawing(NamedTuple):
    """A drawing that can be read."""

    source: Source
    data: bytes


class FaceDrawings(NamedTuple):
    """The drawings of one face."""

    plan: FacePlan
    drawings: list[Drawing]


class Gathered(NamedTuple):
    """What a build starts from.

    Attributes:
        drawings: one of each icon, in order of names.
        faces: the drawings of each face.
        pegs: what pegboard and tables know of them.
        digests: of drawings, by icon.
        before: the pegboard as it was.
    """

    drawings: list[Drawing]
    faces: list[FaceDrawings]
    pegs: Pegs
    digests: dict[str, str]
    before: Pegboard

    @property
    def files(self) -> list[bytes]:
        """The bytes of all drawings, of every face that has its own."""
        return [d.data for face in self.faces if face.plan.root == face.plan.name for d in face.drawings]


class Drawn(NamedTuple):
    """A drawing that became a glyph."""

    source: Source
    result: OutlineResult
    outline: Outline


class DrawnFace(NamedTuple):
    """The glyphs of one face, by icon."""

    plan: FacePlan
    drawn: dict[str, Drawn]


def options_of(plan: FacePlan, outlining: Options) -> Options:
    """Return what the outlines of a face depend on. outlining: the same for all faces."""
    masters = plan.axis.masters if plan.axis else ()
    return outlining._replace(strokes=plan.strokes, masters=masters)


class Glyphs:
    """The glyphs of all faces, out of the cache where they are known, else worked out.

    Attributes:
        reused: how many were known.
        fallbacks: how many had to be made another way.
        notes, faults: what there is to say of drawings, once where faces have the same to say.
    """

    def __init__(self, root: Path, progress: Progress, lap: Callable[[str], None]) -> None:
        """root: the project's; lap: called with the name of each stage that is over."""
        self._cache = Cache(root)
        self._progress, self._lap = progress, lap
        self.reused = self.fallbacks = 0
        self.notes: list[Diagnostic] = []
        self.faults: list[Diagnostic] = []

    def outline(self, faces: Sequence[FaceDrawings], outlining: Options, remember: bool) -> list[DrawnFace]:
        """Return the glyphs of every face. outlining: what they depend on, besides the width of strokes; remember: keep
        them for the next build."""
        self._progress.begin(sum(len(face.drawings) for face in faces))
        options = [options_of(plan, outlining) for plan, _ in faces]
        files = [[drawing.data for drawing in drawings] for _, drawings in faces]
        keys = [self._cache.keys(_OUTLINES, own, data) for data, own in zip(files, options, strict=True)]
        kept = self._cache.get(_OUTLINES, list(chain.from_iterable(keys)))
        found = {key: decode(data) for key, data in kept.items()}
        self.reused = sum(key in found for key in chain.from_iterable(keys))
        self._progress.advance(self.reused)
        self._lap("cache")
        for own_keys, own_files, own_options in zip(keys, files, options, strict=True):
            new = {key: data for key, data in zip(own_keys, own_files, strict=True) if key not in found}
            if new:
                load_libraries(len(new))
                self._lap("load")
                outlined = outline_all(list(new.values()), own_options, self._progress.advance)
                found |= dict(zip(new, outlined, strict=True))
        self._lap("outlines")
        if len(found) > len(kept) and remember:
            results = {key: one for key, one in found.items() if key not in kept and not _has_failed(one)}
            self._cache.put(_OUTLINES, {key: encode(one) for key, one in results.items()}, kept)
        self._lap("cache")
        pairs = zip(faces, keys, strict=True)
        drawn = [self._sort_out(face, [found[key] for key in own_keys]) for face, own_keys in pairs]
        self.notes, self.faults = list(dict.fromkeys(self.notes)), list(dict.fromkeys(self.faults))
        return drawn

    def _sort_out(self, face: FaceDrawings, results: Sequence[OutlineResult]) -> DrawnFace:
        """Return the drawings that became glyphs; note what is wrong with the others, and whatever else there is."""
        drawn: dict[str, Drawn] = {}
        for (source, _), result in zip(face.drawings, results, strict=True):
            self.notes += [d._replace(where=source.where) for d in result.diagnostics]
            if result.problem:
                self.faults.append(result.problem._replace(where=source.where))
            elif result.outline is not None:
                drawn[source.name] = Drawn(source, result, result.outline)
                self.fallbacks += result.outline.made is not Method.CURVES and not result.masters
        return DrawnFace(face.plan, drawn)


def _has_failed(result: OutlineResult) -> bool:
    """Return whether this program failed on a drawing, which the next version may not."""
    return result.problem is not None and result.problem.code == "internal-error"


def refuse_counts(faces: Sequence[DrawnFace], faults: Sequence[Diagnostic]) -> None:
    """Raise `OddPegError` where there are no glyphs at all, or more than a font can hold. faults: of drawings."""
    count = max(len(face.drawn) for face in faces)
    if not count:
        what = "no drawing could become a glyph; nothing was written"
        raise OddPegError(*faults, Diagnostic("no-glyphs", what, "correct at least one of them"))
    if count > MOST_ICONS:
        what = f"a font holds at most {MOST_ICONS:,} icons, and there are {count:,}"
        raise OddPegError(Diagnostic("too-many-icons", what, "split the set into two projects"))


def shown_icons(drawings: Sequence[Drawing], drawn: Sequence[DrawnFace]) -> Iterator[DrawnIcon]:
    """Yield every icon that some face has, as its first drawing shows it, else as another one."""
    files = {source.name: source.file for source, _ in drawings}
    of_icon: dict[str, Drawn] = {}
    for face in drawn:
        for name, one in face.drawn.items():
            if name not in of_icon or (of_icon[name].source.file != files.get(name) == one.source.file):
                of_icon[name] = one
    for source, result, outline in of_icon.values():
        yield DrawnIcon(source, outline.advance, result.title, result.description)
