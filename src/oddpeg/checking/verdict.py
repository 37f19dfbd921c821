"""The verdict on a drawing."""

from __future__ import annotations

from enum import Enum


class Verdict(Enum):
    """FITS: used, and looks as drawn; ADJUSTED: used, but may look or behave differently; REJECTED: not used."""

    FITS = "fits"
    ADJUSTED = "adjusted"
    REJECTED = "rejected"
