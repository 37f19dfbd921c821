"""Odd Peg: a folder of SVG icons becomes an icon font whose codepoints never move.

The public API is `__all__`; other names may change in any version.

    project = oddpeg.open_project("signs")
    report = oddpeg.build(project)

Every error in a user's files is an `OddPegError` with diagnostics, each with its cure.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from oddpeg._version import __version__ as __version__

if TYPE_CHECKING:
    from oddpeg.api import build as build
    from oddpeg.api import check as check
    from oddpeg.api import find as find
    from oddpeg.api import icon_set as icon_set
    from oddpeg.api import open_project as open_project
    from oddpeg.api import prove as prove
    from oddpeg.api import snippets as snippets
    from oddpeg.building.report import BuildOptions as BuildOptions
    from oddpeg.building.report import BuildReport as BuildReport
    from oddpeg.checking.run import CheckReport as CheckReport
    from oddpeg.diagnostic_codes import Level as Level
    from oddpeg.diagnostics import Diagnostic as Diagnostic
    from oddpeg.diagnostics import OddPegError as OddPegError
    from oddpeg.diagnostics import UsageError as UsageError
    from oddpeg.iconset.model import Icon as Icon
    from oddpeg.iconset.model import IconSet as IconSet
    from oddpeg.iconset.search import Hit as Hit
    from oddpeg.lookup.use import Use as Use
    from oddpeg.progress import Progress as Progress
    from oddpeg.project.project import Project as Project
    from oddpeg.proof.report import Proof as Proof

# where each name is found; loaded when it is first asked for, so that starting the command stays fast
_HOMES = {
    "open_project": "api",
    "build": "api",
    "check": "api",
    "prove": "api",
    "icon_set": "api",
    "find": "api",
    "snippets": "api",
    "Diagnostic": "diagnostics",
    "Level": "diagnostic_codes",
    "OddPegError": "diagnostics",
    "UsageError": "diagnostics",
    "Icon": "iconset.model",
    "IconSet": "iconset.model",
    "Hit": "iconset.search",
    "BuildOptions": "building.report",
    "BuildReport": "building.report",
    "CheckReport": "checking.run",
    "Use": "lookup.use",
    "Progress": "progress",
    "Proof": "proof.report",
    "Project": "project.project",
}

__all__ = [
    "BuildOptions",
    "BuildReport",
    "CheckReport",
    "Diagnostic",
    "Hit",
    "Icon",
    "IconSet",
    "Level",
    "OddPegError",
    "Progress",
    "Project",
    "Proof",
    "UsageError",
    "Use",
    "build",
    "check",
    "find",
    "icon_set",
    "open_project",
    "prove",
    "snippets",
]


def __getattr__(name: str) -> Any:
    if name not in _HOMES:
        raise AttributeError(f"module 'oddpeg' has no attribute {name!r}")
    from importlib import import_module

    return getattr(import_module(f"oddpeg.{_HOMES[name]}"), name)


def __dir__() -> list[str]:
    return sorted([*globals(), *__all__])
