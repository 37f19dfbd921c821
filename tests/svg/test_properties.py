"""Every property that paints is worked out or warned of: the list, the code, and what browsers show."""

from __future__ import annotations

import base64
import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from oddpeg.diagnostics import DrawingError
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import em_for, outline_files
from oddpeg.outline.placement import Em
from oddpeg.svg.colours import parse_colour
from oddpeg.svg.document import MAX_ATTRIBUTES
from oddpeg.svg.properties import BY_ATTRIBUTE, HANDLED, UNSEEN, WARNED
from oddpeg.svg.reader import read_drawing
from oddpeg.svg.units import length
from oddpeg.svg.values import Variables
from support.raster import drawing_mask

FRAME = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
BOX = '<path d="M4 4h16v16H4z"/>'

# the property index of SVG 2 (appendix G), and what CSS adds that paints on shapes
INDEX = """alignment-baseline baseline-shift clip-path clip-rule color color-interpolation color-interpolation-filters
color-rendering cursor cx cy d direction display dominant-baseline fill fill-opacity fill-rule filter flood-color
flood-opacity font font-family font-feature-settings font-kerning font-size font-size-adjust font-stretch font-style
font-variant font-weight glyph-orientation-vertical height image-rendering inline-size isolation letter-spacing
lighting-color line-height marker marker-end marker-mid marker-start mask mask-type mix-blend-mode opacity overflow
paint-order pointer-events r rx ry shape-inside shape-margin shape-rendering shape-subtract stop-color stop-opacity
stroke stroke-dasharray stroke-dashoffset stroke-linecap stroke-linejoin stroke-miterlimit stroke-opacity stroke-width
text-align text-anchor text-decoration text-indent text-overflow text-rendering transform transform-box transform-origin
unicode-bidi vector-effect vertical-align visibility white-space width will-change word-spacing writing-mode x y
translate rotate scale mask-image mask-clip mask-composite mask-mode mask-origin mask-position mask-repeat mask-size
mask-border clip backdrop-filter offset offset-path zoom animation animation-name perspective background
background-color background-image border outline box-shadow text-shadow content-visibility all"""


def svg(body: str) -> bytes:
    return f"<svg {FRAME}>{body}</svg>".encode()


def codes(body: str) -> set[str]:
    return {note.code for note in read_drawing(svg(body)).notes}


def test_every_property_of_the_index_has_its_place() -> None:
    index = set(INDEX.split())
    assert index <= HANDLED | set(WARNED) | UNSEEN, sorted(index - HANDLED - set(WARNED) - UNSEEN)
    assert not HANDLED & set(WARNED) and not HANDLED & UNSEEN and not UNSEEN & set(WARNED)
    assert HANDLED | set(WARNED) >= BY_ATTRIBUTE


@pytest.mark.parametrize("name", sorted(WARNED))
def test_what_is_not_worked_out_is_warned_of(name: str) -> None:
    found = codes(f'<path style="{name}: 3px something" d="M4 4h16v16H4z"/>')
    assert found & {"property-ignored", "animation"}, "an ignored property that paints"
    for value in WARNED[name]:
        assert not codes(f'<path style="{name}: {value}" d="M4 4h16v16H4z"/>')
    assert codes(f"<style>path {{ {name}: 3px something }}</style>{BOX}") >= found


# a property, a drawing that has it, and one without it that shows the same
EVERYWHERE = 'd="M0 0h24v24H0z"'
MASK = '<mask id="m"><path fill="#fff" d="M4 4h16v16H4z"/></mask>'
ALL = f'<path fill="#fff" {EVERYWHERE}/>'
AREA = f'<mask id="m" maskUnits="userSpaceOnUse" x="4" y="4" width="16" height="16">{ALL}</mask>'
ALPHA = '<style>mask{mask-type:alpha}</style><mask id="m"><path fill="#000" d="M4 4h16v16H4z"/></mask>'
CLIP = '<clipPath id="c"><path d="M4 4h16v16H4z"/></clipPath>'
LINE = '<path fill="none" stroke="#000" stroke-width="3" d="M4 12h16"/>'
TURNED = '<path style="rotate:{};transform-origin:12px 12px" d="M2 4h4v16H2z"/>'
WIDE = '<path d="M4 2h16v4H4z"/>'
MARKED = '<path paint-order="markers stroke" fill="#fff" stroke="#000" stroke-width="6" d="M6 6h12v12H6z"/>'
SAME = {
    "var": (
        '<g style="--w:3;--c:none"><path style="stroke:#000;stroke-width:var(--w);fill:var(--c)" d="M4 12h16"/></g>',
        LINE,
    ),
    "var fallback": ('<path style="stroke:var(--x, #000);stroke-width:var(--y,3)" d="M4 12h16"/>', LINE),
    "var invalid": (f'<g fill="none"><path fill="var(--none)" d="M4 4h16v16H4z"/></g>{WIDE}', WIDE),
    "calc": (
        '<rect x="calc(2px + 2px)" y="min(4px, 9px)" width="calc(100% / 2)" height="clamp(1px, 12px, 20px)"/>',
        '<rect x="4" y="4" width="12" height="12"/>',
    ),
    "css d": ("<style>path{d:path('M4 4h16v16H4z')}</style><path d='M0 0h1v1z'/>", BOX),
    "css d none": (f"<path style='d:none' d='M0 0h9v9z'/>{BOX}", BOX),
    "rotate": (TURNED.format("90deg"), WIDE),
    "turn": (TURNED.format(".25turn"), WIDE),
    "scale": ('<path style="scale:2" d="M2 2h8v8H2z"/>', BOX),
    "translate": ('<path style="translate:2px 3px" d="M2 1h16v16H2z"/>', BOX),
    "all three": ('<path style="translate:2px;rotate:0deg;scale:2 1" transform="translate(1)" d="M0 4h8v16H0z"/>', BOX),
    "em": ('<g font-size="2"><rect x="2em" y="2em" width="8em" height="8em"/></g>', BOX),
    "mask-image": (f'{MASK}<path style="mask-image:url(#m)" {EVERYWHERE}/>', BOX),
    "mask area": (f'{AREA}<path mask="url(#m)" {EVERYWHERE}/>', BOX),
    "mask-type": (f'{ALPHA}<path mask="url(#m)" {EVERYWHERE}/>', BOX),
    "paint-order": (MARKED, '<path fill-rule="evenodd" d="M3 3h18v18H3zM6 6h12v12H6z"/>'),
    "prefix": (f'<path style="-webkit-clip-path:url(#c)" {EVERYWHERE}/>{CLIP}', BOX),
    "oklch": ('<path fill="oklch(60% 0.15 30)" d="M4 4h16v16H4z"/>', BOX),
    "lab white": (f'{BOX}<path fill="lab(100% 0 0)" d="M8 8h8v8H8z"/>', f'{BOX}<path fill="#fff" d="M8 8h8v8H8z"/>'),
    "transparent mix": (f'{BOX}<path fill="color-mix(in srgb, transparent, transparent)" {EVERYWHERE}/>', BOX),
}
# what another painter does not know yet
IN_BROWSERS_ONLY = {"css d", "css d none", "rotate", "turn", "scale", "translate", "all three", "var", "var fallback",
                    "var invalid", "calc", "mask-image", "mask-type", "prefix", "oklch", "lab white", "transparent mix",
                    "em"}  # fmt: skip


def points(body: str) -> tuple[list[list[int]], set[str]]:
    result = outline_files([svg(body)], Options(Em(960)))[0]
    assert result.outline is not None, result.problem
    return result.outline.xy.tolist(), {d.code for d in result.diagnostics}


@pytest.mark.parametrize("name", SAME)
def test_what_is_worked_out_shows_the_same_as_written_plainly(name: str) -> None:
    drawn, plain = SAME[name]
    xy, told = points(drawn)
    assert sorted(map(tuple, xy)) == sorted(map(tuple, points(plain)[0]))
    assert not told & {"property-ignored", "bad-length", "unknown-paint", "bad-transform"}


@pytest.mark.parametrize("name", sorted(set(SAME) - IN_BROWSERS_ONLY - {"paint-order"}))
def test_another_painter_shows_the_same(name: str) -> None:
    drawn, plain = (drawing_mask(svg(body).decode(), 96, 96) for body in SAME[name])
    assert np.abs(drawn - plain).mean() < 0.01


def test_chromium_shows_the_same(browser: Any, tmp_path: Path) -> None:
    from PIL import Image

    page = tmp_path / "page.html"
    sources = [[base64.b64encode(svg(body)).decode() for body in pair] for pair in SAME.values()]
    image = "<img width=96 height=96 src=data:image/svg+xml;base64,{}>"
    rows = "".join(f"<p>{''.join(map(image.format, pair))}</p>" for pair in sources)
    page.write_text(f"<!doctype html><style>*{{margin:0}} p{{height:96px;font-size:0}}</style>{rows}")
    browser.set_window_size(300, 96 * len(SAME) + 200)
    browser.get(page.as_uri())
    shot = np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("L"), dtype=float)
    wrong = {}
    for row, name in enumerate(SAME):
        drawn, plain = (shot[96 * row : 96 * row + 96, 96 * k : 96 * k + 96] < 250 for k in (0, 1))
        if name in ("paint-order", "lab white"):
            continue  # white is ink to a browser
        if (drawn != plain).mean() > 0.01:
            wrong[name] = float((drawn != plain).mean())
    assert not wrong


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("red", (255, 0, 0, 1)),
        ("oklch(62.796% 0.25768 29.234)", (255, 0, 0, 1)),
        ("oklab(0.62796 0.22486 0.12585)", (255, 0, 0, 1)),
        ("lab(54.29% 80.8 69.9)", (255, 0, 0, 1)),
        ("lch(54.29 106.84 40.86)", (255, 0, 0, 1)),
        ("color(srgb 1 0 0 / 50%)", (255, 0, 0, 0.5)),
        ("color(srgb-linear 0.5 0 0)", (188, 0, 0, 1)),
        ("color(display-p3 0.9175 0.2003 0.1386)", (255, 0, 0, 1)),
        ("color(xyz 0.41239 0.21264 0.01933)", (255, 0, 0, 1)),
        ("hwb(120 0% 0%)", (0, 255, 0, 1)),
        ("color-mix(in srgb, red, blue)", (128, 0, 128, 1)),
        ("color-mix(in srgb, red 25%, blue)", (64, 0, 191, 1)),
        ("color-mix(in srgb, red 20%, blue 20%)", (128, 0, 128, 0.4)),
        ("rgb(from red r g calc(b + 255) / 50%)", (255, 0, 255, 0.5)),
        ("hsl(from red 120 s l)", (0, 255, 0, 1)),
        ("light-dark(red, blue)", (255, 0, 0, 1)),
    ],
)
def test_colours_of_css(text: str, wanted: tuple[float, ...]) -> None:
    found = parse_colour(text)
    assert found is not None
    assert [round(255 * v) for v in found[:3]] == pytest.approx(list(wanted[:3]), abs=1)
    assert found.alpha == pytest.approx(wanted[3])


MIXED = "color-mix(in srgb," * 60 + "red" + ",red)" * 60


@pytest.mark.parametrize(
    "text",
    ["", "huh", "rgb(", "color-mix(in srgb, red)", "oklch(red)", "color(huh 1 1 1)", MIXED, "rgb(from x r g b)", "#12"],
)
def test_what_is_no_colour(text: str) -> None:
    assert parse_colour(text) is None


def test_variables_and_sums() -> None:
    assert Variables().resolve("var(--a)", {"--a": "var(--b)", "--b": "1"}) == "1"
    assert Variables().resolve("var(--a)", {"--a": "var(--b)", "--b": "var(--a)"}) is None, "a loop"
    assert Variables().resolve("x var(--a, 1, 2)", {}) == "x  1, 2"
    assert length("calc(1em + 10%)", 50.0, 8.0) == 13.0
    for text in ("calc(1px + )", "calc(1 / 0)", "max()", "calc(1px 2px)", "huh(1)", "(" * 99 + "1" + ")" * 99):
        assert length(text) is None


# what a stranger can write so that it costs much: refused, or read, before the work is done
MANY = " ".join(f"a{number}='x'" for number in range(MAX_ATTRIBUTES + 1))
USES = "".join(f'<g id="b{i + 1}"><use href="#b{i}"/></g>' for i in range(500))
DOUBLING = "".join(f"--v{i}:var(--v{i + 1}) var(--v{i + 1});" for i in range(30))
COSTLY = {
    "variables": f'<g style="{DOUBLING}--v30:;"><path style="fill:var(--v0)" d="M4 4h9v9z"/></g>',
    "attributes": f"<path {MANY} d='M4 4h16v16H4z'><title>{'x' * 9000}</title></path>",
    "rules": f"<style>{''.join(f'.c{i},.d{i}{{fill:red}}' for i in range(3000))}</style>{BOX * 300}",
    "has": f"<style>:has(path){{fill:red}}</style>{BOX * 1200}",
    "elements": BOX * 20_001,
    "uses": f'<g id="b0">{BOX * 50}</g>{USES}',
    "nesting": "<svg>" * 240 + BOX + "</svg>" * 240,
    "segments": f'<path d="M4 4{"h1v1" * 30_000}"/>',
}


@pytest.mark.parametrize("name", COSTLY)
def test_what_costs_too_much_is_refused(name: str) -> None:
    with pytest.raises(DrawingError) as found:
        read_drawing(svg(COSTLY[name]))
    assert found.value.diagnostic.code == "runaway" and found.value.diagnostic.cure


@pytest.mark.parametrize(
    "body",
    [
        f"<style>{'g ' * 3000}path{{fill:red}}</style>{BOX}",
        f"<style>{':not(' * 3000}g{')' * 3000}{{fill:red}}</style>{BOX}",
        f"<style>path{{ fill: red; &amp;:hover {{ fill: blue }} }}</style>{BOX}",
        f"<style>@layer x {{ path {{ fill: none }} }}</style>{BOX}",
    ],
)
def test_rules_that_are_not_understood_are_named(body: str) -> None:
    assert "style-rule" in codes(body)


@pytest.mark.parametrize("value", ["scale(1e999)", "matrix(1e308 0 0 1e308 1e308 0) scale(1e300)", "rotate(1e400)"])
def test_a_transform_without_bounds_is_warned_of(value: str) -> None:
    assert "bad-transform" in codes(f'<path transform="{value}" d="M4 4h16v16H4z"/>{BOX}')


def test_a_linked_style_sheet_is_named() -> None:
    data = b'<?xml-stylesheet href="x.css"?>' + svg(BOX)
    assert {n.code for n in read_drawing(data).notes} == {"style-rule"}


@pytest.mark.parametrize("text", ["viewBox " * 30_000, 'viewBox="0 0 24 24" ' * 15_000, "<!--" * 60_000, "<?" * 90_000])
def test_the_look_for_a_frame_cannot_run_away(text: str) -> None:
    """Counted: the pattern sees no more than the file's beginning, whatever its length."""
    from oddpeg.outline import pipeline

    seen: list[int] = []

    class Counting:
        def match(self, data: bytes) -> None:
            seen.append(len(data))

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(pipeline, "_VIEW_BOX", Counting())
        em_for("auto", None, [f"<svg {text}".encode()])
    assert seen == [2048]


def test_the_em_suits_packed_drawings_too() -> None:
    import gzip

    data = svg(BOX).replace(b"0 0 24 24", b"0 0 45 45")
    assert em_for("auto", None, [gzip.compress(data)]).em == em_for("auto", None, [data]).em
