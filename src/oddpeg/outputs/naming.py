"""Icon names → identifiers: legal, idiomatic, unique, and the same from build to build.

A name's identifier depends on the name alone, except where two names would get the same one: then the name that is
plain ASCII keeps it and the other adds its codepoint.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from functools import lru_cache
from typing import NamedTuple

from oddpeg.font.write.info import ascii_words, folded
from oddpeg.iconset.model import Icon, IconSet

# classes and types that files see without importing them, in any of the languages written here
_TAKEN_NAMES = """Action Any AnyObject Array ArrayList Attribute Base64 Bool Boolean Buffer Bundle Button Byte Char
Character Class Collection Color Comparable Console Convert Data Date DateTime Decimal Deprecated Dictionary Double
Duration Element Encodable Encoding Enum Environment Equatable Error Event Exception File Float Font Func Function
Future Guid Hashable Icon Icons Identifiable Image Index Int Integer Iterable Iterator Label List Long Map Math Module
Never Nothing Null Number Object Optional Override Package Pair Path Point Process Promise Protocol Proxy Random Range
Record Rect Regex Result Runnable Runtime Self Sendable Sequence Set Short Size Stream String StringBuilder Symbol
System Task Text Thread Throwable Throws Timer Type UInt Unit Uri Url URL Version View Void Widget Window"""
_TAKEN = frozenset(_TAKEN_NAMES.split())
_DIGITS = re.compile(r"^\d")
Form = Callable[[list[str]], str]


class Constant(NamedTuple):
    """One constant.

    Attributes:
        identifier: its identifier.
        name: name or alias of the icon.
        icon: the icon.
        now: identifier of the icon's current name.
        absent: faces that lack the icon.
    """

    identifier: str
    name: str
    icon: Icon
    now: str
    absent: tuple[str, ...] = ()

    @property
    def older(self) -> bool:
        """Whether the icon had this name before it was renamed."""
        return self.name in self.icon.older

    @property
    def comment_text(self) -> str:
        """A description of the icon, on one line."""
        title = " ".join(self.icon.title.split())
        if self.name != self.icon.name:
            return f"{'Older' if self.older else 'Other'} name of {self.icon.name}"
        absent = f" (not in the face {' or '.join(self.absent)})" if self.absent else ""
        return (title if title and title.lower() != self.name else self.name) + absent


def words(name: str) -> list[str]:
    """Return a name's words in ASCII letters and digits; letters without any likeness as their code values."""
    parts = []
    for word in name.split("-"):
        plain = "".join(c for c in folded(word) if c.isalnum())
        parts.append(plain.lower() or "".join(f"u{ord(c):04x}" for c in word))
    return [w for w in parts if w] or ["icon"]


def family_words(family: str) -> list[str]:
    """Return a family's name in words that identifiers can be made of, none of them beginning with a digit."""
    return list(_family_words(family))


@lru_cache(maxsize=16)
def _family_words(family: str) -> tuple[str, ...]:
    family_words = ascii_words(family)
    family_words = [("N" + family_words[0] if _DIGITS.match(family_words[0]) else family_words[0]), *family_words[1:]]
    return (*family_words, "Icons") if pascal(family_words) in _TAKEN else tuple(family_words)


def _joined(parts: list[str]) -> str:
    """Join words that show where they begin by a capital; before a digit, which has none, stands an underscore."""
    return "".join(("_" + p if i and p[0].isdigit() else p) for i, p in enumerate(parts))


def pascal(parts: list[str]) -> str:
    """TideLow"""
    return _joined([p[:1].upper() + p[1:] for p in parts])


def camel(parts: list[str]) -> str:
    """tideLow"""
    return _joined([p if i == 0 else p[:1].upper() + p[1:] for i, p in enumerate(parts)])


def upper(parts: list[str]) -> str:
    """TIDE_LOW"""
    return "_".join(parts).upper()


def lower(parts: list[str]) -> str:
    """tide_low"""
    return "_".join(parts).lower()


def semantic_version(version: str) -> str:
    """Return a font's version in three numbers, as packages have it. Source: Semantic Versioning."""
    numbers = [str(int(part)) for part in re.findall(r"\d+", version)[:3]]
    return ".".join([*numbers, "0", "0", "0"][:3])


_kept: dict[str, tuple[IconSet, dict[str, str]]] = {}


def identifiers(key: str, icon_set: IconSet, make: Callable[[IconSet], list[Constant]]) -> dict[str, str]:
    """Return the identifier of every name; made once for a icon_set, since lines for thousands of icons ask for it."""
    if key not in _kept or _kept[key][0] is not icon_set:
        _kept[key] = (icon_set, {e.name: e.identifier for e in make(icon_set)})
    return _kept[key][1]


def entries(
    icon_set: IconSet, form: Form, reserved: Collection[str] = (), digit: str = "_", guard: str = "{}_"
) -> list[Constant]:
    """Return a constant for every name of every icon, in the icons' order.

    Args:
        reserved: keywords.
        guard: format of identifiers that would be keywords.
        digit: prefix of identifiers that would start with a digit.
    """
    named = [(name, icon) for icon in icon_set.icons for name in (icon.name, *icon.aliases)]
    taken: dict[str, str] = {}
    for name, icon in sorted(named, key=lambda pair: (not pair[0].isascii(), pair[1].codepoint, pair[0])):
        identifier = form(words(name))
        identifier = digit + identifier if identifier[0].isdigit() else identifier
        identifier = guard.format(identifier) if identifier in reserved else identifier
        while identifier in taken:
            identifier = f"{identifier}_{icon.hex}"
        taken[identifier] = name
    by_name = {name: identifier for identifier, name in taken.items()}
    faces = [face.name for face in icon_set.faces]
    absent = {icon.name: tuple(f for f in faces if icon.faces and f not in icon.faces) for icon in icon_set.icons}
    return [Constant(by_name[name], name, icon, by_name[icon.name], absent[icon.name]) for name, icon in named]
