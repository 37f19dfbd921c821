"""Credits: authors and licences of the icons."""

from __future__ import annotations

from oddpeg.outputs.credits import credits
from oddpeg.outputs.kind import OutputKind

KIND = OutputKind(
    "credits",
    "who made the icons, and what may be done with them",
    "ship it with the font",
    "{stem}-credits.txt",
    credits,
    rank=6,
)
