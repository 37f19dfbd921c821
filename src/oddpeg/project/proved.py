"""Which glyphs have been proved already (`.oddpeg/proved.json`), so that only what changed is proved again.

Knows: that a glyph follows from its drawing, its codepoint and the look of the font. Does not know: how to prove.
The file may be deleted at any time; a damaged one counts as none.
"""

from __future__ import annotations

import hashlib
import json
from pathlib import Path

from oddpeg import __version__
from oddpeg.project.transaction import STATE, write_files

FILE = "proved.json"


def fingerprint(drawing: bytes, codepoint: int, look: tuple[object, ...]) -> str:
    """Return what stands for one glyph: equal as long as nothing that makes it has changed."""
    return hashlib.sha256(repr((__version__, codepoint, look)).encode() + b"\0" + drawing).hexdigest()[:32]


def load_proved(root: Path) -> dict[str, str]:
    """Return fingerprints by icon."""
    try:
        icons = json.loads((root / STATE / FILE).read_text(encoding="utf-8"))["icons"]
        return {str(k): str(v) for k, v in icons.items()}
    except (OSError, ValueError, KeyError, AttributeError, TypeError):
        return {}


def save_proved(root: Path, icons: dict[str, str]) -> None:
    """Remember fingerprints by icon."""
    text = json.dumps({"icons": icons}, indent=1, sort_keys=True) + "\n"
    write_files({root / STATE / FILE: text.encode()}, root)
