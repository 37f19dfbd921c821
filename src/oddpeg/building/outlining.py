"""Drawings → outlines, on all processors."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import groupby
from operator import itemgetter

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import BATCH, OutlineResult, PackedResults, outline_files
from oddpeg.parallel import MIN_ITEMS, map_batches

_VARYING = 10  # icons that take as long as one that varies


def load_libraries() -> None:
    """Import the libraries for reading and outlining before processes fork, so that workers need not."""
    import oddpeg.outline.translucent
    import oddpeg.outline.widened
    import oddpeg.outline.window
    import oddpeg.svg.reader  # noqa: F401


Request = tuple[Options, bytes]  # a drawing, and how it is to be outlined


def _packed(requests: Sequence[Request]) -> PackedResults:
    """Return the results of requests, in order; neighbours with the same options are outlined together."""
    results: list[OutlineResult] = []
    for options, same in groupby(requests, key=itemgetter(0)):
        results += outlined(options, [data for _, data in same])
    return PackedResults.pack(results)


def outlined(options: Options, files: Sequence[bytes]) -> list[OutlineResult]:
    """Return one result per file. Icons that cannot vary keep the outline of their drawing."""
    results = outline_files(files, options)
    if not options.masters:
        return results
    from oddpeg.building.axis_proof import keep_true

    return keep_true(results, files, options)


def _failed(_: Request, problem: Diagnostic) -> PackedResults:
    return PackedResults.pack([OutlineResult(None, [], problem)])


def outline_all(
    requests: Sequence[Request], advance: Callable[[int], None] = lambda count: None
) -> list[OutlineResult]:
    """Return one result per request, in order. advance: called with how many more are done."""
    work = max(1, sum(_VARYING if options.masters else 1 for options, _ in requests))
    packed = map_batches(_packed, requests, BATCH, advance, _failed, least=MIN_ITEMS * len(requests) // work)
    return [result for batch in packed for result in batch.unpack()]
