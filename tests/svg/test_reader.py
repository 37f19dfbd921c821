"""Reading drawings: path data, transforms, lengths, paints, frames, and what keeps runaway files in bounds."""

from __future__ import annotations

import gzip

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from oddpeg.diagnostics import DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.iconset.names import icon_name
from oddpeg.svg.model import Effect, Paint
from oddpeg.svg.paint import parse_paint
from oddpeg.svg.path_data import PathFault, parse_path
from oddpeg.svg.reader import MAX_ELEMENTS, read_drawing
from oddpeg.svg.transforms import parse_transform
from oddpeg.svg.units import length
from oddpeg.svg.viewport import fit_box
from support.data import table

DATA = table("reader")


def svg(body: str, attributes: str = 'viewBox="0 0 24 24"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {attributes}>{body}</svg>'.encode()


SAME = DATA["same"]


@pytest.mark.parametrize(("one", "other"), SAME)
def test_spellings_of_one_path(one: str, other: str) -> None:
    a, b = parse_path(one), parse_path(other)
    assert (
        a.coords == pytest.approx(b.coords) and a.degrees == b.degrees and a.starts == b.starts and a.closed == b.closed
    )


BAD = DATA["bad"]


@pytest.mark.parametrize("data", BAD)
def test_path_faults_keep_what_came_before(data: str) -> None:
    with pytest.raises(PathFault) as found:
        parse_path(data)
    assert BAD[data] <= found.value.at <= BAD[data] + 4
    assert len(found.value.path.coords) == 8 * len(found.value.path.degrees)


def test_digits_of_other_scripts_are_no_numbers() -> None:
    with pytest.raises(PathFault, match="unexpected") as found:
        parse_path("M0 0h5v\u0663z")
    assert found.value.path.degrees == [1]


size = st.floats(-320, 8.5).map(lambda power: 10.0**power)


@settings(max_examples=300, deadline=None)
@given(st.tuples(size, size, size, size, size, size), st.booleans(), st.booleans(), st.sampled_from([0.0, 30.0, 1e8]))
def test_arcs_of_any_size_end_where_they_should(v: tuple[float, ...], large: bool, sweep: bool, turn: float) -> None:
    rx, ry, x, y, dx, dy = v
    path = parse_path(f"M{x!r} {y!r}A{rx!r} {ry!r} {turn!r} {int(large)} {int(sweep)} {x + dx!r} {y + dy!r}")
    assert np.isfinite(path.coords).all() and path.coords[-2:] == [x + dx, y + dy]


def test_transforms() -> None:
    assert parse_transform("rotate(90 12 12)") == pytest.approx((0, 1, -1, 0, 24, 0))
    assert parse_transform("translate(1,2) scale(2)") == pytest.approx((2, 0, 0, 2, 1, 2))
    assert parse_transform(" none ") == (1, 0, 0, 1, 0, 0)
    for wrong in ("rotate(1 2)", "matrix(1 2 3)", "turn(1)", "scale(1", "scale()", "translate(1px)", "Rotate(9)"):
        assert parse_transform(wrong) is None


def test_lengths() -> None:
    assert [length(t, 200.0) for t in ("1.5", "10px", "1in", "25.4mm", "12pt", "1pc", "50%", "2em")] == pytest.approx(
        [1.5, 10, 96, 96, 16, 16, 100, 32]
    )
    assert length(None) is None and length("wide") is None and length("3furlongs") is None


def test_paints() -> None:
    assert parse_paint("none", "").effect is None and parse_paint("rgba(0,0,0,0)", "").effect is None
    for white in ("#fff", "#FFFFFF", "white", "rgb(255, 255, 255)", "hsl(0 0% 100%)"):
        assert parse_paint(white, "").effect is Effect.WHITE
    for ink in ("#fefefe", "currentColor", "#123", "rebeccapurple", "rgb(100% 0 0)"):
        assert parse_paint(ink, "black").effect is Effect.INK
    assert parse_paint("rgba(0,0,0,.5)", "").alpha == 0.5
    assert parse_paint("url(#g) none", "").server == "g"
    assert not parse_paint("seaweed", "").understood


@pytest.mark.parametrize(("aspect", "wanted"), DATA["nested_frames_fit_as_asked"])
def test_nested_frames_fit_as_asked(aspect: str, wanted: tuple[float, ...]) -> None:
    assert fit_box(Box(0, 0, 10, 10), 0, 0, 40, 20, aspect) == pytest.approx(wanted)


def test_packed_files_other_encodings_and_doctypes() -> None:
    plain = svg('<path d="M2 2h9v9z"/>')
    assert read_drawing(gzip.compress(plain)).shapes
    assert read_drawing(b"\xef\xbb\xbf" + plain).shapes
    assert read_drawing(
        '<?xml version="1.0" encoding="UTF-16"?>'.encode("utf-16") + plain.decode().encode("utf-16-le")
    ).shapes
    entity = (
        b'<!DOCTYPE svg [<!ENTITY ns "http://www.w3.org/2000/svg">]><svg xmlns="&ns;" viewBox="0 0 9 9"><path d="M0'
        b' 0h9v9z"/></svg>'
    )
    assert read_drawing(entity).shapes


def test_the_cascade_knows_specificity_and_importance() -> None:
    body = (
        "<style>path{fill:none} .a{fill:#fff} #b{fill:none} .c{fill:#fff!important}</style>"
        '<path d="M0 0h9v9z"/><path class="a" d="M0 0h9v9z"/><path class="a" id="b" d="M0 0h9v9z"/>'
        '<path class="c" style="fill:#000" d="M0 0h9v9z"/><path style="fill:#000" fill="none" d="M0 0h9v9z"/>'
    )
    assert [s.fill and s.fill.effect for s in read_drawing(svg(body)).shapes] == [
        Effect.WHITE,
        Effect.WHITE,
        Effect.INK,
    ]


def test_inherit_and_initial() -> None:
    body = '<g fill="none" stroke="#000"><g fill="initial" stroke="inherit"><path d="M0 0h9v9z"/></g></g>'
    (shape,) = read_drawing(svg(body)).shapes
    assert shape.fill is not None and shape.fill.effect is Effect.INK and shape.stroke is not None


def test_nothing_outside_the_file_is_read(tmp_path: object) -> None:
    data = b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/hostname">]>' + svg(
        "<title>&x;</title><path d='M0 0h9v9z'/>"
    )
    try:
        assert read_drawing(data).title == ""
    except DrawingError as problem:
        assert problem.diagnostic.code == "broken-xml"


def test_runaway_files_end_soon() -> None:
    bomb = "".join(f'<g id="u{i}">{f"<use href={chr(34)}#u{i - 1}{chr(34)}/>" * 10}</g>' for i in range(1, 10))
    with pytest.raises(DrawingError, match=f"{MAX_ELEMENTS:,}"):
        read_drawing(svg(f'<defs><path id="u0" d="M2 2h9v9z"/>{bomb}</defs><use href="#u9"/>'))
    with pytest.raises(DrawingError):
        read_drawing(svg("<g>" * 5000 + "<path d='M0 0h9v9z'/>" + "</g>" * 5000))
    with pytest.raises(DrawingError):
        read_drawing(svg(f'<path d="M0 0{"l1 1l1-1" * 200_000}z"/>'))
    loop = read_drawing(svg('<g id="a"><use href="#a"/><path d="M2 2h9v9z"/></g>'))
    assert "reference-loop" in {n.code for n in loop.notes}


@pytest.mark.parametrize(("file", "name"), DATA["names_follow_one_rule"])
def test_names_follow_one_rule(file: str, name: str) -> None:

    assert icon_name(file) == name


@pytest.mark.parametrize(("stops", "shows"), DATA["a_gradient_in_a_mask_shows_where_it_is_bright"])
def test_a_gradient_in_a_mask_shows_where_it_is_bright(stops: str, shows: bool) -> None:
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 24 24">'
        f'<linearGradient id="s">{stops}</linearGradient><linearGradient id="g" xlink:href="#s"/>'
        '<mask id="m"><path fill="url(#g)" d="M0 0h24v24H0z"/></mask><path mask="url(#m)" d="M2 2h9v9H2z"/></svg>'
    )
    (shape,) = read_drawing(svg.encode()).shapes
    assert (shape.clips[0].shapes[0].fill == Paint(Effect.INK)) == shows
