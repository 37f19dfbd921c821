"""Work on many items at once in which one item that makes the code fail costs only itself."""

from __future__ import annotations

import traceback
from collections.abc import Callable, Sequence
from typing import TypeVar

from oddpeg.diagnostics import Diagnostic, OddPegError

Item = TypeVar("Item")
Found = TypeVar("Found")


def isolated(
    work: Callable[[Sequence[Item]], list[Found]], items: Sequence[Item], failed: Callable[[Item, Diagnostic], Found]
) -> list[Found]:
    """Return what `work` returns for items, one result each. Where it fails, halves are tried, down to the single items
    that are the cause; those get what `failed` returns for them. `OddPegError` passes."""
    try:
        return work(items)
    except OddPegError:
        raise
    except Exception as problem:
        if len(items) == 1:
            return [failed(items[0], internal_error(problem))]
    middle = len(items) // 2
    return isolated(work, items[:middle], failed) + isolated(work, items[middle:], failed)


def internal_error(problem: Exception) -> Diagnostic:
    """Return what to say of a file that made our own code fail."""
    what = f"made Odd Peg itself fail ({type(problem).__name__}); the other drawings are not affected"
    cure = "this is a bug in Odd Peg, not in your file; please report it with the file"
    return Diagnostic("internal-error", what, cure, trace="".join(traceback.format_exception(problem)))
