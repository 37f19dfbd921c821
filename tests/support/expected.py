"""Texts that tests compare with, kept beside them. `ODDPEG_WRITE_EXPECTED=1` writes those texts anew, to be read."""

from __future__ import annotations

import os
from pathlib import Path


def writing() -> bool:
    return os.environ.get("ODDPEG_WRITE_EXPECTED") == "1"


def require_expected(path: Path, text: str) -> None:
    if writing():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, encoding="utf-8")
    assert text == path.read_text(encoding="utf-8")
