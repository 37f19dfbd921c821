"""One policy for worker processes: when they pay, how many there are, and how work is dealt out to them."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

Item = TypeVar("Item")
Found = TypeVar("Found")

MIN_ITEMS = 200  # below this many, starting processes costs more than it saves


def processors() -> int:
    """Return how many processors this process may use; containers and `taskset` leave it fewer than there are."""
    if hasattr(os, "sched_getaffinity"):
        return len(os.sched_getaffinity(0))
    return os.cpu_count() or 1


def pays(count: int) -> bool:
    """Return whether `count` items are worked on faster by several processes."""
    return count >= MIN_ITEMS and processors() > 1


def map_batches(
    work: Callable[[Sequence[Item]], Found],
    items: Sequence[Item],
    max_batch: int,
    advance: Callable[[int], None] = lambda count: None,
) -> Iterator[Found]:
    """Yield the result of `work` for each batch of `items`, in order; large inputs use all processors.

    Args:
        work: a function of a module (it is sent to other processes).
        max_batch: largest number of items in one call; all processes get batches of equal number and size.
        advance: called with the number of items of each finished batch.
    """
    jobs = processors() if pays(len(items)) else 1
    rounds = max(1, -(-len(items) // (jobs * max_batch)))
    size = max(1, -(-len(items) // (jobs * rounds)))
    batches = [items[i : i + size] for i in range(0, len(items), size)]
    if jobs == 1:
        for batch in batches:
            yield work(batch)
            advance(len(batch))
        return
    import multiprocessing
    from concurrent.futures import ProcessPoolExecutor

    context = multiprocessing.get_context("fork" if sys.platform == "linux" else "spawn")
    with ProcessPoolExecutor(jobs, mp_context=context) as pool:
        for batch, results in zip(batches, pool.map(work, batches), strict=True):
            yield results
            advance(len(batch))
