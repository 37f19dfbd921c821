"""Runs of codepoints without a gap."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple


class CodepointRange(NamedTuple):
    """Codepoints without a gap, both ends among them."""

    first: int
    last: int


def runs_of(codes: Iterable[int]) -> list[CodepointRange]:
    """Return the runs of codepoints in rising order."""
    runs: list[CodepointRange] = []
    for code in sorted(codes):
        if runs and runs[-1].last == code - 1:
            runs[-1] = runs[-1]._replace(last=code)
        else:
            runs.append(CodepointRange(code, code))
    return runs


def css_ranges(codes: Iterable[int]) -> str:
    """Return codepoints as CSS writes them: `U+E001, U+E004-E007`. Source: CSS Syntax 3 §7.1."""
    return ", ".join(f"U+{a:X}" if a == b else f"U+{a:X}-{b:X}" for a, b in runs_of(codes))
