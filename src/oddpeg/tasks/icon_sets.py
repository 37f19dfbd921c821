"""The icon set of a project: made here for building, finding, using, showing and proving alike."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.model import Icon, IconSet, RetiredIcon
from oddpeg.iconset.selection import matches_any
from oddpeg.outline.placement import USUAL_DROP
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
