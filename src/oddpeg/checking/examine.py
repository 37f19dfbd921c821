"""Check of single drawings: how each is written, the conversions, and measurements on its glyph."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache, partial

from oddpeg.checking.measure import Measures, measure
from oddpeg.checking.verdict import Verdict
from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.isolation import map_isolating_failures
from oddpeg.outline.messages import remarks
from oddpeg.outline.model import Options, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.outline.placement import Em
from oddpeg.outline.translucent import settle_translucent
from oddpeg.outline.window import outline_drawings
from oddpeg.svg.model import Drawing
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.reader import read_drawing
from oddpeg.svg.survey import Survey, survey

_MANY_POINTS = 400
_OFF_CENTRE = 1 / 16  # of the frame
_OFF_GRID = 0.2  # of the length of straight edges
_OFF_LINE = 0.02  # of a pixel
_LOST = 0.06  # of the ink


@dataclass(slots=True)
class CheckResult:
    """The result of checking one drawing by itself.

    Attributes:
        diagnostics: without a file's name, which the drawing does not know.
        measures: None where it has no ink.
        result: its outline, None where only the rest was cached.
        usable: whether it makes a glyph.
        colours: its paints.
        title: the drawing's own.
    """

    diagnostics: list[Diagnostic] = field(default_factory=list)
    measures: Measures | None = None
    result: OutlineResult | None = None
    usable: bool = True
    colours: frozenset[str] = frozenset()
    title: str = ""

    @property
    def outline(self) -> Outline | None:
        """The glyph's outline; None where there is none, or it was not cached."""
        return self.result.outline if self.result else None

    @property
    def worst(self) -> Level:
        """The most serious level of the findings."""
        return max((d.level for d in self.diagnostics), key=lambda level: level.rank, default=Level.SILENT)

    @property
    def verdict(self) -> Verdict:
        """The verdict on the drawing."""
        if not self.usable:
            return Verdict.REJECTED
        return Verdict.ADJUSTED if any(CODES[d.code].alters for d in self.diagnostics) else Verdict.FITS

    def packed(self) -> str:
        """Return all of it but the outline, as JSON."""
        diagnostics = [(d.code, d.what, d.cure, d.line, d.level.value) for d in self.diagnostics]
        return json.dumps([diagnostics, self.measures, self.usable, sorted(self.colours), self.title])

    @staticmethod
    def unpacked(text: str) -> CheckResult:
        """Return the result that `packed` made a text of."""
        rows, measures, usable, colours, title = json.loads(text)
        diagnostics = [_unpacked(*values) for values in rows]
        return CheckResult(diagnostics, measures and Measures.of(measures), None, usable, frozenset(colours), title)

    def add(self, code: str, message: str, cure: str = "", line: int | None = None) -> None:
        """Add a diagnostic at the level that its code is registered with."""
        self.diagnostics.append(Diagnostic(code, message, cure, line=line))

    def refuse(self, problem: Diagnostic) -> None:
        """Add a finding that rejects the drawing, as an error."""
        self.diagnostics.append(problem._replace(level=Level.ERROR))
        self.usable = False


@lru_cache(4096)  # thousands of drawings say the same few things
def _unpacked(code: str, message: str, cure: str, line: int | None, level: str) -> Diagnostic:
    return Diagnostic(code, message, cure, line=line, level=Level(level))


MaybeOutlined = tuple[bytes, Outline | None]  # an SVG file, with its outline if that has been made


def examine(drawings: Sequence[MaybeOutlined], options: Options) -> list[CheckResult]:
    """Return the check result of each drawing, in order. Only drawings without an outline are outlined."""
    return map_isolating_failures(partial(_examine, options), drawings, lambda _, problem: rejected(problem))


def rejected(problem: Diagnostic) -> CheckResult:
    """Return the result for a drawing that cannot be examined."""
    result = CheckResult(result=OutlineResult(None, [], problem))
    result.refuse(problem)
    return result


def _examine(options: Options, drawings: Sequence[MaybeOutlined]) -> list[CheckResult]:
    results = [CheckResult() for _ in drawings]
    drawn: list[tuple[CheckResult, Drawing]] = []
    outlines: list[Outline | None] = []
    surveys: list[Survey] = []
    for (data, outline), result in zip(drawings, results, strict=True):
        try:
            document = SvgDocument(data)
            drawing = read_drawing(document)
        except DrawingError as problem:
            result.refuse(problem.diagnostic)
            result.result = OutlineResult(None, [], problem.diagnostic)
            continue
        result.title = drawing.title
        surveys.append(survey(document))
        drawn.append((result, drawing))
        outlines.append(outline)
    settle_translucent([drawing for _, drawing in drawn], options.translucent)
    for (result, drawing), surveyed in zip(drawn, surveys, strict=True):
        result.diagnostics += drawing.notes
        _written(result, surveyed, drawing)
    missing = [i for i, outline in enumerate(outlines) if outline is None]
    made = outline_drawings([drawn[i][1] for i in missing], options)
    by_drawing = dict(zip(missing, made, strict=True))
    for i, (result, drawing) in enumerate(drawn):
        _drawn(result, drawing, outlines[i] or by_drawing[i], options)
    return results


def _written(result: CheckResult, seen: Survey, drawing: Drawing) -> None:
    """Add findings on constructs that had to be converted."""
    result.colours = frozenset(seen.colours)
    if seen.shapes:
        names = ", ".join(f"{n} {name}{'s' if n > 1 else ''}" for name, n in sorted(seen.shapes.items()))
        result.add("shapes-converted", f"holds {names}: made into paths")
    if any(s.stroke for s in drawing.shapes):
        result.add("strokes-outlined", "is drawn with strokes: made into outlines")
    counts = (
        ("transforms-flattened", seen.transforms, "has transforms: worked into the coordinates"),
        ("styles-resolved", seen.styled, "is styled by a style sheet or style attributes: resolved"),
        ("uses-expanded", seen.uses, "repeats shapes by reference: put in place"),
        ("clip-resolved", seen.clips, "is limited by clip paths or masks: cut out"),
        ("editor-data", seen.foreign, "carries data of an editor: ignored"),
        ("empty-parts", seen.empty, "has groups or paths with nothing in them: ignored"),
        ("hidden-parts", seen.hidden, "has parts that never show: ignored"),
    )
    for code, count, message in counts:
        if count:
            result.add(code, message)
    if len(seen.colours) > 1:
        some = ", ".join(sorted(seen.colours)[:4]) + (" …" if len(seen.colours) > 4 else "")
        result.add(
            "colours-merged",
            f"has {len(seen.colours)} colours ({some}), and a font knows one ink",
            "if they tell parts apart, leave a gap between those",
        )


def _drawn(result: CheckResult, drawing: Drawing, outline: Outline, options: Options) -> None:
    """Add findings on properties of the glyph."""
    made = OutlineResult(None, list(drawing.notes), title=drawing.title, description=drawing.description)
    made.take(outline)
    result.result = made
    if made.problem is not None:
        result.refuse(made.problem)
        return
    result.diagnostics += remarks(outline)
    result.measures = measure(drawing, outline, options.em)
    _placed(result, result.measures)
    _based(result, result.measures.grid, options.em)
    _detailed(result, result.measures)


def _placed(result: CheckResult, m: Measures) -> None:
    """Say how the ink lies in its frame."""
    if abs(m.ratio - 1) > 0.005:
        result.add(
            "not-square",
            f"its frame is {m.ratio:.2f} times as wide as high: so is its advance",
            'set fit = "square" if all should be equally wide',
        )
    left, bottom, right, top = m.box
    across, up = (left + right - 1) / 2, (bottom + top - 1) / 2
    if max(abs(across), abs(up)) > _OFF_CENTRE:
        ways = [
            f"{abs(v) * m.grid:.1f} to the {w[v > 0]}"
            for v, w in ((across, ("left", "right")), (up, ("bottom", "top")))
            if abs(v) > _OFF_CENTRE
        ]
        result.add(
            "off-centre",
            f"its ink lies {' and '.join(ways)} of the middle (of {m.grid:g})",
            "move it, unless that is how it balances",
        )
    touched = [
        side for side, at in (("left", left), ("bottom", bottom), ("right", 1 - right), ("top", 1 - top)) if at < 0.002
    ]
    if touched:
        result.add(
            "touches-frame",
            f"its ink touches the frame: {', '.join(touched)}",
            "leave a little room, or neighbours will touch it",
        )


def _based(result: CheckResult, grid: float, em: Em) -> None:
    """Say where the baseline puts the lines of a drawing's grid between pixels."""
    line = grid * em.drop
    if grid == round(grid) and abs(line - round(line)) > _OFF_LINE:
        result.add(
            "between-pixels",
            f"the baseline cuts its {grid:g} px grid at {line:.2f} px, so that its edges are blurred at that size",
            "draw it on the grid of the other icons, or set font.descent to a share that suits both",
        )


def _detailed(result: CheckResult, m: Measures) -> None:
    """Add findings on glyphs that are heavy, or blurred at small sizes."""
    if m.off_grid > _OFF_GRID:
        result.add(
            "off-grid",
            f"{m.off_grid:.0%} of its straight edges lie between the pixels of its {m.grid:g} px grid",
            "snap them to whole or half pixels for crisp edges",
        )
    if m.points > _MANY_POINTS:
        result.add(
            "many-points",
            f"has {m.points} points",
            "simplify its curves: traced shapes and textures make large, slow glyphs",
        )
    if m.lost > _LOST:
        result.add(
            "fine-details",
            f"{m.lost:.0%} of its ink is finer than a pixel at 16 px",
            "give it a simpler drawing if it is shown that small",
        )
