"""WOFF 1.0: each table deflated.

Source: W3C WOFF File Format 1.0.
"""

from __future__ import annotations

import struct
import zlib

from oddpeg.font.write.sfnt import TRUETYPE, Tables, checksum, padded


def woff(tables: Tables, effort: int = 9, flavour: bytes = TRUETYPE) -> bytes:
    """Return a WOFF file. effort: zlib level 1 to 9; flavour: how a bare font of these tables begins."""
    at = 44 + 20 * len(tables)
    entries, parts, size = b"", [], 12 + 16 * len(tables)
    for tag in sorted(tables):
        data = tables[tag]
        packed = zlib.compress(data, effort)
        stored = packed if len(packed) < len(data) else data
        source = data[:8] + bytes(4) + data[12:] if tag == "head" else data
        entries += struct.pack(">4s4I", tag.encode("latin-1"), at, len(stored), len(data), checksum(source))
        parts.append(padded(stored))
        at += len(parts[-1])
        size += len(padded(data))
    head = struct.pack(">4s4sIHHIHHIIIII", b"wOFF", flavour, at, len(tables), 0, size, 1, 0, 0, 0, 0, 0, 0)
    return head + entries + b"".join(parts)
