"""Codepoints in code, in every way that languages spell them."""

from __future__ import annotations

import re
from collections.abc import Mapping

from oddpeg.outputs.references import Found, Reference

_CODES = re.compile(
    r"\\u\{([0-9A-Fa-f]{4,6})\}|\\u([dD][89abAB][0-9A-Fa-f]{2})\\u([dD][c-fC-F][0-9A-Fa-f]{2})|\\u([0-9A-Fa-f]{4})(?![0-9A-Fa-f])"
    r"|\\U000?([0-9A-Fa-f]{5,6})(?![0-9A-Fa-f])|\\([0-9A-Fa-f]{4,6})(?![0-9A-Fa-f])|&#x([0-9A-Fa-f]{4,6});?|&#([0-9]{5,7});?"
    r"|(?:\b0x|\bU\+)([0-9A-Fa-f]{4,6})(?![0-9A-Fa-f])|([\ue000-\uf8ff\U000f0000-\U0010fffd])"
)
_BEGINNING = re.compile("[\\\\&0U\ue000-\uf8ff\U000f0000-\U0010fffd]")  # found faster than the expression above
_CODE_MARKS = ("\\", "&#", "0x", "0X", "U+")
_RANGE = re.compile(r"-[ \t]?$")
_COMPARED = re.compile(r"[<>]=?[ \t]{0,2}$")
_LAST_PRIVATE = re.compile(r"(?i)f8ff|ffffd")  # the line is about the whole Private Use Area


def may_hold_codepoints(text: str) -> bool:
    """Return False where a text plainly spells none outside of ASCII."""
    return not text.isascii() or any(mark in text for mark in _CODE_MARKS)


def find_codepoints(text: str, icons: Mapping[int, str], ours: bool) -> list[Reference]:
    """Return the places that name icons by codepoint.

    icons: by codepoint; ours: the text also names the font or an icon. Without that, and with other private codepoints
    near, the codepoints belong to another font."""
    references: list[Reference] = []
    if not icons:
        return references
    matches = (_CODES.match(text, beginning.start()) for beginning in _BEGINNING.finditer(text))
    for match in filter(None, matches):
        code, at = _code(match), match.start()
        before, after = text[max(at - 4, 0) : at], text[match.end() : match.end() + 3]
        if _RANGE.search(before) or after.strip().startswith("-") or (match[9] and _COMPARED.search(before)):
            continue  # the end of a range, or what a range is compared with
        name = icons.get(code)
        if name is None and not ours and _is_private(code):
            return []
        if name is None or (match[10] is None and code < 0x80 and not match[7] and not match[8]):
            continue
        line = text[text.rfind("\n", 0, at) + 1 : match.end() + 200].partition("\n")[0]
        if not _LAST_PRIVATE.search(line[:1000]):
            references.append(Reference(Found.USED, name, match[0], at, part=(at, match.end() - at), sure=ours))
    return references


def _is_private(code: int) -> bool:
    return 0xE000 <= code <= 0xF8FF or code >= 0xF0000


def _code(match: re.Match[str]) -> int:
    braces, high, low, four, long, css, hexadecimal, decimal, plain, character = match.groups()
    if character:
        return ord(character)
    if high:
        return 0x10000 + ((int(high, 16) - 0xD800) << 10) + int(low, 16) - 0xDC00
    if decimal:
        return int(decimal)
    return int(braces or four or long or css or hexadecimal or plain, 16)
