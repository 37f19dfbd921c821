"""A short run of the fuzz targets, without coverage guidance (see fuzz/run.py for the long one), and what fuzzing
found."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import targets
from oddpeg.diagnostics import DrawingError
from oddpeg.outline.pipeline import outline_files
from oddpeg.svg.reader import read_drawing

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">'


@settings(max_examples=150, deadline=None)
@given(st.binary(min_size=20, max_size=400))
def test_any_mixture_of_known_words_is_drawn_or_refused(data: bytes) -> None:
    targets.words(data)


@settings(max_examples=300, deadline=None)
@given(st.text("MmLlHhVvCcSsQqTtAaZz0123456789.,-+eE \n", max_size=60))
def test_any_path_data_is_read_or_refused(data: str) -> None:
    targets.path_data(data.encode())


@settings(max_examples=120, deadline=None)
@given(
    st.sampled_from(targets.SEEDS),
    st.lists(st.tuples(st.integers(0, 500), st.integers(0, 8), st.binary(max_size=6)), max_size=6),
)
def test_any_damage_to_a_file_is_drawn_or_refused(seed: bytes, cuts: list[tuple[int, int, bytes]]) -> None:
    for at, gone, new in cuts:
        seed = seed[:at] + new + seed[at + gone :]
    targets.svg_file(seed)


@pytest.mark.parametrize(
    "body",
    [
        '<path marker-start="url(#m)"/><marker id="m"><path d="M0 0h9v9z"/></marker><path d="M1 1h9v9z"/>',
        '<path style="fill:none;stroke:red" d="M0 0l0 0"/>',
    ],
)
def test_what_fuzzing_found_stays_mended(body: str) -> None:
    targets.svg_file(f"{HEAD}{body}</svg>".encode())


def test_frames_without_height_do_not_count() -> None:
    for box in ("0 0 24 0", "0 0 24 " + "9" * 400):
        targets.svg_file(
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}"><path d="M1 1h9v9z"/></svg>'.encode()
        )


def test_a_glyph_with_more_points_than_a_font_can_number_is_refused() -> None:
    dashes = "".join(f"M{i % 130 * 0.18:.2f} {i // 130 * 0.18:.2f}h.1" for i in range(17_000))
    found = outline_files(
        [f'{HEAD}<path stroke="#000" stroke-width=".1" d="{dashes}"/></svg>'.encode()], targets.OPTIONS
    )[0]
    assert found.problem and found.problem.code == "too-many-points" and found.outline is None


def test_limits_are_refused_by_name() -> None:
    nested = HEAD + "<g>" * 400 + "</g>" * 400 + "</svg>"
    for data, code in ((nested.encode(), "runaway"), (b"<svg" + b" " * 8_000_001, "too-large")):
        with pytest.raises(DrawingError) as refused:
            read_drawing(data)
        assert refused.value.diagnostic.code == code and refused.value.diagnostic.cure
