"""The check: every drawing on the bench, then the set as a whole.

Knows: the order of the rooms, the config's say on findings. Does not know: how anything is shown to the user.
"""

from __future__ import annotations

import multiprocessing
import os
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from fnmatch import fnmatchcase
from pathlib import Path

import numpy as np

from oddpeg.checking.examine import Examined, examine
from oddpeg.checking.findings import Finding, Level, Verdict, kind_of
from oddpeg.checking.sand import sanded
from oddpeg.checking.sheet import Tile, contact_sheet
from oddpeg.checking.sheet_page import contact_page
from oddpeg.checking.siblings import SetView, compare_siblings, view
from oddpeg.faults import Fault, FaultsFound
from oddpeg.journey import BATCH, frame_height
from oddpeg.outline.frame import Em, auto_units
from oddpeg.outline.model import Options
from oddpeg.outline.tidy import segments
from oddpeg.project.facts import load_facts
from oddpeg.project.pegboard import ALIAS, Pegboard
from oddpeg.project.pegboard import FILE as PEGBOARD
from oddpeg.project.settings import CheckRule, Config
from oddpeg.project.sources import Source, find_sources, name_all, read_sources, renamed_file
from oddpeg.proof.compare import Shape, coverage

_ALONE = 150  # below this many icons, starting helpers costs more than it saves


@dataclass(slots=True)
class Checked:
    """What a check found. drawings: (source, what was found) by icon name; together: the set as a whole; faults: files that
    never came onto the bench; aside: (file, finding) on tables and on icons that there are not; silenced: how many findings
    the config silenced, by reason; em: what was measured on."""

    drawings: list[tuple[Source, Examined]] = field(default_factory=list)
    together: SetView = field(default_factory=SetView)
    faults: list[Fault] = field(default_factory=list)
    aside: list[tuple[str, Finding]] = field(default_factory=list)
    silenced: dict[str, int] = field(default_factory=dict)
    em: Em = field(default_factory=Em)

    def findings(self) -> list[tuple[str, Finding]]:
        """Return (file, finding) of everything that was found."""
        return [(source.where, f) for source, one in self.drawings for f in one.findings] + self.aside

    def count(self, verdict: Verdict) -> int:
        """Return how many drawings have this verdict."""
        return sum(one.verdict is verdict for _, one in self.drawings)

    def worst(self) -> Level:
        """Return the gravest level of all findings."""
        order = list(Level)
        levels = [f.level for _, f in self.findings()] + [Level.ERROR] * bool(self.faults)
        return max(levels, key=order.index, default=Level.SILENT)


def check(root: Path, config: Config | None, paths: list[Path], begin: Callable[[int], None], advance: Callable[[int], None]) -> Checked:
    """Check the drawings of a project, or the files and folders named (then without a config, if there is none)."""
    result = Checked()
    sources, result.faults = _sources(root, config, paths)
    data, unreadable = read_sources(sources)
    result.faults += unreadable
    ready = [(s, d) for s, d in zip(sources, data, strict=True) if d is not None]
    begin(len(ready))
    options = _options(config, [d for _, d in ready])
    result.em = options.em
    found = _examine_all([d for _, d in ready], options, advance)
    result.drawings = [(s, one) for (s, _), one in zip(ready, found, strict=True)]
    for source, one in result.drawings:
        stem, better = source.named.rpartition(".")[0], renamed_file(source, source.name)
        if better is not None and better.stem != stem.rpartition("/")[2]:
            one.add("name-changed", f"its file is called {source.path.name!r}, the icon {source.name!r}", f"rename it to {better.stem}{source.path.suffix.lower()}")
    by_name = {source.name: one for source, one in result.drawings}
    files = {source.name: source.named.rpartition("/")[2].rpartition(".")[0] for source, _ in result.drawings}
    result.together = view(by_name, files)
    compare_siblings(by_name, files, result.together)
    if config is not None and not paths:
        _facts(root, config, result, by_name)
    rules = config.checks if config else []
    for name, one in by_name.items():
        one.findings = _ruled(name, one.findings, rules, result.silenced)
    result.aside = [(where, kept) for where, f in result.aside for kept in _ruled("", [f], rules, result.silenced)]
    return result


def _facts(root: Path, config: Config, result: Checked, by_name: dict[str, Examined]) -> None:
    """Add what is wrong with the tables of facts, and which icons lack a licence they need."""
    place = {s.name: s.where for s, _ in result.drawings}
    older = [p.icon for p in Pegboard.load(root / PEGBOARD).pegs.values() if p.state == ALIAS]
    for code, icon, fault in load_facts(root, config, [s for s, _ in result.drawings], older).faults:
        finding = Finding(code, kind_of(code).level, fault.what, fault.cure, fault.line)
        if fault.where == place.get(icon):
            by_name[icon].findings.append(finding)
        else:
            result.aside.append((fault.where, finding))


def sanded_files(found: Checked) -> list[tuple[str, bytes]]:
    """Return (file name, bytes) of every usable drawing, sanded."""
    return [(f"{source.name}.svg", sanded(one.outline, found.em, one.measures.grid).encode())
            for source, one in found.drawings if one.outline is not None and one.measures is not None]  # fmt: skip


def sheet(found: Checked, page: bool, px: int = 208) -> bytes:
    """Return the contact sheet of everything that was checked, as a page or a PNG."""
    fits, mended, wont = (found.count(v) for v in Verdict)
    title = f"{len(found.drawings)} drawings: {fits} fit, {mended} sanded, {wont} won't fit"
    if page:
        return contact_page(title, [Tile(source.name, one, None) for source, one in found.drawings], found.em).encode()
    tiles = []
    for source, one in found.drawings:
        picture = None
        if one.outline is not None:
            o = one.outline
            start, control, stop, _ = segments(o.z / found.em.units, o.on, o.contour)
            t = np.arange(9) / 8
            dots = (1 - t) ** 2 * start[:, None] + 2 * t * (1 - t) * control[:, None] + t * t * stop[:, None]
            picture = coverage(Shape(dots[:, :-1].ravel(), dots[:, 1:].ravel(), o.advance / found.em.units), px, found.em.drop)
        tiles.append(Tile(source.name, one, picture))
    return contact_sheet(title, tiles)


def _sources(root: Path, config: Config | None, paths: list[Path]) -> tuple[list[Source], list[Fault]]:
    if not paths:
        return find_sources(root, config.icons.from_, config.icons.folders) if config else find_sources(root, ["**/*.svg", "**/*.svgz"])
    files: dict[str, tuple[str, str]] = {}
    for path in paths:
        found = sorted(p for p in path.rglob("*") if p.suffix.lower() in (".svg", ".svgz") and p.is_file()) if path.is_dir() else [path]
        files |= {str(p): (str(p).replace(os.sep, "/"), p.name) for p in found}
    if not files:
        raise FaultsFound([Fault("no drawings found", "name SVG files, or folders that hold some", ", ".join(map(str, paths)))])
    return name_all(files)


def _options(config: Config | None, files: list[bytes]) -> Options:
    units: int | str = config.font.units_per_em if config else "auto"
    if isinstance(units, str):
        units, _ = auto_units(h for h in map(frame_height, files) if h is not None)
    if config is None:
        return Options(Em(units))
    return Options(Em(units, config.font.drop), "frame", keep_faint=config.icons.keep_faint)


def _examine_all(files: list[bytes], options: Options, advance: Callable[[int], None]) -> list[Examined]:
    jobs = os.cpu_count() or 1
    size = min(BATCH, max(1, -(-len(files) // jobs)))
    batches = [files[i : i + size] for i in range(0, len(files), size)]
    results: list[Examined] = []
    if len(files) < _ALONE or jobs < 2:
        for batch in batches:
            results += examine(batch, options)
            advance(len(batch))
        return results
    context = multiprocessing.get_context("fork" if sys.platform == "linux" else "spawn")
    with ProcessPoolExecutor(jobs, mp_context=context) as pool:
        for part in pool.map(examine, batches, [options] * len(batches)):
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
