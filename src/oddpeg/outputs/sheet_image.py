"""All icons of a font on one picture, drawn by FreeType from the finished file.

Values in, PNG bytes out.
"""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.iconset.model import Icon, IconSet

if TYPE_CHECKING:
    from PIL.Image import Image as Picture
    from PIL.ImageDraw import ImageDraw
    from PIL.ImageFont import FreeTypeFont

WIDTH = 1280
_MARGIN, _HEAD = 40, 104


class Tones(NamedTuple):
    """Colours: of the paper, icons, small print, rules."""

    paper: tuple[int, int, int]
    ink: tuple[int, int, int]
    soft: tuple[int, int, int]
    rule: tuple[int, int, int]


LIGHT = Tones((255, 253, 248), (23, 35, 43), (87, 99, 106), (217, 211, 197))
DARK = Tones((16, 24, 29), (238, 233, 221), (163, 173, 176), (43, 57, 64))


class Grid(NamedTuple):
    """How icons stand on the sheet. All pixels.

    Attributes:
        columns: icons in a row.
        step: width and height of a cell.
        size: of an icon.
        named: whether names stand below.
    """

    columns: int
    step: tuple[float, int]
    size: int
    named: bool


def grid_for(count: int, names: bool) -> Grid:
    """Return how so many icons stand: large ones with names while there are few, then smaller, then close together."""
    for most, columns, size in ((120, 10, 48), (600, 12, 40), (1500, 16, 32)):
        if count <= most:
            step = (WIDTH - 2 * _MARGIN) / columns
            return Grid(columns, (step, size + (52 if names else 36)), size, names)
    return Grid(32, ((WIDTH - 2 * _MARGIN) / 32, 36), 24, False)


class Heading(NamedTuple):
    """The heading above the icons.

    Attributes:
        title: in large letters.
        subtitle: to the right of it.
    """

    title: str
    subtitle: str


class _Brush(NamedTuple):
    """Draws icons.

    Attributes:
        drop: the em's share below the baseline.
    """

    pen: ImageDraw
    grid: Grid
    drop: float
    tones: Tones

    def icon(self, icon: Icon, face: FreeTypeFont, middle: float, top: float) -> None:
        """Draw an icon by a font in the middle of its cell, smaller where it is too wide for it. A damaged glyph is a
        box with a line across."""
        try:
            self._draw(icon, face, middle, top)
        except OSError:  # the font engine refuses this glyph; the others can be shown
            box = (middle - self.grid.size / 2, top, middle + self.grid.size / 2, top + self.grid.size)
            self.pen.rectangle(box, outline=self.tones.soft)
            self.pen.line(box, fill=self.tones.soft)

    def _draw(self, icon: Icon, face: FreeTypeFont, middle: float, top: float) -> None:
        size = self.grid.size
        wide, room = face.getlength(icon.character), self.grid.step[0] - 6
        if wide > room:
            size = max(1, int(size * room / wide))
            top, face, wide = top + (self.grid.size - size) / 2, face.font_variant(size=size), room
        corner = (round(middle - wide / 2), round(top + size * (1 - self.drop)))
        self.pen.text(corner, icon.character, font=face, fill=self.tones.ink, anchor="ls", embedded_color=True)

    def name(self, icon: Icon, middle: float, top: float, letters: FreeTypeFont) -> None:
        """Write an icon's name below it, or its codepoint where the letters cannot write the name."""
        label = icon.name if _drawable(icon.name, letters) else f"U+{icon.hex.upper()}"
        text = _fitting(label, letters, self.grid.step[0] - 8)
        self.pen.text((middle, top + self.grid.size + 22), text, font=letters, fill=self.tones.soft, anchor="ms")


class Rung(NamedTuple):
    """One look of every icon that has it.

    Attributes:
        face: by name.
        weight: of a variable font; None where it does not vary.
        px: font size whose drawings it shows; None for the usual ones.
    """

    face: str
    weight: int | None = None
    px: int | None = None


def ladder(icon_set: IconSet) -> list[Rung]:
    """Return every weight of a set: static faces, and the named weights of variable ones, the lightest first, then
    the sizes that faces have drawings for, the largest first."""
    rungs = [(face.weight, Rung(face.name)) for face in icon_set.faces if face.axis is None]
    rungs += [(s.weight, Rung(f.name, s.weight)) for f in icon_set.faces if f.axis for s in f.axis.stops]
    sizes = [Rung(f.name, px=px) for f in icon_set.faces if f.size for px in reversed(f.size.drawn)]
    return [rung for _, rung in sorted(rungs, key=lambda pair: pair[0])] + sizes


def contact_sheet(
    icon_set: IconSet,
    fonts: Mapping[str, bytes],
    heading: Heading,
    tones: Tones,
    names: bool,
    rungs: Sequence[Rung] = (),
) -> bytes:
    """Return a PNG of every icon, with names if there is room.

    Args:
        fonts: TrueType file of each face, by name.
        rungs: settings of the rows below each other; if empty, the default face or the nearest one that has the icon.
    """
    from PIL import Image, ImageDraw, ImageFont

    grid = grid_for(len(icon_set.icons), names)
    step = grid.size + 14
    high = grid.step[1] + step * max(0, len(rungs) - 1)
    rows = -(-len(icon_set.icons) // grid.columns)
    image = Image.new("RGB", (WIDTH, _HEAD + rows * high + _MARGIN), tones.paper)
    pen = ImageDraw.Draw(image)
    large, small = ImageFont.load_default(32), ImageFont.load_default(12)
    assert isinstance(large, ImageFont.FreeTypeFont) and isinstance(small, ImageFont.FreeTypeFont)
    pen.text((_MARGIN, 64), _fitting(heading.title, large, 800), font=large, fill=tones.ink, anchor="ls")
    pen.text((WIDTH - _MARGIN, 64), heading.subtitle, font=ImageFont.load_default(14), fill=tones.soft, anchor="rs")
    pen.line((_MARGIN, 82, WIDTH - _MARGIN, 82), fill=tones.rule)
    faces = {rung: _font(fonts[rung.face], grid.size, rung) for rung in rungs or map(Rung, fonts)}
    brush = _Brush(pen, grid, icon_set.drop, tones)
    for number, icon in enumerate(icon_set.icons):
        middle = _MARGIN + (number % grid.columns + 0.5) * grid.step[0]
        top = _HEAD + number // grid.columns * high + 8
        for place, rung in enumerate(rungs or [Rung(icon_set.shown_in.get(icon.name, next(iter(fonts))))]):
            held = not icon.faces or rung.face in icon.faces
            if not rungs or (held and (rung.px is None or rung.px in icon.sizes)):
                brush.icon(icon, faces[rung], middle, top + place * step)
        if grid.named:
            brush.name(icon, middle, top + high - grid.step[1], small)
    return _png(image, 128 if icon_set.palettes else 64)


def _font(data: bytes, size: int, rung: Rung) -> FreeTypeFont:
    from PIL import ImageFont

    if rung.px is not None:
        from oddpeg.font.read.instances import instance_at  # most sheets need none

        data = instance_at(data, {"opsz": rung.px})
    font = ImageFont.truetype(io.BytesIO(data), size, layout_engine=ImageFont.Layout.BASIC)
    if rung.weight is not None:
        font.set_variation_by_axes([rung.weight])
    return font


def _png(image: Picture, colours: int) -> bytes:
    from PIL import Image
    from PIL.PngImagePlugin import PngInfo

    out = io.BytesIO()
    facts = PngInfo()
    facts.add_text("Software", "Odd Peg")
    # a tenth of the time that the usual way takes
    few = image.quantize(colours, Image.Quantize.FASTOCTREE, dither=Image.Dither.NONE)
    few.save(out, "PNG", optimize=True, pnginfo=facts)
    return out.getvalue()


def _fitting(text: str, font: FreeTypeFont, room: float) -> str:
    """Return a text, cut short where it is too long."""
    if font.getlength(text) <= room:
        return text
    while text and font.getlength(text + "…") > room:
        text = text[:-1]
    return text + "…"


def _drawable(text: str, font: FreeTypeFont) -> bool:
    """Return whether a font has a glyph for every letter."""
    missing = bytes(font.getmask("\uffff"))
    return all(bytes(font.getmask(letter)) != missing for letter in set(text) if not letter.isascii())
