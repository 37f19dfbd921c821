"""Drawings → outlines, on all processors."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import BATCH, OutlineResult, PackedResults, outline_files
from oddpeg.parallel import map_batches


def load_libraries() -> None:
    """Import the libraries for reading and outlining before processes fork, so that workers need not."""
    import oddpeg.outline.translucent
    import oddpeg.outline.widened
    import oddpeg.outline.window
    import oddpeg.svg.reader  # noqa: F401


def _packed(options: Options, files: Sequence[bytes]) -> PackedResults:
    return PackedResults.pack(outlined(options, files))


def outlined(options: Options, files: Sequence[bytes]) -> list[OutlineResult]:
    """Return one result per file. Icons that cannot vary keep the outline of their drawing."""
    results = outline_files(files, options)
    if not options.masters:
        return results
    from oddpeg.building.axis_proof import keep_true

    return keep_true(results, files, options)


def _failed(_: bytes, problem: Diagnostic) -> PackedResults:
    return PackedResults.pack([OutlineResult(None, [], problem)])


def outline_all(
    files: Sequence[bytes], options: Options, advance: Callable[[int], None] = lambda count: None
) -> list[OutlineResult]:
    """Return one result per file, in order. advance: called with how many more are done."""
    packed = map_batches(partial(_packed, options), files, BATCH, advance, _failed)
    return [result for batch in packed for result in batch.unpack()]
