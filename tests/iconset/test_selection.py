"""Patterns that the config names icons by: they see aliases, say when they select nothing, and survive a rename."""

from __future__ import annotations

import pytest

from oddpeg.iconset.model import Icon
from oddpeg.iconset.selection import matches, selects
from support.project import CONFIG, ProjectFolder

EVERYWHERE = (
    CONFIG.replace('prefix = "tm"', 'prefix = "tm"\nmirrored = ["anchor"]')
    + """only = ["anchor"]

[bundle.rest]
into = "rest"
without = ["anch*"]
outputs = ["json"]

[[checks]]
icons = "anchor"
finding = "touches-frame"
level = "error"
reason = "signs need room"

[[rights]]
files = "icons/anchor.svg"
licence = "CC0-1.0"
"""
)


def delivered(project: ProjectFolder, folder: str) -> set[str]:
    return {icon["name"] for icon in project.read_json(f"{folder}/tide-marks.json")["icons"]}


def test_a_pattern_selects_by_name_alias_or_tag() -> None:
    icon = Icon("kedge", 0xE000, "", 0, aliases=("anchor",), tags=("deck",))
    assert all(matches(icon, p) for p in ("kedge", "k*", "anchor", "anch??", "#deck", "#d*"))
    assert not any(matches(icon, p) for p in ("deck", "#kedge", "ked", ""))
    assert selects(icon, [], []) and selects(icon, ["anchor"], []) and not selects(icon, ["k*"], ["#deck"])


def test_a_renamed_icon_stays_where_the_config_named_it(project: ProjectFolder) -> None:
    project.config(EVERYWHERE).deliver()
    assert delivered(project, "dist") == {"anchor"} and delivered(project, "rest") == {"buoy"}
    result = project.run("pegs", "rename", "anchor", "kedge")
    assert result.returncode == 0
    for key in ("bundle.web.only", "bundle.rest.without", "classes.mirrored", "checks.0.icons"):
        line = next(line for line in result.stdout.splitlines() if key in line)
        assert "oddpeg.toml:" in line and "by its alias anchor" in line and "write kedge" in line
    project.deliver()
    assert delivered(project, "dist") == {"kedge"} and delivered(project, "rest") == {"buoy"}


@pytest.mark.parametrize(
    ("key", "text"),
    [
        ("bundle.web.without", CONFIG + 'without = ["zeppelin"]\n'),
        ("bundle.web.only", CONFIG + 'only = ["#sky", "*"]\n'),
        ("classes.mirrored", CONFIG.replace('prefix = "tm"', 'prefix = "tm"\nmirrored = ["zeppelin"]')),
        (
            "checks.0.icons",
            CONFIG + '\n[[checks]]\nicons = "zeppelin"\nfinding = "off-grid"\nlevel = "silent"\nreason = "none"\n',
        ),
        ("rights.0.files", CONFIG + '\n[[rights]]\nfiles = "sky/*"\nlicence = "CC0-1.0"\n'),
    ],
)
def test_a_pattern_that_selects_nothing_is_a_warning(project: ProjectFolder, key: str, text: str) -> None:
    result = project.config(text).build()
    line = next(line for line in result.stderr.splitlines() if key in line)
    assert line.startswith("oddpeg.toml:") and "warning" in line
