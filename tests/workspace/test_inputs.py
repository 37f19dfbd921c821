"""Inputs stay as they are, and hostile values in the config are named at once."""

from __future__ import annotations

import pytest

from support.fonts import text_font
from support.project import CONFIG, ProjectFolder

REPACK = """
[repack.x]
font = "{}"
into = "{}"
"""
VENDOR = CONFIG.replace('into = "dist"', 'into = "vendor"')


@pytest.mark.parametrize(
    ("table", "wanted"),
    [
        ("title,tags,icon,licence\nLight,boat,anchor,MIT\n", "title,tags,icon,licence\nLight,boat,bitt,MIT\n"),
        ('Icon,title\r\n"anchor","Light, low"\r\n', 'Icon,title\r\n"bitt","Light, low"\r\n'),
        ("icon;title\nAnchor;Light\n", "icon;title\nbitt;Light\n"),
        ("title\ticon\nanchor\tanchor", "title\ticon\nanchor\tbitt"),
    ],
)
def test_metadata_follow_an_icon_to_its_new_name(project: ProjectFolder, table: str, wanted: str) -> None:
    project.deliver()
    (project.root / "icons/icons.csv").write_bytes(table.encode())
    assert "renamed it in icons/icons.csv" in project.run("pegs", "rename", "anchor", "bitt").stdout
    assert project.bytes("icons/icons.csv") == wanted.encode()


@pytest.mark.parametrize("place", ["a source", "to repack"])
def test_force_spares_fonts_that_are_inputs(project: ProjectFolder, place: str) -> None:
    font = text_font()
    (project.root / "vendor").mkdir()
    (project.root / "vendor/tide-marks.ttf").write_bytes(font)
    if place == "a source":
        project.config(VENDOR.replace("from = [", 'from = ["vendor/tide-marks.ttf", '))
    else:
        project.config(VENDOR + REPACK.format("vendor/tide-marks.ttf", "q"))
    result = project.run("build", "--force")
    assert result.returncode == 1 and "vendor/tide-marks.ttf" in result.stderr
    assert project.bytes("vendor/tide-marks.ttf") == font


@pytest.mark.parametrize(
    ("text", "told"),
    [
        (f"[font]\n  units_per_em = {'9' * 4400}\n", "has a number that is too large"),
        ("a." * 100_000 + "b = 1", "oddpeg.toml:1: has a key of more than 100 parts"),
        ('x = 1\n["a".' + "'b'." * 200 + "c]", "oddpeg.toml:2: has a key of more than 100 parts"),
        (CONFIG.replace('into = "dist"', 'into = "~/x"'), "begins with ~"),
        (CONFIG + REPACK.format("any.ttf", "."), "is no path to a file below the project"),
    ],
    ids=["digits", "dotted", "table", "home", "here"],
)
def test_hostile_values_are_named(project: ProjectFolder, text: str, told: str) -> None:
    (project.root / "any.ttf").write_bytes(text_font())
    result = project.config(text).run("build")
    assert result.returncode in (1, 2) and told in result.stderr
