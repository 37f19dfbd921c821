"""Unpacking with a limit that holds before memory is spent. Source: RFC 1950 (zlib), RFC 7932 (Brotli)."""

from __future__ import annotations

import zlib


def inflate(data: bytes, limit: int) -> bytes:
    """Return what zlib packed; raise ValueError where it is damaged or longer than `limit` bytes."""
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
    """Return what Brotli packed; raise ValueError where it is damaged or longer than `limit` bytes."""
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
