"""Pairs of the kern table: pruned, and checked as strictly as browsers do.

Source: OpenType specification, kern, version 0. Browsers refuse the whole font where such a table is damaged.
"""

from __future__ import annotations

import struct
from collections.abc import Collection

import numpy as np

_MOST_PAIRS = 65_535 // 6  # of a subtable
_RESERVED = 0xF0  # bits of `coverage`


def pairs_of(kern: bytes, kept: Collection[int]) -> bytes:
    """Return a kern table with the pairs of some glyphs, b"" where none remain; other versions than 0 unchanged."""
    if len(kern) < 4 or kern[:2] != bytes(2):
        return kern
    wanted, at, subtables = np.array(sorted(kept)), 4, []
    for _ in range(int.from_bytes(kern[2:4], "big")):
        head = kern[at : at + 14]
        if len(head) < 14 or head[4] != 0:  # the high byte of `coverage` is the format
            return kern
        count = int.from_bytes(head[6:8], "big")
        raw = kern[at + 14 : at + 14 + 6 * count]
        rows = np.frombuffer(raw[: len(raw) // 6 * 6], ">u2").reshape(-1, 3)
        rows = rows[np.isin(rows[:, 0], wanted) & np.isin(rows[:, 1], wanted)]
        at += 14 + 6 * count
        if len(rows):
            power = 1 << (len(rows).bit_length() - 1)
            search = struct.pack(">4H", len(rows), 6 * power, power.bit_length() - 1, 6 * (len(rows) - power))
            subtables.append(head[:2] + struct.pack(">H", 14 + 6 * len(rows)) + head[4:6] + search + rows.tobytes())
    return kern[:2] + struct.pack(">H", len(subtables)) + b"".join(subtables) if subtables else b""


def fault_of_pairs(kern: bytes) -> str:
    """Return what is wrong with a kern table of version 0; empty where nothing is, and for other versions."""
    if kern[:2] != bytes(2):
        return ""
    at = 4
    for _ in range(int.from_bytes(kern[2:4], "big")):
        version, length, coverage = struct.unpack(">3H", kern[at : at + 6].ljust(6, b"\0"))
        if length < 6 or at + length > len(kern):
            return "a subtable is longer than it"
        if version == 0 and coverage & _RESERVED:
            return "reserved bits are set"
        if version == 0 and coverage >> 8 == 0 and not _are_sound(kern[at + 6 : at + length]):
            return "its pairs are damaged"
        at += length
    return ""


def _are_sound(data: bytes) -> bool:
    """Return whether pairs are whole, in order, and can be searched. data: of a subtable of format 0, from their number
    on."""
    count, _, selector = struct.unpack(">3H", data[:6].ljust(6, b"\0"))
    if not 0 < count <= _MOST_PAIRS or len(data) < 8 + 6 * count or selector != count.bit_length() - 1:
        return False
    rows = np.frombuffer(data, ">u2", 3 * count, 8).reshape(-1, 3).astype(np.int64)
    return bool((np.diff(rows[:, 0] << 16 | rows[:, 1]) > 0).all())
