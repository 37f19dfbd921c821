"""Every property that paints is worked out or warned of: the list, the code, and what browsers show."""

from __future__ import annotations

import pytest

from oddpeg.diagnostics import DrawingError
from oddpeg.outline.pipeline import em_for
from oddpeg.svg.colours import parse_colour
from oddpeg.svg.conditions import Screen, media_applies, supports
from oddpeg.svg.document import MAX_ATTRIBUTES
from oddpeg.svg.properties import BY_ATTRIBUTE, HANDLED, UNSEEN, WARNED, valid_value
from oddpeg.svg.reader import read_drawing
from oddpeg.svg.units import length
from oddpeg.svg.values import Variables
from support.data import table

DATA = table("properties")
READING = table("reading")

FRAME = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
BOX = '<path d="M4 4h16v16H4z"/>'

# the property index of SVG 2 (appendix G), and what CSS adds that paints on shapes
INDEX = DATA["index"]


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


@pytest.mark.parametrize(("text", "wanted"), DATA["colours_of_css"])
def test_colours_of_css(text: str, wanted: tuple[float, ...]) -> None:
    found = parse_colour(text)
    assert found is not None
    assert [round(255 * v) for v in found[:3]] == pytest.approx(list(wanted[:3]), abs=1)
    assert found.alpha == pytest.approx(wanted[3])


MIXED = "color-mix(in srgb," * 60 + "red" + ",red)" * 60


@pytest.mark.parametrize("text", [*DATA["no_colours"], MIXED])
def test_what_is_no_colour(text: str) -> None:
    assert parse_colour(text) is None


def test_variables_and_sums() -> None:
    assert Variables().resolve("var(--a)", {"--a": "var(--b)", "--b": "1"}) == "1"
    assert Variables().resolve("var(--a)", {"--a": "var(--b)", "--b": "var(--a)"}) is None, "a loop"
    assert Variables().resolve("x var(--a, 1, 2)", {}) == "x  1, 2"
    for text, wanted in DATA["sums"]:
        assert length(text, 50.0, 8.0) == pytest.approx(wanted), text
    for text in (*DATA["no_sums"], "(" * 99 + "1" + ")" * 99):
        assert length(text) is None, text


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


def test_the_em_suits_packed_drawings_too() -> None:
    import gzip

    data = svg(BOX).replace(b"0 0 24 24", b"0 0 45 45")
    assert em_for("auto", "auto", [gzip.compress(data)]).em == em_for("auto", "auto", [data]).em


@pytest.mark.parametrize(("body", "told"), DATA["what_is_left_out_is_named"])
def test_what_is_left_out_is_named(body: str, told: str) -> None:
    notes = [n for n in read_drawing(svg(body)).notes if n.code in ("property-ignored", "bad-length")]
    assert len(notes) == 1 and told in notes[0].what and notes[0].cure


def test_conditions_of_rules() -> None:
    import tinycss2

    def tokens(text: str) -> list[object]:
        return list(tinycss2.parse_component_value_list(text))

    for holds, wanted in (("holds", True), ("fails", False)):
        assert {q for q in READING["media"][holds] if media_applies(tokens(q), Screen(24, 12)) is not wanted} == set()
        assert {q for q in READING["supports"][holds] if supports(tokens(q)) is not wanted} == set()


def test_values_of_properties() -> None:
    for kind, wanted in (("valid", True), ("wrong", False)):
        declared = [line.partition(":")[::2] for line in READING["values"][kind]]
        assert [name for name, value in declared if (valid_value(name, value, False) is not None) is not wanted] == []
