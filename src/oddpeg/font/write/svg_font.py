"""SVG font, a legacy format, for hosts that still ask for it. Source: SVG 1.1 §20."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.info import FontInfo, file_stem
from oddpeg.geometry.path_data import general, path_data


def svg_font(glyphs: GlyphSet, names: list[str], info: FontInfo) -> bytes:
    """Return the file. names: of all glyphs, legal ones."""
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        '<svg xmlns="http://www.w3.org/2000/svg"><!-- Written by Odd Peg --><defs>',
        f'<font id="{file_stem(info.family)}" horiz-adv-x="{info.units}">',
        (
            f'<font-face font-family="{_escaped(info.family)}" units-per-em="{info.units}" ascent="{info.ascender}"'
            f' descent="{info.descender}"/>'
        ),
    ]
    flat = glyphs.outlines()
    paths = path_data(flat.flat().segments().straightened(), flat.owner, len(glyphs), general)
    for i, (name, data) in enumerate(zip(names, paths, strict=True)):
        shape = f' d="{data}"' if data else ""
        if i == 0:
            out.append(f'<missing-glyph horiz-adv-x="{glyphs.advance[i]}"{shape}/>')
            out += _typed(glyphs, paths, info)  # before their letters: the first that fits is taken
        elif glyphs.codepoint[i] >= 0:
            out.append(
                f'<glyph glyph-name="{name}" unicode="&#x{glyphs.codepoint[i]:x};"'
                f' horiz-adv-x="{glyphs.advance[i]}"{shape}/>'
            )
    codes = ((code, glyph) for code, glyph in glyphs.also.items() if not glyphs.points[glyph])
    out += [
        f'<glyph glyph-name="uni{code:04X}" unicode="&#x{code:x};" horiz-adv-x="{glyphs.advance[glyph]}"/>'
        for code, glyph in codes
    ]
    return ("\n".join([*out, "</font></defs></svg>"]) + "\n").encode()


def _typed(glyphs: GlyphSet, paths: Sequence[str], info: FontInfo) -> list[str]:
    """Return a glyph for every name that can be typed, the longest first."""
    number = {code: i for i, code in enumerate(glyphs.codepoint.tolist())}
    names = sorted(info.ligatures, key=lambda pair: (-len(pair.name), pair.name))
    return [
        f'<glyph unicode="{_escaped(name)}" horiz-adv-x="{glyphs.advance[number[code]]}" d="{paths[number[code]]}"/>'
        for name, code in names
    ]


def _escaped(text: str) -> str:
    return "".join(c if c.isascii() and c not in "<>&\"'" else f"&#x{ord(c):x};" for c in text)
