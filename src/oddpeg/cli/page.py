"""`oddpeg usage --page`: the printed report on a built page."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from oddpeg.cli.printing import document, say, warn
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import Diagnostic, UsageError, counted
from oddpeg.project.snapshot import Snapshot
from oddpeg.store.delivery import NewFile, write_new
from oddpeg.usage.page.report import PageReport


def check_page(
    now: Snapshot, page: str, allowed: Sequence[str], picture: Path | None, force: bool, json: bool, quiet: bool
) -> PageReport:
    """Look at a page, write the picture, and print the report."""
    from oddpeg.usage.page.run import look_at_page  # reads pictures, which no other use needs

    if picture is not None and picture.suffix.lower() != ".png":
        raise UsageError(Diagnostic("bad-option", f"{picture.name} is no .png file", "give the picture that ending"))
    report = look_at_page(now, page, allowed)
    if picture is not None:
        write_new(picture.parent, [NewFile(picture.name, report.picture)], force)
    if json:
        document(report)
        return report
    if not quiet:
        _show(report)
    for number, fault in enumerate(report.faults, 1):
        colour = "bright_red" if fault.level is Level.ERROR else "yellow"
        icon = f" ({fault.icon})" if fault.icon else ""
        warn(f"{number}. {fault.selector}{icon}: {fault.level.value}: {fault.text} ({fault.code})", colour)
        warn(f"   cure: {fault.cure}")
    if picture is not None and not quiet:
        say(f"picture: {picture}")
    return report


def _show(report: PageReport) -> None:
    """Print the summary."""
    say(f"{report.page}, seen by Chromium {report.browser}", "cyan")
    for file in report.files:
        say(f"  {file.kind} {file.url}: {file.problem or 'loaded'}", "yellow" if file.problem else "")
    for origin in report.blocked:
        say(f"  not connected to: {origin} (--allow {origin} does)", "yellow")
    hidden = f"; {report.hidden} hidden by the page" if report.hidden else ""
    more = "; there are more, which were not looked at" if report.more else ""
    shown = f"{report.shown} of {counted(report.elements - report.hidden, 'element')} show their icon"
    say(f"{shown}{hidden}{more}", "" if report.faults else "green")


def serious(report: PageReport, strict: bool) -> bool:
    """Return whether there is an error; with strict, a warning."""
    return bool(report.faults) if strict else report.errors > 0


def refuse_with_page(options: Sequence[tuple[str, object]]) -> None:
    """Raise `UsageError` where an option was given that --page does not use. options: names and values."""
    if given := next((name for name, value in options if value), ""):
        raise UsageError(Diagnostic("bad-option", f"{given} is not for --page", "run the command twice"))


def refuse_without_page(options: Sequence[tuple[str, object]]) -> None:
    """Raise `UsageError` where an option was given that needs --page. options: names and values."""
    given = next((name for name, value in options if value), "")
    if given:
        raise UsageError(Diagnostic("bad-option", f"{given} needs --page", "add --page with a file or an address"))
