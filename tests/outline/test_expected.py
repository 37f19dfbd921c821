"""Outlines, made by calls, of every drawing of the gallery (which is held against an independent renderer) and of two
in colours, placed in several ways: whatever moves a point by more than a unit shows."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from oddpeg.outline.model import ColourMode, Options, Outline
from oddpeg.outline.pipeline import OutlineResult, outline_files
from oddpeg.outline.placement import Em
from oddpeg.svg.model import Translucent
from support.data import table
from support.expected import writing
from support.gallery import GALLERY

DATA = table("expected")

EXPECTED = Path(__file__).with_name("expected.json")
MOST = 1  # unit, by which another processor's sines may round
ALL = Options(Em(1024), colour=ColourMode.GRADIENTS, masters=(0.5, 2.0))
VARIANTS = {
    "": Options(Em(1008)),
    " in colours, along an axis": ALL,
    " by its ink": Options(Em(1000, 0.2), fit="ink", padding=0.1, precision=1.0),
    " by its ink, in colours, along an axis": ALL._replace(fit="ink", padding=0.05),
    " squared, strokes wider": Options(Em(2048), fit="square", strokes=1.5, translucent=Translucent.DROP),
}
COLOURED = DATA["coloured"]
HARD = DATA["hard"]
# held against a browser by the tests of `svg`
READ, PAINTED = (table("reading")[name] for name in ("alike", "painted"))
DRAWN = {**GALLERY, **COLOURED, **HARD, **READ, **PAINTED}
FEW = ("stroke-on-curve", "cap-round", "join-round", "even-odd", "path-arcs", "current-colour", "dashes", "circle")
ALL_WAYS = (*FEW, *COLOURED)
ALONG = tuple(name for name in DRAWN if name.startswith(("stroke-", "cap-", "join-", "dash")) or name in PAINTED)
CASES = [
    name + variant
    for variant in VARIANTS
    for name in DRAWN
    if not variant or name in ALL_WAYS or (variant == " in colours, along an axis" and name in ALONG)
]


def drawing(name: str) -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{DRAWN[name]}</svg>'.encode()


def made(case: str) -> OutlineResult:
    name = case.split(" ")[0]
    return outline_files([drawing(name)], VARIANTS[case.removeprefix(name)])[0]


def plain(outline: Outline) -> list[Any]:
    rows = np.column_stack([outline.xy, outline.on]).tolist()
    return [outline.advance, outline.cut, outline.made.name, outline.ends.tolist(), rows]


def described(result: OutlineResult) -> dict[str, Any]:
    return {
        "said": [d.code for d in result.diagnostics],
        "layers": [repr(layer.fill) for layer in result.layers],
        "outlines": [plain(outline) for outline in result.outlines],
    }


@pytest.fixture(scope="module")
def expected() -> dict[str, Any]:
    if writing():
        lines = [f"{json.dumps(case)}: {json.dumps(described(made(case)), separators=(',', ':'))}" for case in CASES]
        EXPECTED.write_text("{\n" + ",\n".join(lines) + "\n}\n", encoding="utf-8")
    found: dict[str, Any] = json.loads(EXPECTED.read_text(encoding="utf-8"))
    return found


def require_like(now: dict[str, Any], then: dict[str, Any]) -> None:
    assert now["said"] == then["said"] and now["layers"] == then["layers"]
    assert [one[:4] for one in now["outlines"]] == [one[:4] for one in then["outlines"]]
    for (*_, rows), (*_, old) in zip(now["outlines"], then["outlines"], strict=True):
        a, b = np.array(rows).reshape(-1, 3), np.array(old).reshape(-1, 3)
        assert (a[:, 2] == b[:, 2]).all() and abs(a - b).max(initial=0) <= MOST


@pytest.mark.parametrize("case", CASES)
def test_outlines_are_as_they_were(case: str, expected: dict[str, Any]) -> None:
    require_like(described(made(case)), expected[case])


@pytest.mark.parametrize("variant", ["", " in colours, along an axis"])
def test_outlines_do_not_depend_on_the_company_they_are_made_in(variant: str, expected: dict[str, Any]) -> None:
    cases = [case for case in CASES if case.removeprefix(case.split(" ")[0]) == variant]
    files = [drawing(case.split(" ")[0]) for case in cases]
    bad = {5: b"<svg", 17: b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"/>'}
    for at, data in bad.items():
        files.insert(at, data)
    results = outline_files(files, VARIANTS[variant])
    assert [bool(results.pop(at).problem) for at in sorted(bad, reverse=True)] == [True, True]
    for case, result in zip(cases, results, strict=True):
        require_like(described(result), expected[case])
