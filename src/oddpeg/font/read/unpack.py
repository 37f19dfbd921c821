"""Unpacking with a limit that holds before memory is spent.

Source: RFC 1950 (zlib), RFC 7932 (Brotli), WOFF 1.0 §3 to §5, WOFF 2.0 §4 and §5.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator
from typing import NamedTuple

LARGEST_FONT = 64_000_000  # bytes, unpacked


def inflate(data: bytes, limit: int) -> bytes:
    """Return zlib data unpacked; raise ValueError where it is damaged or longer than `limit` bytes."""
    unpacker = zlib.decompressobj()
    try:
        out = unpacker.decompress(data, limit + 1)
    except zlib.error as problem:
        raise ValueError(str(problem)) from None
    if len(out) > limit:
        raise ValueError(f"unpacks to more than {limit:,} bytes")
    if not unpacker.eof:
        raise ValueError("ends too early")
    return out


def unbrotli(data: bytes, limit: int) -> bytes:
    """Return Brotli data unpacked; raise ValueError where it is damaged or longer than `limit` bytes."""
    import brotli

    unpacker, parts, size, rest = brotli.Decompressor(), [], 0, data
    try:
        while True:
            part = unpacker.process(rest, output_buffer_limit=1 << 20)
            rest = b""
            parts.append(part)
            size += len(part)
            if size > limit:
                raise ValueError(f"unpacks to more than {limit:,} bytes")
            if unpacker.is_finished():
                return b"".join(parts)
            if not part and unpacker.can_accept_more_data():
                raise ValueError("ends too early")
    except brotli.error as problem:
        raise ValueError(str(problem)) from None


class PackedTable(NamedTuple):
    """A table out of a font file."""

    tag: bytes
    data: bytes


def woff_tables(data: bytes) -> Iterator[PackedTable]:
    """Yield the tables of a WOFF file; raise ValueError where it is damaged, or unpacks to more than `LARGEST_FONT`
    bytes."""
    left = LARGEST_FONT
    for at in range(44, 44 + 20 * _word(data, 12), 20):
        if len(data) < at + 16:
            raise ValueError("ends too early")
        tag, offset, packed, size = struct.unpack(">4s3I", data[at : at + 16])
        part = data[offset : offset + packed]
        table = inflate(part, min(size, left)) if packed < size else part
        left -= len(table)
        yield PackedTable(tag, table)


def woff2_tables(data: bytes) -> bytes:
    """Return the tables of a WOFF2 file in their order; raise ValueError where it is damaged, or unpacks to more than
    `LARGEST_FONT` bytes."""
    size = _word(data, 20) << 16 | _word(data, 22)
    at = 48
    for _ in range(_word(data, 12)):
        if at >= len(data):
            raise ValueError("ends too early")
        tag, version = data[at] & 0x3F, data[at] >> 6
        at += 5 if tag == 0x3F else 1
        # glyf (10) and loca (11) are transformed unless their version is 3, others where it is not 0
        for _ in range(2 if (version != 3 if tag in (10, 11) else version != 0) else 1):
            at = _behind_number(data, at)
    return unbrotli(data[at : at + size], LARGEST_FONT)


def _word(data: bytes, at: int) -> int:
    if len(data) < at + 2:
        raise ValueError("ends too early")
    return int.from_bytes(data[at : at + 2], "big")


def _behind_number(data: bytes, at: int) -> int:
    """Return where a number of variable length ends: its last byte has no high bit."""
    while at < len(data) and data[at] & 0x80:
        at += 1
    return at + 1
