"""What is known of the icons of one font: made in one place, for building, finding, showing and proving alike."""

from __future__ import annotations

import hashlib
from bisect import bisect_left
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from operator import attrgetter
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic

if TYPE_CHECKING:  # finding icons needs none of these, and they take longer to load than a search
    from oddpeg.iconset.pictures import Ink, Pictures
    from oddpeg.outline.model import Outline
    from oddpeg.outline.placement import Em
    from oddpeg.svg.clean import CleanCopy

REGULAR = 400  # the CSS font-weight of a family's usual face


class Icon(NamedTuple):
    """One icon as users meet it.

    Attributes:
        name: unique in its set.
        codepoint: where the font has it.
        source: its drawing's path relative to the project, with slashes.
        advance: font units, 0 where nothing was outlined.
        title: in words, or empty.
        aliases: other names that work wherever the name does.
        tags: words it can be found by.
        older: those of them that the icon had before it was renamed.
        description, licence, credit: empty where nobody says.
        since: the version it came with.
    """

    name: str
    codepoint: int
    source: str
    advance: int
    title: str = ""
    aliases: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    older: tuple[str, ...] = ()
    description: str = ""
    licence: str = ""
    credit: str = ""
    since: str = ""

    @property
    def names(self) -> tuple[str, ...]:
        """Its own name and its aliases."""
        return (self.name, *self.aliases)

    @property
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


class Naming(NamedTuple):
    """What the font is called and says of itself.

    Attributes:
        family: the name to choose the font by.
        version: MAJOR.MINOR.
        stem: the name of its files, without ending.
        copyright: of the font.
        licence: its name or text.
        licence_url: where it can be read.
        designer: who drew the icons.
    """

    family: str
    version: str
    stem: str
    copyright: str = ""
    licence: str = ""
    licence_url: str = ""
    designer: str = ""


class ClassNames(NamedTuple):
    """Names in stylesheets.

    Attributes:
        prefix: classes are PREFIX-NAME.
        base: the class that every icon needs too.
        sizes, colours: (name, CSS value) of what gets a class of its own.
    """

    prefix: str
    base: str
    sizes: tuple[tuple[str, str], ...] = ()
    colours: tuple[tuple[str, str], ...] = ()


class Face(NamedTuple):
    """The icons at one weight.

    Attributes:
        em: the square that glyphs are drawn on.
        outlines: by icon.
        name: as the config calls it.
        weight: CSS font-weight.
    """

    em: Em
    outlines: Mapping[str, Outline]
    name: str = "regular"
    weight: int = REGULAR


class RetiredIcon(NamedTuple):
    """An icon that is gone; its codepoint stays reserved."""

    name: str
    codepoint: int


@dataclass(frozen=True)
class IconSet:
    """One font and its icons.

    Attributes:
        naming: what the font is called.
        classes: names in stylesheets.
        icons: ordered by name.
        faces: none where nothing was outlined.
        drop: the em's share below the baseline.
        mirrored: names of icons that face the other way in text from right to left.
        synonyms: word → words that mean the same here.
        retired: what is gone.
        drawings: the bytes of their files, by icon, as far as they are at hand.
        findings: what checking found, by icon.
    """

    naming: Naming
    classes: ClassNames
    icons: tuple[Icon, ...]
    faces: tuple[Face, ...] = field(default=(), repr=False, compare=False)
    drop: float = 0.125
    mirrored: tuple[str, ...] = ()
    synonyms: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    retired: tuple[RetiredIcon, ...] = ()
    drawings: Mapping[str, bytes] = field(default_factory=dict, repr=False, compare=False)
    findings: Mapping[str, tuple[Diagnostic, ...]] = field(default_factory=dict, repr=False)

    @property
    def family(self) -> str:
        """The font's family name."""
        return self.naming.family

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
        """What classes begin with."""
        return self.classes.prefix

    @property
    def base_class(self) -> str:
        """The class that every icon needs beside its own."""
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
        """Every name, aliases too, as itself: for outputs in which code writes names as they are."""
        return {name: name for icon in self.icons for name in icon.names}

    @cached_property
    def turned(self) -> frozenset[str]:
        """Every name, aliases too, of icons that face the other way in text from right to left."""
        mirrored = set(self.mirrored)
        return frozenset(name for icon in self.icons if icon.name in mirrored for name in icon.names)

    @property
    def face(self) -> Face | None:
        """The default face, the one nearest to the regular weight; None where nothing was outlined."""
        return min(self.faces, key=lambda face: abs(face.weight - REGULAR), default=None)

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
        """The box of what is black in each icon."""
        from oddpeg.iconset.pictures import ink_boxes

        return ink_boxes(self.face) if self.face else {}

    @cached_property
    def thumbnails(self) -> Pictures:
        """The icons as path data with the detail of a small picture."""
        from oddpeg.iconset.pictures import THUMBNAIL, Pictures

        return Pictures(self.face, THUMBNAIL)

    def clean_copy(self, name: str) -> CleanCopy | None:
        """Return an icon's drawing as others may see it; None where it is not at hand."""
        from oddpeg.svg.clean import clean_copy

        return clean_copy(self.drawings[name]) if name in self.drawings else None

    def named(self, name: str) -> Icon:
        """Return the icon of that name; raise KeyError where there is none."""
        at = bisect_left(self.icons, name, key=attrgetter("name"))
        if at == len(self.icons) or self.icons[at].name != name:
            raise KeyError(name)
        return self.icons[at]

    def select(self, names: Collection[str]) -> IconSet:
        """Return the same set with these icons only."""
        icons = tuple(icon for icon in self.icons if icon.name in names)
        if len(icons) == len(self.icons):
            return self
        faces = tuple(
            face._replace(outlines={name: o for name, o in face.outlines.items() if name in names})
            for face in self.faces
        )
        return replace(self, icons=icons, faces=faces, mirrored=tuple(n for n in self.mirrored if n in names))

    def with_drawings(self, drawings: Mapping[str, bytes], findings: Mapping[str, tuple[Diagnostic, ...]]) -> IconSet:
        """Return the same set with the icons' drawings and what checking found on them."""
        return replace(self, drawings=drawings, findings=findings)

    def digest(self) -> str:
        """Return what stands for all of it but what its drawings hold."""
        facts = (self.naming, self.classes, self.drop, self.mirrored, self.synonyms, self.retired, self.findings)
        icons = list(map(tuple, self.icons))
        return hashlib.blake2b(repr((facts, self.units_per_em, icons)).encode(), digest_size=16).hexdigest()

    @cached_property
    def drawings_digest(self) -> str:
        """What stands for drawings and outlines."""
        total = hashlib.blake2b(digest_size=16)
        for face in self.faces:
            total.update(repr((face.name, face.weight, face.em)).encode())
            for name, outline in face.outlines.items():
                total.update(f"{name} {len(outline.on)} {outline.advance}\n".encode())
                for array in (outline.xy, outline.on, outline.ends):
                    total.update(array.tobytes())
        for icon in self.icons:
            data = self.drawings.get(icon.name, b"")
            total.update(b"%d\n" % len(data) + data)
        return total.hexdigest()
