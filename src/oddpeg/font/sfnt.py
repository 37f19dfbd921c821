"""The TrueType container: tables → one file.

Source: OpenType specification, "Organization of an OpenType font".
"""

from __future__ import annotations

import struct

import numpy as np

Tables = dict[str, bytes]


def padded(data: bytes) -> bytes:
    """Return data filled up to a multiple of four bytes."""
    return data + bytes(-len(data) % 4)


def checksum(data: bytes) -> int:
    """Return the sum of big-endian 32-bit words, modulo 2³²."""
    return int(np.frombuffer(padded(data), dtype=">u4").sum(dtype=np.uint64)) & 0xFFFFFFFF


def directory(count: int) -> tuple[int, int, int]:
    """Return searchRange, entrySelector, rangeShift."""
    power = count.bit_length() - 1
    return 16 * 2**power, power, 16 * count - 16 * 2**power


def with_adjustment(tables: Tables) -> Tables:
    """Return the tables with head.checkSumAdjustment set for the file they make together."""
    blank = tables["head"][:8] + bytes(4) + tables["head"][12:]
    whole = _write({**tables, "head": blank})
    adjustment = (0xB1B0AFBA - checksum(whole)) & 0xFFFFFFFF
    return {**tables, "head": blank[:8] + struct.pack(">I", adjustment) + blank[12:]}


def _write(tables: Tables) -> bytes:
    at = 12 + 16 * len(tables)
    head = struct.pack(">I4H", 0x00010000, len(tables), *directory(len(tables)))
    body = b""
    parts = []
    for tag in sorted(tables):
        data = tables[tag]
        source = data[:8] + bytes(4) + data[12:] if tag == "head" else data
        head += struct.pack(">4s3I", tag.encode("ascii"), checksum(source), at, len(data))
        parts.append(padded(data))
        at += len(parts[-1])
    return head + body.join(parts)


def ttf(tables: Tables) -> bytes:
    """Return a TrueType file. `tables` must have gone through `with_adjustment`."""
    return _write(tables)
