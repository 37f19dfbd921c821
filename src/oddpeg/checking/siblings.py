"""Statistics of a set, and icons that differ from the rest."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field
from statistics import median
from typing import Any

from oddpeg.checking.examine import CheckResult
from oddpeg.checking.naming import style, unlike
from oddpeg.reports import reported

_ENOUGH = 5  # icons, before anything can be called usual
_MOST = 0.6  # share of icons that makes something usual
_FAR = 1.6  # times as large, or as small, as the middle of the set
_DIGITS = re.compile(r"\d+")


@dataclass(slots=True)
class SetStatistics:
    """Statistics of a set, to compare one icon with.

    Attributes:
        grids: icons by height of frame.
        strokes: by width in pixels of the drawing.
        styles: by how files are named.
        words: by words in a name.
        size: of the ink, the middle of the set.
    """

    icons: int = 0
    grids: Counter[float] = field(default_factory=Counter)
    strokes: Counter[float] = field(default_factory=Counter)
    colours: Counter[str] = field(default_factory=Counter)
    styles: Counter[str] = field(default_factory=Counter)
    words: Counter[int] = field(default_factory=Counter)
    size: float = 0.0

    @reported("drawings by height of frame", name="grids")
    def grid_counts(self) -> dict[str, int]:
        """Drawings by height of frame, the commonest first."""
        return _ranked(self.grids)

    @reported("drawings by width of strokes, pixels of the drawing", name="strokes")
    def stroke_counts(self) -> dict[str, int]:
        """Drawings by width of strokes, the commonest first."""
        return _ranked(self.strokes)

    @reported("drawings by colour, as written", name="colours")
    def colour_counts(self) -> dict[str, int]:
        """Drawings by colour, the commonest first."""
        return _ranked(self.colours)

    @reported("drawings by naming style", name="names")
    def style_counts(self) -> dict[str, int]:
        """Drawings by naming style, the commonest first."""
        return _ranked(self.styles)

    @reported("drawings by number of words in the name", name="words")
    def word_counts(self) -> dict[str, int]:
        """Drawings by number of words in the name, the commonest first."""
        return _ranked(self.words)

    @reported("median size of the ink, as a share of the frame", name="size")
    def usual_size(self) -> float:
        """Median size of the ink, as a share of the frame."""
        return round(self.size, 4)


def _ranked(counts: Counter[Any]) -> dict[str, int]:
    """Return counts as plain values, the commonest first."""
    return {spelled(value): count for value, count in counts.most_common()}


def spelled(value: str | float) -> str:
    """Return a text unchanged, a number without needless digits."""
    return value if isinstance(value, str) else f"{value:g}"


def view(examined: dict[str, CheckResult], files: dict[str, str]) -> SetStatistics:
    """Return the statistics of icons, by name. files: names of their files, without ending."""
    statistics = SetStatistics(len(examined))
    sizes = []
    for name, result in examined.items():
        statistics.words[len(name.split("-"))] += 1
        statistics.colours.update(sorted(result.colours))  # in an order of its own: a set has none
        statistics.styles.update(filter(None, [style(files[name])]))
        if result.measures is None:
            continue
        statistics.grids[result.measures.grid] += 1
        statistics.strokes.update(result.measures.strokes)
        sizes.append(_size(result))
    statistics.size = median(sizes) if sizes else 0.0
    return statistics


def compare_siblings(examined: dict[str, CheckResult], files: dict[str, str], statistics: SetStatistics) -> None:
    """Add findings that need the whole set. files: as in `view`."""
    _twins(examined)
    _names(examined)
    for name, message, cure in unlike(files, statistics.styles):
        examined[name].add("name-unlike", message, cure)
    if statistics.icons < _ENOUGH:
        return
    grid, stroke = (
        _usual(statistics.grids, statistics.icons),
        _usual(statistics.strokes, sum(1 for e in examined.values() if e.measures and e.measures.strokes)),
    )
    for result in examined.values():
        m = result.measures
        if m is None:
            continue
        if grid is not None and m.grid != grid:
            result.add(
                "grid-unlike",
                f"is drawn on a grid of {m.grid:g}, most others on {grid:g}",
                "draw it on the same grid, so that strokes and details match",
            )
        odd = [w for w in m.strokes if stroke is not None and abs(w * (grid or m.grid) / m.grid - stroke) > 0.05]
        if odd and stroke is not None and m.strokes != (stroke,):
            result.add(
                "stroke-unlike",
                f"has strokes of {', '.join(f'{w:g}' for w in odd)}, most others of {stroke:g}",
                "use the same width, or say in the config why not",
            )
        if statistics.size and not 1 / _FAR < _size(result) / statistics.size < _FAR:
            small = _size(result) < statistics.size
            result.add(
                "small" if small else "large",
                f"its ink is {_size(result) / statistics.size:.1f} times as large as usual in this set",
                "redraw it to the size of the others",
            )


def _size(result: CheckResult) -> float:
    """Return the larger side of the ink's box, as a share of the frame's larger side."""
    m = result.measures
    return 0.0 if m is None else max((m.box[2] - m.box[0]) * m.ratio, m.box[3] - m.box[1]) / max(m.ratio, 1.0)


def _usual(counts: Counter[float], total: int) -> float | None:
    if total < _ENOUGH or not counts:
        return None
    value, count = counts.most_common(1)[0]
    return value if count >= _MOST * total else None


def _twins(examined: dict[str, CheckResult]) -> None:
    by_print: dict[str, list[str]] = {}
    for name, result in examined.items():
        if result.measures is not None:
            by_print.setdefault(result.measures.print, []).append(name)
    for names in by_print.values():
        shown = ", ".join(names[:5]) + (f" and {len(names) - 5} more" if len(names) > 5 else "")
        for name in names if len(names) > 1 else []:
            examined[name].add(
                "twin", f"one outline serves {shown}", "keep one of them, unless they are meant to diverge"
            )


def _names(examined: dict[str, CheckResult]) -> None:
    """Names that differ only by an ending, a number's spelling or a doubled letter are easily taken for each other."""
    plain: dict[str, list[str]] = {}
    for name in examined:
        key = re.sub(
            r"([^\W\d])\1", r"\1", _DIGITS.sub(lambda m: str(int(m[0])), name.replace("-", "")).removesuffix("s")
        )
        plain.setdefault(key, []).append(name)
    for names in plain.values():
        for name in names if len(names) > 1 else []:
            examined[name].add(
                "name-alike",
                f"names that are nearly the same: {', '.join(names)}",
                "give them names that cannot be mistaken for each other",
            )
