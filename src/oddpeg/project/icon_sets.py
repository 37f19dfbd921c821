"""The icon set of a project: made here for building, finding, using, showing and proving alike."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.config.settings import Config
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.write.colour import colours_of
from oddpeg.font.write.palettes import Palettes, nearest_entry
from oddpeg.iconset.faces import default_face
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.model import Icon, IconSet, RetiredIcon
from oddpeg.iconset.selection import matches_any
from oddpeg.iconset.synonyms import with_builtin
from oddpeg.outline.placement import USUAL_DROP
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.states import State
from oddpeg.project.bundle_views import holds
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import Source
from oddpeg.svg.model import Colour
from oddpeg.svg.paint import colour_of

if TYPE_CHECKING:
    from oddpeg.iconset.faces import Face


class Pegs(NamedTuple):
    """The pegboard and the metadata of icons."""

    board: Pegboard
    metadata: Metadata

    def named_icon(self, name: str, aliases: Mapping[int, Sequence[str]]) -> Icon:
        """Return the names and tags of an icon, for patterns to match. aliases: those of the board, by codepoint."""
        known, peg = self.metadata.of(name), self.board.pegs.get(name)
        older = aliases.get(peg.codepoint, ()) if peg else ()
        return Icon(name, 0, "", 0, aliases=(*older, *known.aliases), tags=known.tags)


def load_pegs(snapshot: Snapshot, sources: Collection[Source], board: Pegboard | None = None) -> Pegs:
    """Return pegboard and metadata. board: as the build will write it, otherwise as it is on disk."""
    board = snapshot.board if board is None else board
    older = {peg.icon for peg in board.in_state(State.ALIAS)}
    return Pegs(board, snapshot.metadata(sources, older))


def drawn_icon(source: Source, advance: int | None, title: str = "", description: str = "") -> Icon:
    """Return an icon as its drawing describes it, without a codepoint. advance: font units, None if not outlined."""
    return Icon(source.name, 0, source.where, advance, title=title, description=description)


def icon_set(snapshot: Snapshot, drawn: Iterable[Icon], pegs: Pegs, faces: Sequence[Face] = ()) -> IconSet:
    """Return the icons whose pegs are live. drawn: what drawings tell of icons (`drawn_icon`)."""
    aliases = pegs.board.aliases()
    having, sized = _icons_by_face(snapshot, faces), _icons_by_size(snapshot)
    icons = []
    for icon in drawn:
        peg = pegs.board.pegs.get(icon.name)
        if peg is None or peg.state is not State.LIVE:
            continue
        known, older = pegs.metadata.of(icon.name), tuple(aliases.get(peg.codepoint, ()))
        icons.append(
            icon._replace(
                codepoint=peg.codepoint,
                title=known.title or icon.title,
                aliases=(*older, *known.aliases),
                tags=known.tags,
                older=older,
                licence=known.licence,
                credit=known.credit,
                since=snapshot.arrivals.of(peg.codepoint),
                faces=tuple(name for name, names in having.items() if icon.name in names),
                sizes=tuple(px for px, names in sized.items() if icon.name in names),
            )
        )
    gone = (State.RETIRED, State.WITHDRAWN)
    config = snapshot.project.config
    return IconSet(
        naming=snapshot.project.naming,
        classes=snapshot.project.classes,
        icons=tuple(sorted(icons, key=lambda icon: icon.name)),
        faces=tuple(faces),
        default=default_face(snapshot.project.faces, config.font.default).name,
        drop=faces[0].em.drop if faces else USUAL_DROP,
        mirrored=tuple(icon.name for icon in icons if matches_any(icon, config.classes.mirrored)),
        synonyms=with_builtin(config.synonyms),
        retired=tuple(RetiredIcon(p.icon, p.codepoint) for p in pegs.board.pegs.values() if p.state in gone),
    )


def in_colours(snapshot: Snapshot, icons: IconSet) -> IconSet:
    """Return icons with the palettes of the project, and with layers of colour for icons of colour bundles."""
    bundles = [bundle for bundle in snapshot.project.config.bundle.values() if bundle.colour]
    if not bundles:
        return icons
    names = {icon.name for icon in icons.icons if any(holds(snapshot, bundle, icon) for bundle in bundles)}
    faces = tuple(face._replace(layers=face.of_icons(names).layers) for face in icons.faces)
    return replace(icons, faces=faces, palettes=palettes_of(snapshot.project.config, faces))


def palettes_of(config: Config, faces: Sequence[Face]) -> Palettes:
    """Return the palettes of a config, with entries for every colour of the icons' layers."""
    fills = [layer.fill for face in faces for layers in face.layers.values() for layer in layers]
    # with gradients and without: entries are the same in all bundles
    used = {colour for fill in fills for one in (fill, fill.flattened()) for colour in colours_of(one)}
    return Palettes.of(_named_colours(config), used)


def _named_colours(config: Config) -> dict[str, dict[str, Colour]]:
    return {
        palette: {entry: colour for entry, text in table.items() if (colour := colour_of(text)) is not None}
        for palette, table in config.palettes.items()
    }


def unnamed_colours(snapshot: Snapshot, icons: IconSet) -> list[Diagnostic]:
    """Return the colours of drawings that no entry of the palettes names, each with the nearest one."""
    first = next(iter(_named_colours(snapshot.project.config).values()), {})
    if not first or icons.palettes is None:
        return []
    named = {colour._replace(alpha=1.0) for colour in first.values()}
    where = {icon.name: icon.source for icon in icons.icons}
    unnamed: dict[tuple[str, Colour], None] = {}
    for face in icons.faces:
        for name, layers in face.layers.items():
            colours = (c._replace(alpha=1.0) for layer in layers for c in colours_of(layer.fill))
            unnamed |= {(name, colour): None for colour in colours if colour not in named and name in where}
    notes = []
    for name, colour in unnamed:
        near = nearest_entry(colour, first)
        message = f"has the colour {colour.hex}, which no palette names"
        cure = f"did you mean {near} ({first[near].hex})? Use that, or name the colour in the first palette"
        notes.append(Diagnostic("colour-unnamed", message, cure, where[name]))
    return notes


def _icons_by_size(snapshot: Snapshot) -> dict[int, Collection[str]]:
    """Return the names of the icons that have a drawing for a size, by sizes in rising order; an icon without one for a
    small size has none."""
    names = {root: {source.name for source in sources.found} for root, sources in snapshot.face_sources.items()}
    sized: dict[int, set[str]] = {}
    for plan in snapshot.project.faces:
        small = {part.px: names[part.root] for part in plan.parts if part.px} if plan.size else {}
        for px, drawn in small.items():
            sized.setdefault(px, set()).update(drawn)
        if plan.size and small:
            sized.setdefault(plan.size.own, set()).update(names[plan.root].intersection(set().union(*small.values())))
    return dict(sorted(sized.items()))


def _icons_by_face(snapshot: Snapshot, faces: Sequence[Face]) -> dict[str, Collection[str]]:
    """Return the names of the icons that each face has, in order of weight; nothing where there is one face. faces:
    outlined, if any."""
    if len(snapshot.project.faces) < 2:
        return {}
    if faces:
        return {face.name: face.outlines for face in faces}
    names = {root: {source.name for source in sources.found} for root, sources in snapshot.face_sources.items()}
    return {plan.name: names[plan.root] for plan in sorted(snapshot.project.faces, key=lambda plan: plan.weight)}


def known_icons(snapshot: Snapshot) -> IconSet:
    """Return every icon that has a peg and a drawing, without drawing any."""
    from oddpeg.project.titles import titles_of

    sources = snapshot.sources.found
    titles = titles_of(snapshot.project.root, sources)
    drawn = [drawn_icon(source, None, *titles.get(source.name, ())) for source in sources]
    return icon_set(snapshot, drawn, load_pegs(snapshot, sources))


def check_classes(icons: IconSet) -> None:
    """Raise `OddPegError` where an icon's class would be the base class, or that of a size or colour."""
    taken = {icons.base_class: "the base class"}
    taken |= {f"{icons.prefix}-size-{name}": "the class of a size" for name, _ in icons.sizes}
    taken |= {f"{icons.prefix}-face-{face}": "the class of a face" for icon in icons.icons for face in icon.faces}
    taken |= {f"{icons.prefix}-colour-{name}": "the class of a colour" for name, _ in icons.colours}
    taken |= {f"{icons.prefix}-{state}": "the class of a state" for state in icons.classes.states}
    taken |= {f"{icons.prefix}-drawn-{px}": "the class of a drawn size" for px in icons.classes.drawn}
    cure = "set another one: classes.base (or the size, colour or face) in oddpeg.toml, or rename the icon"
    for icon in icons.icons:
        for name in icon.names:
            class_name = f"{icons.prefix}-{name}"
            if class_name in taken:
                message = f"the class of the icon {name!r} would be {taken[class_name]} .{class_name}"
                raise OddPegError(Diagnostic("class-clash", message, cure, icon.source))
