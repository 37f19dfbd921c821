"""How long work reports its progress."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class Progress(NamedTuple):
    """Progress callbacks.

    Attributes:
        begin: called with how much there is to do.
        advance: with how much more of it is done.
        waiting: when another process is at work in the project.
        phase: called with the name of each phase that begins.
    """

    begin: Callable[[int], None] = lambda total: None
    advance: Callable[[int], None] = lambda count: None
    waiting: Callable[[], None] = lambda: None
    phase: Callable[[str], None] = lambda name: None


SILENT = Progress()
