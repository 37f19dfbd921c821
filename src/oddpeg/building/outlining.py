"""Drawings → outlines, on all processors."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import BATCH, OutlineResult, PackedResults, outline_files
from oddpeg.parallel import map_batches, pays


def load_libraries(count: int) -> None:
    """Import the libraries for reading and outlining `count` files before processes fork, so that workers need not."""
    import oddpeg.outline.batch
    import oddpeg.svg.reader  # noqa: F401

    if pays(count):
        import multiprocessing.context  # noqa: F401
        from concurrent.futures import ProcessPoolExecutor  # noqa: F401


def _packed(options: Options, files: Sequence[bytes]) -> PackedResults:
    return PackedResults.pack(_outlined(options, files))


def _outlined(options: Options, files: Sequence[bytes]) -> list[OutlineResult]:
    """Return one result per file. Icons that cannot vary keep the outline of their drawing."""
    results = outline_files(files, options)
    if not options.masters:
        return results
    from oddpeg.building.axis_proof import keep_true

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
