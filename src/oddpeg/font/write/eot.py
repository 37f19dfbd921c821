"""EOT, a legacy wrapper around a TrueType file, for hosts that still ask for it. Uncompressed.

Source: Embedded OpenType (EOT) File Format, W3C member submission, version 0x00020001.
"""

from __future__ import annotations

import struct

from oddpeg.font.write.info import EMBEDDING, FontInfo
from oddpeg.font.write.sfnt import Tables

_VERSION, _MAGIC, _DEFAULT_CHARSET = 0x00020001, 0x504C, 1


def eot(font: bytes, tables: Tables, info: FontInfo) -> bytes:
    """Return the file around `font`, a TrueType file of these tables."""
    os2, adjustment = tables["OS/2"], struct.unpack(">I", tables["head"][8:12])[0]
    ranges = struct.unpack(">4I", os2[42:58])
    code_pages = struct.unpack(">2I", os2[78:86])
    weight = struct.unpack(">H", os2[4:6])[0]
    head = struct.pack("<3I10s2BI2H4I2II16x", len(font), _VERSION, 0, os2[32:42], _DEFAULT_CHARSET, 0, weight,
                       EMBEDDING[info.embedding], _MAGIC, *ranges, *code_pages, adjustment)  # fmt: skip
    names = b"".join(_text(text) for text in (info.family, "Regular", f"Version {info.revision:.3f}", info.family))
    rest = names + struct.pack("<2H", 0, 0)
    return struct.pack("<I", 4 + len(head) + len(rest) + len(font)) + head + rest + font


def _text(text: str) -> bytes:
    data = text.encode("utf-16-le")
    return struct.pack("<2H", 0, len(data)) + data
