"""New drawings move no other icon, whatever their grids."""

from __future__ import annotations

from random import Random

import pytest
from fontTools.ttLib import TTFont

from support.project import RING, SQUARE, ProjectFolder

GRIDS = (16, 17, 20, 24, 32, 19.5)


def on_grid(size: float, random: Random) -> str:
    """Return a drawing on a grid, unlike any other."""
    x, y, width = (random.uniform(0.1, 0.4) * size for _ in range(3))
    frame = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size} {size}">'
    return f'{frame}<path d="M{x:.2f} {y:.2f}h{width:.2f}v{size / 3:.2f}z"/></svg>'


def glyphs(project: ProjectFolder) -> dict[int, bytes]:
    font = TTFont(project.root / "dist/tide-marks.ttf")
    return {code: font["glyf"][name].compile(font["glyf"]) for code, name in font.getBestCmap().items()}


@pytest.mark.parametrize("seed", [*range(4), *(pytest.param(n, marks=pytest.mark.exhaustive) for n in range(4, 30))])
def test_old_glyphs_stay_to_the_byte(project: ProjectFolder, seed: int) -> None:
    random, names = Random(seed), ["anchor", "buoy"]
    project.deliver()
    kept = glyphs(project)
    for step in range(3):
        if random.random() < 0.5:
            old = names.pop(random.randrange(len(names)))
            names.append(f"{old}-again")
            assert project.run("pegs", "rename", old, names[-1]).returncode == 0
        gone = 0
        if len(names) > 3 and random.random() < 0.5:
            (project.root / f"icons/{names.pop(random.randrange(len(names)))}.svg").unlink()
            gone = 1
        for number in range(random.randint(1, 3)):
            names.append(f"new-{step}-{number}")
            project.icon(names[-1], on_grid(random.choice(GRIDS), random))
        project.deliver()
        now = glyphs(project)
        same = {code for code in kept if now.get(code) == kept[code]}
        assert len(same) == len(kept) - gone, "every icon but the one that is gone"
        kept = now


def test_another_placement_is_named_and_chosen_on_demand(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "dist").rename(project.root / "before")
    random = Random(1)
    for name in ("cleat", "davit", "ensign"):
        project.icon(name, on_grid(20, random))
    told = project.build()
    assert "a descent of 0.15 in place of 0.125 would suit the drawings, and change all 5 icons" in told.stderr
    assert "oddpeg config --repin" in told.stderr and project.run("check").returncode == 0
    assert "version step: minor" in project.run("compare", "before", "dist").stdout
    done = project.run("config", "--repin")
    assert "descent: 0.125 -> 0.15" in done.stdout, done.stderr
    assert "would suit" not in project.build().stderr
    assert "version step: major" in project.run("compare", "before", "dist").stdout


def test_a_project_of_an_earlier_version_keeps_what_its_font_has(project: ProjectFolder) -> None:
    project.icon("anchor", SQUARE).icon("buoy", RING).deliver()
    (project.root / ".oddpeg/placement.json").unlink()
    random = Random(2)
    for name in ("cleat", "davit", "ensign"):
        project.icon(name, on_grid(20, random))
    assert "a descent of 0.15 in place of 0.125" in project.build().stderr


@pytest.mark.parametrize("value", ["nan", "inf", "1e99", "-3", "x", "0"])
def test_a_damaged_record_is_no_record(project: ProjectFolder, value: str) -> None:
    project.deliver()
    record = f'{{"font": {{"units_per_em": "auto {value}", "descent": "auto 0.125"}}}}'
    project.write(".oddpeg/placement.json", record)
    assert "1008 units per em" in project.build().stdout
