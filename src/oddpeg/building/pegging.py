"""The third stage of a build: every icon that became a glyph gets its peg."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from oddpeg.building.gather import Gathered
from oddpeg.building.glyphs import Outlined
from oddpeg.building.outlining import outline_all
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.pegboard.board import Changes, Pegboard
from oddpeg.pegboard.renames import Alike, find_renames, rename_diagnostics
from oddpeg.pegboard.states import State
from oddpeg.project.icon_sets import Pegs, load_pegs
from oddpeg.project.snapshot import Snapshot
from oddpeg.raster.fingerprint import Fingerprint, alike, are_alike
from oddpeg.store.records import Shape, drawing_digest, read_shapes
from oddpeg.svg.model import Translucent

Shapes = Mapping[str, Shape]


class Pegged(NamedTuple):
    """The pegs of a build.

    Attributes:
        pegs: the pegboard as the build will write it, and the metadata of icons.
        changes: of the pegboard.
        shapes: what the icons of the pegboard show, by name.
        hashes: of drawings, by icon.
        errors: rows of tables that are wrong.
        notes: warnings and notices about tables.
    """

    pegs: Pegs
    changes: Changes
    shapes: dict[str, Shape]
    hashes: dict[str, str]
    errors: list[Diagnostic]
    notes: list[Diagnostic]


def give_pegs(snapshot: Snapshot, gathered: Gathered, outlined: Outlined, outlining: Options, as_new: bool) -> Pegged:
    """Return the pegs of a build. A new drawing gets one once it is a glyph; a known one keeps its own, even if its
    drawing cannot be a glyph any more.

    outlining: options that all faces share; as_new: a known drawing under a new name is a new icon. Raise `OddPegError`
    where a drawing came under a new name, and `as_new` is not set.
    """
    table, known = snapshot.project.config.pegs, snapshot.board.pegs
    glyphs = {name for face in outlined.faces for name in face.results}
    names = [name for name in gathered.names if name in known or name in glyphs]
    board, changes = snapshot.board.update(names, table.codes(), table.assign, snapshot.font_codes)
    hashes = {drawing.source.name: drawing_digest(drawing.data) for drawing in gathered.drawings}
    before = read_shapes(snapshot.project.root)
    shapes = _shapes(gathered, outlined, outlining, hashes, before)
    if not as_new and changes.added:
        _refuse_renames(snapshot.board, changes, before, shapes)
    gone = {peg.icon for peg in board.in_state(State.RETIRED, State.WITHDRAWN)}
    kept = {name: shape for name, shape in before.items() if name in gone}
    pegs = load_pegs(snapshot, [drawing.source for drawing in gathered.drawings], board)
    diagnostics = [problem for _, problem in pegs.metadata.problems]
    errors = [problem for problem in diagnostics if problem.level is Level.ERROR]
    notes = [problem for problem in diagnostics if problem.level is not Level.ERROR]
    return Pegged(pegs, changes, kept | shapes, hashes, errors, notes)


def _shapes(
    gathered: Gathered, outlined: Outlined, outlining: Options, hashes: Mapping[str, str], before: Shapes
) -> dict[str, Shape]:
    """Return what each icon shows. before: those of the last build, which hold for unchanged drawings."""
    files, results = {source.name: source.file for source, _ in gathered.drawings}, dict[str, OutlineResult]()
    for face in sorted(outlined.faces, key=lambda face: face.plan.strokes != 1):
        for name, source in face.sources.items():
            if source.file == files.get(name):
                results.setdefault(name, face.results[name])
    shapes, new, partial = {}, {}, []
    for source, data in gathered.drawings:
        old, result = before.get(source.name), results.get(source.name)
        if old is not None and old.digest == hashes[source.name] and old.fingerprint:
            shapes[source.name] = old
        elif result is not None and result.outline is not None:
            new[source.name] = [result.outline]
            partial += [(source.name, data)] if _omits(result) else []
    # what the font omits tells drawings apart that have the same glyph
    solid = outlining._replace(translucent=Translucent.SOLID)
    whole = outline_all([(solid, data) for _, data in partial])
    for (name, _), result in zip(partial, whole, strict=True):
        new[name] += [result.outline] if result.outline is not None else []
    for name, outlines in new.items():
        fingerprints = [Fingerprint.of(outline, outlining.em) for outline in outlines]
        texts = [one.text() for one in fingerprints if one is not None]
        shapes[name] = Shape(hashes[name], " ".join(texts) if len(texts) == len(outlines) else "")
    return shapes


def _omits(result: OutlineResult) -> bool:
    """Return whether a glyph lacks some translucent paint of its drawing."""
    return any(note.code == "partial-opacity" and "omitted" in note.what for note in result.diagnostics)


def _refuse_renames(board: Pegboard, changes: Changes, before: Shapes, now: Shapes) -> None:
    """Raise `OddPegError` where a new icon shows what one shows whose drawing is gone."""
    earlier = {peg.icon for peg in board.in_state(State.RETIRED)} - set(changes.restored)
    gone = {name: before[name] for name in {*changes.retired, *earlier} if name in before}
    added = {name: now[name] for name in changes.added if name in now}
    here = {shape.digest for name, shape in now.items() if name not in added}
    # a copy of an icon that is still here does not bring an older copy back
    gone = {name: shape for name, shape in gone.items() if name in changes.retired or shape.digest not in here}
    if gone and added:
        found = [Alike(old, new, 1.0) for new in added for old in gone if added[new].digest == gone[old].digest]
        found += _nearly_alike(gone, added, {one.new for one in found})
        if found:
            raise OddPegError(*rename_diagnostics(find_renames(found), board))


def _nearly_alike(gone: Shapes, added: Shapes, settled: set[str]) -> list[Alike]:
    sides: list[dict[str, list[Fingerprint]]] = []
    for shapes in (gone, {name: shape for name, shape in added.items() if name not in settled}):
        parsed = {name: list(map(Fingerprint.parse, shape.fingerprint.split())) for name, shape in shapes.items()}
        sides.append({name: [one for one in parts if one] for name, parts in sorted(parsed.items()) if all(parts)})
    sides = [{name: parts for name, parts in side.items() if parts} for side in sides]
    old, new = (list(side) for side in sides)
    pairs = alike(*([parts[0] for parts in side.values()] for side in sides))
    return [
        Alike(old[i], new[j], share)
        for (i, j), share in pairs.items()
        if are_alike(sides[0][old[i]][1:], sides[1][new[j]][1:])
    ]
