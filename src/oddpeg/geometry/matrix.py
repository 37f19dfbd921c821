"""Affine maps of the plane."""

from __future__ import annotations

from typing import NamedTuple

_LARGEST = 1e12


class Matrix(NamedTuple):
    """Affine map (x, y) → (a·x + c·y + e, b·x + d·y + f), in the order SVG writes it (SVG 2 §8.5)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def compose(self, inner: Matrix) -> Matrix:
        """Return the map that applies `inner` first and this one after (self · inner)."""
        a, b, c, d, e, f = self
        return Matrix(
            a * inner.a + c * inner.b,
            b * inner.a + d * inner.b,
            a * inner.c + c * inner.d,
            b * inner.c + d * inner.d,
            a * inner.e + c * inner.f + e,
            b * inner.e + d * inner.f + f,
        )

    def apply(self, x: float, y: float) -> tuple[float, float]:
        """Return where a point goes."""
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @property
    def determinant(self) -> float:
        """The factor by which areas grow; negative where the map mirrors."""
        return self.a * self.d - self.b * self.c

    def is_invertible(self) -> bool:
        """Return whether the map is finite, leads nowhere absurd, and keeps area (a flat map shows nothing)."""
        return all(abs(value) < _LARGEST for value in self) and abs(self.determinant) > 1e-18


IDENTITY = Matrix()
