"""Pixels: drawings by resvg, glyphs by FreeType, and how far they differ. Shares no code with the product."""

from __future__ import annotations

import io
from pathlib import Path

import freetype
import numpy as np
import resvg_py
from numpy.typing import NDArray
from PIL import Image

Mask = NDArray[np.float64]


def drawing_mask(svg: str, width: int, height: int) -> Mask:
    """Coverage of a drawing, 0 to 1, (height, width); white counts as nothing."""
    png = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=width, height=height))
    rgba = np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"), dtype=float) / 255
    mask: Mask = rgba[..., 3] * (1 - rgba[..., :3].min(axis=2))
    return mask


def glyph_mask(font: Path, codepoint: int, width: int, height: int) -> Mask:
    """Coverage of a glyph, unhinted, its em box filling (height, width); the font must have it."""
    face = freetype.Face(str(font))
    face.set_pixel_sizes(0, height)
    assert face.get_char_index(codepoint), f"U+{codepoint:04X} is not in the font"
    face.load_char(chr(codepoint), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_NO_HINTING)
    bitmap, mask = face.glyph.bitmap, np.zeros((height, width))
    if not bitmap.width:
        return mask
    ink = np.array(bitmap.buffer, dtype=float).reshape(bitmap.rows, bitmap.pitch)[:, : bitmap.width] / 255
    top = round(face.ascender * height / face.units_per_EM) - face.glyph.bitmap_top
    left = face.glyph.bitmap_left
    assert top >= 0 and left >= 0 and top + bitmap.rows <= height and left + bitmap.width <= width, (
        "ink outside the frame"
    )
    mask[top : top + bitmap.rows, left : left + bitmap.width] = ink
    return mask


def wrong_share(wanted: Mask, got: Mask) -> float:
    """Pixels that differ by more than half, as a share of the ink."""
    ink = max(1, int((np.maximum(wanted, got) > 0.5).sum()))
    return float((np.abs(wanted - got) > 0.5).sum() / ink)
