"""Products of vectors, which are complex numbers: i·v is v turned by +90° of its axes."""

from __future__ import annotations

import numpy as np

from oddpeg.geometry.arrays import Floats, Points


def cross(u: Points, v: Points) -> Floats:
    """Return cross products."""
    result: Floats = u.real * v.imag - u.imag * v.real
    return result


def dot(u: Points, v: Points) -> Floats:
    """Return dot products."""
    result: Floats = u.real * v.real + u.imag * v.imag
    return result


def angle(u: Points, v: Points) -> Floats:
    """Return the signed angles from u to v, in radians; 0 where one of them has no length."""
    product = np.conj(u) * v
    result: Floats = np.where(product == 0, 0.0, np.angle(product))  # of minus nothing: half a turn
    return result
