"""Comparison of two builds, read from disk."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

import numpy as np

from oddpeg.compare.snapshots import read_state
from oddpeg.config.loading import FILE
from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.board import Peg
from oddpeg.pegboard.states import State
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.raster.compare import Comparison, FontState, Recoloured, compare
from oddpeg.raster.coverage import Coverage
from oddpeg.raster.proof_picture import GROUND, PictureRow, proof_picture
from oddpeg.raster.straight_glyph import coverage, layers_picture

_LIMIT = 24  # pictured
_PICTURE_PX = 224  # of an em
_LEGEND = "old · new · difference: blue is gone, orange is new"


class Compared(NamedTuple):
    """Two builds and their differences."""

    old: FontState
    new: FontState
    comparison: Comparison

    @property
    def drawn(self) -> bool:
        """Whether drawings could be compared: both sides have a font."""
        return self.old.shapes is not None and self.new.shapes is not None


def compare_paths(old: Path, new: Path) -> Compared:
    """Compare two pegboards, JSON glyph maps, font files or folders of bundles; raise `OddPegError` for other files."""
    before, after = read_state(old), read_state(new)
    delivered = _Delivered.of(new)
    if delivered is not None and not after.named:
        names = {peg.codepoint: peg.icon for peg in delivered.live}
        after.icons, after.named = {names.get(code, name): code for name, code in after.icons.items()}, True
    comparison = compare(before, after)
    if delivered is not None and delivered.only_used:
        spare = {peg.icon for peg in delivered.live}
        comparison.left_out = [name for name in comparison.gone if name in spare]
        comparison.gone = [name for name in comparison.gone if name not in spare]
    return Compared(before, after, comparison)


class _Delivered(NamedTuple):
    """The folder of a bundle of a project.

    Attributes:
        live: pegs with drawings.
        only_used: icons that code does not use may be missing.
    """

    live: list[Peg]
    only_used: bool

    @staticmethod
    def of(path: Path) -> _Delivered | None:
        """Return the folder at a path; None for a file, and for a folder that no bundle is delivered into."""
        here = path.resolve()
        config = next((folder / FILE for folder in here.parents if (folder / FILE).is_file()), None)
        if config is None:
            return None
        try:
            project = Project.open(config)
            board = Snapshot(project).board
        except OddPegError:  # a folder that is compared need not belong to a sound project
            return None
        places = {name: (project.root / table.into).resolve() for name, table in project.config.bundle.items()}
        if here not in places.values():
            return None
        of_used = {places[name] for name in project.config.bundles_of_used}
        return _Delivered(list(board.in_state(State.LIVE)), here in of_used)


def changes_image(compared: Compared, title: str) -> bytes:
    """Return a PNG of redrawn and recoloured icons: old, new and difference."""
    rows = []
    comparison = compared.comparison
    for item in comparison.pictured[:_LIMIT]:
        sides = ((compared.old, item.old), (compared.new, item.new))
        old, new = (shape for shape in (side.shape(code, item.face) for side, code in sides) if shape is not None)
        if isinstance(item, Recoloured):
            wide = max(old.advance, new.advance)
            views = [layers_picture(shape.layers(item.palette), wide, _PICTURE_PX, GROUND, 0.0) for shape in (old, new)]
            rows.append(PictureRow(f"{item.label}: colours", item.share, *views))
        else:
            inks = [coverage(shape, _PICTURE_PX) for shape in (old, new)]
            width = max(ink.shape[1] for ink in inks)
            rows.append(PictureRow(item.label, item.share, *(_padded(ink, width) for ink in inks)))
    shown = f" (the first {_LIMIT})" if len(comparison.pictured) > _LIMIT else ""
    counts = ((comparison.redrawn, "redrawn"), (comparison.recoloured, "recoloured"))
    changes = ", ".join(f"{len(items)} {word}" for items, word in counts if items)
    return proof_picture(f"{changes}{shown}: {title}", rows, _LEGEND, "changed")


def _padded(view: Coverage, width: int) -> Coverage:
    return np.pad(view, ((0, 0), (0, width - view.shape[1])))
