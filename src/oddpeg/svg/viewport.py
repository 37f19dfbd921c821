"""Frames: the viewBox of a drawing, and how a nested frame maps into its parent.

Knows: viewBox, width/height, preserveAspectRatio (SVG 2 §8.2 to 8.7). Does not know: shapes.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.svg.document import line_of
from oddpeg.svg.units import length, numbers

if TYPE_CHECKING:
    from lxml import etree


def view_box(element: etree._Element) -> Box | None:
    """Return a valid viewBox (x, y, width, height), or None."""
    values = numbers(element.get("viewBox") or "")
    if len(values) != 4 or not all(map(math.isfinite, values)):
        return None
    return Box(*values)


def drawing_box(root: etree._Element) -> tuple[Box, list[Diagnostic]]:
    """Return the outermost frame in user units; raise `DrawingError` where the file gives none."""
    box = view_box(root)
    if box is None and root.get("viewBox") is not None and not (root.get("width") and root.get("height")):
        raise DrawingError(
            Diagnostic(
                "bad-viewbox",
                f"has a viewBox that is not four numbers: {root.get('viewBox')!r}",
                'write viewBox="0 0 WIDTH HEIGHT"',
                line=line_of(root),
            )
        )
    notes: list[Diagnostic] = []
    if box is None:
        width, height = length(root.get("width")), length(root.get("height"))
        if width is None or height is None:
            raise DrawingError(
                Diagnostic(
                    "no-frame",
                    "has neither a viewBox nor a width and height, so its size is unknown",
                    'add viewBox="0 0 WIDTH HEIGHT" to the <svg> element',
                    line=line_of(root),
                )
            )
        box = Box(0.0, 0.0, width, height)
        notes.append(
            Diagnostic(
                "no-viewbox",
                f"has no viewBox; its width and height ({width:g} by {height:g}) were taken",
                "export with a viewBox",
                line=line_of(root),
            )
        )
    if box[2] <= 0 or box[3] <= 0:
        raise DrawingError(
            Diagnostic(
                "flat-frame",
                f"has a frame without area ({box[2]:g} by {box[3]:g})",
                "give the viewBox a positive width and height",
                line=line_of(root),
            )
        )
    if max(map(abs, box)) > 1e7 or min(box[2], box[3]) < 1e-6 or box[2] / box[3] > 16:
        raise DrawingError(
            Diagnostic(
                "odd-frame",
                f"has a frame no icon can use ({box[2]:g} by {box[3]:g})",
                "scale the drawing to a usual grid, such as 24 by 24",
                line=line_of(root),
            )
        )
    return box, notes


def fit_box(box: Box, x: float, y: float, width: float, height: float, aspect: str) -> Matrix:
    """Return the map from a viewBox to its viewport (SVG 2 §8.6, preserveAspectRatio)."""
    sx, sy = width / box[2], height / box[3]
    words = aspect.split()
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
