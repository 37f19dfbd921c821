"""With which version of the font each codepoint first came (`.oddpeg/arrivals.json`): what is new, and since when.

By codepoint, since an icon may be renamed and its codepoint never moves. Knows: the record. Does not know: icons.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from oddpeg.pegboard.board import spell
from oddpeg.workspace.transaction import STATE, icons_text, read_icons

FILE = "arrivals.json"


class Arrivals:
    """The record. Codepoints that nobody has seen before come with the version that is being built."""

    def __init__(self, root: Path, version: str) -> None:
        self.path = root / STATE / FILE
        self._known = read_icons(self.path)
        self._version = version

    def of(self, codepoint: int) -> str:
        """Return the version a codepoint came with."""
        return self._known.get(spell(codepoint), self._version)

    def text(self, codepoints: Iterable[int]) -> bytes:
        """Return the record as its file holds it once these are delivered."""
        return icons_text({**self._known, **{spell(c): self.of(c) for c in codepoints}})
