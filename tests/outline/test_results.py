"""Parts of outlining by themselves: what is too tangled, which em suits a set, how results travel."""

from __future__ import annotations

import gzip
from pathlib import Path

import pytest

from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import em_for, frame_height, outline_files
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.svg import reader
from oddpeg.svg.model import Drawing
from support.data import table
from support.outlines import framed

DATA = table("results")


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
    assert em_for("auto", "auto", files) == ChosenEm(Em(1008, 3 / 24), True, 24)
    assert em_for("auto", "auto", files[2:]) == ChosenEm(Em(1024, 2 / 16), True, 16)
    assert em_for("small", "auto", files) == ChosenEm(Em(480, 3 / 24), True, 24)
    assert em_for("small", 0.2, [framed("", "0 0 256 256")]) == ChosenEm(Em(512, 0.2), True, None)
    assert em_for(1000, "auto", files) == ChosenEm(Em(1000, 3 / 24), True, 24)
    assert em_for("auto", 0.2, files) == ChosenEm(Em(1008, 0.2), True, None)
    assert em_for(900, 0.25, iter([])) == ChosenEm(Em(900, 0.25), True, None)
    assert em_for("auto", "auto", [framed("", "0 0 24 24.5")]) == ChosenEm(Em(1024, 0.125), False, None)
    assert em_for("auto", "auto", [framed("", "0 0 24 17"), framed("", "0 0 24 19")]) == ChosenEm(
        Em(1024, 2 / 19), False, 19
    )
    assert em_for("auto", "auto", [framed("", "0 0 1 20")]) == ChosenEm(Em(1000, 3 / 20), True, 20)


PAINTED = DATA["painted"]


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

    def fragile(data: bytes) -> Drawing:
        if b"reef" in data:
            raise RuntimeError("aground")
        return whole(data)

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
