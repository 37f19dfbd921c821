"""The first stage of a build: read all drawings and give every icon its peg."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from oddpeg.building.last_build import Inputs
from oddpeg.config.faces import FacePlan
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.pegboard.board import Changes
from oddpeg.pegboard.renames import find_renames, rename_diagnostics
from oddpeg.project.icon_sets import Pegs, load_pegs
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import DrawingFile, read_sources
from oddpeg.store.records import drawing_digest, read_record


class FaceDrawings(NamedTuple):
    """The drawings of one face."""

    plan: FacePlan
    drawings: list[DrawingFile]


class Gathered(NamedTuple):
    """The drawings and pegs that a build starts with.

    Attributes:
        drawings: one of each icon, in order of names.
        faces: the drawings of each face.
        pegs: the pegboard as the build will write it, and the metadata of icons.
        changes: of the pegboard.
        hashes: of drawings, by icon.
        errors: drawings that cannot be read, and rows of tables that are wrong.
        notes: warnings and notices about tables.
    """

    drawings: list[DrawingFile]
    faces: list[FaceDrawings]
    pegs: Pegs
    changes: Changes
    hashes: dict[str, str]
    errors: list[Diagnostic]
    notes: list[Diagnostic]

    @property
    def files(self) -> list[bytes]:
        """The bytes of all drawings, of every face that has its own."""
        return [d.data for face in self.faces if face.plan.root == face.plan.name for d in face.drawings]


def gather(snapshot: Snapshot, inputs: Inputs, as_new: bool) -> Gathered:
    """Return the drawings and pegs of a build.

    as_new: a known drawing under a new name is a new icon. Raise `OddPegError` where the pegboard is lost, or a drawing
    came under a new name and `as_new` is not set.
    """
    project = snapshot.project
    sources, problems = snapshot.sources
    read = {name: read_sources(sources.found, inputs.drawings) for name, sources in snapshot.face_sources.items()}
    errors = [*problems, *(problem for files in read.values() for problem in files.problems)]
    if not snapshot.board.pegs:
        snapshot.refuse_lost_board()
    table = project.config.pegs
    names = [source.name for source in sources]
    board, changes = snapshot.board.update(names, table.codes(), table.assign, snapshot.font_codes)
    withdrawn = set(changes.withdrawn)
    by_file = {drawing.source.file: drawing for files in read.values() for drawing in files.drawings}
    first = [by_file[source.file] for source in sources if source.file in by_file]
    hashes = {drawing.source.name: drawing_digest(drawing.data) for drawing in first}
    if not as_new:
        _refuse_renames(snapshot, changes, hashes)
    drawings = _without(withdrawn, first)
    faces = [FaceDrawings(plan, _without(withdrawn, read[plan.root].drawings)) for plan in project.faces]
    pegs = load_pegs(snapshot, [drawing.source for drawing in drawings], board)
    diagnostics = [problem for _, problem in pegs.metadata.problems]
    errors += [problem for problem in diagnostics if problem.level is Level.ERROR]
    notes = [problem for problem in diagnostics if problem.level is not Level.ERROR]
    return Gathered(drawings, faces, pegs, changes, hashes, errors, notes)


def _without(withdrawn: set[str], drawings: Sequence[DrawingFile]) -> list[DrawingFile]:
    return [drawing for drawing in drawings if drawing.source.name not in withdrawn]


def _refuse_renames(snapshot: Snapshot, changes: Changes, hashes: Mapping[str, str]) -> None:
    """Raise `OddPegError` where a known drawing has a new name."""
    if changes.added and changes.retired:
        known = read_record(snapshot.project.root, "drawings.json")
        if renames := find_renames(changes, known, hashes):
            raise OddPegError(*rename_diagnostics(renames, snapshot.board))
