"""Check of a whole set: findings on each drawing, on the set and on the icon tables, at the levels that the config
sets."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import Annotated, NamedTuple

from oddpeg.checking.examine import CheckResult, MaybeOutlined, examine, rejected
from oddpeg.checking.siblings import SetStatistics, compare_siblings, view
from oddpeg.checking.verdict import Verdict
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.model import Icon
from oddpeg.iconset.selection import matches
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import BATCH
from oddpeg.parallel import map_batches
from oddpeg.project.icon_sets import Pegs
from oddpeg.project.project import Project
from oddpeg.reports import Key, reported
from oddpeg.sources.drawings import Source, renamed_file


class ReviewedDrawing(NamedTuple):
    """One drawing and its findings."""

    source: Source
    examined: CheckResult
    face: Annotated[str, Key("face that it is drawn for, where there are several", optional=True)] = ""

    @reported("name")
    def icon(self) -> str:
        """Name of the icon."""
        return self.source.name

    @reported("file", name="source")
    def file(self) -> str:
        """File of the drawing."""
        return self.source.where

    @reported("fits, adjusted (may look or behave differently, as the findings say), or rejected")
    def verdict(self) -> Verdict:
        """Verdict."""
        return self.examined.verdict

    @reported("findings")
    def findings(self) -> list[Diagnostic]:
        """Findings on the drawing."""
        return self.examined.diagnostics

    @property
    def label(self) -> str:
        """The icon's name, after that of the face where there are several."""
        return f"{self.face}/{self.source.name}" if self.face else self.source.name


@dataclass(slots=True)
class Reviewed:
    """The findings on a set of drawings."""

    drawings: Annotated[list[ReviewedDrawing], Key("ordered by icon name")] = field(default_factory=list)
    set_statistics: Annotated[SetStatistics, Key("all drawings together", name="set")] = field(
        default_factory=SetStatistics
    )
    set_findings: Annotated[list[Diagnostic], Key("findings on icon tables and on unknown icons", name="aside")] = (
        field(default_factory=list)
    )
    silenced: Annotated[dict[str, int], Key("findings that the config silenced, by code and reason")] = field(
        default_factory=dict
    )


def review(
    project: Project | None, sources: Sequence[Source], examined: Sequence[CheckResult], pegs: Pegs | None
) -> Reviewed:
    """Return the findings on drawings, given the check result of each. project, pegs: None where drawings are checked
    without a config."""
    result = Reviewed([ReviewedDrawing(*pair) for pair in zip(sources, examined, strict=True)])
    for source, result_of_one, _ in result.drawings:
        stem = source.named.rpartition(".")[0].rpartition("/")[2]
        better = None if stem == source.name else renamed_file(source, source.name)
        if better is not None and better.stem != stem:
            result_of_one.add(
                "name-changed",
                f"its file is called {source.path.name!r}, the icon {source.name!r}",
                f"rename it to {better.stem}{source.path.suffix.lower()}",
            )
    by_name = {source.name: result_of_one for source, result_of_one, _ in result.drawings}
    files = {source.name: source.named.rpartition("/")[2].rpartition(".")[0] for source, _, _ in result.drawings}
    result.set_statistics = view(by_name, files)
    compare_siblings(by_name, files, result.set_statistics)
    if pegs is not None:
        _add_from_tables(pegs.metadata, result, by_name)
    rules = Rules(project, pegs)
    by_frame = project is None or project.config.font.fit != "ink"
    one_grid = all(source.glyph is None for source in sources)  # glyphs of fonts stand on the grid of their em
    for source, result_of_one, _ in result.drawings:
        diagnostics = [d for d in result_of_one.diagnostics if by_frame or d.code != "between-pixels"]
        diagnostics = [d for d in diagnostics if one_grid or d.code != "grid-unlike"]
        placed = [d._replace(where=source.where) for d in diagnostics]
        result_of_one.diagnostics = rules.applied(source.name, placed, result.silenced)
    result.set_findings = rules.applied("", result.set_findings, result.silenced)
    return result


def _add_from_tables(metadata: Metadata, result: Reviewed, by_name: dict[str, CheckResult]) -> None:
    """Add errors in the icon tables, and icons that lack a required licence."""
    place = {s.name: s.where for s, _, _ in result.drawings}
    for icon, diagnostic in metadata.problems:
        if diagnostic.where == place.get(icon):
            by_name[icon].diagnostics.append(diagnostic)
        else:
            result.set_findings.append(diagnostic)


def _examine(options: Options, drawings: Sequence[MaybeOutlined]) -> list[CheckResult]:
    return examine(drawings, options)


def _failed(_: MaybeOutlined, problem: Diagnostic) -> list[CheckResult]:
    return [rejected(problem)]


def examine_all(
    drawings: Sequence[MaybeOutlined], options: Options, advance: Callable[[int], None] = lambda count: None
) -> list[CheckResult]:
    """Return the check result of each drawing, in order, on all processors. advance: called with the number of drawings
    that are done."""
    batches = map_batches(partial(_examine, options), drawings, BATCH, advance, _failed)
    return [one for batch in batches for one in batch]


def joined(reviews: Mapping[str, Reviewed]) -> Reviewed:
    """Return the findings of all faces as one; the statistics are those of the first face."""
    first = next(iter(reviews.values()))
    if len(reviews) == 1:
        return first
    result = Reviewed(set_statistics=first.set_statistics)
    for face, reviewed in reviews.items():
        result.drawings += [drawing._replace(face=face) for drawing in reviewed.drawings]
        result.set_findings += [d for d in reviewed.set_findings if d not in result.set_findings]
        for key, count in reviewed.silenced.items():
            result.silenced[key] = result.silenced.get(key, 0) + count
    result.drawings.sort(key=lambda drawing: drawing.source.name)
    return result


class Rules:
    """The levels that the config gives to findings. Patterns select icons by name, alias or tag."""

    def __init__(self, project: Project | None, pegs: Pegs | None) -> None:
        self._rules = project.config.checks if project else []
        self._pegs = pegs
        self._aliases = pegs.board.aliases() if pegs else {}

    def _icon(self, name: str) -> Icon:
        """Return as much of an icon as patterns look at."""
        return self._pegs.named_icon(name, self._aliases) if self._pegs else Icon(name, 0, "", 0)

    def applied(self, name: str, diagnostics: list[Diagnostic], silenced: dict[str, int]) -> list[Diagnostic]:
        """Return an icon's diagnostics at the levels that the config sets; the last matching rule counts. silenced:
        counts the silenced ones."""
        if not self._rules:
            return diagnostics
        icon, kept = self._icon(name), []
        for diagnostic in diagnostics:
            fitting = [r for r in self._rules if r.finding == diagnostic.code and matches(icon, r.icons)]
            if fitting:
                diagnostic = diagnostic._replace(level=Level(fitting[-1].level), reason=fitting[-1].reason)
            if diagnostic.level is Level.SILENT:
                key = f"{diagnostic.code}: {diagnostic.reason}"
                silenced[key] = silenced.get(key, 0) + 1
            else:
                kept.append(diagnostic)
        return kept
