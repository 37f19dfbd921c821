"""Parts of outlining by themselves: what is too tangled, which em suits a set, how results travel."""

from __future__ import annotations

import gzip
import math
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.arrays import Ints
from oddpeg.outline import complexity
from oddpeg.outline.messages import refusal, remarks
from oddpeg.outline.model import ColourLayer, ColourMode, Method, Options, Outline
from oddpeg.outline.pipeline import OutlineResult, PackedResults, em_for, frame_height, outline_files
from oddpeg.outline.placement import Em, Grids
from oddpeg.outline.polygons import Polygons
from oddpeg.svg import reader
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Drawing
from support.fonts import RING, square
from support.outlines import framed

Spot = tuple[int, int]


def closed(*contours: Sequence[Spot]) -> Polygons:
    """Contours, each a region of its own."""
    points = [x + 1j * y for contour in contours for x, y in contour]
    count = len(points)
    ordinal = np.repeat(np.arange(len(contours)), [len(contour) for contour in contours])
    nothing = np.zeros(count)
    return Polygons(
        np.array(points), np.full(count, -1), nothing, nothing, ordinal.astype(np.int64), np.arange(len(contours))
    )


def sweep_visits(*contours: Sequence[Spot]) -> float:
    """The documented estimate, edge by edge: heights of vertices within each edge's heights, and 70 for each crossing
    among every so-manieth edge, scaled up."""
    edges = [(c[i], c[(i + 1) % len(c)]) for c in contours for i in range(len(c))]
    heights = np.array([start[1] for start, _ in edges])
    visits = sum(
        int(((heights >= min(a[1], b[1])) & (heights < max(a[1], b[1]))).sum()) for a, b in edges
    )  # a vertex at an edge's upper end is its neighbour's
    sample = edges[:: math.ceil(len(edges) / 1_500)]

    def apart(a: Spot, b: Spot, c: Spot, d: Spot) -> bool:
        sides = [(b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) for p in (c, d)]
        return sides[0] * sides[1] < 0

    crossings = sum(apart(*p, *q) and apart(*q, *p) for i, p in enumerate(sample) for q in sample[:i])
    return visits + 70 * crossings * (len(edges) / len(sample)) ** 2


def zigzag(points: int, height: int) -> list[Spot]:
    return [(7 * k * k % 1013 + k, height * (k % 2) + k % 61) for k in range(points)]


def test_what_is_too_tangled_is_counted_as_documented(monkeypatch: pytest.MonkeyPatch) -> None:
    wild = zigzag(1_201, 900), zigzag(1_900, 250)
    polygons = closed([(0, 0), (9, 0), (9, 9)], *wild, [(5, 5), (5, 50), (50, 5)])
    icons = np.array([0, 1, 1, 2])
    effort = sweep_visits(*wild)
    for bound, found in ((effort - 1, {1}), (effort + 1, set())):
        monkeypatch.setattr(complexity, "MOST", bound)
        assert complexity.tangled(polygons, icons) == found
    # so few edges are not looked at, however they cross
    few = closed(zigzag(3_000, 900), zigzag(3_001, 900))
    monkeypatch.setattr(complexity, "MOST", 1.0)
    assert complexity.tangled(few, np.array([0, 1])) == {1}


def tangle(lines: int) -> str:
    ends = "".join(f"L{k * 7919 % 977 / 40:.3f} {k * 104_729 % 991 / 40:.3f}" for k in range(lines))
    return f'<path d="M0 0{ends}z"/>'


def test_a_tangle_is_named_and_leaves_others_as_they_are(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(complexity, "MOST", 1e6)
    files = [framed('<path d="M1 1h9v9z"/>'), framed(tangle(3_100), "0 0 48 24"), framed('<path d="M2 2h9v9z"/>')]
    options = Options(Em(1024), colour=ColourMode.FLAT)
    alone = [outline_files([data], options)[0] for data in files]
    together = outline_files(files, options)
    assert [result.problem.code if result.problem else "" for result in together] == ["", "tangled", ""]
    for one, other in zip(alone, together, strict=True):
        assert len(one.outlines) == len(other.outlines)
        assert all((a.xy == b.xy).all() for a, b in zip(one.outlines, other.outlines, strict=True))


@pytest.mark.parametrize(
    ("data", "height"),
    [
        (b'<svg viewBox="0 0 24 32" >', 32),
        (b"<svg xmlns='x' viewBox='-1 .5 24 20'>", 20),
        (b'<?xml version="1.0"?>\n<!-- made by hand -->\n<svg width="9"\n viewBox="0 0 24 12"/>', 12),
        (b'<svg viewBox="0 0 24 0">', None),
        (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 5 .5"/>', 0.5),
        (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0,0,5.5,7.25"/>', 7.25),
        (b'<svg xmlns="http://www.w3.org/2000/svg" width="1in" height="2in"/>', 192),
        (b'<!-- viewBox="0 0 1 1" --><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 6 1e1"/>', 10),
        (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 6 -3"/>', None),
        (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 6 inf"/>', None),
        (b"<svg", None),
        (b"", None),
        (gzip.compress(b'<svg viewBox="0 0 24 40"/>', mtime=0), 40),
        (b"\x1f\x8bnothing", None),
        (b'<svg xmlns="http://www.w3.org/2000/svg"' + b" " * 3000 + b'viewBox="0 0 9 8"/>', 8),
    ],
)
def test_the_height_of_a_frame(data: bytes, height: float | None) -> None:
    assert frame_height(data) == height


def test_no_other_file_is_read_for_a_height(tmp_path: Path) -> None:
    other = tmp_path / "other.dtd"
    other.write_text("<!BROKEN")  # to read it is an error
    data = f'<!DOCTYPE svg SYSTEM "{other}"><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 8"/>'
    assert frame_height(data.encode()) == 8


def test_the_em_suits_the_drawings() -> None:
    files = [framed("", "0 0 24 24"), framed("", "0 0 9 24"), framed("", "0 0 16 16"), b"no drawing"]
    assert em_for("auto", "auto", files) == (Em(1008, 3 / 24), True, 24)
    assert em_for("auto", "auto", files[2:]) == (Em(1024, 2 / 16), True, 16)
    assert em_for(1000, "auto", files) == (Em(1000, 3 / 24), True, 24)
    assert em_for("auto", 0.2, files) == (Em(1008, 0.2), True, None)
    assert em_for(900, 0.25, iter([])) == (Em(900, 0.25), True, None)
    assert em_for("auto", "auto", [framed("", "0 0 24 24.5")]) == (Em(1024, 0.125), False, None)
    assert em_for("auto", "auto", [framed("", "0 0 24 17"), framed("", "0 0 24 19")]) == (Em(1024, 2 / 19), False, 19)
    assert em_for("auto", "auto", [framed("", "0 0 1 20")]) == (Em(1000, 3 / 20), True, 20)


def same(one: Outline, other: Outline) -> bool:
    arrays = all((getattr(one, name) == getattr(other, name)).all() for name in ("xy", "on", "ends"))
    return arrays and (one.advance, one.cut, one.made) == (other.advance, other.cut, other.made)


def test_results_travel_whole() -> None:
    note = Diagnostic("no-strokes", "has none")
    red, glass = Fill(Colour(200, 0, 0)), Fill(None, 0.5)
    results = [
        OutlineResult(RING, [note], None, "Buoy", "Floats", (ColourLayer(red, square(9)),), (square(7), square(8, 1))),
        OutlineResult(None, [], note, "Reef", "Dries"),
        OutlineResult(Outline(RING.xy, RING.on, RING.ends, 12, True, Method.OVERLAPPING), []),
        OutlineResult(square(3), [], layers=(ColourLayer(glass, square(4)), ColourLayer(red, RING))),
        OutlineResult(square(5), [], masters=(RING,)),
    ]
    before = [(r.outlines, [layer.fill for layer in r.layers], len(r.masters)) for r in results]
    packed = PackedResults.pack(results)
    assert all(not r.outlines and not r.layers and not r.masters for r in packed.results)
    for (outlines, fills, masters), was, now in zip(before, results, packed.unpack(), strict=True):
        assert len(outlines) == len(now.outlines) and all(map(same, outlines, now.outlines))
        assert [layer.fill for layer in now.layers] == fills and len(now.masters) == masters
        assert (was.diagnostics, was.problem, was.title) == (now.diagnostics, now.problem, now.title)
        assert was.description == now.description


def outline(points: int, contours: int = 1, **changed: object) -> Outline:
    ends: Ints = np.linspace(0, points, contours + 1).astype(np.int64)[1:] - 1
    made = Outline(np.ones((points, 2), np.int64), np.ones(points, bool), ends, 1000)
    return replace(made, **changed)  # type: ignore[arg-type]


def test_a_result_keeps_what_was_said_of_it() -> None:
    said = Diagnostic("no-ink", "draws nothing")
    found = OutlineResult(None, [said], said, "Buoy", "Floats").with_outlines([square(9), square(8)], [Fill()], 0)
    assert (found.problem, found.diagnostics, found.title, found.description) == (said, [said], "Buoy", "Floats")
    assert found.outline is not None and [layer.fill for layer in found.layers] == [Fill()]


def test_grids_are_counted() -> None:
    found = Grids.of([24, 24 + 9e-7, 16, 1, 1])
    assert found.whole == {24: 2, 16: 1, 1: 2} and not found.broken
    assert Grids.of([24.000002]) == ({}, True) == Grids.of([0.4]) and Grids.of([24, 0.0]) == ({24: 1}, True)


def test_what_makes_no_glyph_is_said() -> None:
    wide, deep = np.array([[0, 0], [32_768, 0]]), np.array([[0, 0], [0, -32_768]])
    cases = {
        "no-ink": outline(0, 0),
        "tangled": outline(0, 0, made=Method.TANGLED),
        "too-many-points": outline(65_536),
        "too-wide": outline(2, advance=32_768),
    }
    for code, made in cases.items():
        found = refusal(made)
        assert found is not None and found.code == code and found.what and found.cure
    for beyond in (wide, deep):
        found = refusal(outline(2, xy=beyond))
        assert found is not None and found.code == "too-wide"
    many = refusal(outline(9_000, 4_095))
    assert many is not None and many.code == "too-many-points" and "4,094 separate outlines" in many.what
    for fine in (
        outline(65_535),
        outline(9_000, 4_094),
        outline(2, advance=32_767, xy=np.array([[0, 32_767], [-3, 0]])),
    ):
        assert refusal(fine) is None


def test_what_a_reader_should_know_of_an_outline_is_said() -> None:
    codes = {
        Method.CURVES: [], Method.LINES: ["straight-lines"], Method.OVERLAPPING: ["overlapping"],
        Method.DOUBTFUL: ["doubtful"],
    }  # fmt: skip
    for made, wanted in codes.items():
        assert [d.code for d in remarks(outline(3, made=made))] == wanted
        assert [d.code for d in remarks(outline(3, made=made, cut=True))] == ["outside-frame", *wanted]


PATTERN = '<pattern id="p" width="4" height="4"><path d="M0 0h2v2H0z"/></pattern>'
SHADE = '<linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient>'
PAINTED = {
    "plain": ('<path d="M2 2h9v9z" fill="#c00"/>', [], []),
    "pattern": (f'{PATTERN}<path d="M2 2h9v9z" fill="url(#p)"/>', ["colour-pattern"], ["colour-pattern"]),
    "gradient": (f'{SHADE}<path d="M2 2h9v9z" fill="url(#g)"/>', ["colour-mean"], []),
    "stroke": (f'{SHADE}<path d="M2 2h9v9z" fill="none" stroke="url(#g)"/>', ["colour-mean"], []),
    "text": ('<path d="M2 2h9v9z" fill="currentColor"/>', [], []),
    "glass": ('<path d="M2 2h9v9z" fill="currentColor" opacity=".5"/>', ["colour-opaque"], []),
    "glass in a colour": ('<path d="M2 2h9v9z" fill="#c00" opacity=".5"/>', [], []),
    "all": (
        f'{SHADE}{PATTERN}<path d="M2 2h9v9z" fill="url(#g)" stroke="currentColor" stroke-opacity=".3"/>'
        '<path d="M12 12h9v9z" fill="url(#p)"/>',
        ["colour-pattern", "colour-mean", "colour-opaque"],
        ["colour-pattern"],
    ),
}


@pytest.mark.parametrize("what", PAINTED)
def test_what_layers_do_not_show_is_said(what: str) -> None:
    shapes, flat, rich = PAINTED[what]
    for mode, wanted in ((ColourMode.FLAT, flat), (ColourMode.GRADIENTS, rich), (ColourMode.NONE, [])):
        result = outline_files([framed(shapes)], Options(Em(1024), colour=mode))[0]
        found = [d for d in result.diagnostics if d.code.startswith("colour-")]
        assert [d.code for d in found] == wanted and all(d.what and d.cure for d in found)


def test_what_makes_no_glyph_has_no_layers_either() -> None:
    hidden = framed('<path d="M2 2h9v9z" fill="#c00"/><path fill="#fff" d="M0 0h24v24H0z"/>')
    (result,) = outline_files([hidden], Options(Em(1024), colour=ColourMode.FLAT))
    assert result.problem is not None and result.problem.code == "no-ink" and result.layers == ()


def test_a_drawing_that_breaks_the_program_spoils_no_other(monkeypatch: pytest.MonkeyPatch) -> None:
    whole = reader.read_drawing

    def fragile(data: bytes, keep_faint: bool) -> Drawing:
        if b"reef" in data:
            raise RuntimeError("aground")
        return whole(data, keep_faint)

    monkeypatch.setattr(reader, "read_drawing", fragile)
    plain = framed('<path d="M2 2h9v9z"/>')
    first, second, third = outline_files([plain, framed("<title>reef</title>"), plain], Options(Em(1024)))
    assert second.problem is not None and second.problem.code == "internal-error"
    assert first.problem is None is third.problem and len(first.outlines) == 1 == len(third.outlines)


def test_titles_and_problems_stay_with_their_drawings() -> None:
    files = [
        framed("<title>Buoy</title><desc>Floats</desc><path d='M2 2h9v9z'/>"),
        b"<svg",
        framed("<title>Reef</title><path d='M30 30h9v9z'/>"),
    ]
    first, second, third = outline_files(files, Options(Em(1024), strokes=2.0))
    assert (first.title, first.description) == ("Buoy", "Floats") and [d.code for d in first.diagnostics] == [
        "no-strokes"
    ]
    assert second.problem is not None and second.outlines == [] == second.diagnostics
    assert third.title == "Reef" and third.problem is not None and third.problem.code == "no-ink"
