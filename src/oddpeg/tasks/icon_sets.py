"""The icon set of a project: made here for building, finding, using, showing and proving alike."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.model import Icon, IconSet, RetiredIcon
from oddpeg.iconset.selection import matches, matches_any
from oddpeg.outline.placement import USUAL_DROP
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.states import State
from oddpeg.workspace.project import Project
from oddpeg.workspace.sources import Source

if TYPE_CHECKING:
    from oddpeg.iconset.model import Face


class DrawnIcon(NamedTuple):
    """An icon that has a drawing.

    Attributes:
        source: its file.
        advance: font units, 0 where it was not outlined.
        title, description: the drawing's own.
    """

    source: Source
    advance: int = 0
    title: str = ""
    description: str = ""


class Pegs(NamedTuple):
    """What the pegboard and the tables know of icons."""

    board: Pegboard
    metadata: Metadata


def load_pegs(project: Project, sources: Collection[Source], board: Pegboard | None = None) -> Pegs:
    """Return what is known of icons besides their drawings. board: as it will be, else as it is on disk."""
    board = project.load_board() if board is None else board
    older = {peg.icon for peg in board.in_state(State.ALIAS)}
    return Pegs(board, project.metadata(sources, older))


def icon_set(project: Project, drawn: Iterable[DrawnIcon], pegs: Pegs, faces: Sequence[Face] = ()) -> IconSet:
    """Return the icons that have drawings, and pegs that are live."""
    aliases = pegs.board.aliases()
    icons = []
    for source, advance, title, description in drawn:
        peg = pegs.board.pegs.get(source.name)
        if peg is None or peg.state is not State.LIVE:
            continue
        known, older = pegs.metadata.of(source.name), tuple(aliases.get(peg.codepoint, ()))
        icons.append(
            Icon(
                name=source.name,
                codepoint=peg.codepoint,
                source=source.where,
                advance=advance,
                title=known.title or title,
                aliases=(*older, *known.aliases),
                tags=known.tags,
                older=older,
                description=description,
                licence=known.licence,
                credit=known.credit,
                since=project.arrivals.of(peg.codepoint),
            )
        )
    gone = (State.RETIRED, State.WITHDRAWN)
    config = project.config
    return IconSet(
        naming=project.naming,
        classes=project.classes,
        icons=tuple(sorted(icons, key=lambda icon: icon.name)),
        faces=tuple(faces),
        drop=faces[0].em.drop if faces else USUAL_DROP,
        mirrored=tuple(icon.name for icon in icons if matches_any(icon, config.classes.mirrored)),
        synonyms={word: tuple(others) for word, others in config.synonyms.items()},
        retired=tuple(RetiredIcon(p.icon, p.codepoint) for p in pegs.board.pegs.values() if p.state in gone),
    )


def known_icons(project: Project) -> IconSet:
    """Return every icon that has a peg and a drawing, without drawing any."""
    from oddpeg.workspace.title_cache import titles_of

    sources = project.sources.found
    titles = titles_of(project.root, sources)
    drawn = [DrawnIcon(s, 0, *titles.get(s.name, ("", ""))) for s in sources]
    return icon_set(project, drawn, load_pegs(project, sources))


def check_classes(icons: IconSet) -> None:
    """Raise `OddPegError` where an icon's class would be the base class, or that of a size or colour."""
    taken = {icons.base_class: "the base class"}
    taken |= {f"{icons.prefix}-size-{name}": "the class of a size" for name, _ in icons.sizes}
    taken |= {f"{icons.prefix}-colour-{name}": "the class of a colour" for name, _ in icons.colours}
    cure = "set another one: classes.base (or the size or colour) in oddpeg.toml, or rename the icon"
    for icon in icons.icons:
        for name in icon.names:
            own = f"{icons.prefix}-{name}"
            if own in taken:
                what = f"the class of the icon {name!r} would be {taken[own]} .{own}"
                raise OddPegError(Diagnostic("class-clash", what, cure, icon.source))


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
    from fnmatch import fnmatchcase

    found = []
    for key, pattern in icon_patterns(project):
        selects = any(matches(icon, pattern) for icon in icons) or any(fnmatchcase(n, pattern) for n in drawings)
        if not selects and pattern != "*":
            found.append(_unmatched(project, key, pattern, "no icon, alias or tag"))
    for number, rule in enumerate(project.config.rights):
        if not any(fnmatchcase(where, rule.files) for where in drawings.values()):
            found.append(_unmatched(project, f"rights.{number}.files", rule.files, "no drawing"))
    return found


def outputs_without_font(project: Project) -> list[Diagnostic]:
    """Return a warning for every output whose bundle lacks the font that it speaks of."""
    found = []
    for name, bundle in project.config.bundle.items():
        for number, output in enumerate(bundle.outputs):
            kind = KINDS[output.kind]
            wanted = kind.needs(kind.options_with_defaults(output.options))
            if wanted and not set(wanted) & set(bundle.fonts):
                one = f'"{wanted[0]}"'
                what = f"bundle.{name}: {output.kind} speaks of a font, and the bundle holds none that it can use"
                cure = f"add {one} to bundle.{name}.fonts, or put the output into the bundle that has the font"
                where, line = project.config_path.name, project.line_of(f"bundle.{name}.outputs.{number}")
                found.append(Diagnostic("output-without-font", what, cure, where, line))
    return found


def _unmatched(project: Project, key: str, pattern: str, what: str) -> Diagnostic:
    cure = "correct it, or remove it if what it named is gone for good"
    where, line = project.config_path.name, project.line_of(key)
    return Diagnostic("pattern-unmatched", f"{key}: {what} matches {pattern!r}", cure, where, line)
