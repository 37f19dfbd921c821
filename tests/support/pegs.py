"""Pegboards written as their lines, and what calls refuse."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from oddpeg.diagnostics import OddPegError
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import parse_board


def board(*lines: str) -> Pegboard:
    return parse_board("\n".join(("icon,codepoint,state", *lines)))


def refused(call: Callable[[], object]) -> str:
    """Return code and text of what a call refuses."""
    with pytest.raises(OddPegError) as found:
        call()
    return "\n".join(f"{d.code} {d.text()}" for d in found.value.diagnostics)
