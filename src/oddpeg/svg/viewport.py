"""Frames: the viewBox of a drawing, and how a nested frame maps into its parent.

Covers viewBox, width/height, preserveAspectRatio (SVG 2 §8.2 to 8.7).
"""

from __future__ import annotations

import math
import re
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.geometry.path_data import decimal
from oddpeg.svg.document import line_of
from oddpeg.svg.units import length, numbers

if TYPE_CHECKING:
    from lxml import etree

EM_BOX = "data-oddpeg-em"  # attribute
_ASPECT = re.compile(r"\s*(none|x(Min|Mid|Max)Y(Min|Mid|Max))(\s+(meet|slice))?\s*")


def view_box(element: etree._Element) -> Box | None:
    """Return a valid viewBox (x, y, width, height), or None."""
    values = numbers(element.get("viewBox") or "")
    if len(values) != 4 or not all(map(math.isfinite, values)):
        return None
    return Box(*values)


def em_box(root: etree._Element) -> Box | None:
    """Return the box that a glyph's drawing places on the em, since ink reaches beyond it; None for other drawings."""
    values = numbers(root.get(EM_BOX) or "")
    box = Box(*values) if len(values) == 4 and all(map(math.isfinite, values)) else None
    usable = box is not None and min(box.width, box.height) > 1e-6 and max(map(abs, box)) < 1e7
    return box if usable and box is not None and box.width / box.height <= 16 else None


def frame_attributes(em: Box, reach: Box) -> str:
    """Return the attributes of a drawing that is placed on the em and may reach beyond it. reach: box of its ink."""
    number = decimal(6)
    box = " ".join(map(number, em))
    before, behind = (em.x - reach.x, em.y - reach.y), (reach.width - em.width, reach.height - em.height)
    left, top = (max(0, math.ceil(value - 1e-6)) for value in before)
    right, bottom = (max(0, math.ceil(more - lead - 1e-6)) for lead, more in zip(before, behind, strict=True))
    if not any((left, top, right, bottom)):
        return f'viewBox="{box}"'
    whole = Box(em.x - left, em.y - top, em.width + left + right, em.height + top + bottom)
    return f'viewBox="{" ".join(map(number, whole))}" {EM_BOX}="{box}"'


class Frame(NamedTuple):
    """A drawing's outermost frame.

    Attributes:
        box: in user units.
        notes: notices about assumed values.
    """

    box: Box
    notes: list[Diagnostic]


def drawing_box(root: etree._Element) -> Frame:
    """Return the outermost frame; raise `DrawingError` where the file gives none, or one that no icon can use."""
    box, notes = view_box(root), []
    if box is None:
        box = _sized_box(root)
        message = f"has no viewBox; its width and height ({box.width:g} by {box.height:g}) were taken"
        notes = [Diagnostic("no-viewbox", message, "export with a viewBox", line=line_of(root))]
    size = f"({box.width:g} by {box.height:g})"
    if box.width <= 0 or box.height <= 0:
        message, cure = f"has a frame without area {size}", "give the viewBox a positive width and height"
        raise DrawingError(Diagnostic("flat-frame", message, cure, line=line_of(root)))
    if max(map(abs, box)) > 1e7 or min(box.width, box.height) < 1e-6 or box.width / box.height > 16:
        message, cure = f"has a frame no icon can use {size}", "scale the drawing to a usual grid, such as 24 by 24"
        raise DrawingError(Diagnostic("odd-frame", message, cure, line=line_of(root)))
    return Frame(box, notes)


def _sized_box(root: etree._Element) -> Box:
    """Return the frame that width and height give where there is no valid viewBox; raise `DrawingError` without."""
    if root.get("viewBox") is not None and not (root.get("width") and root.get("height")):
        message = f"has a viewBox that is not four numbers: {root.get('viewBox')!r}"
        raise DrawingError(Diagnostic("bad-viewbox", message, 'write viewBox="0 0 WIDTH HEIGHT"', line=line_of(root)))
    width, height = length(root.get("width")), length(root.get("height"))
    if width is None or height is None:
        message = "has neither a viewBox nor a width and height, so its size is unknown"
        cure = 'add viewBox="0 0 WIDTH HEIGHT" to the <svg> element'
        raise DrawingError(Diagnostic("no-frame", message, cure, line=line_of(root)))
    return Box(0.0, 0.0, width, height)


def fit_box(box: Box, x: float, y: float, width: float, height: float, aspect: str) -> Matrix:
    """Return the map from a viewBox to its viewport (SVG 2 §8.6, preserveAspectRatio)."""
    sx, sy = width / box[2], height / box[3]
    words = aspect.split() if _ASPECT.fullmatch(aspect) else []
    align = words[0] if words else "xMidYMid"
    if align == "none":
        return Matrix(sx, 0, 0, sy, x - box[0] * sx, y - box[1] * sy)
    scale = max(sx, sy) if "slice" in words else min(sx, sy)
    share_x = 0.0 if "xMin" in align else 1.0 if "xMax" in align else 0.5
    share_y = 0.0 if "YMin" in align else 1.0 if "YMax" in align else 0.5
    return Matrix(
        scale,
        0,
        0,
        scale,
        x - box[0] * scale + (width - box[2] * scale) * share_x,
        y - box[1] * scale + (height - box[3] * scale) * share_y,
    )
