"""Upright rectangles."""

from __future__ import annotations

from typing import NamedTuple


class Box(NamedTuple):
    """A rectangle as SVG writes it: its corner with the smallest coordinates, and its size."""

    x: float
    y: float
    width: float
    height: float
