"""Tables of cases: what is given and what is expected, in `tests/data`, one file for each file of tests."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

DATA = Path(__file__).parent.parent / "data"


def table(name: str) -> dict[str, Any]:
    """Return a file of cases by its name."""
    return tomllib.loads((DATA / f"{name}.toml").read_text(encoding="utf-8"))
