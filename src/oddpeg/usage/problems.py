"""Mistakes in code that keep an icon from showing, although its name is right: classes, families, codepoints, paths.

Texts are searched tolerantly, since templates are no documents; what a template puts together at run time is left to
`oddpeg: uses` comments. Every check needs one of the font's names next to what it reports, so that other people's code
gets no report.
"""

from __future__ import annotations

import posixpath
from collections.abc import Iterator
from itertools import islice

from oddpeg.font.write.info import variable_family
from oddpeg.iconset.model import IconSet
from oddpeg.project.snapshot import Snapshot
from oddpeg.usage.in_classes import in_classes, prefixes
from oddpeg.usage.in_paths import endings_of, in_paths, mentions, stems_of
from oddpeg.usage.in_styles import in_code, in_styles
from oddpeg.usage.problem import PAGES, STYLES, Expected, Problem
from oddpeg.usage.spans import code_spans

_MOST = 500  # of one search in a file


def find_problems(expected: Expected, text: str, where: str) -> list[Problem]:
    """Return the mistakes in a text. where: its path relative to the project."""
    ending = posixpath.splitext(where)[1].lower()
    searches: list[Iterator[Problem]] = []
    may_be_markup = bool(expected.names) and "class" in text and ending not in STYLES
    if may_be_markup and any(f"{one}{mark}" in text for one in prefixes(expected) for mark in "-_"):
        searches.append(in_classes(expected, text))
    if "{" in text and (ending in STYLES or (ending in PAGES and "<style" in text)):
        searches.append(in_styles(expected, text))
    if ending not in STYLES and ("amily" in text or ".custom(" in text):
        searches.append(in_code(expected, text))
    if mentions(expected, text):
        searches.append(in_paths(expected, text, where, ending))
    problems = {problem for search in searches for problem in islice(search, _MOST)}
    spans = code_spans(text, ending) if problems else None
    if spans is not None:  # searches are tolerant; parsers tell what is a comment or a text
        problems = {one for one in problems if any(start <= one.at < end for start, end in spans)}
    return sorted(problems, key=lambda problem: problem.at)


def expected_of(snapshot: Snapshot, icons: IconSet) -> Expected:
    """Return what code may rightly name, as the bundles are configured."""
    tables = snapshot.project.config.bundle.values()
    sheets = [output for table in tables for output in table.outputs if output.kind in ("css", "utilities")]
    needs_base = bool(sheets) and not any(output.options.get("self_contained") for output in sheets)
    files: dict[str, list[str]] = {}
    for path in sorted(snapshot.delivered_paths):
        if (snapshot.project.root / path).is_file():
            files.setdefault(path.rpartition("/")[2], []).append(path)
    return Expected(
        icons.prefix,
        icons.base_class,
        needs_base,
        frozenset(icons.spelled) if sheets else frozenset(),
        {
            "size": tuple(name for name, _ in icons.sizes),
            "colour": tuple(name for name, _ in icons.colours),
            "face": snapshot.project.class_faces(),
            "drawn": tuple(map(str, icons.classes.drawn)),
            "palette": tuple(snapshot.project.config.palettes),
        },
        (icons.family, variable_family(icons.family)),
        snapshot.project.naming.stem,
        frozenset(icon.codepoint for icon in icons.icons),
        {name: tuple(paths) for name, paths in files.items()},
        stems_of(files),
        endings_of(files),
    )
