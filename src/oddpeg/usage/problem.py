"""What code may rightly name, and a mistake in it: the types that all searches for problems share."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

HOLE = re.compile(r"[{}<>$%]|#\{")  # where a template puts something in
STYLES = (".css", ".scss", ".sass", ".less", ".styl", ".pcss")
PAGES = (".html", ".htm", ".vue", ".svelte", ".astro", ".php", ".erb", ".ejs", ".hbs", ".twig", ".cshtml", ".razor")


class Expected(NamedTuple):
    """What code may rightly name.

    Attributes:
        prefix, base: of classes.
        needs_base: classes of icons work with the base class only.
        names: of icons, aliases too.
        others: sizes, colours, faces and palettes, by the word in their classes.
        families: names of the family; the first one is that of stylesheets.
        stem: of font files.
        codepoints: of icons.
        files: paths of delivered files relative to the project, by name.
        stems: what their names begin with, in small letters and with hyphens; no two begin alike.
        endings: expression for the rest of their names.
    """

    prefix: str
    base: str
    needs_base: bool
    names: frozenset[str]
    others: Mapping[str, tuple[str, ...]]
    families: tuple[str, ...]
    stem: str
    codepoints: frozenset[int]
    files: Mapping[str, tuple[str, ...]]
    stems: tuple[str, ...] = ()
    endings: str = ""


class Problem(NamedTuple):
    """A mistake in a text.

    Attributes:
        code: its diagnostic code.
        what: the mistake.
        cure: how to mend it.
        at, length: the place, in characters.
        fix: the text that belongs there, where there is one right answer.
    """

    code: str
    what: str
    cure: str
    at: int
    length: int
    fix: str = ""
