"""Drawings → outlines, on all processors: out of the cache where they are known, else worked out."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import BATCH, OutlineResult, PackedResults, em_for, outline_files
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.parallel import map_batches, pays
from oddpeg.pegboard.states import State
from oddpeg.workspace.project import Project
from oddpeg.workspace.settings import Config
from oddpeg.workspace.sources import read_sources


def choose_em(config: Config | None, files: Sequence[bytes], font_drop: float | None = None) -> ChosenEm:
    """Return the em that drawings stand on: as the config says, else as suits them. font_drop: share of the em below
    the baseline of a font that icons come from, which they keep."""
    if config is None:
        return em_for("auto", "auto", files)
    if config.font.fit == "ink":  # drawings' grids are lost whatever the em
        return em_for(config.font.units_per_em, config.font.drop, [])._replace(on_grid=None)
    if config.font.drop == "auto" and font_drop is not None:
        return em_for(config.font.units_per_em, font_drop, files)
    return em_for(config.font.units_per_em, config.font.drop, files)


def outline_options(config: Config, em: Em, strokes: float = 1.0) -> Options:
    """Return what the outlines of a face depend on. strokes: how many times as wide they are as they are drawn."""
    font = config.font
    padding = font.padding if font.fit == "ink" else 0.0
    faint, colour = config.icons.keep_faint, ColourMode(config.colour_mode)
    return Options(em, font.fit, font.precision, keep_faint=faint, padding=padding, strokes=strokes, colour=colour)


def project_em(project: Project) -> ChosenEm:
    """Return the em of a project's font. Drawings are only read where it depends on them."""
    font = project.config.font
    if "auto" not in (font.units_per_em, font.drop):
        return choose_em(project.config, [])
    pegs = project.load_board().pegs
    found = (source for sources in project.face_sources.values() for source in sources.found)
    kept = (s for s in found if s.name not in pegs or pegs[s.name].state is not State.WITHDRAWN)
    files = [one.data for one in read_sources(kept) if one.data is not None]
    return choose_em(project.config, files, project.font_drop)


def load_libraries(count: int) -> None:
    """Load what reading and outlining `count` files needs, half of all libraries, before processes part, so that each
    need not."""
    import oddpeg.outline.batch
    import oddpeg.svg.reader  # noqa: F401

    if pays(count):
        import multiprocessing.context  # noqa: F401
        from concurrent.futures import ProcessPoolExecutor  # noqa: F401


def _packed(options: Options, files: Sequence[bytes]) -> PackedResults:
    return PackedResults.pack(_outlined(options, files))


def _outlined(options: Options, files: Sequence[bytes]) -> list[OutlineResult]:
    """Return one result per file. What does not vary as its drawing's strokes get wider stays as it is drawn."""
    results = outline_files(files, options)
    if not options.masters:
        return results
    from oddpeg.tasks.axis_proof import keep_true

    return keep_true(results, files, options)


def outline_all(
    files: Sequence[bytes], options: Options, advance: Callable[[int], None] = lambda count: None
) -> list[OutlineResult]:
    """Return one result per file, in order. advance: called with how many more are done."""
    if not pays(len(files)):
        results = _outlined(options, files)
        advance(len(files))
        return results
    load_libraries(len(files))
    return [r for packed in map_batches(partial(_packed, options), files, BATCH, advance) for r in packed.unpack()]
