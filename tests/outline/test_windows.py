"""What of a drawing stands where on the em: windows around its ink, frames that cut, squares, layers of colour."""

from __future__ import annotations

import pytest

from oddpeg.geometry.boxes import Box
from oddpeg.outline.masters import can_vary, varying_outlines
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.placement import Em
from oddpeg.outline.window import ink_windows, outline_colours, outline_drawings, windowed_layers
from oddpeg.svg.model import Colour
from support.outlines import drawing, extent, outline

SHADE = (
    '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="4" x2="12"><stop stop-color="red"/>'
    '<stop offset="1" stop-color="blue"/></linearGradient>'
)
INKED = {
    "ten wide, four high": ('<path d="M20 24h10v4H20z"/>', "10 20 48 24", (18.75, 19.75, 12.5)),
    "no ink": ('<path d="M1 1h2"/>', "0 0 24 24", None),
    "white on top": (
        '<path d="M2 3h6v12H2z"/><path fill="#fff" d="M2 3h6v4H2z"/>', "0 0 24 24", (0, 6, 10),
    ),
    "beyond its frame": ('<path d="M-9 4h12v2H-9z"/>', "0 0 24 24", (-0.375, 3.125, 3.75)),
}  # fmt: skip


def test_windows_are_squares_around_the_ink() -> None:
    drawings = [drawing(shapes, frame) for shapes, frame, _ in INKED.values()]
    options = Options(Em(1000), fit="ink", padding=0.1)
    found = ink_windows(drawings, options)
    for window, (what, (_, _, wanted)) in zip(found, INKED.items(), strict=True):
        if wanted is None:
            assert window is None, what
        else:
            assert window == pytest.approx(Box(*wanted, wanted[2]), abs=0.004), what
    assert [layer.window for layer in windowed_layers(drawings, options)] == found
    assert [layer.window for layer in windowed_layers(drawings, options._replace(fit="frame"))] == [None] * 4


def test_layers_of_colour_share_the_window_of_their_drawing() -> None:
    drawings = [
        drawing('<path fill="#c00" d="M4 4h8v4H4z"/><path fill="#00c" d="M4 8h8v4H4z"/>'),
        drawing('<path d="M4 4h8v8H4z"/>'),
        drawing(f'{SHADE}<path fill="url(#g)" d="M4 4h8v8H4z"/><path fill="#0c0" d="M7 7h2v2H7z"/>'),
    ]
    options = Options(Em(1000, 0.25), fit="ink", padding=0.1, colour=ColourMode.GRADIENTS)
    two, plain, shaded = outline_colours(drawings, options)
    assert [layer.fill.colour for layer in two] == [Colour(204, 0, 0), Colour(0, 0, 204)]
    assert plain == [], "its colour is the text's"
    for layers in (two, shaded):
        assert extent([layer.outline for layer in layers]) == [100, -150, 900, 650]
    matrix = shaded[0].fill.matrix  # of the gradient, to font units
    assert [matrix.a * x + matrix.c * 4 + matrix.e for x in (4, 12)] == pytest.approx([100, 900], abs=0.5)
    assert [matrix.b * 4 + matrix.d * y + matrix.f for y in (4, 12)] == pytest.approx([650, -150], abs=0.5)
    flat = outline_colours(drawings, options._replace(colour=ColourMode.FLAT, fit="frame"))
    assert flat[2][0].fill.gradient is None and extent([flat[2][0].outline]) == [167, 250, 500, 583]


def test_frames_cut_wherever_they_begin() -> None:
    options = Options(Em(1000, 0.25))
    for beyond in ("M-90 -90h300v300h-300z", "M9 19h26v26h-26z"):
        glyph = outline_drawings([drawing(f'<path d="{beyond}"/>', "10 20 24 24")], options)[0]
        assert glyph.cut and extent([glyph]) == [0, -250, 1000, 750] and len(glyph.xy) == 4
    wide = drawing('<path d="M-9 4h12v2H-9z"/>')  # its window reaches to the left of its frame, where no ink may be
    assert extent(outline_drawings([wide], options._replace(fit="ink", padding=0.1))) == [100, -17, 900, 517]


@pytest.mark.parametrize("side", ["M-6 8h9v8h-9z", "M21 8h9v8h-9z", "M8 -6h8v9h-8z", "M8 21h8v9h-8z"])
def test_what_white_hides_beyond_the_frame_is_not_cut(side: str) -> None:
    body = f'<path d="M0 0h24v24H0z"/><path d="{side}"/><path fill="#fff" d="{side}"/>'
    hidden, shown = outline_drawings([drawing(body), drawing(f'<path d="{side}"/>')], Options(Em(1008)))
    assert not hidden.cut and shown.cut


def test_narrow_frames_stand_in_the_middle_of_a_square() -> None:
    narrow = drawing(f'{SHADE}<path fill="url(#g)" stroke="#000" stroke-width="2" d="M3 3h6v18H3z"/>', "0 0 12 24")
    options = Options(Em(960, 0.25), fit="square", colour=ColourMode.GRADIENTS, masters=(1.0,))
    (glyph,), (layers,) = outline_drawings([narrow], options), outline_colours([narrow], options)
    (varying,) = varying_outlines([narrow], options)
    assert varying is not None and glyph.advance == 960 == varying.outline.advance
    wanted = [240 + 80, -240 + 80, 240 + 400, 720 - 80]
    assert extent([glyph]) == wanted == extent([varying.outline]) == extent([layer.outline for layer in layers])
    matrix = layers[0].fill.matrix
    assert [matrix.a * x + matrix.e for x in (0, 12)] == pytest.approx([240, 720])


def test_what_has_nothing_to_vary_does_not() -> None:
    dot, round_dot = (
        drawing(f'<path d="M2 2h9v9z"/><path fill="none" stroke="#000" stroke-linecap="{cap}" d="M5 15h0"/>')
        for cap in ("butt", "round")
    )
    none, some = varying_outlines([dot, round_dot], Options(Em(960), masters=(0.5, 2.0)))
    assert none is None and some is not None and len(some.masters) == 2


def test_fills_and_strokes_are_painted_in_their_order() -> None:
    white_stroke = '<path stroke="#fff" stroke-width="4" {}d="M4 4h16v16H4z"/>'
    above, below = (outline(white_stroke.format(order)) for order in ("", 'paint-order="stroke" '))
    assert extent([above]) == [6 * 42, 882 - 18 * 42, 18 * 42, 882 - 6 * 42]
    assert extent([below]) == [4 * 42, 882 - 20 * 42, 20 * 42, 882 - 4 * 42]


CLIP = '<clipPath id="c"><path d="M0 0h900v900H0z"/></clipPath>'


@pytest.mark.parametrize(
    ("shapes", "able"),
    [
        ('<path d="M2 2h9v9z"/>', False),
        ('<path d="M2 2h9v9z" stroke="#000"/>', True),
        ('<path d="M2 2h9v9z" stroke="#000"/><path fill="#fff" d="M2 2h9v9z"/>', False),
        ('<path d="M2 2h9v9z" stroke="#fff"/>', False),
        (f'{CLIP}<path clip-path="url(#c)" d="M2 2h9v9z" stroke="#000"/>', False),
        (f'{CLIP}<path clip-path="url(#c)" d="M2 2h9v9z"/><path d="M2 2h9v9z" stroke="#000"/>', True),
    ],
)
def test_what_can_vary_along_an_axis(shapes: str, able: bool) -> None:
    assert can_vary(drawing(shapes)) is able
