"""Metadata of a font: family, version, rights, metrics.

Covers the naming rules of OpenType (name table, PostScript names).
"""

from __future__ import annotations

import enum
import re
import unicodedata
from typing import NamedTuple

from oddpeg.diagnostics import UNPRINTABLE

EPOCH_1904 = 2_082_844_800  # seconds from 1904 to 1970
FIXED_TIME = 1_577_836_800  # 2020-01-01, where the caller names no time: same input, same bytes


MAKER = "ODDPEG"  # in the unique identifier of every font, `name` ID 3
EMBEDDING = {"installable": 0, "editable": 8, "preview": 4, "restricted": 2}  # OS/2 fsType


class Ligature(NamedTuple):
    """The letters to type for an icon, and its codepoint."""

    name: str
    codepoint: int


class Link(enum.Enum):
    """How programs that know four styles to a family find a face: name ID 2, `fsSelection`, `macStyle`."""

    REGULAR = "Regular"
    BOLD = "Bold"
    NONE = ""


class Style(NamedTuple):
    """The name of a face within its family.

    Attributes:
        name: typographic subfamily, `name` ID 17.
        link: among the four styles.
    """

    name: str = "Regular"
    link: Link = Link.REGULAR


class FontInfo(NamedTuple):
    """Metadata of one font.

    Attributes:
        family: the name to choose the font by.
        version: MAJOR.MINOR.
        units: per em.
        ascender, descender: font units, the latter negative.
        copyright: `name` ID 0.
        designer: `name` ID 9.
        licence: `name` ID 13.
        licence_url: `name` ID 14.
        embedding: a key of `EMBEDDING`.
        created: Unix seconds.
        weight: CSS font-weight, usWeightClass.
        ligatures: of every icon that appears when its name is typed.
        style: of the face.
    """

    family: str
    version: str
    units: int
    ascender: int
    descender: int
    copyright: str = ""
    designer: str = ""
    licence: str = ""
    licence_url: str = ""
    embedding: str = "installable"
    created: int = FIXED_TIME
    weight: int = 400
    ligatures: tuple[Ligature, ...] = ()
    style: Style = Style()

    @property
    def linked_family(self) -> str:
        """The family under which the face is one of four styles, `name` ID 1."""
        return short_name(self.family, self.style.name if self.style.link is Link.NONE else "")

    @property
    def full_name(self) -> str:
        """The family and the style, `name` ID 4."""
        return short_name(self.family, "" if self.style.name == "Regular" else self.style.name)

    @property
    def is_bold(self) -> bool:
        """Whether the face is linked as the bold one."""
        return self.style.link is Link.BOLD

    @property
    def revision(self) -> float:
        """The version as a number for `head`."""
        match = re.match(r"(\d{1,4})(?:\.(\d{1,3}))?", self.version)
        return float(f"{match[1]}.{match[2] or 0}") if match else 1.0


def variable_family(family: str) -> str:
    """Return the name of a family's variable font: a family of its own, so that it can be installed beside the static
    faces."""
    return f"{family} Variable"


MOST_FAMILY_UNITS = 31
MOST_STYLE_UNITS = 20
MOST_NAME_UNITS = 4000  # UTF-16 code units of one text: all of them share 65,535 bytes


def name_text(text: str) -> bytes:
    """Return a text for the `name` table, in UTF-16; a longer one than the table can hold is cut and ends in "…"."""
    data = UNPRINTABLE.sub("", text).encode("utf-16-be")
    if len(data) <= 2 * MOST_NAME_UNITS:
        return data
    return data[: 2 * MOST_NAME_UNITS - 2].decode("utf-16-be", "ignore").encode("utf-16-be") + "…".encode("utf-16-be")


def short_name(family: str, style: str = "") -> str:
    """Return a family name, and a style behind it, as long as old desktop interfaces can hold: 31 UTF-16 code units. It
    is the family that gives way, so that its styles stay apart; whole words of it if that leaves more than half."""
    if len(f"{family} {style}".strip().encode("utf-16-le")) <= 2 * MOST_FAMILY_UNITS:
        return f"{family} {style}".strip()
    tail = f" {_cut(style, MOST_STYLE_UNITS)}" if style else ""
    cut = _cut(family, MOST_FAMILY_UNITS - len(tail.encode("utf-16-le")) // 2)
    whole = cut if family[len(cut) :][:1] in ("", " ") else cut.rpartition(" ")[0]
    return (whole if len(whole) > len(cut) // 2 else cut).strip() + tail


def _cut(text: str, units: int) -> str:
    """Return as much of a text as so many UTF-16 code units hold."""
    return text.encode("utf-16-le")[: 2 * units].decode("utf-16-le", "ignore")


# Latin letters that are none with an accent, so that Unicode does not take them apart
_FOLDED = str.maketrans(
    {"ß": "ss", "ẞ": "SS", "ø": "o", "Ø": "O", "ł": "l", "Ł": "L", "æ": "ae", "Æ": "AE", "œ": "oe", "Œ": "OE",
     "đ": "d", "Đ": "D", "ð": "d", "Ð": "D", "þ": "th", "Þ": "TH", "ı": "i", "ħ": "h", "Ħ": "H", "ŋ": "n", "Ŋ": "N"}
)  # fmt: skip


def folded(text: str) -> str:
    """Return a text in ASCII: letters without accents; characters without an ASCII likeness are dropped."""
    return unicodedata.normalize("NFKD", text).translate(_FOLDED).encode("ascii", "ignore").decode()


def ascii_words(text: str) -> list[str]:
    """Return the letters and digits of a text as ASCII words; other scripts as their code values."""
    words: list[str] = []
    for word in re.findall(r"\w+", unicodedata.normalize("NFC", text).replace("_", " ")):
        plain = folded(word)
        words.append(plain or "".join(f"u{ord(c):04x}" for c in word))
    return words


def style_name(name: str) -> str:
    """Return a name of the config as font menus show it: words with capitals."""
    return " ".join(word[:1].upper() + word[1:] for word in name.replace("_", "-").split("-") if word)


def file_stem(family: str) -> str:
    """Return the file name (without ending) that a family's fonts get."""
    return "-".join(ascii_words(family)).lower()


def resource_name(stem: str) -> str:
    """Return a file name that is legal as a resource of an app: small letters, digits and underscores, a letter
    first."""
    name = stem.replace("-", "_")
    return name if name[:1].isalpha() else f"font_{name}"


def postscript_name(family: str, style: str = "Regular") -> str:
    """Return name ID 6: at most 63 printable ASCII characters, no spaces or brackets."""
    second = (_joined(style) or "Face")[:30]
    return f"{_joined(family)[: 62 - len(second)]}-{second}"


def postscript_prefix(family: str) -> str:
    """Return name ID 25: letters and digits of ASCII, to which programs add the names of instances."""
    return _joined(family)[:32]


def _joined(text: str) -> str:
    return "".join(word[:1].upper() + word[1:] for word in ascii_words(text))


def glyph_names(icons: list[str]) -> list[str]:
    """Return a legal, unique `post` name (letters, digits, full stop, underscore) for each icon name."""
    taken = {".notdef", "space"}
    names: list[str] = []
    for icon in icons:
        base = re.sub(r"[^A-Za-z0-9_.]", "_", "_".join(ascii_words(icon.replace("-", " "))) or "icon")[:56]
        base = base if not base[0].isdigit() and base[0] != "." else "_" + base
        name, n = base, 2
        while name in taken:
            name, n = f"{base}.{n}", n + 1
        taken.add(name)
        names.append(name)
    return names
