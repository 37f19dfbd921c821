"""A look at the whole set: what is found on every drawing by itself, beside the others and in the tables, at the
levels that the config gives it.

Knows: checking, the config's say on findings. Does not know: where drawings come from, how anything is shown.
"""

from __future__ import annotations

import multiprocessing
import os
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from fnmatch import fnmatchcase

from oddpeg.checks.examine import Examined, examine
from oddpeg.checks.findings import Finding, Level, kind_of
from oddpeg.checks.siblings import SetView, compare_siblings, view
from oddpeg.outline.model import Options, Outline
from oddpeg.outline.pipeline import BATCH
from oddpeg.workspace.metadata import FactBook
from oddpeg.workspace.settings import CheckRule
from oddpeg.workspace.sources import Source, renamed_file

_ALONE = 150  # below this many icons, starting helpers costs more than it saves


@dataclass(slots=True)
class Reviewed:
    """What was found. drawings: (source, what was found) by icon name; together: the set as a whole; aside: (file,
    finding) on tables and on icons that there are not; silenced: how many findings the config silenced, by reason."""

    drawings: list[tuple[Source, Examined]] = field(default_factory=list)
    together: SetView = field(default_factory=SetView)
    aside: list[tuple[str, Finding]] = field(default_factory=list)
    silenced: dict[str, int] = field(default_factory=dict)


def review(sources: list[Source], examined: list[Examined], rules: list[CheckRule], facts: FactBook) -> Reviewed:
    """Return what is found on drawings, given what each shows by itself. facts: with the faults of their tables."""
    result = Reviewed(list(zip(sources, examined, strict=True)))
    for source, one in result.drawings:
        stem, better = source.named.rpartition(".")[0], renamed_file(source, source.name)
        if better is not None and better.stem != stem.rpartition("/")[2]:
            one.add(
                "name-changed",
                f"its file is called {source.path.name!r}, the icon {source.name!r}",
                f"rename it to {better.stem}{source.path.suffix.lower()}",
            )
    by_name = {source.name: one for source, one in result.drawings}
    files = {source.name: source.named.rpartition("/")[2].rpartition(".")[0] for source, _ in result.drawings}
    result.together = view(by_name, files)
    compare_siblings(by_name, files, result.together)
    _from_tables(facts, result, by_name)
    for name, one in by_name.items():
        one.findings = _ruled(name, one.findings, rules, result.silenced)
    result.aside = [(where, kept) for where, f in result.aside for kept in _ruled("", [f], rules, result.silenced)]
    return result


def _from_tables(facts: FactBook, result: Reviewed, by_name: dict[str, Examined]) -> None:
    """Add what is wrong with the tables of facts, and which icons lack a licence they need."""
    place = {s.name: s.where for s, _ in result.drawings}
    for code, icon, fault in facts.faults:
        finding = Finding(code, kind_of(code).level, fault.what, fault.cure, fault.line)
        if fault.where == place.get(icon):
            by_name[icon].findings.append(finding)
        else:
            result.aside.append((fault.where, finding))


def examine_all(
    files: list[bytes],
    options: Options,
    advance: Callable[[int], None] = lambda count: None,
    known: list[Outline | None] | None = None,
) -> list[Examined]:
    """Return what is found on each file, in order, on all processors. `advance` hears how many more are done; known:
    the drawings' outlines, where they have been made already."""
    known = known or [None] * len(files)
    jobs = os.cpu_count() or 1
    size = min(BATCH, max(1, -(-len(files) // jobs)))
    starts = range(0, len(files), size)
    batches, outlines = [files[i : i + size] for i in starts], [known[i : i + size] for i in starts]
    results: list[Examined] = []
    if len(files) < _ALONE or jobs < 2:
        for batch, its in zip(batches, outlines, strict=True):
            results += examine(batch, options, its)
            advance(len(batch))
        return results
    context = multiprocessing.get_context("fork" if sys.platform == "linux" else "spawn")
    with ProcessPoolExecutor(jobs, mp_context=context) as pool:
        for part in pool.map(examine, batches, [options] * len(batches), outlines):
            results += part
            advance(len(part))
    return results


def _ruled(name: str, findings: list[Finding], rules: list[CheckRule], silenced: dict[str, int]) -> list[Finding]:
    """Return an icon's findings with the levels that the config gives them; the last rule that fits counts."""
    kept = []
    for finding in findings:
        for rule in reversed(rules):
            if rule.finding == finding.code and fnmatchcase(name, rule.icons):
                finding = replace(finding, level=Level(rule.level), reason=rule.reason)
                break
        if finding.level is Level.SILENT:
            key = f"{finding.code}: {finding.reason}"
            silenced[key] = silenced.get(key, 0) + 1
        else:
            kept.append(finding)
    return kept
