"""One drawing alone and among others: what it does to them, and what ends its work."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Sequence

import numpy as np
import pytest

import mixtures
import oddpeg as odd
from oddpeg import parallel
from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import outline_files
from oddpeg.outline.placement import Em
from oddpeg.parallel import map_batches
from support.data import table
from support.project import ProjectFolder

DATA = table("bounds")
OPTIONS = Options(Em(1200, 0.0))


def drawn(body: str) -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>'.encode()


@pytest.mark.parametrize("mode", mixtures.MODES)
def test_made_up_drawings_are_the_same_alone_and_among_others(mode: str) -> None:
    assert mixtures.findings(range(12), mode, {"longest": 0.0}) == []


@pytest.mark.parametrize("mode", mixtures.MODES)
def test_what_was_found_is_drawn_or_refused(mode: str) -> None:
    files = [drawn(body) for body in DATA["found"].values()]
    for result in outline_files(files, mixtures.MODES[mode]):
        assert result.problem is None or result.problem.code != "internal-error", result.problem


def test_layers_of_one_drawing_count_together() -> None:
    (result,) = outline_files([mixtures.drawing(6001041)], mixtures.MODES["colour"])  # a scribble as a clip of eight
    assert result.problem is not None and result.problem.code == "tangled"


@pytest.mark.parametrize("what", DATA["far"])
def test_ink_far_away_is_cut_at_the_frame(what: str) -> None:
    case = DATA["far"][what]
    (result,) = outline_files([drawn(case["body"])], OPTIONS)
    assert result.outline is not None and [d.code for d in result.diagnostics] == ["outside-frame"]
    corners = (result.outline.xy * [1, -1] / 50 + [0, 24]).tolist()  # user units
    assert sorted(corners) == [pytest.approx(corner, abs=0.02) for corner in sorted(case["corners"])]


def glyphs_of(project: ProjectFolder) -> dict[str, list[tuple[int, int]]]:
    from fontTools.ttLib import TTFont

    font = TTFont(project.deliver().root / "dist/tide-marks.ttf")
    return {name: list(font["glyf"][name].getCoordinates(font["glyf"])[0]) for name in font.getGlyphOrder()}


def test_no_drawing_changes_the_glyph_of_another(project: ProjectFolder) -> None:
    project.icon("ring", drawn('<circle cx="12" cy="12" r="9"/>')).icon(
        "bell", drawn('<path d="M3 9c4-9 9 3 18 2v9z"/>')
    )
    before = glyphs_of(project)
    project.icon("reef", drawn('<path d="M2 2h9v9z"/><path d="M0 0L1e5 1e5L0 1e5z"/>'))
    partly_cached = glyphs_of(project)
    for file in (project.root / ".oddpeg/cache").rglob("*"):
        if file.is_file():
            file.unlink()
    cold = glyphs_of(project)
    assert partly_cached == cold and before.items() <= cold.items()
    assert "straight-lines" not in project.run("build", "--notes").stdout


def scribble(count: int, attributes: str) -> bytes:
    points = np.random.default_rng(1).uniform(0, 24, (count, 2))
    return drawn(f'<path {attributes} d="M{" ".join(f"{x:.2f} {y:.2f}" for x, y in points)}z"/>')


@pytest.mark.parametrize("attributes", ['fill="#c33"', 'fill="#c33" fill-rule="evenodd"', 'stroke="#c33" fill="none"'])
def test_a_scribble_is_refused_before_its_colours_are_looked_at(
    monkeypatch: pytest.MonkeyPatch, attributes: str
) -> None:
    asked: list[int] = []

    def counted(shown: Sequence[object], _: Options) -> list[object]:
        asked.append(len(shown))
        return []

    monkeypatch.setattr("oddpeg.outline.window.outline_colours", counted)
    (result,) = outline_files([scribble(3000, attributes)], OPTIONS._replace(colour=ColourMode.FLAT))
    assert result.problem is not None and result.problem.code == "tangled" and asked == [0]


def work(items: Sequence[str]) -> list[str]:
    for item in items:
        while item == "endless":
            pass
        if item == "greedy":
            assert not [bytearray(1 << 28) for _ in range(40)]
        if item == "crash":
            os.kill(os.getpid(), signal.SIGTERM)
        if item == "wrong":
            raise ValueError("wrong")
    return [item.upper() for item in items]


def failed(item: str, problem: Diagnostic) -> list[str]:
    return [f"{item}: {problem.code}"]


@pytest.mark.skipif(sys.platform != "linux", reason="work is ended in processes that fork")
@pytest.mark.parametrize("processors", [1, 2])
def test_work_that_does_not_end_is_ended_for_one_item_only(monkeypatch: pytest.MonkeyPatch, processors: int) -> None:
    monkeypatch.setattr(parallel, "CAN_FORK", True)
    monkeypatch.setattr(parallel, "SECONDS", 0.5)
    monkeypatch.setattr(parallel, "MEMORY", 1 << 30)
    monkeypatch.setattr(parallel, "MIN_ITEMS", 2)
    monkeypatch.setattr(parallel, "processors", lambda: processors)
    items = ["one", "endless", "two", "greedy", "three", "crash", "four", "five"]
    results = [result for batch in map_batches(work, items, 3, failed=failed) for result in batch]
    ended = {"endless": "endless: tangled", "greedy": "greedy: tangled", "crash": "crash: internal-error"}
    assert results == [ended.get(item, item.upper()) for item in items]
    with pytest.raises(ValueError, match="wrong"):
        list(map_batches(work, ["one", "wrong"], 9, failed=failed))


ENDLESS = {
    "loops": "{% for a in range(99999) %}{% for b in range(99999) %}{% endfor %}{% endfor %}",
    "doubling": '{% set n = namespace(t="x") %}{% for i in range(60) %}{% set n.t = n.t ~ n.t %}{% endfor %}',
}


@pytest.mark.skipif(sys.platform != "linux", reason="work is ended in processes that fork")
@pytest.mark.parametrize("what", ENDLESS)
def test_a_template_without_end_is_named(monkeypatch: pytest.MonkeyPatch, project: ProjectFolder, what: str) -> None:
    monkeypatch.setattr(parallel, "CAN_FORK", True)
    monkeypatch.setattr(parallel, "SECONDS", 1.0)
    monkeypatch.setattr(parallel, "MEMORY", 1 << 28)
    text = project.read("oddpeg.toml").replace(
        '["css", ', '["css", { kind = "template", template = "t.txt", to = "x" }, '
    )
    project.write("t.txt", ENDLESS[what]).config(text)
    with pytest.raises(odd.OddPegError, match="cannot be filled in: it would need more than"):
        odd.build(odd.open_project(project.root))
