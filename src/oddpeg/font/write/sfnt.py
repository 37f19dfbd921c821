"""The TrueType container: tables → one file.

Source: OpenType specification, "Organization of an OpenType font".
"""

from __future__ import annotations

import struct

import numpy as np

Tables = dict[str, bytes]
TRUETYPE, OPENTYPE = b"\x00\x01\x00\x00", b"OTTO"  # how fonts begin: with quadratic outlines, with cubic ones


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


def with_adjustment(tables: Tables, flavour: bytes = TRUETYPE) -> Tables:
    """Return the tables with head.checkSumAdjustment set for the file they make together."""
    blank = tables["head"][:8] + bytes(4) + tables["head"][12:]
    whole = _write({**tables, "head": blank}, flavour)
    adjustment = (0xB1B0AFBA - checksum(whole)) & 0xFFFFFFFF
    return {**tables, "head": blank[:8] + struct.pack(">I", adjustment) + blank[12:]}


def _write(tables: Tables, flavour: bytes) -> bytes:
    at = 12 + 16 * len(tables)
    head = struct.pack(">4s4H", flavour, len(tables), *directory(len(tables)))
    body = b""
    parts = []
    for tag in sorted(tables):
        data = tables[tag]
        source = data[:8] + bytes(4) + data[12:] if tag == "head" else data
        head += struct.pack(">4s3I", tag.encode("latin-1"), checksum(source), at, len(data))
        parts.append(padded(data))
        at += len(parts[-1])
    return head + body.join(parts)


def ttf(tables: Tables, flavour: bytes = TRUETYPE) -> bytes:
    """Return a bare font. `tables` must have gone through `with_adjustment`; flavour: how it begins."""
    return _write(tables, flavour)
