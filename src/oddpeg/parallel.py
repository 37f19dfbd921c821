"""One policy for worker processes: when they pay, how many there are, how work is distributed, and its limits.

Estimates refuse most inputs that would take too long. A worker limits the others: the polygon clipper cannot be
interrupted in any other way.
"""

from __future__ import annotations

import contextlib
import os
import signal
import sys
import traceback
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Generic, NamedTuple, TypeVar

from oddpeg.diagnostics import Diagnostic
from oddpeg.isolation import MEMORY, SECONDS, internal_error, too_much_work

if TYPE_CHECKING:
    from multiprocessing.connection import Connection
    from multiprocessing.process import BaseProcess

Item = TypeVar("Item")
Found = TypeVar("Found")

_OUT_OF_TIME = [-signal.SIGPROF] if hasattr(signal, "SIGPROF") else []
MIN_ITEMS = 200  # below this many, starting processes costs more than it saves
CAN_FORK = sys.platform == "linux"  # elsewhere a worker starts from nothing, which takes longer than most builds
_SECONDS_IN_BATCH = 0.05  # for each item of a batch after the first, ten times the usual


def processors() -> int:
    """Return how many processors this process may use; containers and `taskset` leave it fewer than there are."""
    if hasattr(os, "sched_getaffinity"):
        return len(os.sched_getaffinity(0))
    return os.cpu_count() or 1


def pays(count: int, least: int = MIN_ITEMS) -> bool:
    """Return whether `count` items are worked on faster by several processes. least: from how many on."""
    return count >= least and processors() > 1


def map_batches(
    work: Callable[[Sequence[Item]], Found],
    items: Sequence[Item],
    max_batch: int,
    advance: Callable[[int], None] = lambda count: None,
    failed: Callable[[Item, Diagnostic], Found] | None = None,
    starts_programs: bool = False,
    least: int = MIN_ITEMS,
) -> Iterator[Found]:
    """Yield the results of `work` for batches of `items`, in order; large inputs use all processors.

    Args:
        work: a function of a module (it is sent to other processes).
        max_batch: largest number of items in one call; all processes get batches of equal number and size.
        advance: called with the number of items of each finished batch.
        failed: the result for one item whose work alone exceeds `SECONDS` or `MEMORY`, or ends its process. Without it,
            nothing is bounded.
        least: number of items from which on several processes are faster.
        starts_programs: `work` starts other programs, which would inherit the bound of memory; there is none then.
    """
    if not items:
        return
    jobs = processors() if pays(len(items), least) else 1
    rounds = max(1, -(-len(items) // (jobs * max_batch)))
    size = max(1, -(-len(items) // (jobs * rounds)))
    batches = [items[i : i + size] for i in range(0, len(items), size)]
    if _is_daemon() or (jobs == 1 and not (CAN_FORK and failed)):
        for batch in batches:
            yield work(batch)
            advance(len(batch))
        return
    limits = _Limits(SECONDS if failed else 0, MEMORY if failed and not starts_programs else 0)
    for number, results in enumerate(_in_workers(partial(_work_on, work, limits), batches, jobs, failed)):
        yield from results
        advance(len(batches[number]))


def _is_daemon() -> bool:
    """Return whether this process may have no children."""
    from multiprocessing import process

    return bool(process.current_process().daemon)


class _Limits(NamedTuple):
    """Limits of a worker.

    Attributes:
        seconds: of processor time for one item; 0 for no limit.
        memory: bytes beyond the memory at the start; 0 for no limit.
    """

    seconds: float
    memory: int


@dataclass
class _Job(Generic[Item, Found]):
    """One batch, and the worker on it.

    Attributes:
        calls: the remaining batches, one call of `work` each.
        results: of the calls before.
    """

    number: int
    calls: list[Sequence[Item]]
    results: list[Found] = field(default_factory=list)
    process: BaseProcess | None = None


def _in_workers(
    worker: Callable[[Sequence[Sequence[Item]], Connection], None],
    batches: Sequence[Sequence[Item]],
    jobs: int,
    failed: Callable[[Item, Diagnostic], Found] | None,
) -> Iterator[list[Found]]:
    """Yield the results of each batch, in order."""
    from multiprocessing import connection

    waiting = [_Job[Item, Found](number, [batch]) for number, batch in enumerate(batches)][::-1]
    running: dict[Connection, _Job[Item, Found]] = {}
    done: dict[int, list[Found]] = {}
    yielded = 0
    try:
        while waiting or running:
            while waiting and len(running) < jobs:
                job = waiting.pop()
                running[_started(worker, job)] = job
            ready = connection.wait(list(running))
            for pipe in [pipe for pipe in running if pipe in ready]:
                if not _received(running[pipe], pipe):
                    continue
                job = running.pop(pipe)
                if _finished(job, failed):
                    done[job.number] = job.results
                else:
                    waiting.append(job)
            while yielded in done:
                yield done.pop(yielded)
                yielded += 1
    finally:
        for job in running.values():
            if job.process is not None:
                job.process.kill()


def _started(worker: Callable[[Sequence[Sequence[Item]], Connection], None], job: _Job[Item, Found]) -> Connection:
    import multiprocessing

    context: Any = multiprocessing.get_context("fork" if CAN_FORK else "spawn")
    mine, theirs = context.Pipe(duplex=False)
    job.process = context.Process(target=worker, args=(job.calls, theirs), daemon=True)
    job.process.start()
    theirs.close()  # the end of the worker is the end of the pipe
    connection: Connection = mine
    return connection


def _received(job: _Job[Item, Found], pipe: Connection) -> bool:
    """Take one result of a worker; return whether the worker has ended. Raise the exception of the work."""
    try:
        raised, result = pipe.recv()
    except (EOFError, OSError):
        pipe.close()
        assert job.process is not None
        job.process.join()
        return True
    if raised:
        raise result
    job.results.append(result)
    del job.calls[0]
    return False


def _finished(job: _Job[Item, Found], failed: Callable[[Item, Diagnostic], Found] | None) -> bool:
    """Return whether a job whose worker ended is done. Otherwise its calls have become smaller."""
    if not job.calls:
        return True
    assert job.process is not None
    ended = job.process.exitcode
    if failed is None:
        raise RuntimeError(f"a worker process ended with {ended}")
    culprits = job.calls[0]
    if len(culprits) > 1:
        job.calls = [culprits[i : i + 1] for i in range(len(culprits))]  # a sequence of any kind
        return False
    crashed = ended not in (0, -signal.SIGKILL, *_OUT_OF_TIME)  # too little memory ends it with 0, or is killed
    problem = internal_error(RuntimeError(f"a worker process ended with {ended}")) if crashed else too_much_work()
    job.results.append(failed(culprits[0], problem))
    del job.calls[0]
    return not job.calls


def _work_on(
    work: Callable[[Sequence[Item]], Found], limits: _Limits, calls: Sequence[Sequence[Item]], pipe: Connection
) -> None:
    """Send the result of each call, in a worker process."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the main process gets it too, and ends this one
    if limits.memory:
        _limit_memory(limits.memory)
    with contextlib.suppress(BrokenPipeError):
        for items in calls:
            if limits.seconds:
                _limit_time(limits.seconds + _SECONDS_IN_BATCH * (len(items) - 1))
            try:
                pipe.send((False, work(items)))
            except MemoryError:
                return
            except BrokenPipeError:
                raise
            except Exception as problem:
                problem.add_note(traceback.format_exc())  # the main process has no frames of this one
                pipe.send((True, problem))


def _limit_time(seconds: float) -> None:
    """End this process after so many more seconds of processor time, also within a library."""
    if hasattr(signal, "setitimer"):
        signal.signal(signal.SIGPROF, signal.SIG_DFL)
        signal.setitimer(signal.ITIMER_PROF, seconds)


def _limit_memory(size: int) -> None:
    """Let this process raise MemoryError where it needs `size` more bytes."""
    if CAN_FORK:
        import resource

        pages = Path("/proc/self/statm").read_text(encoding="ascii").split()[0]
        used = int(pages) * resource.getpagesize()
        hard = resource.getrlimit(resource.RLIMIT_AS)[1]
        if hard == resource.RLIM_INFINITY or hard > used + size:
            resource.setrlimit(resource.RLIMIT_AS, (used + size, hard))
