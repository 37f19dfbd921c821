"""All icons with the number of their uses, unused ones faded: a page or a picture."""

from __future__ import annotations

import io
from typing import NamedTuple
from urllib.parse import quote

import numpy as np

from oddpeg.diagnostics import DrawingError, counted
from oddpeg.outputs.render import render
from oddpeg.outputs.sheet_image import LIGHT, WIDTH
from oddpeg.project.snapshot import Snapshot
from oddpeg.raster.coverage import drawing_coverage
from oddpeg.sources.drawings import read_sources
from oddpeg.svg.clean import clean_copy
from oddpeg.svg.model import Drawing
from oddpeg.svg.reader import read_drawing
from oddpeg.usage.report import UsageReport

_SIZE, _STEP, _TOP, _MARGIN, _COLUMNS = 48, (120, 96), 104, 40, 10  # pixels
_FADED = 0.22


class UsageTile(NamedTuple):
    """One icon on the sheet.

    Attributes:
        name: of the icon.
        times: how often code uses it.
        why: the text for an unused icon.
        data: its drawing's bytes.
        drawing: the same, read.
    """

    name: str
    times: int
    why: str
    data: bytes
    drawing: Drawing

    @property
    def said(self) -> str:
        """How often code uses it, in words."""
        return f"{self.times} use{'s' if self.times > 1 else ''}" if self.times else self.why

    @property
    def picture(self) -> str:
        """The drawing as a data URI."""
        return "data:image/svg+xml," + quote(clean_copy(self.data).svg, safe="='/:;,()")


def _tiles(snapshot: Snapshot, report: UsageReport) -> list[UsageTile]:
    order = [*report.used, *report.kept, *report.unused]
    drawings = {source.name: data for source, data in read_sources(snapshot.sources.found).drawings}
    tiles = []
    for name in order:
        try:
            drawing = read_drawing(drawings.get(name, b""))
        except DrawingError:
            continue  # what a check says of it stands there
        why = "kept" if name in report.kept else "unused"
        tiles.append(UsageTile(name, len(report.used.get(name, ())), why, drawings[name], drawing))
    return tiles


def _title(snapshot: Snapshot) -> str:
    return f"{snapshot.project.naming.family}: icons that code uses"


def _subtitle(report: UsageReport) -> str:
    total = len(report.used) + len(report.kept) + len(report.unused)
    where = counted(report.files, "file")
    return f"{len(report.used)} of {counted(total, 'icon')} in {where}; {counted(len(report.unknown), 'unknown name')}"


def usage_page(snapshot: Snapshot, report: UsageReport) -> bytes:
    """Return an HTML page without external resources."""
    tiles = _tiles(snapshot, report)
    page = render("usage-sheet.html.jinja", title=_title(snapshot), subtitle=_subtitle(report), tiles=tiles)
    return page.encode()


def usage_picture(snapshot: Snapshot, report: UsageReport) -> bytes:
    """Return a PNG."""
    from PIL import Image, ImageDraw, ImageFont

    tiles = _tiles(snapshot, report)
    rows = -(-len(tiles) // _COLUMNS)
    image = Image.new("RGB", (WIDTH, _TOP + rows * _STEP[1] + 24), LIGHT.paper)
    pen = ImageDraw.Draw(image)
    pen.text((_MARGIN, 28), _title(snapshot), fill=LIGHT.ink, font=ImageFont.load_default(26))
    pen.text((_MARGIN, 66), _subtitle(report), fill=LIGHT.soft, font=ImageFont.load_default(14))
    small = ImageFont.load_default(12)
    for number, tile in enumerate(tiles):
        left, top = _MARGIN + number % _COLUMNS * _STEP[0], _TOP + number // _COLUMNS * _STEP[1]
        drawing = tile.drawing
        wide = min(max(1, round(_SIZE * drawing.box.width / drawing.box.height)), _STEP[0] - 8)
        ink = drawing_coverage(drawing, _SIZE, wide) * (1 if tile.times else _FADED)
        mask = Image.fromarray((ink * 255).astype(np.uint8))
        image.paste(Image.new("RGB", mask.size, LIGHT.ink), (left, top), mask)
        name = tile.name if len(tile.name) < 17 else tile.name[:15] + "…"
        pen.text((left, top + _SIZE + 6), name, fill=LIGHT.ink if tile.times else LIGHT.soft, font=small)
        pen.text((left, top + _SIZE + 21), tile.said, fill=LIGHT.soft, font=small)
    out = io.BytesIO()
    image.save(out, "PNG", optimize=True)
    return out.getvalue()
