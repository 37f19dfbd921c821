"""The em that a project's drawings are placed on, and the options of their outlines."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.config.settings import Config
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import em_for
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.pegboard.states import State
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import read_sources
from oddpeg.svg.model import Translucent


def choose_em(config: Config | None, files: Sequence[bytes], font_drop: float | None = None) -> ChosenEm:
    """Return the em that drawings stand on: as the config says, else as suits them. font_drop: share of the em below
    the baseline of a font that icons come from, which they keep."""
    if config is None:
        return em_for("auto", "auto", files)
    if config.font.fit == "ink":  # the grids of drawings are lost at any em
        return em_for(config.font.units_per_em, config.font.descent, [])._replace(on_grid=None)
    if config.font.descent == "auto" and font_drop is not None:
        return em_for(config.font.units_per_em, font_drop, files)
    return em_for(config.font.units_per_em, config.font.descent, files)


def outline_options(config: Config, em: Em, strokes: float = 1.0) -> Options:
    """Return the options of a face's outlines. strokes: the factor of stroke widths."""
    font = config.font
    padding = font.padding if font.fit == "ink" else 0.0
    how, colour = Translucent(config.icons.translucent), ColourMode(config.colour_mode)
    return Options(em, font.fit, font.curve_precision, translucent=how, padding=padding, strokes=strokes, colour=colour)


def project_em(snapshot: Snapshot) -> ChosenEm:
    """Return the em of a project's font. Drawings are only read where it depends on them."""
    font = snapshot.project.config.font
    if not {"auto", "small"} & {font.units_per_em, font.descent}:
        return choose_em(snapshot.project.config, [])
    pegs = snapshot.board.pegs
    sources_of_faces = (source for sources in snapshot.face_sources.values() for source in sources.found)
    kept = (s for s in sources_of_faces if s.name not in pegs or pegs[s.name].state is not State.WITHDRAWN)
    files = [drawing.data for drawing in read_sources(kept).drawings]
    return choose_em(snapshot.project.config, files, snapshot.font_drop)
