"""The second stage of a build: drawings → the outlines of every face, from the cache where they are known."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import chain
from typing import NamedTuple

from oddpeg.building.gather import FaceDrawings
from oddpeg.building.outline_codec import decode, encode
from oddpeg.building.outlining import load_libraries, outline_all
from oddpeg.config.faces import FacePlan
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.faces import Face
from oddpeg.iconset.model import Icon
from oddpeg.outline.model import Method, Options
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.outline.placement import Em
from oddpeg.progress import Progress
from oddpeg.project.icon_sets import drawn_icon
from oddpeg.sources.drawings import DrawingFile, Source
from oddpeg.store.cache import Cache

_OUTLINES = "outlines"
_CODES_OF_FACES = ("axis-fixed", "beyond-frame", "no-strokes")
MOST_ICONS = 65_533  # glyph numbers have 16 bits; two go to the missing character and the space

Lap = Callable[[str], None]


class OutlinedFace(NamedTuple):
    """The icons of one face that became glyphs.

    Attributes:
        sources: by icon.
        results: by icon; each has an outline.
    """

    plan: FacePlan
    sources: dict[str, Source]
    results: dict[str, OutlineResult]

    def face(self, em: Em) -> Face:
        """Return the face that an icon set holds."""
        plan, results = self.plan, self.results.items()
        return Face(
            em.at_size(plan.px) if plan.px else em,
            {name: result.outline for name, result in results if result.outline is not None},
            plan.name,
            plan.weight,
            layers={name: result.layers for name, result in results if result.layers},
            axis=plan.axis,
            masters={name: result.masters for name, result in results if result.masters},
            stands_for=plan.stands_for,
            size=plan.size,
            states=plan.states,
            px=plan.px,
            state=plan.state,
        )


def whole_faces(em: Em, faces: Sequence[OutlinedFace], plans: Sequence[FacePlan]) -> list[Face]:
    """Return the faces, in order of weight; the parts of a variable one are within it. plans: of all faces; those of
    one size are taken from the variable one."""
    whole: list[Face] = []
    for outlined in faces:
        face = outlined.face(em)
        if outlined.plan.px or outlined.plan.state:
            whole[-1] = whole[-1].with_part(face)
        else:
            whole.append(face)
    by_name = {face.name: face for face in whole}
    whole += [by_name[plan.taken_from].static_at(plan.name, plan.px) for plan in plans if plan.taken_from]
    return sorted(whole, key=lambda face: face.weight)


class Outlined(NamedTuple):
    """The outlines of all faces.

    Attributes:
        em: that they stand on.
        faces: in the order of the config, the parts of a variable one after it.
        reused: outlines from the cache.
        fallbacks: outlines that had to be made another way.
        errors, notes: each once, even where several faces have it.
    """

    em: Em
    faces: list[OutlinedFace]
    reused: int
    fallbacks: int
    errors: list[Diagnostic]
    notes: list[Diagnostic]


def options_of(plan: FacePlan, outlining: Options) -> Options:
    """Return the outline options of a face. outlining: options that all faces share."""
    em = outlining.em
    if plan.px:  # whole pixels at its size lie on whole pixels below the baseline, too
        em = em.at_size(plan.px)
    return outlining._replace(em=em, strokes=plan.strokes, masters=plan.masters)


def outline_faces(
    faces: Sequence[FaceDrawings], outlining: Options, cache: Cache, remember: bool, progress: Progress, lap: Lap
) -> Outlined:
    """Return the outlines of every face.

    outlining: the options that all faces share; remember: keep new outlines in the cache; lap: called with the name of
    each step that is over. Raise `OddPegError` where there is no glyph, or more than a font can hold.
    """
    progress.begin(sum(len(face.drawings) for face in faces))
    options = [options_of(face.plan, outlining) for face in faces]
    files = [[drawing.data for drawing in face.drawings] for face in faces]
    keys = [cache.keys(_OUTLINES, own, data) for data, own in zip(files, options, strict=True)]
    kept = cache.get(_OUTLINES, list(chain.from_iterable(keys)))
    outlined_drawings = {key: decode(data) for key, data in kept.items()}
    reused = sum(key in outlined_drawings for key in chain.from_iterable(keys))
    progress.advance(reused)
    lap("cache")
    new = {
        key: (own_options, data)
        for own_keys, own_files, own_options in zip(keys, files, options, strict=True)
        for key, data in zip(own_keys, own_files, strict=True)
        if key not in outlined_drawings
    }
    if new:
        load_libraries()
        lap("load")
        # what varies comes first, since it takes longest
        order = sorted(new, key=lambda key: not new[key][0].masters)
        made = outline_all([new[key] for key in order], progress.advance)
        outlined_drawings |= dict(zip(order, made, strict=True))
    lap("outlines")
    if len(outlined_drawings) > len(kept) and remember:
        results = {key: one for key, one in outlined_drawings.items() if key not in kept and not _has_failed(one)}
        cache.put(_OUTLINES, {key: encode(one) for key, one in results.items()}, kept)
    lap("cache")
    pairs = [(face, [outlined_drawings[key] for key in own]) for face, own in zip(faces, keys, strict=True)]
    return _sorted_out(outlining.em, pairs, reused)


def _has_failed(result: OutlineResult) -> bool:
    """Return whether this program failed on a drawing, which the next version may not."""
    return result.problem is not None and result.problem.code == "internal-error"


def _sorted_out(em: Em, faces: Sequence[tuple[FaceDrawings, list[OutlineResult]]], reused: int) -> Outlined:
    """Return the results with outlines, and the messages of all."""
    outlined: list[OutlinedFace] = []
    errors: dict[Diagnostic, None] = {}
    notes: dict[Diagnostic, None] = {}
    fallbacks = 0
    for face, results in faces:
        made = OutlinedFace(face.plan, {}, {})
        for (source, _), result in zip(face.drawings, results, strict=True):
            own_notes = (_with_face(d, face.plan) for d in result.diagnostics)
            notes |= dict.fromkeys(d._replace(where=source.where) for d in own_notes)
            if result.problem:
                errors[result.problem._replace(where=source.where)] = None
            elif result.outline is not None:
                made.sources[source.name], made.results[source.name] = source, result
                fallbacks += result.outline.made is not Method.CURVES and not result.masters
        outlined.append(made)
    return Outlined(em, outlined, reused, fallbacks, list(errors), list(notes))


def _with_face(note: Diagnostic, plan: FacePlan) -> Diagnostic:
    """Return a note; one on strokes or an axis names the face that has them."""
    return note._replace(what=f"{note.what} (face {plan.name})") if note.code in _CODES_OF_FACES else note


def refuse_counts(faces: Sequence[OutlinedFace], errors: Sequence[Diagnostic]) -> None:
    """Raise `OddPegError` where there are no glyphs at all, or more than a font can hold. errors: of drawings."""
    count = max(len(face.results) for face in faces)
    if not count:
        message = "no drawing can become a glyph; build aborted"
        raise OddPegError(*errors, Diagnostic("no-glyphs", message, "correct at least one of them"))
    if count > MOST_ICONS:
        message = f"a font holds at most {MOST_ICONS:,} icons, and there are {count:,}"
        raise OddPegError(Diagnostic("too-many-icons", message, "split the set into two projects"))


def drawn_icons(drawings: Sequence[DrawingFile], faces: Sequence[OutlinedFace]) -> list[Icon]:
    """Return every icon that some face has, as the drawing in `drawings` describes it, if that became a glyph."""
    files = {source.name: source.file for source, _ in drawings}
    chosen: dict[str, tuple[Source, OutlineResult]] = {}
    for face in (one for one in faces if not one.plan.px):
        for name, source in face.sources.items():
            if name not in chosen or chosen[name][0].file != files.get(name) == source.file:
                chosen[name] = source, face.results[name]
    return [
        drawn_icon(source, result.outline.advance if result.outline else 0, result.title, result.description)
        for source, result in chosen.values()
    ]
