"""The set that is measured: its config, and drawings of its own making."""

from __future__ import annotations

import math
import random

CONFIG = """\
[font]
family = "Bench"

[icons]
from = ["icons/*.svg"]

[bundle.web]
into = "dist"
fonts = ["woff2", "woff"]
outputs = ["css", "typescript"]

[pegs]
range = "U+F0000-U+FFFFD"
"""


def own_icon(rng: random.Random) -> str:
    """A drawing in the mix of real folders: filled paths, holes, strokes, groups."""
    parts = []
    for _ in range(rng.randint(1, 3)):
        x, y, r = rng.uniform(6, 18), rng.uniform(6, 18), rng.uniform(2, 6)
        corners = [(x + r * math.cos(a), y + r * math.sin(a)) for a in sorted(rng.uniform(0, 6.28) for _ in range(6))]
        points = " ".join(f"{px:.2f},{py:.2f}" for px, py in corners)
        parts.append(
            rng.choice(
                [
                    (
                        f'<path fill-rule="evenodd" d="M{x - r:.2f} {y:.2f}a{r:.2f} {r:.2f} 0 1 0 {2 * r:.2f} 0a{r:.2f}'
                        f' {r:.2f} 0 1 0 {-2 * r:.2f} 0zm1 0h2v1h-2z"/>'
                    ),
                    (
                        f'<path fill="none" stroke="#000" stroke-width="2" stroke-linecap="round" d="M{x:.2f} {y:.2f}C4'
                        f' 4 20 {r:.2f} {y:.2f} {x:.2f}"/>'
                    ),
                    f'<polygon points="{points}"/>',
                    (
                        f'<g transform="rotate({rng.randint(0, 90)} 12 12)"><rect x="{x - r:.2f}" y="5" width="{r:.2f}"'
                        ' height="9" rx="1"/></g>'
                    ),
                ]
            )
        )
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{"".join(parts)}</svg>'
