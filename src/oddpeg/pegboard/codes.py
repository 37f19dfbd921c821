"""Codepoints: how they are spelled, which of them can carry an icon, and where new ones come from."""

from __future__ import annotations

import unicodedata
from typing import NamedTuple


class Codes(NamedTuple):
    """The codepoints that may be given out: several ranges, in the order in which they fill."""

    ranges: tuple[range, ...]

    def __len__(self) -> int:
        return sum(map(len, self.ranges))

    def at(self, index: int) -> int:
        """Return the codepoint at an index of the whole."""
        rest = index
        for part in self.ranges:
            if rest < len(part):
                return part[rest]
            rest -= len(part)
        raise IndexError(index)

    def __str__(self) -> str:
        return ", ".join(f"{spell(r[0])}-{spell(r[-1])}" for r in self.ranges)


def spell(codepoint: int) -> str:
    """Return a codepoint as the pegboard writes it."""
    return f"U+{codepoint:04X}"


def refusal(codepoint: int) -> str:
    """Return why a codepoint cannot carry an icon, or "". Source: Unicode Standard, general categories and UAX #9."""
    if codepoint > 0x10FFFF:
        return "lies beyond U+10FFFF, the last codepoint there is"
    if codepoint <= 0x20 or 0x7F <= codepoint <= 0xA0:
        return "is a control character or a space"
    if 0xD800 <= codepoint <= 0xDFFF:
        return "is half of a surrogate pair, not a character"
    if codepoint & 0xFFFE == 0xFFFE or 0xFDD0 <= codepoint <= 0xFDEF:
        return "is a noncharacter"
    character = chr(codepoint)
    category = unicodedata.category(character)
    if category == "Co":
        return ""
    if category.startswith("M"):
        return "is a combining mark: text would put it onto the character before it"
    if category.startswith("Z"):
        return "is a space: lines break there, and text tools trim it"
    if category == "Cf":
        return "is an invisible format character"
    if category == "Cn":
        return "is not assigned yet; a later Unicode may give it a meaning of its own"
    if unicodedata.bidirectional(character) in ("R", "AL", "AN"):
        return "is written from right to left and would reverse the adjacent text"
    return ""
