"""`GSUB`: typed names become icons, and drawings take each other's place along the axes of a variable font.

Ligatures are one `liga` lookup whose entries are the names, letter by letter. Substitutions along axes are lookups that
only `FeatureVariations` name, for the required feature `rvrn`; with ligatures for `rclt` too, which comes after them.
Every lookup reaches its subtables through extensions, whose offsets have 32 bits: thousands of names fit.

Source: OpenType specification, GSUB lookup types 1, 4 and 7; FeatureVariations; the features rvrn and rclt.
"""

from __future__ import annotations

import struct
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

_MOST = 60_000  # bytes of one subtable; offsets within it have 16 bits
_MOST_SINGLE = 14_000  # glyphs of one subtable of single substitutions
_SINGLE, _LIGATURES = 1, 4  # types of lookups

Word = tuple[int, ...]


class Condition(NamedTuple):
    """The part of an axis on which a substitution applies.

    Attributes:
        axis: its number in `fvar`.
        least, most: normalized coordinates in units of 1/16384, both included.
    """

    axis: int
    least: int
    most: int


class Substitution(NamedTuple):
    """Glyphs that take the place of others under all of some conditions; the first one that applies is the only one."""

    conditions: Sequence[Condition]
    glyphs: Mapping[int, int]


class _Lookup(NamedTuple):
    kind: int
    subtables: Sequence[bytes]


def gsub(ligatures: dict[Word, int], substitutions: Sequence[Substitution] = ()) -> bytes:
    """Return the table. ligatures: glyphs of a name, two at least → the icon's glyph."""
    lookups: list[_Lookup] = []
    features: dict[bytes, list[int]] = {}
    if ligatures:
        parts = [_subtable(first, part) for first, words in _by_first(ligatures).items() for part in _parts(words)]
        features[b"liga"] = [len(lookups)]
        lookups.append(_Lookup(_LIGATURES, parts))
    varying = [tag for tag in (b"rclt", b"rvrn") if substitutions and (tag == b"rvrn" or ligatures)]
    features |= {tag: [] for tag in varying}
    first = len(lookups)
    lookups += [_Lookup(_SINGLE, _singles(one.glyphs)) for one in substitutions]
    scripts, listed = _scripts(len(features)), _features(features)
    head_size = 14 if substitutions else 10
    at = [head_size, head_size + len(scripts), head_size + len(scripts) + len(listed)]
    whole = scripts + listed + _lookups(lookups)
    if not substitutions:
        return struct.pack(">5H", 1, 0, *at) + whole
    whole += bytes(-(head_size + len(whole)) % 4)
    variations = _variations([one.conditions for one in substitutions], [*features], varying, first)
    return struct.pack(">5HI", 1, 1, *at, head_size + len(whole)) + whole + variations


def _scripts(count: int) -> bytes:
    """DFLT and latn, both with all features for every language."""
    languages = struct.pack(f">5H{count}H", 4, 0, 0, 0xFFFF, count, *range(count))
    records = struct.pack(">H4sH4sH", 2, b"DFLT", 14, b"latn", 14)
    return records + languages


def _features(features: Mapping[bytes, Sequence[int]]) -> bytes:
    """Return a FeatureList. features: lookups by tag, in order of tags."""
    records, tables = b"", b""
    at = 2 + 6 * len(features)
    for tag, lookups in features.items():
        records += struct.pack(">4sH", tag, at + len(tables))
        tables += _feature(lookups)
    return struct.pack(">H", len(features)) + records + tables


def _feature(lookups: Sequence[int]) -> bytes:
    return struct.pack(f">2H{len(lookups)}H", 0, len(lookups), *lookups)


def _variations(
    conditions: Sequence[Sequence[Condition]], tags: Sequence[bytes], varying: Sequence[bytes], first: int
) -> bytes:
    """Return FeatureVariations: under each set of conditions, the varying features have one lookup more. first: the
    lookup of the first set."""
    head, body = struct.pack(">2HI", 1, 0, len(conditions)), b""
    at = len(head) + 8 * len(conditions)
    for number, some in enumerate(conditions):
        offsets = (2 + 4 * len(some) + 8 * i for i in range(len(some)))
        set_table = struct.pack(f">H{len(some)}I", len(some), *offsets)
        set_table += b"".join(struct.pack(">2H2h", 1, *condition) for condition in some)
        feature, start = _feature([first + number]), 6 + 6 * len(varying)
        records = (struct.pack(">HI", tags.index(tag), start + i * len(feature)) for i, tag in enumerate(varying))
        replaced = struct.pack(">3H", 1, 0, len(varying)) + b"".join(records) + feature * len(varying)
        head += struct.pack(">2I", at + len(body), at + len(body) + len(set_table))
        body += set_table + replaced
    return head + body


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


def _singles(glyphs: Mapping[int, int]) -> list[bytes]:
    """Return SingleSubstFormat2 tables."""
    pairs, tables = sorted(glyphs.items()), []
    for low in range(0, len(pairs), _MOST_SINGLE):
        old, new = zip(*pairs[low : low + _MOST_SINGLE], strict=True)
        count = len(old)
        head = struct.pack(f">3H{count}H", 2, 6 + 2 * count, count, *new)
        tables.append(head + struct.pack(f">2H{count}H", 1, count, *old))
    return tables


def _lookups(lookups: Sequence[_Lookup]) -> bytes:
    """Return a LookupList of extension lookups: their heads first, which offsets of 16 bits have to reach."""
    heads = [6 + 10 * len(lookup.subtables) for lookup in lookups]
    first = 2 + 2 * len(lookups)
    starts = [first + sum(heads[:number]) for number in range(len(lookups))]
    place = first + sum(heads)
    text = struct.pack(f">H{len(lookups)}H", len(lookups), *starts)
    for start, (kind, subtables) in zip(starts, lookups, strict=True):
        count = len(subtables)
        at = 6 + 2 * count
        text += struct.pack(f">3H{count}H", 7, 0, count, *(at + 8 * i for i in range(count)))
        for i, data in enumerate(subtables):
            text += struct.pack(">HHI", 1, kind, place - (start + at + 8 * i))
            place += len(data)
    return text + b"".join(data for lookup in lookups for data in lookup.subtables)
