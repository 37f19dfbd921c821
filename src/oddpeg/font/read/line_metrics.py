"""The height of lines and of small letters, as browsers take it from a font.

Source: OpenType, hhea and OS/2; CSS Fonts 5 §4 (`size-adjust` and the metric overrides).
"""

from __future__ import annotations

import struct
from typing import NamedTuple

from oddpeg.font.read.containers import FontTables
from oddpeg.font.read.glyphs import glyph_edges, opened

_TYPO = 0x80  # OS/2 fsSelection: lines are as high as the typographic metrics say


class LineMetrics(NamedTuple):
    """Shares of the em.

    Attributes:
        ascent, descent: above and below the baseline.
        gap: between lines.
        small: the height of small letters, as the font says, else of its x; 0 where it has none.
    """

    ascent: float
    descent: float
    gap: float
    small: float

    @staticmethod
    def of(font: FontTables) -> LineMetrics:
        """Return those of a font; raise struct.error or KeyError where it is damaged."""
        units = max(1, struct.unpack(">H", font.tables["head"][18:20])[0])
        os2 = font.tables.get("OS/2", b"")
        lines = struct.unpack(">3h", font.tables["hhea"][4:10])
        if len(os2) >= 74 and struct.unpack(">H", os2[62:64])[0] & _TYPO:
            lines = struct.unpack(">3h", os2[68:74])
        small = struct.unpack(">h", os2[86:88])[0] / units if len(os2) >= 88 else 0.0
        return LineMetrics(
            lines[0] / units, -lines[1] / units, lines[2] / units, small if small > 0 else _letter_height(font)
        )

    def descriptors(self, like: LineMetrics) -> dict[str, str]:
        """Return the descriptors of a rule that make lines as high as another font's, and small letters too."""
        size = like.small / self.small if self.small and like.small else 1.0
        # the overrides grow with size-adjust
        heights = {"ascent": like.ascent, "descent": like.descent, "line-gap": like.gap}
        descriptors = {"size-adjust": f"{size:.2%}"} if size != 1 else {}
        return descriptors | {f"{name}-override": f"{height / size:.2%}" for name, height in heights.items()}


def _letter_height(font: FontTables) -> float:
    """Return the height of the letter x in ems, 0 where there is none."""
    with opened(font.sfnt, lazy=False) as read:
        name = (read.getBestCmap() or {}).get(ord("x"))
        start = glyph_edges(read, name)[0] if name else ()
    return float(max((z.imag for z in start), default=0.0))
