"""One drawing on the bench: what it is, what had to be done to it, what can be measured.

Knows: drawing, outline, measuring; batches are only for speed. Does not know: other icons' figures, files, the config.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field

from oddpeg.checks.findings import Finding, Level, Verdict, kind_of
from oddpeg.checks.measure import Measures, measure
from oddpeg.outline.batch import outline_drawings
from oddpeg.outline.messages import refusal, remarks
from oddpeg.outline.model import Options, Outline
from oddpeg.svg.model import Drawing, Note, Unusable
from oddpeg.svg.reader import read_drawing
from oddpeg.svg.survey import Survey, survey

_MANY_POINTS = 400
_OFF_CENTRE = 1 / 16  # of the frame
_OFF_GRID = 0.2  # of the length of straight edges
_LOST = 0.06  # of the ink


@dataclass(slots=True)
class Examined:
    """What was found on one drawing by itself. measures, outline: None where it has no ink."""

    findings: list[Finding] = field(default_factory=list)
    measures: Measures | None = None
    outline: Outline | None = None
    usable: bool = True
    colours: frozenset[str] = frozenset()
    title: str = ""

    @property
    def verdict(self) -> Verdict:
        if not self.usable:
            return Verdict.WONT_FIT
        return Verdict.SANDED if any(kind_of(f.code).mends for f in self.findings) else Verdict.FITS

    def packed(self) -> str:
        """Return all of it but the outline, as JSON."""
        findings = [(f.code, f.level.value, f.what, f.cure, f.line) for f in self.findings]
        return json.dumps([findings, self.measures, self.usable, sorted(self.colours), self.title])

    @staticmethod
    def unpacked(text: str) -> Examined:
        """Return what was packed."""
        findings, measures, usable, colours, title = json.loads(text)
        found = [Finding(code, Level(level), what, cure, line) for code, level, what, cure, line in findings]
        return Examined(found, measures and Measures.of(measures), None, usable, frozenset(colours), title)

    def add(self, code: str, what: str, cure: str = "", line: int | None = None) -> None:
        self.findings.append(Finding(code, kind_of(code).level, what, cure, line))


def examine(files: list[bytes], options: Options, known: list[Outline | None] | None = None) -> list[Examined]:
    """Return what is found on each file, in order. known: their outlines, where they have been made already."""
    results, drawings, drawn = [], [], []
    outlines: list[Outline] = []
    for data, outline in zip(files, known or [None] * len(files), strict=True):
        result = Examined()
        results.append(result)
        try:
            drawing = read_drawing(data, options.keep_faint)
        except Unusable as problem:
            _refuse(result, problem.note)
            continue
        result.title = drawing.title
        for note in drawing.notes:
            _note(result, note)
        _written(result, survey(data), drawing)
        drawings.append(drawing)
        drawn.append(result)
        outlines += [outline] if outline is not None else []
    if len(outlines) < len(drawings):
        outlines = outline_drawings(drawings, options)
    for result, drawing, outline in zip(drawn, drawings, outlines, strict=True):
        _drawn(result, drawing, outline, options)
    return results


def _note(result: Examined, note: Note) -> None:
    result.add(note.code, note.text, note.cure, note.line)


def _refuse(result: Examined, note: Note) -> None:
    """Note what leaves nothing to draw: an error here, whatever it is elsewhere."""
    result.findings.append(Finding(note.code, Level.ERROR, note.text, note.cure, note.line))
    result.usable = False


def _written(result: Examined, found: Survey, drawing: Drawing) -> None:
    """Say what had to be translated."""
    result.colours = frozenset(found.colours)
    if found.shapes:
        names = ", ".join(f"{n} {name}{'s' if n > 1 else ''}" for name, n in sorted(found.shapes.items()))
        result.add("shapes-converted", f"holds {names}: made into paths")
    if any(s.stroke for s in drawing.shapes):
        result.add("strokes-outlined", "is drawn with strokes: made into outlines")
    counts = (
        ("transforms-flattened", found.transforms, "has transforms: worked into the coordinates"),
        ("styles-resolved", found.styled, "is styled by a style sheet or style attributes: worked out"),
        ("uses-expanded", found.uses, "repeats shapes by reference: put in place"),
        ("clip-resolved", found.clips, "is limited by clip paths or masks: cut out"),
        ("editor-data", found.foreign, "carries data of an editor: left out"),
        ("empty-parts", found.empty, "has groups or paths with nothing in them: left out"),
        ("hidden-parts", found.hidden, "has parts that never show: left out"),
    )
    for code, count, what in counts:
        if count:
            result.add(code, what)
    if len(found.colours) > 1:
        some = ", ".join(sorted(found.colours)[:4]) + (" …" if len(found.colours) > 4 else "")
        result.add(
            "colours-merged",
            f"has {len(found.colours)} colours ({some}), and a font knows one ink",
            "if they tell parts apart, leave a gap between those",
        )


def _drawn(result: Examined, drawing: Drawing, outline: Outline, options: Options) -> None:
    """Say what can be seen on the glyph alone."""
    if problem := refusal(outline):
        _refuse(result, problem)
        return
    for note in remarks(outline):
        _note(result, note)
    result.outline = outline
    m = result.measures = measure(drawing, outline, options.em)
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
