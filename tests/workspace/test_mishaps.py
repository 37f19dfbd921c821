"""Tired hands, full disks, one bad drawing among good ones: said, and nothing lost."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from fontTools.ttLib import TTFont

from oddpeg import suggestions
from oddpeg.building.run import build
from oddpeg.project.project import Project
from support.faults import failing
from support.project import CONFIG, RING, SQUARE, ProjectFolder

KINDS = ["css", "json", "typescript", "scss", "kotlin", "csharp", "swift", "dart", "java", "python", "c-header", "xaml"]


def test_one_drawing_that_makes_us_fail_costs_only_itself(project: ProjectFolder) -> None:
    project.icon("cursed", SQUARE.replace("M4 4", "M4.25 4"))
    patch = """
import oddpeg.outline.pipeline, oddpeg.svg.reader as r
real = r._read
def read(document):
    drawing = real(document)
    if drawing.shapes[0].path.coords[0] == 4.25: raise ZeroDivisionError("our own mistake")
    return drawing
r._read = read"""
    result = project.run_changed(patch, "build")
    assert result.returncode == 70 and "Traceback" not in result.stderr
    assert "icons/cursed.svg: made Odd Peg itself fail (ZeroDivisionError)" in result.stderr
    log = Path(result.stderr.rpartition("report it with ")[2].strip())
    assert "our own mistake" in log.read_text() and log.stat().st_mode & 0o077 == 0
    log.unlink()
    assert [i["name"] for i in project.read_json("dist/tide-marks.json")["icons"]] == ["anchor", "buoy"]
    checked = project.run_changed(patch, "check", "--json")
    assert checked.returncode == 70
    verdicts = {d["icon"]: d["verdict"] for d in json.loads(checked.stdout)["drawings"]}
    assert verdicts["cursed"] == "rejected" and verdicts["anchor"] != "rejected"
    project.deliver()
    assert "cursed" in project.read("dist/tide-marks.json"), "the mistake was not kept in a cache"


def gone() -> int:
    """Return the number of a process that has ended."""
    process = subprocess.Popen([sys.executable, "-c", ""])
    process.wait()
    return process.pid


def test_temporary_files_of_killed_processes_go(project: ProjectFolder) -> None:
    project.deliver()
    for name in (f".oddpeg/cache/.oddpeg-{gone()}-0.part", ".oddpeg/stage/7"):
        (project.root / name).parent.mkdir(exist_ok=True)
        (project.root / name).write_text("left over")
    project.deliver()
    assert not list((project.root / ".oddpeg").rglob("*.part")) and not (project.root / ".oddpeg/stage").exists()


def test_a_picture_whose_process_was_killed_leaves_nothing(project: ProjectFolder, tmp_path: Path) -> None:
    (tmp_path / "shots").mkdir()
    (tmp_path / f"shots/.oddpeg-{gone()}-0.part").write_text("half a picture")
    (tmp_path / "shots/.oddpeg-mine.part").write_text("mine")
    assert project.run("check", "--sheet", tmp_path / "shots/sheet.png").returncode == 0
    assert {p.name for p in (tmp_path / "shots").iterdir()} == {"sheet.png", ".oddpeg-mine.part"}


def test_a_change_by_somebody_else_meanwhile_is_kept(project: ProjectFolder) -> None:
    project.deliver()
    project.icon("cleat", RING)
    with failing(("KILL", 20)):
        build(Project.open(project.root / "oddpeg.toml"))
    (project.root / "dist/tide-marks.css").write_text("mine")
    result = project.run("build")
    assert project.read("dist/tide-marks.css") == "mine" and result.returncode == 1
    assert "edited since the last build" in result.stderr or "changed by somebody else" in result.stderr + result.stdout
    project.build("--force")
    assert "tm-cleat" in project.read("dist/tide-marks.css")


@pytest.mark.parametrize("family", ["String", "System", "Icon", "a---b --> c", "Object", "*/ Math"])
def test_families_that_are_classes_or_end_comments(project: ProjectFolder, family: str) -> None:
    outputs = ", ".join(f'"{kind}"' for kind in [*KINDS, "sprite", "web-component", "android-xml"])
    text = CONFIG.replace("Tide Marks", family).replace('"css", "typescript", "json", "specimen"', outputs)
    project.icon("anchor", SQUARE.replace("<path", "<title>a--&gt;b*/ --- c</title><path")).config(text).deliver()
    for path in (project.root / "dist").iterdir():
        if path.suffix in (".kt", ".java", ".cs", ".swift", ".dart"):
            code = path.read_text()
            assert not any(f"{word} {family} " in code for word in ("class", "enum", "object", "struct")), path.name
        if path.suffix in (".svg", ".xml", ".xaml"):
            from lxml import etree

            etree.fromstring(path.read_bytes())


def test_an_alias_with_a_space_beside_ligatures_makes_a_sound_font(project: ProjectFolder) -> None:
    import ots

    (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+E000,live\nold hook,U+E000,alias\n")
    project.config(CONFIG.replace("[icons]", "ligatures = true\n[icons]")).deliver()
    font = TTFont(project.root / "dist/tide-marks.ttf")
    assert font.getBestCmap()[0x20] == "space"
    assert ots.sanitize(str(project.root / "dist/tide-marks.ttf")).returncode == 0


def test_init_in_folders_whose_names_look_like_patterns(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path / "signs")
    for folder in ("icons [new]", "a*b", "what?", "{x}"):
        (project.root / folder).mkdir()
        (project.root / folder / f"{folder[0]}-sign.svg").write_text(
            SQUARE.replace("M4 4", f"M{ord(folder[0]) / 32:g} 4")
        )
    assert project.run("init").returncode == 0
    assert "4 icons" in project.build().stdout


def test_drawings_at_the_limits_of_a_font(project: ProjectFolder) -> None:
    frame = 'xmlns="http://www.w3.org/2000/svg"'
    specks = "".join(f"M{i % 100 / 5} {i // 100 / 5}h.1v.1h-.1z" for i in range(6000))
    project.icon("specks", f'<svg {frame} viewBox="0 0 24 24"><path d="{specks}"/></svg>')
    project.icon("wide", f'<svg {frame} viewBox="0 0 384 24"><path d="M4 4h16v16H4z"/></svg>')
    project.icon("smooth", f'<svg {frame} viewBox="0 0 24 24"><path d="M4 4T4 4T10 10V20H4z"/></svg>')
    project.icon("endless", f'<svg {frame} viewBox="0 0 24 24"><path transform="scale(1e999)" d="M4 4h9v9z"/></svg>')
    (project.root / "icons/caf\udce9.svg").write_text(SQUARE)
    result = project.config(CONFIG.replace("[icons]", "units_per_em = 16384\n[icons]")).build(
        "--prove", "--notes", code=1
    )
    for told in (
        "icons/specks.svg: would need more than 4,094 separate outlines",
        "icons/wide.svg: would reach further than 32,767 units",
        "icons/caf\\udce9.svg: its name is not UTF-8",
    ):
        assert told in result.stderr
    names = [i["name"] for i in project.read_json("dist/tide-marks.json")["icons"]]
    assert names == ["anchor", "buoy", "endless", "smooth"]
    assert "has a transform that is not understood" in result.stdout


def test_cells_that_a_spreadsheet_would_work_out_are_text(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text(
        'icon,title,licence,credit\nanchor,"=HYPERLINK(""http://x"")",+1,@SUM(A1)\nbuoy,-2+3,ok,\n'
    )
    (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+003D,live\n")
    project.config(CONFIG.replace('"css"', '"csv"')).deliver()
    rows = list(csv.reader(project.read("dist/tide-marks.csv").splitlines()))
    assert all(len(cell) == 1 or cell[:1] not in ("=", "+", "-", "@") for row in rows for cell in row)
    assert '\'=HYPERLINK("http://x")' in rows[1] and "=" in rows[1] and "'-2+3" in rows[2]


def test_settling_adopts_no_edit_and_forgets_no_output(project: ProjectFolder) -> None:
    (project.root / "t.jinja").write_text("{{ c.family }}")
    template = '{ kind = "template", template = "t.jinja", to = "x.txt" }'
    project.config(CONFIG.replace('"css"', f'"css", {template}')).deliver()
    (project.root / "dist/tide-marks.css").write_text("/* Written by Odd Peg, and by me */")
    assert "nothing to settle" in project.run("pegs", "settle").stdout
    result = project.icon("cleat", RING).build(code=1)
    assert "dist/tide-marks.css: was edited since the last build" in result.stderr and "x.txt" not in result.stderr


def test_a_cache_that_cannot_be_written_stops_nothing(project: ProjectFolder) -> None:
    project.deliver()
    change = """
def write(tree, name, *rest): raise OSError(errno.EROFS, os.strerror(errno.EROFS), name)
t.Tree.write_new = write"""
    project.icon("anchor", RING)
    result = project.run_changed(change, "find", "anchor")
    assert result.returncode == 0 and "U+E000" in result.stdout


def test_thousands_of_unknown_names_are_compared_so_often_and_no_more(
    project: ProjectFolder, monkeypatch: pytest.MonkeyPatch
) -> None:
    rows = "".join(f"anchors-{number},tag\n" for number in range(5000))
    project.write("icons/icons.csv", f"icon,tags\n{rows}")
    real, asked = suggestions.nearest, []

    def nearest(word: str, *rest: Any) -> list[str]:
        asked.append(word)
        return real(word, *rest)

    monkeypatch.setattr(suggestions, "MOST_COMPARISONS", 100)
    monkeypatch.setattr(suggestions, "nearest", nearest)
    build(Project.open(project.root / "oddpeg.toml"))
    assert len(asked) == 101, "each is like one icon, and a hundred may be compared"
