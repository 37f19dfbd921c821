"""`oddpeg check`: options, and the printed report."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import Annotated, Any

import typer

from oddpeg.checking.run import CheckReport, check_files, normalized_files, sheet_page, sheet_picture
from oddpeg.checking.run import check as run
from oddpeg.checking.siblings import spelled
from oddpeg.checking.verdict import Verdict
from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile, is_page
from oddpeg.cli.printing import document, exit_code, progress, say, show_diagnostics
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.diagnostics import Diagnostic, counted
from oddpeg.project.project import find_config
from oddpeg.store.delivery import NewFile, write_new

_MOST_ICONS = 6  # named with one finding


def check(
    paths: Annotated[
        list[Path] | None,
        typer.Argument(metavar="[PATH]...", help="Files or folders; the project's drawings where none is named."),
    ] = None,
    everything: Annotated[bool, typer.Option("--all", help="Show lossless changes, too.")] = False,
    strict: Annotated[bool, typer.Option("--strict", help="Fail on warnings as well.")] = False,
    write: Annotated[
        Path | None, typer.Option("--write", metavar="DIR", help="Save normalized drawings there: one plain path each.")
    ] = None,
    sheet: Annotated[
        Path | None, typer.Option("--sheet", metavar="FILE.png|html", help="Write a contact sheet, outliers first.")
    ] = None,
    force: ReplaceFile = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Validate every drawing: whether it fits, which changes it needed, and how to mend it."""
    if sheet is not None:
        is_page(sheet)  # before any work
    report = _checked(config, paths or [], quiet or json)
    saved = _save(report, write, sheet, force)
    if json:
        document(report)
    else:
        if not quiet:
            _show(report, everything)
            if write is not None:
                say(f"{saved} normalized drawings in {write}")
            if sheet is not None:
                say(f"contact sheet: {sheet}")
        show_diagnostics(report.faults)
    if report.worst() is Level.ERROR or (strict and report.worst() is Level.WARNING):
        raise typer.Exit(exit_code([*report.diagnostics(), *report.faults]))


def _checked(config: Path | None, paths: list[Path], quiet: bool) -> CheckReport:
    alone = config is None and not find_config(None).is_file()
    now = None if alone else snapshot(config)
    with progress(quiet) as bar:
        return check_files(Path.cwd(), paths, bar) if now is None else run(now, paths, bar)


def _save(report: CheckReport, write: Path | None, sheet: Path | None, force: bool) -> int:
    """Write the files that were asked for; return the number of normalized drawings."""
    saved = normalized_files(report) if write is not None else []
    if write is not None:
        write_new(write, saved, force)
    if sheet is not None:
        data = sheet_page(report) if is_page(sheet) else sheet_picture(report)
        write_new(sheet.parent, [NewFile(sheet.name, data)], force)
    return len(saved)


def _show(report: CheckReport, everything: bool) -> None:
    fits, adjusted, rejected = (report.count(v) for v in Verdict)
    drawings = counted(len(report.drawings), "drawing")
    say(f"{drawings}: {fits} fit, {adjusted} adjusted, {rejected} rejected", "cyan")
    together = report.set_statistics
    views: tuple[tuple[str, Counter[Any], str], ...] = (
        ("grids", together.grids, ""),
        ("strokes", together.strokes, " px"),
        ("colours", together.colours, ""),
        ("names", together.styles, ""),
    )
    for title, counts, unit in views:
        if counts:
            rest = f" and {len(counts) - 6} more" if len(counts) > 6 else ""
            say(
                f"{title:<8}"
                f" {', '.join(f'{spelled(value)}{unit} ×{count}' for value, count in counts.most_common(6))}{rest}"
            )
    for level, style in ((Level.ERROR, "bright_red"), (Level.WARNING, "yellow"), (Level.INFO, "")):
        if level is not Level.INFO or everything:
            _show_level(report, level, style)
    silent = sum(1 for d in report.diagnostics() if d.level is Level.INFO)
    if silent and not everything:
        say(f"\n{counted(silent, 'lossless change')}; --all shows them")
    for reason, count in report.silenced.items():
        say(f"silenced by the config, {counted(count, 'time')}: {reason}")


def _show_level(report: CheckReport, level: Any, style: str) -> None:
    """Print the findings of one level, by code, the icons that share a text together."""

    by_code: dict[str, list[Diagnostic]] = {}
    for diagnostic in report.diagnostics():
        if diagnostic.level is level:
            by_code.setdefault(diagnostic.code, []).append(diagnostic)
    for code, items in sorted(by_code.items(), key=lambda pair: (-len(pair[1]), pair[0])):
        say(f"\n{level.value}  {code}: {CODES[code].summary} ({len(items)})", style)
        texts: dict[tuple[str, str, str], list[str]] = {}
        for d in items:
            texts.setdefault((d.what, d.cure, d.reason), []).append(d.place)
        shared = {cure for _, cure, _ in texts} if len({cure for _, cure, _ in texts}) == 1 else set()
        for (message, cure, reason), places in list(texts.items())[:_MOST_ICONS]:
            more = f" and {len(places) - 3} more" if len(places) > 3 else ""
            say(f"  {', '.join(places[:3])}{more}: {message}")
            if cure and not shared:
                say(f"    → {cure}")
            if reason:
                say(f"    because the config says: {reason}")
        if len(texts) > _MOST_ICONS:
            say(f"  and {len(texts) - _MOST_ICONS} more; --json has them all")
        for cure in shared - {""}:
            say(f"    → {cure}")
