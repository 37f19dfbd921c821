"""Faults of the disk: the n-th change of any file fails, or the process is gone from there on."""

from __future__ import annotations

import contextlib
import errno
from collections.abc import Iterator
from typing import Any

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.store.tree import Tree

WRITES = ("write_new", "move", "remove", "keep", "append", "make_parents", "remove_folder")
Fault = tuple[str, int]  # the name of an errno, or KILL; which change of a file fails, from 1 on


class _Killed(BaseException):
    """The process is gone: nothing after this point runs."""


class Outcome:
    """What became of work that met a fault.

    Attributes:
        met: whether there were as many changes of files as that.
        problem: what the work raised; None where it ended well or was killed.
    """

    met = False
    problem: Exception | None = None


@contextlib.contextmanager
def failing(fault: Fault | None) -> Iterator[Outcome]:
    """Have the n-th change of a file fail, and after a kill every further one too."""
    left, outcome = [fault[1] if fault else -1], Outcome()
    with pytest.MonkeyPatch.context() as patch:
        for name in WRITES:
            real = getattr(Tree, name)

            def call(tree: Tree, *args: Any, real: Any = real, **more: Any) -> Any:
                left[0] -= 1
                outcome.met |= left[0] == 0
                if fault and fault[0] == "KILL" and left[0] <= 0:
                    raise _Killed
                if fault and left[0] == 0:
                    raise OSError(getattr(errno, fault[0]), fault[0], str(args[0]))
                return real(tree, *args, **more)

            patch.setattr(Tree, name, call)
        try:
            yield outcome
        except _Killed:
            pass
        except (OddPegError, OSError) as problem:
            outcome.problem = problem
