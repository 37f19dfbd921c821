"""SVG font, a legacy format, for hosts that still ask for it. Source: SVG 1.1 §20."""

from __future__ import annotations

from oddpeg.font.glyphset import GlyphSet
from oddpeg.font.info import FontInfo, file_stem
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
        elif glyphs.codepoint[i] >= 0:
            out.append(
                f'<glyph glyph-name="{name}" unicode="&#x{glyphs.codepoint[i]:x};"'
                f' horiz-adv-x="{glyphs.advance[i]}"{shape}/>'
            )
    return ("\n".join([*out, "</font></defs></svg>"]) + "\n").encode()


def _escaped(text: str) -> str:
    return "".join(c if c.isascii() and c not in "<>&\"'" else f"&#x{ord(c):x};" for c in text)
