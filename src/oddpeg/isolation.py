"""Bounds of the work on one input, and isolation: a failure caused by one input affects only that one."""

from __future__ import annotations

import signal
import threading
import traceback
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TypeVar

from oddpeg.diagnostics import Diagnostic, OddPegError

Item = TypeVar("Item")
Found = TypeVar("Found")

SECONDS = 20.0  # processor time for one item; the richest emblems of flags take 6
MEMORY = 2 << 30  # bytes for a batch, beyond those at the start


def map_isolating_failures(
    work: Callable[[Sequence[Item]], list[Found]], items: Sequence[Item], failed: Callable[[Item, Diagnostic], Found]
) -> list[Found]:
    """Return the results of `work`, one per item. If `work` raises, retry each half, down to single items; an item that
    fails alone gets the result of `failed`. `OddPegError` is not caught."""
    import numpy as np

    try:
        with np.errstate(all="ignore"):  # drawings hold absurd numbers; coordinates are clamped later
            return work(items)
    except OddPegError:
        raise
    except Exception as problem:
        if len(items) == 1:
            return [failed(items[0], too_much_work() if isinstance(problem, MemoryError) else internal_error(problem))]
    middle = len(items) // 2
    return map_isolating_failures(work, items[:middle], failed) + map_isolating_failures(work, items[middle:], failed)


def internal_error(problem: Exception) -> Diagnostic:
    """Return the diagnostic for a file that caused an unexpected exception in our code."""
    message = f"made Odd Peg itself fail ({type(problem).__name__}); the other drawings are not affected"
    cure = "this is a bug in Odd Peg, not in your file; please report it with the file"
    return Diagnostic("internal-error", message, cure, trace="".join(traceback.format_exception(problem)))


def too_much_work() -> Diagnostic:
    """Return the diagnostic for a file whose work was ended."""
    limits = f"{SECONDS:g} seconds of computing or {MEMORY >> 30} GB of memory"
    return Diagnostic("tangled", f"would need more than {limits}", "simplify the drawing; scribbles make no icon")


class _Ended(BaseException):
    """Raised amid work that takes too long; no `except Exception` on the way stops it."""


@contextmanager
def within_budget() -> Iterator[None]:
    """Raise ValueError where the work within takes more than `SECONDS` of processor time.

    It interrupts Python code of the main thread, on systems that have timers for processor time. Where a timer runs
    already, that one bounds the work.
    """
    timers = hasattr(signal, "setitimer") and threading.current_thread() is threading.main_thread()
    if not timers or signal.getitimer(signal.ITIMER_PROF)[0]:
        yield
        return
    running = True

    def end(*_: object) -> None:
        if running:
            raise _Ended

    before = signal.signal(signal.SIGPROF, end)
    signal.setitimer(signal.ITIMER_PROF, SECONDS, 1.0)  # again and again, should a destructor swallow it
    try:
        yield
    except _Ended:
        raise ValueError(f"it takes more than {SECONDS:g} seconds of computing") from None
    except (MemoryError, RecursionError) as problem:
        raise ValueError(f"it goes too deep, or takes too much memory ({type(problem).__name__})") from None
    finally:
        running = False
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)
