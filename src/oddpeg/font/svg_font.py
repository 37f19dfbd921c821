"""SVG font, a legacy format, for hosts that still ask for it. Source: SVG 1.1 §20. Knows: glyphs, path data with y
up."""

from __future__ import annotations

import numpy as np

from oddpeg.font.glyphset import GlyphSet
from oddpeg.font.info import FontFacts, file_stem
from oddpeg.outline.rounding import segments


def svg_font(glyphs: GlyphSet, names: list[str], facts: FontFacts) -> bytes:
    """Return the file. names: of all glyphs, legal ones."""
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        '<svg xmlns="http://www.w3.org/2000/svg"><defs>',
        f'<font id="{file_stem(facts.family)}" horiz-adv-x="{facts.units}">',
        (
            f'<font-face font-family="{_escaped(facts.family)}" units-per-em="{facts.units}" ascent="{facts.ascender}"'
            f' descent="{facts.descender}"/>'
        ),
    ]
    for i, name in enumerate(names):
        data = _path(glyphs, i)
        shape = f' d="{data}"' if data else ""
        if i == 0:
            out.append(f'<missing-glyph horiz-adv-x="{glyphs.advance[i]}"{shape}/>')
        elif glyphs.codepoint[i] >= 0:
            out.append(
                f'<glyph glyph-name="{name}" unicode="&#x{glyphs.codepoint[i]:x};"'
                f' horiz-adv-x="{glyphs.advance[i]}"{shape}/>'
            )
    return ("\n".join([*out, "</font></defs></svg>"]) + "\n").encode()


def _escaped(text: str) -> str:
    return "".join(c if c.isascii() and c not in "<>&\"'" else f"&#x{ord(c):x};" for c in text)


def _path(glyphs: GlyphSet, number: int) -> str:
    first, count = int(glyphs.first_point[number]), int(glyphs.points[number])
    if not count:
        return ""
    low = int(glyphs.first_contour[number])
    ends = glyphs.ends[low : low + int(glyphs.contours[number])]
    contour = np.repeat(np.arange(len(ends)), np.diff(np.append(-1, ends)))
    z = glyphs.x[first : first + count] + 1j * glyphs.y[first : first + count]
    start, control, stop, owner = segments(z, glyphs.on[first : first + count], contour)
    parts: list[str] = []
    last = -1
    for a, c, b, n in zip(start.tolist(), control.tolist(), stop.tolist(), owner.tolist(), strict=True):
        if n != last:
            parts.append(("z" if last >= 0 else "") + f"M{a.real:g} {a.imag:g}")
            last = n
        parts.append(f"L{b.real:g} {b.imag:g}" if c == (a + b) / 2 else f"Q{c.real:g} {c.imag:g} {b.real:g} {b.imag:g}")
    return "".join(parts) + "z"
