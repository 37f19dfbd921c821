"""Engines that share no code with Odd Peg, on every font that a test builds: the sanitizer of browsers, HarfBuzz, and
FreeType."""

from __future__ import annotations

import hashlib
import io
import os
import tempfile
from collections.abc import Mapping
from pathlib import Path

import ots
import uharfbuzz
from fontTools.ttLib import TTFont
from PIL import ImageFont

_SEEN: set[bytes] = set()
_ENDINGS = (".ttf", ".woff", ".woff2")  # what builds write
_MOST = 100  # icons of a font that are drawn
_PX = 64
_PIXELS = 1.5  # by which boxes may differ: FreeType's are whole pixels


def fonts_below(root: Path) -> dict[Path, int]:
    """Return the fonts in a folder, with the time of their last change."""
    found = (path for path in root.rglob("*") if path.suffix in _ENDINGS and path.is_file() and not path.is_symlink())
    return {path: path.stat().st_mtime_ns for path in found}


def require_accepted(root: Path, others: Mapping[Path, int] | None = None) -> None:
    """Fail where an engine refuses a font below a folder, or both do not agree on a glyph of it; each font is looked at
    once. others: fonts that were there before, as `fonts_below` has them."""
    for path, _ in fonts_below(root).items() - (others or {}).items():
        data = path.read_bytes()
        digest = hashlib.sha256(data).digest()
        if digest not in _SEEN:
            _SEEN.add(digest)
            _require_font(path)


def _require_font(path: Path) -> None:
    with tempfile.TemporaryDirectory() as folder:
        sound = os.path.join(folder, "sound.ttf")
        done = ots.sanitize(str(path), sound, capture_output=True)
        assert done.returncode == 0 and not done.stderr, f"{path}: {done.stderr!r}"
        with TTFont(sound) as font:
            plain = {"COLR", "CPAL"} & set(font.keys())
            for tag in plain:  # extents would be those of the layers
                del font[tag]
            if plain:
                font.save(sound)
        data = Path(sound).read_bytes()
    face = uharfbuzz.Face(data)
    shaper = uharfbuzz.Font(face)
    painter = ImageFont.truetype(io.BytesIO(data), _PX, layout_engine=ImageFont.Layout.BASIC)
    scale = _PX / face.upem
    for code in sorted(face.unicodes)[:_MOST]:
        glyph = shaper.get_nominal_glyph(code)
        box = shaper.get_glyph_extents(glyph)
        wanted = (box.x_bearing, -box.y_bearing, box.x_bearing + box.width, -box.y_bearing - box.height)
        if not (box.width and box.height):
            continue
        mask, (x, y) = painter.getmask2(chr(code), mode="L", anchor="ls")
        left, top, right, bottom = mask.getbbox() or (0, 0, 0, 0)
        drawn = (left + x, top + y, right + x, bottom + y)
        off = max(abs(a * scale - b) for a, b in zip(wanted, drawn, strict=True))
        assert off <= _PIXELS, f"{path}: U+{code:04X} is {wanted} for HarfBuzz, {drawn} for FreeType"
