"""Whether a built page shows its icons: it is opened in a browser that is installed, and looked at."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from urllib.parse import urlsplit

from oddpeg.browser.devtools import HAS_PIPE, Browser, BrowserError
from oddpeg.browser.programs import BROWSERS, find_program
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.project.icon_sets import known_icons
from oddpeg.project.snapshot import Snapshot
from oddpeg.usage.page.faults import Expectation, Judge
from oddpeg.usage.page.picture import framed
from oddpeg.usage.page.report import LoadedFile, PageFault, PageReport
from oddpeg.usage.page.visit import Request, Target, Visit, Visitor, file_target, origin_of

_SECONDS = 30.0  # for the whole visit
_MOST = 2000  # elements
_SCHEMES = ("http", "https")
_KINDS = {"Font": "font", "Stylesheet": "stylesheet", "Script": "script"}


def look_at_page(snapshot: Snapshot, page: str, allowed: Sequence[str] = ()) -> PageReport:
    """Return how a page shows the icons of a project.

    Args:
        page: address (http, https) or file.
        allowed: other origins that the browser may connect to; otherwise only the page's own.

    Raises:
        UsageError: there is no such page, no browser, or an origin is none.
        OddPegError: the browser could not look at the page.
    """
    icons = known_icons(snapshot)
    target = _target(page, snapshot.project.root)
    for origin in allowed:
        if urlsplit(origin).scheme not in _SCHEMES or not urlsplit(origin).hostname:
            raise _refused(f"{origin} is no origin", "write it like https://fonts.example.org")
    program = find_program(BROWSERS) if HAS_PIPE else None
    if program is None:
        missing = "no Chromium, Chrome or Edge is on the path" if HAS_PIPE else "pages are not looked at on Windows yet"
        raise _refused(missing, "install Chromium; `oddpeg usage` without --page reads the code instead")
    names = {name: icon.codepoint for icon in icons.icons for name in icon.names}
    asked = {"prefix": icons.prefix, "base": icons.base_class, "family": icons.family, "names": names, "most": _MOST}
    hosts = [urlsplit(one).hostname or "" for one in (*([] if target.read else [target.url]), *allowed)]
    try:
        with Browser(program.path, tuple(hosts), _SECONDS) as browser:
            browser.attach()
            visit = Visitor(browser, target, allowed).visit(asked)
    except BrowserError as problem:
        cure = "open the page yourself; if it works there, please report it"
        what = f"the browser cannot look at it: {problem}"
        raise OddPegError(Diagnostic("page-unreadable", what, cure, page)) from None
    by_code = {icon.codepoint: icon.name for icon in icons.icons}
    expected = Expectation(icons.family, by_code, icons.base_class, snapshot.project.naming.stem)
    return _report(page, program.version, visit, Judge(visit, expected).faults())


def _report(page: str, browser: str, visit: Visit, faults: list[PageFault]) -> PageReport:
    """Return the report on a visit."""
    unseen = {tuple(fault.box) for fault in faults if fault.code not in _HEARD}
    shown = [seen for seen in visit.seen if not seen.facts["hidden"]]
    blocked = {origin_of(one.url) for one in visit.requests if one.blocked and one.url.startswith("http")}
    return PageReport(
        page,
        browser,
        len(visit.seen),
        sum(tuple(map(float, seen.facts["box"])) not in unseen for seen in shown),
        len(visit.seen) - len(shown),
        visit.more,
        faults,
        [_file(one) for one in visit.requests if one.kind == "Font" or (one.problem and one.kind in _KINDS)],
        sorted(blocked),
        framed(visit.pictures[0], faults),
    )


_HEARD = ("page-control-unnamed", "page-announced")  # of elements that may well show their icons


def _file(request: Request) -> LoadedFile:
    return LoadedFile(request.url, _KINDS.get(request.kind, "other"), request.problem)


def _target(page: str, root: Path) -> Target:
    """Return what to visit; a file within the project is served with the project's files, another with its folder's."""
    scheme = urlsplit(page).scheme
    if scheme in _SCHEMES:
        return Target(page, origin_of(page))
    if len(scheme) > 1:  # one letter is a drive
        raise _refused(f"{page} is neither a file nor an http address", "name a built .html file, or http://…")
    path = Path(page).absolute()
    if not path.is_file():
        raise _refused(f"{page} does not exist", "build the page, and name its .html file or its address")
    real = path.resolve()
    return file_target(real, root.resolve() if real.is_relative_to(root.resolve()) else real.parent)


def _refused(what: str, cure: str) -> UsageError:
    return UsageError(Diagnostic("page-unreadable", what, cure, "--page"))
