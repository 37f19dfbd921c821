"""The verdict on a drawing."""

from __future__ import annotations

from enum import Enum


class Verdict(Enum):
    """FITS: used as it is drawn; SANDED: used after changes that its diagnostics name; WONT_FIT: not used."""

    FITS = "fits"
    SANDED = "sanded"
    WONT_FIT = "won't fit"
