"""A first config: look at a folder, write an `oddpeg.toml` that builds as it is."""

from __future__ import annotations

import os
import re
from dataclasses import dataclass
from glob import escape
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.font.info import ascii_words
from oddpeg.workspace.config import SCHEMA

_PASSED_OVER = frozenset(("node_modules", "dist", "build", "target", "vendor", "__pycache__"))

_TEXT = """\
#:schema {schema}
# Odd Peg: icons -> font. Build with: oddpeg build

[font]
family = {family}    # what people type in stylesheets and apps; file names derive from it
version = "1.0"
copyright = ""
licence = ""
drop = "auto"   # share of the em below the baseline: about 1/8, which centres icons on capitals

[icons]
from = [{patterns}]    # {count} drawings when this was written

[classes]
prefix = "{prefix}"    # classes are .{prefix}-NAME, always together with .{prefix}-icon

[bundle.web]
into = "dist/web"
fonts = ["woff2", "woff"]
outputs = ["css", "typescript", "json", "specimen"]    # all kinds: oddpeg outputs
"""


@dataclass(frozen=True, slots=True)
class Start:
    """A config to be written.

    Attributes:
        text: of the file.
        count: drawings it finds.
        patterns: that find the drawings.
    """

    text: str
    count: int
    patterns: list[str]


def _drawings_by_folder(root: Path) -> dict[str, int]:
    """Return how many .svg files each top-level folder holds in all ("" for the root itself)."""
    counts: dict[str, int] = {}
    for folder, names, files in os.walk(root):
        names[:] = sorted(n for n in names if not n.startswith(".") and n not in _PASSED_OVER)
        found = sum(1 for f in files if f.lower().endswith(".svg"))
        if found:
            relative = os.path.relpath(folder, root).replace(os.sep, "/")
            counts[relative] = found
    return counts


def _patterns(counts: dict[str, int]) -> list[str]:
    """Return one glob per outermost folder with drawings."""
    tops: list[str] = []
    for folder in sorted(counts):
        if folder != "." and not any(folder.startswith(top + "/") for top in tops):
            tops.append(folder)
    return [*(["*.svg"] if "." in counts else []), *(f"{escape(folder)}/**/*.svg" for folder in tops)]


def _prefix(words: list[str]) -> str:
    letters = "".join(w[0] for w in words) if len(words) > 1 else words[0][:2]
    return letters.lower() if letters[:1].isalpha() else "icon"


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def make_start(root: Path) -> Start:
    """Return a config for the folder; raise `OddPegError` where it holds no drawing."""
    if not root.is_dir():
        raise UsageError(
            Diagnostic("not-a-folder", "is not a folder", "name the folder that holds the icons", str(root))
        )
    counts = _drawings_by_folder(root)
    if not counts:
        raise OddPegError(
            Diagnostic(
                "no-drawings",
                "holds no .svg file, here or below",
                "put the drawings in a folder such as icons/ first",
                str(root),
            )
        )
    words = ascii_words(re.sub(r"[-_.]+", " ", root.resolve().name)) or ["Icons"]
    family = " ".join(w[:1].upper() + w[1:] for w in words)
    if not any(c.isalpha() for c in family):
        family = "Icons " + family
    patterns, total = _patterns(counts), sum(counts.values())
    shown = ", ".join(_quoted(p) for p in patterns)
    text = _TEXT.format(
        schema=SCHEMA, family=_quoted(family[:63]), patterns=shown, count=total, prefix=_prefix(family.split())
    )
    return Start(text, total, patterns)
