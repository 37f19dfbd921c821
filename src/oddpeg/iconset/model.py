"""The icons of one font: one model for building, finding, showing and proving."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from operator import attrgetter
from typing import TYPE_CHECKING, Annotated, Literal, NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.font.write.palettes import Palettes
from oddpeg.iconset.faces import Face, StandIn, default_face, stand_ins
from oddpeg.iconset.font_names import ClassNames, Naming
from oddpeg.reports import Key, reported
from oddpeg.suggestions import nearest

if TYPE_CHECKING:  # finding icons needs none of these, and they take longer to load than a search
    from oddpeg.iconset.hashes import Hashes
    from oddpeg.iconset.pictures import Ink, LayerPicture, Pictures
    from oddpeg.svg.clean import CleanCopy


class Icon(NamedTuple):
    """One icon as users meet it.

    Attributes:
        advance: font units; None where nothing was outlined.
        older: aliases that were the icon's name before it was renamed.
        description, licence, credit: empty where unknown.
        since: the font version in which it was first released.
    """

    name: Annotated[str, Key("name, unique in its set")]
    codepoint: Annotated[int, Key("codepoint")]
    source: Annotated[str, Key("its drawing, relative to the project")]
    advance: int | None
    title: Annotated[str, Key("title, or empty")] = ""
    aliases: Annotated[tuple[str, ...], Key("other names that work wherever the name does")] = ()
    tags: Annotated[tuple[str, ...], Key("words to find it by")] = ()
    older: tuple[str, ...] = ()
    description: str = ""
    licence: str = ""
    credit: str = ""
    since: str = ""
    faces: Annotated[tuple[str, ...], Key("faces that have it, by weight, where there are several")] = ()
    sizes: Annotated[tuple[int, ...], Key("font sizes that it has drawings for, where several", optional=True)] = ()

    @property
    def names(self) -> tuple[str, ...]:
        """Its own name and its aliases."""
        return (self.name, *self.aliases)

    @reported("codepoint as four or more hexadecimal digits")
    def hex(self) -> str:
        """The codepoint in hexadecimal, at least four digits, lower case."""
        return f"{self.codepoint:04x}"

    @property
    def character(self) -> str:
        """The character that shows the icon."""
        return chr(self.codepoint)

    @property
    def utf16(self) -> tuple[int, ...]:
        """The codepoint in units of UTF-16: one, or a surrogate pair."""
        data = self.character.encode("utf-16-be")
        return tuple(int.from_bytes(data[i : i + 2], "big") for i in range(0, len(data), 2))


class RetiredIcon(NamedTuple):
    """An icon that is gone; its codepoint stays reserved."""

    name: str
    codepoint: int


@dataclass(frozen=True)
class IconSet:
    """One font and its icons.

    Attributes:
        naming: names of the font.
        classes: names in stylesheets.
        icons: ordered by name.
        faces: in order of weight; empty if nothing was outlined.
        default: name of the default face; if empty, the face nearest to regular.
        palettes: None if icons have no colours.
        drop: share of the em below the baseline.
        mirrored: names of icons that are mirrored in text from right to left.
        synonyms: word → words with the same meaning.
        retired: icons without a drawing whose codepoints stay reserved.
        drawings: bytes of their files, by icon and font size, if they were read; 0 for the face's own.
        findings: of the check, by icon.
    """

    naming: Naming
    classes: ClassNames
    icons: tuple[Icon, ...]
    faces: tuple[Face, ...] = field(default=(), repr=False, compare=False)
    default: str = ""
    palettes: Palettes | None = None
    drop: float = 0.125
    mirrored: tuple[str, ...] = ()
    synonyms: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    retired: tuple[RetiredIcon, ...] = ()
    drawings: Mapping[tuple[str, int], bytes] = field(default_factory=dict, repr=False, compare=False)
    findings: Mapping[str, tuple[Diagnostic, ...]] = field(default_factory=dict, repr=False)

    @property
    def family(self) -> str:
        """The font's family name, in stylesheets and texts."""
        return self.naming.family

    @property
    def font_family(self) -> str:
        """The family name in the file of the default face's font."""
        return self.naming.font_family or self.naming.family

    @property
    def version(self) -> str:
        """The font's version."""
        return self.naming.version

    @property
    def stem(self) -> str:
        """The name of the font's files, without ending."""
        return self.naming.stem

    @property
    def copyright(self) -> str:
        """The font's copyright line, or empty."""
        return self.naming.copyright

    @property
    def licence(self) -> str:
        """The font's licence, or empty."""
        return self.naming.licence

    @property
    def licence_url(self) -> str:
        """Where the font's licence can be read, or empty."""
        return self.naming.licence_url

    @property
    def designer(self) -> str:
        """The font's designer, or empty."""
        return self.naming.designer

    @property
    def prefix(self) -> str:
        """The prefix of classes."""
        return self.classes.prefix

    @property
    def base_class(self) -> str:
        """The class that every icon needs in addition to its own."""
        return self.classes.base

    @property
    def sizes(self) -> tuple[tuple[str, str], ...]:
        """(name, CSS value) of sizes that get classes."""
        return self.classes.sizes

    @property
    def colours(self) -> tuple[tuple[str, str], ...]:
        """(name, CSS value) of colours that get classes."""
        return self.classes.colours

    @cached_property
    def spelled(self) -> Mapping[str, str]:
        """Every name and alias, mapped to itself: for outputs in which code writes names unchanged."""
        return {name: name for icon in self.icons for name in icon.names}

    @cached_property
    def turned(self) -> frozenset[str]:
        """Every name, aliases too, of icons that face the other way in text from right to left."""
        mirrored = set(self.mirrored)
        return frozenset(name for icon in self.icons if icon.name in mirrored for name in icon.names)

    @cached_property
    def face(self) -> Face | None:
        """The default face, with missing icons from the nearest face that has them. None where nothing was outlined."""
        if not self.faces:
            return None
        face = default_face(self.faces, self.default)
        outlines, layers = dict(face.outlines), dict(face.layers)
        for other, names in self.stand_ins(face):
            outlines |= other.of_icons(names).outlines
            layers |= other.of_icons(names).layers
        return face._replace(outlines=outlines, layers=layers) if len(outlines) > len(face.outlines) else face

    def stand_ins(self, face: Face) -> list[StandIn]:
        """Return the faces from which icons are shown that a face lacks, the nearest first."""
        return stand_ins(face, self.faces, [icon.name for icon in self.icons])

    @cached_property
    def shown_in(self) -> Mapping[str, str]:
        """The face in which an icon shows where none is chosen, by its name: the default one, or a stand-in."""
        if self.face is None:
            return {}
        default = next(face for face in self.faces if self.face.name == face.name)
        others = {name: other.name for other, names in self.stand_ins(default) for name in names}
        return {icon.name: others.get(icon.name, default.name) for icon in self.icons}

    @property
    def units_per_em(self) -> int:
        """Of the default face; 0 where nothing was outlined."""
        return self.face.em.units if self.face else 0

    @cached_property
    def pictures(self) -> Pictures:
        """The icons as path data, drawn when they are first asked for."""
        from oddpeg.iconset.pictures import Pictures

        return Pictures(self.face)

    @cached_property
    def ink(self) -> Mapping[str, Ink]:
        """The ink box of each icon."""
        from oddpeg.iconset.pictures import ink_boxes

        return ink_boxes(self.face) if self.face else {}

    @cached_property
    def thumbnails(self) -> Pictures:
        """The icons as path data with the detail of a small picture."""
        from oddpeg.iconset.pictures import THUMBNAIL, Pictures

        return Pictures(self.face, THUMBNAIL)

    @cached_property
    def coloured(self) -> Mapping[str, tuple[LayerPicture, ...]]:
        """The layers of colour of each icon that has some, drawn when they are first asked for."""
        from oddpeg.iconset.pictures import layer_pictures

        return layer_pictures(self.face, self.palettes)

    def clean_copy(self, name: str, px: int = 0) -> CleanCopy | None:
        """Return an icon's drawing as others may see it, that for a font size where one is given; None where it is not
        at hand."""
        from oddpeg.svg.clean import clean_copy

        data = self.drawings.get((name, px))
        return None if data is None else clean_copy(data)

    def named(self, name: str) -> Icon:
        """Return the icon of that name; raise KeyError, with near names, where there is none."""
        at = bisect_left(self.icons, name, key=attrgetter("name"))
        if at == len(self.icons) or self.icons[at].name != name:
            near = nearest(name, [each for icon in self.icons for each in icon.names])
            raise KeyError(f"there is no icon {name!r}" + (f"; did you mean {', '.join(near)}?" if near else ""))
        return self.icons[at]

    def select(self, names: Collection[str]) -> IconSet:
        """Return the same set with these icons only."""
        icons = tuple(icon for icon in self.icons if icon.name in names)
        if len(icons) == len(self.icons):
            return self
        faces = tuple(face.of_icons(names) for face in self.faces)
        return replace(self, icons=icons, faces=faces, mirrored=tuple(n for n in self.mirrored if n in names))

    def in_colours(self, mode: Literal["", "flat", "gradients"]) -> IconSet:
        """Return the same set in colours: with gradients, with their mean colours, or in the colour of the text alone
        (an empty mode)."""
        if self.palettes is None or mode == "gradients":
            return self
        if mode == "flat":
            return replace(self, faces=tuple(face.flattened() for face in self.faces))
        return replace(self, faces=tuple(face.plain() for face in self.faces), palettes=None)

    def select_faces(self, names: Collection[str], default: str) -> IconSet:
        """Return the same set with these faces only, and the icons that one of them has. default: the face that shows
        where none is chosen."""
        known = {name for icon in self.icons for name in icon.faces}
        if known <= set(names):
            return self
        faces = tuple(face for face in self.faces if face.name in names)
        left = [(icon, tuple(name for name in icon.faces if name in names)) for icon in self.icons]
        several = len(names) > 1
        icons = tuple(icon._replace(faces=own if several else ()) for icon, own in left if own)
        if not any(face.size for face in faces):
            icons = tuple(icon._replace(sizes=()) for icon in icons)
        return replace(self.select({icon.name for icon in icons}), faces=faces, icons=icons, default=default)

    def at_size(self, px: float) -> IconSet:
        """Return the same set with the drawings that serve at a font size; 0 for the largest ones."""
        return replace(self, faces=tuple(face.at_size(px) for face in self.faces)) if px else self

    def with_drawings(
        self, drawings: Mapping[tuple[str, int], bytes], findings: Mapping[str, tuple[Diagnostic, ...]]
    ) -> IconSet:
        """Return the same set with the icons' drawings and findings."""
        return replace(self, drawings=drawings, findings=findings)

    @cached_property
    def hashes(self) -> Hashes:
        """Hashes by which a build knows what it made before."""
        from oddpeg.iconset.hashes import Hashes

        return Hashes(self)
