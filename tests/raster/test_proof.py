"""The proof: it agrees where the glyph is right, and shows it where it is not."""

from __future__ import annotations

import io
import json
import subprocess
import sys

import pytest
from PIL import Image

from oddpeg.raster.coverage import Views, differences, drawing_coverage
from oddpeg.store.cache import cache_file
from oddpeg.svg.reader import read_drawing
from support.gallery import GALLERY, plain_svg
from support.project import CONFIG, RING, SQUARE, ProjectFolder
from support.raster import drawing_mask


@pytest.fixture
def built(project: ProjectFolder) -> ProjectFolder:
    project.config(CONFIG.replace('"typescript", "json", "specimen"', '"json"')).deliver()
    return project


@pytest.mark.exhaustive
def test_every_glyph_of_the_demo_shows_what_was_drawn(demo: ProjectFolder) -> None:
    result = demo.run("proof", "--size", "64", "--json")
    assert result.returncode == 0, result.stderr
    report = json.loads(result.stdout)
    icons = demo.read_json("dist/web/saltmarsh-signs.json")["icons"]
    plain = [f for f in report["figures"] if "part" not in f]
    assert len([f for f in plain if f["face"] == "line"]) == len(icons)
    assert report["missed"] == [] and max(f["wrong"] for f in report["figures"]) < 0.005


def test_a_wrong_glyph_is_found_and_pictured(built: ProjectFolder) -> None:
    built.icon("anchor", RING)  # the font still holds the square
    result = built.run("proof", "--picture", "proof.png")
    assert result.returncode == 1 and "MISSED" in result.stdout and "anchor" in result.stdout
    picture = Image.open(io.BytesIO(built.bytes("proof.png")))
    colours = {c for _, c in picture.getcolors(1 << 20) or []}
    assert picture.width == 1280 and (201, 84, 26) in colours, "what is too much is orange"
    assert built.run("proof", "--tolerance", "1").returncode == 0


def test_a_build_can_prove_what_it_changed(project: ProjectFolder) -> None:
    first = project.build("--prove")
    assert "proof: 2 changed glyphs show what was drawn" in first.stdout
    assert "proof: nothing changed; 2 proved before" in project.build("--prove").stdout
    project.icon("anchor", RING)
    report = json.loads(project.build("--prove", "--json").stdout)["proof"]
    assert [f["icon"] for f in report["figures"]] == ["anchor"] and report["proved_before"] == 1
    assert (
        "2 changed glyphs"
        in project.config(CONFIG.replace("[icons]", "descent = 0.2\n[icons]")).build("--prove").stdout
    )
    (project.root / cache_file()).write_text("{")
    assert "2 changed glyphs" in project.build("--prove").stdout


def test_a_frozen_build_is_proved_without_a_trace(built: ProjectFolder) -> None:
    before = {p: p.read_bytes() for p in built.root.rglob("*") if p.is_file()}
    assert "2 changed glyphs show what was drawn" in built.build("--frozen", "--prove").stdout
    assert {p: p.read_bytes() for p in built.root.rglob("*") if p.is_file()} == before


def test_a_build_that_is_not_proved_fails_and_is_proved_again(built: ProjectFolder) -> None:
    good = built.bytes("dist/tide-marks.ttf")
    other = built.icon("anchor", RING).build("--prove")
    assert "2 changed glyphs show what was drawn" in other.stdout
    assert built.bytes("dist/tide-marks.ttf") != good
    faint = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h20v20H2z"/></svg>'
    script = (
        "import oddpeg.proof.figures as p, sys; from oddpeg.raster.coverage import Differences;"
        " p.differences = lambda views: Differences(0.2, 0.3); from oddpeg.cli.entry import main;"
        " sys.argv[1:] = ['build', '--prove']; main()"
    )
    for _ in range(2):  # what missed is not remembered as proved
        result = subprocess.run(
            [sys.executable, "-c", script],
            cwd=built.icon("anchor", faint).root,
            capture_output=True,
            text=True,
            check=False,
        )
        assert (
            result.returncode == 1
            and "proof: 1 of 1 changed glyphs do not show what was drawn; 1 proved before" in result.stderr
        )
        assert "anchor: 20.00% wrong at 128 px" in result.stderr


def test_a_font_on_another_baseline_than_the_configs_is_noticed(built: ProjectFolder) -> None:
    assert built.run("proof", "anchor").returncode == 0
    built.config(CONFIG.replace("[icons]", "descent = 0.25\n[icons]"))
    assert built.run("proof", "anchor").returncode == 1


def test_the_baseline_of_one_icon_is_that_of_all(project: ProjectFolder) -> None:
    small = SQUARE.replace("0 0 24 24", "0 0 20 20").replace("M4 4h16v16", "M4 4h12v12")
    assert "line 3 of 24" in project.icon("small", small).build().stdout
    assert project.run("proof", "small").returncode == 0, "a grid of 20 alone would ask for another one"
    found = project.json("check", "icons/small.svg")["drawings"][0]
    assert "between-pixels" in {f["code"] for f in found["findings"]}


def test_only_the_icons_asked_for(built: ProjectFolder) -> None:
    report = built.json("proof", "buoy")
    assert {f["icon"] for f in report["figures"]} == {"buoy"}
    wrong = built.run("proof", "bouy")
    assert wrong.returncode == 2 and "did you mean buoy?" in wrong.stderr


def test_web_fonts_and_centred_icons_can_be_proved_too(project: ProjectFolder) -> None:
    project.icon("wide", '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 12 24"><path d="M2 2h8v20z"/></svg>')
    project.config(
        CONFIG.replace('["woff2", "woff", "ttf"]', '["woff2"]').replace(
            "[icons]", 'fit = "square"\ndrop = 0.2\n[icons]'
        )
    ).deliver()
    result = project.run("proof", "--size", "100")
    assert result.returncode == 0, result.stdout + result.stderr
    assert "dist/tide-marks.woff2: 3 glyphs" in result.stdout


# the proof must be right by itself: its painter against an independent renderer, on every feature of the gallery
@pytest.mark.exhaustive
@pytest.mark.parametrize("name", GALLERY)
def test_the_proofs_own_painter(name: str) -> None:
    drawing = read_drawing(
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{GALLERY[name]}</svg>'.encode()
    )
    wanted = drawing_mask(plain_svg(name, 'width="240" height="240"'), 240, 240)
    wrong, _ = differences(Views(wanted, drawing_coverage(drawing, 240, 240)))
    assert wrong <= 0.005
