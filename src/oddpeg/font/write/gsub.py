"""`GSUB`: typed names become icons. One `liga` lookup whose ligatures are the names, letter by letter.

Source: OpenType specification, GSUB lookup types 4 and 7. Every first letter has subtables of its own, reached
through extension lookups, whose offsets have 32 bits: thousands of names fit.
"""

from __future__ import annotations

import struct
from collections.abc import Iterable

_MOST = 60_000  # bytes of one subtable; offsets within it have 16 bits

Word = tuple[int, ...]


def gsub(ligatures: dict[Word, int]) -> bytes:
    """Return the table. ligatures: glyphs of a name, two at least → the icon's glyph."""
    subtables = [_subtable(first, part) for first, words in _by_first(ligatures).items() for part in _parts(words)]
    scripts = _scripts()
    features = struct.pack(">H4sH", 1, b"liga", 8) + struct.pack(">HHH", 0, 1, 0)
    lookups = struct.pack(">HH", 1, 4) + _lookup(subtables)
    at = 10
    head = struct.pack(">HHHHH", 1, 0, at, at + len(scripts), at + len(scripts) + len(features))
    return head + scripts + features + lookups


def _scripts() -> bytes:
    """DFLT and latn, both with the one feature for every language."""
    languages = struct.pack(">HHHHH", 4, 0, 0, 0xFFFF, 1) + struct.pack(">H", 0)
    records = struct.pack(">H4sH4sH", 2, b"DFLT", 14, b"latn", 14)
    return records + languages


def _by_first(ligatures: dict[Word, int]) -> dict[int, list[tuple[Word, int]]]:
    """Return ligatures by first glyph, the longest first: the first that fits is taken."""
    by_first: dict[int, list[tuple[Word, int]]] = {}
    for word, icon in sorted(ligatures.items(), key=lambda pair: (pair[0][0], -len(pair[0]), pair[0])):
        by_first.setdefault(word[0], []).append((word, icon))
    return by_first


def _parts(words: list[tuple[Word, int]]) -> Iterable[list[tuple[Word, int]]]:
    part: list[tuple[Word, int]] = []
    size = 0
    for word, icon in words:
        word_size = 2 + 2 + 2 + 2 * len(word)
        if size + word_size > _MOST:
            yield part
            part, size = [], 0
        part.append((word, icon))
        size += word_size
    yield part


def _subtable(first: int, words: list[tuple[Word, int]]) -> bytes:
    """Return a LigatureSubstFormat1 for one first glyph."""
    coverage = struct.pack(">HHH", 1, 1, first)
    offsets, body = [], b""
    at = 2 + 2 * len(words)
    for word, icon in words:
        offsets.append(at + len(body))
        body += struct.pack(f">HH{len(word) - 1}H", icon, len(word), *word[1:])
    ligature_set = struct.pack(f">H{len(words)}H", len(words), *offsets) + body
    return struct.pack(">HHHH", 1, 8, 1, 8 + len(coverage)) + coverage + ligature_set


def _lookup(subtables: list[bytes]) -> bytes:
    """Return an extension lookup around ligature subtables."""
    count = len(subtables)
    at = 6 + 2 * count
    head = struct.pack(f">HHH{count}H", 7, 0, count, *(at + 8 * i for i in range(count)))
    wrappers, place = b"", at + 8 * count
    for i, data in enumerate(subtables):
        wrappers += struct.pack(">HHI", 1, 4, place - (at + 8 * i))
        place += len(data)
    return head + wrappers + b"".join(subtables)
