"""The second opinion: it agrees where the glyph is right, and a disagreement is reported with both pictures."""

from __future__ import annotations

import io
import json
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image

from oddpeg.geometry.boxes import Box
from oddpeg.proof.renderers import Rendering, find_witness, render
from oddpeg.proof.witness import WitnessView, witness_coverages
from support.project import CONFIG, RING, SQUARE, ProjectFolder

RESVG = find_witness("resvg")
# resvg knows no media queries: it draws the small square
DISPUTED = SQUARE.replace("<path", "<style>@media all{path{d:path('M2 2h20v20H2z')}}</style><path")


@pytest.fixture
def built(project: ProjectFolder) -> ProjectFolder:
    project.config(CONFIG.replace('"typescript", "json", "specimen"', '"json"')).deliver()
    return project


def test_the_witness_is_named_and_agrees(built: ProjectFolder) -> None:
    assert RESVG is not None, "it is among the tools of the tests"
    result = built.run("proof")
    assert f"witness: {RESVG.label} looked at 2 of 2 glyphs\n" in result.stdout
    assert "every glyph shows what was drawn" in result.stdout
    report = built.json("proof")
    assert report["witness"] == {"name": "resvg", "version": RESVG.version} and report["disputed"] == []
    assert [f["witness_wrong"] < 0.001 for f in report["figures"]] == [True, True]


def test_without_a_witness_it_says_so(built: ProjectFolder) -> None:
    result = built.run("proof", "--witness", "none")
    assert "only Odd Peg's own reader looked; for a second opinion run pip install 'oddpeg[witness]'" in result.stdout
    report = built.json("proof", "--witness", "none")
    assert report["witness"] is None and {f["witness_wrong"] for f in report["figures"]} == {None}


def test_a_disputed_glyph_is_shown_twice_and_does_not_fail(built: ProjectFolder) -> None:
    built.icon("anchor", DISPUTED).build()
    result = built.run("proof")
    assert result.returncode == 0 and "anchor" in result.stdout.partition("DISPUTED")[0].splitlines()[-1]
    assert "look at both pictures: oddpeg proof anchor --picture proof.png" in result.stdout
    assert "every glyph" not in result.stdout
    report = built.json("proof", "--picture", "proof.png")
    assert (report["disputed"], report["missed"]) == (["anchor"], [])
    colours = {c for _, c in Image.open(io.BytesIO(built.bytes("proof.png"))).getcolors(1 << 20) or []}
    assert (201, 84, 26) in colours, "the glyph is more than the witness draws"


def test_a_glyph_that_is_wrong_for_both_is_missed(built: ProjectFolder) -> None:
    built.icon("anchor", RING)  # the font still holds the square
    report = json.loads(built.run("proof", "--json").stdout)
    assert (report["disputed"], report["missed"]) == ([], ["anchor"])


def test_a_build_reports_disputes_until_they_are_settled(built: ProjectFolder) -> None:
    built.build("--prove")
    built.icon("anchor", DISPUTED)
    for _ in range(2):  # a disputed glyph is not remembered as proved
        result = built.build("--prove")
        assert "1 of 1 changed glyphs disputed by resvg" in result.stderr and "anchor: 0.00% wrong" in result.stderr
    assert "looked at 1 of 1 glyph" in result.stdout


def _view(body: str, translucent: bool | None = None) -> WitnessView:
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>'.encode()
    return WitnessView(svg, Box(0, 0, 24, 24), 0.0, 0.0, 1.0, 24, 24, translucent)


@pytest.mark.parametrize(
    ("body", "translucent", "ink"),
    [
        ('<path d="M4 4h16v16H4z" fill="#ffe"/>', None, 256),
        ('<path d="M4 4h16v16H4z" fill="red"/><path d="M8 8h8v8H8z" fill="#fff"/>', None, 192),
        ('<path d="M4.25 4h15.5v16H4.25z"/><path d="M8.25 8h7.5v8h-7.5z" fill="#fff"/>', None, 188),
        ('<path d="M4 4h16v16H4z" fill="#fff"/>', None, 256),
        ('<path d="M4 4h16v16H4z" opacity=".2"/>', True, 256),
        ('<path d="M4 4h16v16H4z" opacity=".6"/><path d="M4 4h4v4H4z"/>', False, 16),
    ],
)
def test_ink_in_the_picture_of_a_witness(body: str, translucent: bool | None, ink: float) -> None:
    assert RESVG is not None
    (coverage,) = witness_coverages(RESVG, [_view(body, translucent)])
    assert coverage is not None and abs(coverage.sum() - ink) < 1


def test_a_witness_reads_no_other_file(tmp_path: Path) -> None:
    other = tmp_path / "other.svg"
    other.write_text(SQUARE, encoding="utf-8")
    assert RESVG is not None
    (coverage,) = witness_coverages(
        RESVG, [_view(f'<image href="{other}" width="24" height="24"/><path d="M0 0h4v4H0z"/>')]
    )
    assert coverage is not None and round(coverage.sum()) == 16


def test_one_file_that_cannot_be_rendered_spoils_no_other(monkeypatch: pytest.MonkeyPatch) -> None:
    assert RESVG is not None
    good = _view('<path d="M4 4h16v16H4z"/>').drawing
    files = [Rendering(svg, 24, 24, (24, 24)) for svg in (good, b"<svg", good)]
    first, broken, last = render(RESVG, files)
    assert broken is None and first is not None and last is not None and (first == last).all()
    # a program that hangs or crashes
    child = "import subprocess, sys; subprocess.run([sys.executable, '-c', 'import time; time.sleep(60)'])"
    for script in ("import time; time.sleep(60)", child, "import os; os.abort()"):
        monkeypatch.setattr("oddpeg.proof.renderers._RESVG", (sys.executable, "-c", script))
        monkeypatch.setattr("oddpeg.proof.renderers._SECONDS", 0.5)
        monkeypatch.setattr("oddpeg.proof.renderers._BATCH_SECONDS", 0.5)
        assert render(RESVG, files) == [None, None, None]


def test_a_witness_that_fails_is_reported(built: ProjectFolder) -> None:
    script = (
        "import sys, oddpeg.proof.run as p; from oddpeg.proof.report import Witness; from oddpeg.cli.entry import main;"
        " p.find_witness = lambda name='': Witness('chromium', '1', '/bin/false');"
        " sys.argv[1:] = ['proof', *sys.argv[1:]]; main()"
    )
    command = [sys.executable, "-c", script]
    shown = subprocess.run(command, cwd=built.root, capture_output=True, text=True, check=True).stdout
    assert "looked at 0 of 2 glyphs; it FAILED to render 2 drawings (anchor, buoy)" in shown
    shown = subprocess.run([*command, "--json"], cwd=built.root, capture_output=True, text=True, check=True).stdout
    assert [f["witness_failed"] for f in json.loads(shown)["figures"]] == [True, True]


@pytest.mark.clients
@pytest.mark.parametrize("name", ["chromium", "rsvg-convert"])
def test_programs_on_the_path_agree_on_the_demo(demo: ProjectFolder, client: Callable[[str], str], name: str) -> None:
    client(name)
    report = json.loads(demo.run("proof", "--face", "line", "--witness", name, "--json").stdout)
    plain = [f for f in report["figures"] if "part" not in f]
    assert report["witness"]["name"] == name and report["disputed"] == report["missed"] == []
    assert len(plain) > 80 and all(f["witness_wrong"] is not None for f in plain)
