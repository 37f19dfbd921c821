"""The first stage of a build: read all drawings."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from oddpeg.building.last_build import Inputs
from oddpeg.config.faces import FacePlan
from oddpeg.diagnostics import Diagnostic
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import DrawingFile, read_sources


class FaceDrawings(NamedTuple):
    """The drawings of one face."""

    plan: FacePlan
    drawings: list[DrawingFile]


class Gathered(NamedTuple):
    """The drawings that a build starts with.

    Attributes:
        names: icons that have a drawing, withdrawn ones too.
        drawings: one of each icon, in order of names.
        faces: the drawings of each face, the parts of a variable one after it.
        errors: drawings that cannot be read.
    """

    names: list[str]
    drawings: list[DrawingFile]
    faces: list[FaceDrawings]
    errors: list[Diagnostic]

    @property
    def files(self) -> list[bytes]:
        """The bytes of all drawings, of every face that has its own."""
        return [
            d.data for face in self.faces if face.plan.root == face.plan.name or face.plan.px for d in face.drawings
        ]


def gather(snapshot: Snapshot, inputs: Inputs) -> Gathered:
    """Return the drawings of a build. Raise `OddPegError` where the pegboard is lost, or a drawing has the name of an
    alias."""
    sources, problems = snapshot.sources
    read = {name: read_sources(sources.found, inputs.drawings) for name, sources in snapshot.face_sources.items()}
    errors = [*problems, *(problem for files in read.values() for problem in files.problems)]
    if not snapshot.board.pegs:
        snapshot.refuse_lost_board()
    names = [source.name for source in sources]
    withdrawn = set(snapshot.board.known(names).changes.withdrawn)
    by_file = {drawing.source.file: drawing for files in read.values() for drawing in files.drawings}
    first = [by_file[source.file] for source in sources if source.file in by_file]
    plans = [plan for face in snapshot.project.faces if not face.taken_from for plan in (face, *face.parts)]
    faces = [FaceDrawings(plan, _without(withdrawn, read[plan.root].drawings)) for plan in plans]
    return Gathered(names, _without(withdrawn, first), faces, errors)


def _without(withdrawn: set[str], drawings: Sequence[DrawingFile]) -> list[DrawingFile]:
    return [drawing for drawing in drawings if drawing.source.name not in withdrawn]
