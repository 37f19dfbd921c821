"""Another family name for a font that exists. Source: OpenType specification, name."""

from __future__ import annotations

import struct

from oddpeg.font.write.info import file_stem, postscript_name, short_name

_WINDOWS, _UNICODE = 3, 0
_FAMILIES = (1, 16, 21)
_WITHIN = (3, 4, 18)  # texts in which the family's name stands among others
_POSTSCRIPT = (6, 25)


def with_family(name: bytes, old: str, new: str) -> bytes:
    """Return a name table in which the family is called otherwise; records of other platforms than Unicode's go, since
    programs of today read none of them. Raise ValueError where it is damaged."""
    if len(name) < 6:
        raise ValueError("it is no sound font (its names are missing)")
    _, count, storage = struct.unpack(">3H", name[:6])
    if 6 + 12 * count > len(name):
        raise ValueError("it is no sound font (its names end too early)")
    texts: dict[tuple[int, int, int, int], str] = {}
    for at in range(6, 6 + 12 * count, 12):
        platform, encoding, language, number, length, offset = struct.unpack(">6H", name[at : at + 12])
        data = name[storage + offset : storage + offset + length]
        if platform in (_WINDOWS, _UNICODE) and language < 0x8000:
            text = data.decode("utf-16-be", "replace")
            texts[(platform, encoding, language, number)] = _renamed(number, text, old, new)
    body, entries = b"", b""
    for key, text in sorted(texts.items()):
        data = text.encode("utf-16-be", "replace")
        entries += struct.pack(">6H", *key, len(data), len(body))
        body += data
    return struct.pack(">3H", 0, len(texts), 6 + len(entries)) + entries + body


def _renamed(number: int, text: str, old: str, new: str) -> str:
    if number in _FAMILIES:
        renamed = text.replace(old, new) if old in text else new
        return short_name(renamed) if number == 1 else renamed
    if number in _WITHIN:
        return text.replace(old, new).replace(old.replace(" ", ""), file_stem(new))
    if number in _POSTSCRIPT:
        whole = postscript_name(new, text.partition("-")[2] or "Regular")
        # the other is a prefix, behind which instances of a variable font put their style
        return whole if number == 6 else whole.partition("-")[0]
    return text
