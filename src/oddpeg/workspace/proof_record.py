"""Which glyphs have been proved already (`.oddpeg/proved.json`), so that only what changed is proved again.

Knows: that a glyph follows from its drawing, its codepoint and the look of the font. Does not know: how to prove.
The file may be deleted at any time; a damaged one counts as none.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

from oddpeg import __version__
from oddpeg.workspace.transaction import STATE, icons_text, read_icons, write_files

FILE = "proved.json"


def fingerprint(drawing: bytes, codepoint: int, look: tuple[object, ...]) -> str:
    """Return what stands for one glyph: equal as long as nothing that makes it has changed."""
    return hashlib.sha256(repr((__version__, codepoint, look)).encode() + b"\0" + drawing).hexdigest()[:32]


def load_proved(root: Path) -> dict[str, str]:
    """Return fingerprints by icon."""
    return read_icons(root / STATE / FILE)


def save_proved(root: Path, icons: dict[str, str]) -> None:
    """Remember fingerprints by icon."""
    write_files({root / STATE / FILE: icons_text(icons)}, root)
