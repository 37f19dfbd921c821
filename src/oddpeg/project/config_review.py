"""Config entries without effect: patterns that match nothing, outputs without their font, packages without code that
loads everywhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from fnmatch import fnmatchcase
from typing import NamedTuple

from oddpeg.config.loading import key_line
from oddpeg.diagnostics import Diagnostic
from oddpeg.iconset.model import Icon
from oddpeg.iconset.selection import matches
from oddpeg.outputs.registry import KINDS
from oddpeg.project.project import Project


class ConfigPattern(NamedTuple):
    """A pattern for icons that the config holds.

    Attributes:
        key: its path, with dots.
        pattern: as written.
    """

    key: str
    pattern: str


def icon_patterns(project: Project) -> Iterator[ConfigPattern]:
    """Yield every pattern of the config that selects icons."""
    for name, bundle in project.config.bundle.items():
        only = [] if bundle.only == "used" else bundle.only
        for key, patterns in (("only", only), ("without", bundle.without)):
            yield from (ConfigPattern(f"bundle.{name}.{key}", pattern) for pattern in patterns)
    yield from (ConfigPattern("usage.keep", pattern) for pattern in project.config.usage.keep)
    yield from (ConfigPattern("classes.mirrored", pattern) for pattern in project.config.classes.mirrored)
    for number, rule in enumerate(project.config.checks):
        yield ConfigPattern(f"checks.{number}.icons", rule.icons)


def unmatched_patterns(project: Project, icons: Sequence[Icon], drawings: Mapping[str, str]) -> list[Diagnostic]:
    """Return a warning for every pattern of the config that selects nothing. drawings: paths, by icon, of everything
    there is, whether it became a glyph or not."""
    notices = []
    for key, pattern in icon_patterns(project):
        selects = any(matches(icon, pattern) for icon in icons) or any(fnmatchcase(n, pattern) for n in drawings)
        if not selects and pattern != "*":
            notices.append(_unmatched(project, key, pattern, "no icon, alias or tag"))
    for number, rule in enumerate(project.config.rights):
        if not any(fnmatchcase(where, rule.files) for where in drawings.values()):
            notices.append(_unmatched(project, f"rights.{number}.files", rule.files, "no drawing"))
    return notices


def output_problems(project: Project) -> list[Diagnostic]:
    """Return a warning for every output that cannot do its work in its bundle."""
    return [*_outputs_without_font(project), *_packages_in_typescript(project)]


def _outputs_without_font(project: Project) -> list[Diagnostic]:
    """Return a warning for every output whose bundle lacks the font that it needs."""
    warnings = []
    for name, bundle in project.config.bundle.items():
        for number, output in enumerate(bundle.outputs):
            kind = KINDS[output.kind]
            wanted = kind.needs(kind.options_with_defaults(output.options))
            if wanted and not set(wanted) & set(bundle.fonts):
                example = f'"{wanted[0]}"'
                message = (
                    f"bundle.{name}: {output.kind} needs a font, and the bundle has none in a format that it can use"
                )
                cure = f"add {example} to bundle.{name}.fonts, or put the output into the bundle that has the font"
                where, line = project.config_path.name, key_line(project.config_path, f"bundle.{name}.outputs.{number}")
                warnings.append(Diagnostic("output-without-font", message, cure, where, line))
    return warnings


def _packages_in_typescript(project: Project) -> list[Diagnostic]:
    """Return a warning for every package whose code is TypeScript alone. Bundlers load it from packages; Node.js does
    not (Node.js, TypeScript: type stripping in dependencies), and with it what renders on a server."""
    warnings = []
    for name, bundle in project.config.bundle.items():
        kinds = [output.kind for output in bundle.outputs]
        if "npm-package" in kinds and "typescript" in kinds and "javascript" not in kinds:
            message = f"bundle.{name}: the package has its code in TypeScript only, which Node.js and servers refuse"
            cure = f'put "javascript" into bundle.{name}.outputs; it has the same names, with types'
            where = project.config_path.name
            line = key_line(project.config_path, f"bundle.{name}.outputs.{kinds.index('npm-package')}")
            warnings.append(Diagnostic("package-typescript", message, cure, where, line))
    return warnings


def _unmatched(project: Project, key: str, pattern: str, message: str) -> Diagnostic:
    cure = "correct it, or remove it if what it named is gone for good"
    where, line = project.config_path.name, key_line(project.config_path, key)
    return Diagnostic("pattern-unmatched", f"{key}: {message} matches {pattern!r}", cure, where, line)
