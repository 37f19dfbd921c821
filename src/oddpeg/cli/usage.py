"""`oddpeg usage`: which icons the project's own code refers to."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile, is_page
from oddpeg.cli.page import check_page, refuse_with_page, refuse_without_page, serious
from oddpeg.cli.printing import document, progress, say, warn
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import counted
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.delivery import NewFile, write_new
from oddpeg.usage.fix import apply, complete_interrupted, planned
from oddpeg.usage.report import UNDECIDABLE_CURE, UNKNOWN_CURE, CodeProblem, UsageReport, WrongName
from oddpeg.usage.run import find_usage
from oddpeg.usage.sarif import page_sarif
from oddpeg.usage.sarif import sarif as code_sarif

_MOST_PLACES = 3  # of an icon
_MOST_UNUSED = 40  # names; --json has them all


_Page = Annotated[
    str | None,
    typer.Option(
        "--page",
        metavar="FILE|URL",
        help="Open a built page in an installed Chromium instead, and say which icons do not show, and why.",
    ),
]
_Allow = Annotated[
    list[str] | None,
    typer.Option("--allow", metavar="ORIGIN", help="With --page: another origin that it may load from."),
]
_Picture = Annotated[
    Path | None,
    typer.Option("--picture", metavar="FILE.png", help="With --page: write a picture with a frame around each fault."),
]

_Paths = Annotated[list[Path] | None, typer.Argument(metavar="[PATH]...", help="Files and folders of code to look in.")]
_Fix = Annotated[
    bool, typer.Option("--fix", help="Show how unknown and older names would be corrected, ask, and correct them.")
]
_Sarif = Annotated[
    Path | None, typer.Option("--sarif", metavar="FILE", help="Write what is wrong as SARIF, for code hosts.")
]
_Sheet = Annotated[
    Path | None, typer.Option("--sheet", metavar="FILE.png|html", help="Show every icon with how often it is used.")
]


def usage(
    paths: _Paths = None,
    fix: _Fix = False,
    yes: Annotated[bool, typer.Option("--yes", help="With --fix: do not ask.")] = False,
    sarif: _Sarif = None,
    sheet: _Sheet = None,
    strict: Annotated[bool, typer.Option("--strict", help="Fail where there is a warning, too.")] = False,
    page: _Page = None,
    allow: _Allow = None,
    picture: _Picture = None,
    force: ReplaceFile = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """List the icons that the project's own code uses, unused icons, and names that match no icon."""
    if sheet is not None:
        is_page(sheet)  # before any work
    now = snapshot(config)
    if page is not None:
        refuse_with_page([("PATH", paths), ("--fix", fix), ("--sheet", sheet)])
        seen = check_page(now, page, allow or [], picture, force, json, quiet)
        if sarif is not None:
            _write_sarif(page_sarif(seen), sarif, force)
        raise typer.Exit(1 if serious(seen, strict) else 0)
    refuse_without_page([("--allow", allow), ("--picture", picture)])
    with progress(quiet or json) as bar:
        if fix:
            complete_interrupted(now.project.root, bar)  # a killed correction, before its files are read
        report = find_usage(now, [Path.cwd() / path for path in paths or []], progress=bar)
    if sarif is not None:
        _write_sarif(code_sarif(report), sarif, force)
    if sheet is not None:
        _write_sheet(now, report, sheet, force)
    if json:
        document(report)
    elif not quiet:
        _show(report)
    if not json:
        _show_unknown(report.unknown)
        _show_problems(report.problems)
    left = _fix(report, now.project.root, yes, strict) if fix else _serious(report, strict)
    if left:
        raise typer.Exit(1)


def _serious(report: UsageReport, strict: bool) -> int:
    """Return the number of errors; with strict, of warnings too."""
    errors = [problem for problem in report.problems if strict or problem.level is Level.ERROR]
    dynamic = len(report.undecidable) if strict else 0
    return len(report.unknown) + len(errors) + dynamic


def _show_problems(problems: list[CodeProblem]) -> None:
    for problem in problems:
        place, level = problem.place, problem.level.value
        colour = "bright_red" if problem.level is Level.ERROR else "yellow"
        warn(f"{place.file}:{place.line}:{place.column}: {level}: {problem.text} ({problem.code})", colour)
        warn(f"  cure: {problem.cure}")


def _show(report: UsageReport) -> None:
    passed = ", ".join(
        f"{count} {why.value}" for why, count in sorted(report.skipped.items(), key=lambda p: p[0].value)
    )
    say(f"{report.files} files read" + (f"; passed over: {passed}" if passed else ""), "cyan")
    width = max((len(name) for name in report.used), default=0)
    for name, places in report.used.items():
        shown = ", ".join(f"{place.file}:{place.line}" for place in places[:_MOST_PLACES])
        more = f" and {len(places) - _MOST_PLACES} more" if len(places) > _MOST_PLACES else ""
        say(f"  {name:<{width}}  {len(places):>4}  {shown}{more}")
    total = len(report.used) + len(report.unused) + len(report.kept)
    say(f"used: {len(report.used)} of {total}")
    if report.kept:
        say(f"kept by a pattern: {', '.join(report.kept)}")
    if report.unused:
        more = f" and {len(report.unused) - _MOST_UNUSED} more" if len(report.unused) > _MOST_UNUSED else ""
        say(f"unused: {', '.join(report.unused[:_MOST_UNUSED])}{more}", "yellow")
    for older, names in report.older.items():
        count = counted(len(names), "place")
        say(f"old name: {older}, {count} ({names[0].place.file}:{names[0].place.line})", "yellow")
    for place in report.undecidable:
        say(f"{place.file}:{place.line}:{place.column}: dynamic name, cannot be resolved: {place.text}", "yellow")
    for place in report.unattributed[:_MOST_PLACES]:
        say(f"{place.file}:{place.line}:{place.column}: not counted, nothing names the font: {place.text}", "yellow")
    if len(report.unattributed) > _MOST_PLACES:
        say(f"  and {len(report.unattributed) - _MOST_PLACES} more")
    if report.undecidable:
        say(f"  cure: {UNDECIDABLE_CURE}")


def _show_unknown(unknown: list[WrongName]) -> None:
    for reference in unknown:
        place = reference.place
        where = f"{place.file}:{place.line}:{place.column}"
        warn(f"{where}: error: there is no icon {reference.name!r}: {place.text}", "bright_red")
        warn(f"  cure: did you mean {reference.nearest}?" if reference.nearest else f"  cure: {UNKNOWN_CURE}")


def _fix(report: UsageReport, root: Path, yes: bool, strict: bool) -> int:
    """Show the changes, and make them if that is wanted; return how many unknown names are left."""
    changes = planned(report)
    for change in changes:
        say(f"{change.file}:{change.line}: {change.before} -> {change.after}")
    if not changes:
        say("no name can be corrected automatically")
        return _serious(report, strict)
    if yes or typer.confirm("change these?"):
        say(f"changed {counted(apply(root, changes), 'file')}", "green")
        report.unknown = [one for one in report.unknown if not one.nearest]
        report.problems = [one for one in report.problems if not one.fix]
    return _serious(report, strict)


def _write_sheet(now: Snapshot, report: UsageReport, path: Path, force: bool) -> None:
    from oddpeg.usage.sheet import usage_page, usage_picture  # paints, which few runs need

    make = usage_page if is_page(path) else usage_picture
    write_new(path.parent, [NewFile(path.name, make(now, report))], force)


def _write_sarif(log: str, path: Path, force: bool) -> None:
    write_new(path.parent, [NewFile(path.name, log.encode())], force)
