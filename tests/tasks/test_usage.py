"""Which icons code uses: every way to name one, in files of every language; what is unknown; what cannot be told."""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from oddpeg.outputs.reference_search import Scanner
from oddpeg.outputs.references import NameShape, ReferenceForm
from support.clients import Client
from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder

DATA = table("usage")

ICONS = ["anchor", "buoy", "car-ferry", "cleat", "crane", "fog", "gull", "port", "wave"]
KINDS = [
    "css", "scss", "less", "typescript", "web-component", "sprite", "swift", "dart", "kotlin", "java", "csharp", "xaml",
    "python", "c-header", "svg-modules",
]  # fmt: skip
TEXT = CONFIG.replace('["css", "typescript", "json", "specimen"]', json.dumps(KINDS)) + (
    '\n[bundle.phone]\ninto = "phone"\nfonts = ["ttf"]\noutputs = ["android-xml"]\n'
)
HEAD = ["usage", "--json"]

# code → icons it uses
PLAIN = DATA["plain"]

NOTHING = DATA["nothing"]


@pytest.fixture
def app(project: ProjectFolder) -> ProjectFolder:
    for name in ICONS:
        project.icon(name, RING)
    project.config(TEXT).deliver()
    (project.root / "app").mkdir()
    return project


def usage(project: ProjectFolder, *args: str) -> dict[str, Any]:
    values: dict[str, Any] = json.loads(project.run(*HEAD, *args).stdout)
    return values


def test_every_way_to_name_an_icon(app: ProjectFolder) -> None:
    for name, (text, _) in PLAIN.items():
        app.write(f"app/{name}", text)
    found = usage(app)
    assert found["unknown"] == [] == found["undecidable"]
    by_file: dict[str, set[str]] = {}
    for icon in found["used"]:
        for place in icon["places"]:
            by_file.setdefault(place["file"], set()).add(icon["name"])
            line = app.read(place["file"]).splitlines()[place["line"] - 1]
            assert 1 <= place["column"] <= len(line)
    assert by_file == {f"app/{name}": set(icons) for name, (_, icons) in PLAIN.items()}


def test_what_only_looks_like_it_is_no_use(app: ProjectFolder) -> None:
    for name, text in NOTHING.items():
        app.write(f"app/{name}", text)
    found = usage(app)
    assert found == {"used": [], "unused": sorted(ICONS), "unknown": [], "undecidable": [], "problems": []}


def test_codepoints_are_ours_only_where_some_code_names_the_font(app: ProjectFolder) -> None:
    app.write("app/table.py", "STARTS = [0xE000, 0xE001]").write("app/other.css", ".tm-header { color: red }")
    assert usage(app)["used"] == []
    said = app.run("usage").stdout
    assert "app/table.py:1:11: not counted, nothing names the font: 0xE000" in said
    app.write("app/label.c", '#include "tide-marks-24.h"\n')
    assert [u["name"] for u in usage(app)["used"]] == ["anchor", "buoy"]
    app.write("app/label.c", "").write("app/own.css", 'b { font-family: "Tide Marks" }')
    assert [u["name"] for u in usage(app)["used"]] == ["anchor", "buoy"]
    assert [u["name"] for u in usage(app, "app/table.py")["used"]] == []


UNKNOWN = DATA["unknown"]


def test_unknown_names_are_errors_with_the_nearest(app: ProjectFolder) -> None:
    for name, (text, _, _) in UNKNOWN.items():
        app.write(f"app/{name}", text)
    found = usage(app)
    assert {(Path(u["file"]).name, u["text"], u["nearest"]) for u in found["unknown"]} == {
        (name, text, near) for name, (_, text, near) in UNKNOWN.items()
    }
    result = app.run("usage")
    assert result.returncode == 1 and "app/a.html:1:19: error: there is no icon 'ancor'" in result.stderr
    assert "did you mean anchor?" in result.stderr
    log = json.loads((app.run("usage", "--sarif", "out.sarif"), app.read("out.sarif"))[1])
    rows = [r for r in log["runs"][0]["results"] if r["ruleId"] == "unknown-icon"]
    assert len(rows) == len(UNKNOWN) and rows[0]["locations"][0]["physicalLocation"]["region"]["startLine"] == 1


UNDECIDABLE = DATA["undecidable"]


def test_what_cannot_be_told_is_said_and_can_be_promised(app: ProjectFolder) -> None:
    for name, text in UNDECIDABLE.items():
        app.write(f"app/{name}", text)
    found = usage(app)
    assert {Path(u["file"]).name for u in found["undecidable"]} == set(UNDECIDABLE)
    assert found["unknown"] == [] and found["used"] == []
    app.write("app/a.js", UNDECIDABLE["a.js"] + " // oddpeg: uses c*, gull")
    app.config(TEXT + '\n[usage]\nin = ["app"]\nkeep = ["fog"]\n')
    assert usage(app)["unused"] == sorted(set(ICONS) - {"car-ferry", "cleat", "crane", "gull", "fog"})


def test_older_names_count_and_are_put_right(app: ProjectFolder) -> None:
    assert app.run("pegs", "rename", "gull", "sea-gull").returncode == 0
    app.icon("sea-gull", RING)
    (app.root / "icons/gull.svg").unlink(missing_ok=True)
    app.deliver()
    app.write("app/a.html", '<i class="tm-icon tm-gull"></i> <i class="tm-icon tm-ancor"></i> é')
    app.write("app/b.kt", "TideMarks.GULL")
    result = app.run("usage")
    assert "old name: gull, 2 places" in result.stdout
    before = app.read("app/a.html")
    fixed = app.run("usage", "--fix", "--yes")
    assert "app/a.html:1: gull -> sea-gull" in fixed.stdout and fixed.returncode == 0, fixed.stderr
    assert app.read("app/a.html") == before.replace("tm-gull", "tm-sea-gull").replace("ancor", "anchor")
    assert app.read("app/b.kt") == "TideMarks.SEA_GULL"


def test_only_files_of_the_project_are_put_right(app: ProjectFolder, tmp_path: Path) -> None:
    elsewhere = tmp_path / "elsewhere.html"
    elsewhere.write_text('<i class="tm-icon tm-ancor"></i>')
    result = app.run("usage", elsewhere, "--fix", "--yes")
    assert result.returncode == 1 and "did you mean anchor?" in result.stderr
    assert "no name can be corrected" in result.stdout and "ancor" in elsewhere.read_text()


@pytest.mark.skipif(os.name == "nt", reason="rights and links are others there")
def test_a_file_that_would_become_another_is_not_put_right(app: ProjectFolder) -> None:
    text = '<i class="tm-icon tm-ancor"></i>'
    app.write("app/a.html", text)
    path = app.root / "app/a.html"
    path.chmod(0o444)
    assert "app/a.html: is read-only" in app.run("usage", "--fix", "--yes").stderr
    path.chmod(0o644)
    os.link(path, app.root / "other.html")
    assert "several names (hard links)" in app.run("usage", "--fix", "--yes").stderr
    assert path.read_text() == text
    (app.root / "other.html").unlink()
    assert app.run("usage", "--fix", "--yes").returncode == 0 and path.read_text() == text.replace("ancor", "anchor")


def test_what_another_program_saves_meanwhile_is_kept(app: ProjectFolder) -> None:
    app.write("app/a.html", '<i class="tm-icon tm-ancor"></i>')
    app.write("app/b.html", '<i class="tm-icon tm-ancor"></i>')
    for step, before in (("write_new", "'stage/1' in name"), ("move", "rest[0] == 'app/a.html'")):
        app.write("app/b.html", '<i class="tm-icon tm-ancor"></i>')
        change = (
            f"import oddpeg.store.tree as tree; old = tree.Tree.{step}\n"
            "def slow(self, name, *rest, **more):\n"
            f"    if {before}: open('app/b.html', 'w').write('saved')\n"
            "    old(self, name, *rest, **more)\n"
            f"tree.Tree.{step} = slow"
        )
        result = app.run_changed(change, "usage", "--fix", "--yes")
        assert result.returncode == 1 and "app/b.html: cannot be written: it was changed" in result.stderr, (
            result.stderr
        )
        assert app.read("app/b.html") == "saved" and "ancor" in app.read("app/a.html"), "all or nothing"


def test_names_of_delivered_files_are_no_uses(app: ProjectFolder) -> None:
    app.config(app.read("oddpeg.toml").replace('"css"', '{ kind = "css", to = "tm-anchr.css" }')).deliver()
    text = '<link rel="stylesheet" href="/dist/tm-anchr.css?2"><i class="tm-icon tm-gul"></i>'
    app.write("app/a.html", text)
    app.run("usage", "--fix", "--yes")
    assert app.read("app/a.html") == text.replace("tm-gul", "tm-gull")


def test_nothing_is_put_right_unless_asked(app: ProjectFolder) -> None:
    app.write("app/a.html", '<i class="tm-icon tm-ancor"></i>')
    app.run("usage")
    app.run("usage", "--fix")  # nobody answers
    assert app.read("app/a.html") == '<i class="tm-icon tm-ancor"></i>'


def test_only_what_is_used_is_delivered_and_looks_the_same(app: ProjectFolder, browser: Any) -> None:
    app.write("app/a.html", '<i class="tm-icon tm-anchor"></i><i class="tm-icon tm-gull"></i>')
    app.icon("anchor", SQUARE)
    less = '\n[bundle.less]\ninto = "less"\nfonts = ["woff2"]\noutputs = ["css"]\nonly = "used"\n'
    result = app.config(TEXT + less).build()
    assert "bundle.less: 7 of 9 icons omitted" in result.stderr
    assert ".tm-gull" in app.read("less/tide-marks.css") and ".tm-crane" not in app.read("less/tide-marks.css")
    assert app.run("build", "--frozen").returncode == 0
    shots = []
    for folder in ("dist", "less"):
        page = app.root / f"{folder}.html"
        page.write_text(f'<link rel="stylesheet" href="{folder}/tide-marks.css">{app.read("app/a.html")}')
        browser.get(page.as_uri())
        browser.execute_async_script("document.fonts.ready.then(() => arguments[0]())")
        browser.save_screenshot(str(app.root / f"{folder}.png"))
        shots.append(np.asarray(Image.open(app.root / f"{folder}.png")))
    assert np.array_equal(shots[0], shots[1]) and len(np.unique(shots[0])) > 1
    app.write("app/b.html", '<i class="tm-icon tm-crane"></i>')
    frozen = app.run("build", "--frozen")
    assert frozen.returncode == 1 and "less/tide-marks.css" in frozen.stderr, "code is an input"
    app.deliver()
    assert ".tm-crane" in app.read("less/tide-marks.css")


def test_what_people_did_not_write_is_passed_over(app: ProjectFolder) -> None:
    use = '<i class="tm-icon tm-anchor"></i>'
    (app.root / "node_modules/x").mkdir(parents=True)
    for path in ("node_modules/x/a.html", "app/a.min.html", "ignored.html"):
        app.write(path, use)
    (app.root / "app/bin.html").write_bytes(b"\0\1" + use.encode())
    app.write("app/long.js", "x" * 3_000_000 + use)
    app.write(".gitignore", "ignored.html\n")
    assert usage(app)["used"] == [], "and none of the files that are delivered"
    app.write("app/own.html", use)
    (app.root / "app/broken.html").write_bytes(b'<i class="tm-icon tm-gull">\xff\xfe</i>')
    assert [u["name"] for u in usage(app)["used"]] == ["anchor", "gull"]
    said = app.run("usage").stdout
    assert "1 binary" in said and "2 minified" in said and "1 folders of other people's code" in said


def test_git_tells_what_to_read(app: ProjectFolder, client: Client) -> None:
    git = client("git")
    app.write("app/a.html", '<i class="tm-icon tm-anchor"></i>').write("app/b.html", '<i class="tm-icon tm-gull"></i>')
    app.write(".gitignore", "b.html\n")
    subprocess.run([git, "init", "-q"], cwd=app.root, check=True)
    assert [u["name"] for u in usage(app)["used"]] == ["anchor"]
    assert [u["name"] for u in usage(app, "app/b.html")["used"]] == ["gull"], "what is named is read"


def test_hostile_folders(app: ProjectFolder, tmp_path: Path) -> None:
    (tmp_path / "secret.html").write_text('<i class="tm-icon tm-anchor"></i>')
    (app.root / "app/link.html").symlink_to(tmp_path / "secret.html")
    (app.root / "app/round").symlink_to(app.root / "app", target_is_directory=True)
    os.mkfifo(app.root / "app/pipe.html")
    app.write("app/own.html", '<i class="tm-icon tm-gull"></i>')
    found = usage(app)
    assert [(u["name"], len(u["places"])) for u in found["used"]] == [("gull", 1)]
    app.config(TEXT + '\n[usage]\nin = [".."]\n')
    outside = app.run("usage")
    assert outside.returncode == 2 and "leads out of the project" in outside.stderr
    assert app.config(TEXT + '\n[usage]\nin = ["nowhere"]\n').run("usage").returncode == 2


@pytest.mark.parametrize(
    ("text", "count"),
    [("tm-" * 200_000, 0), ('"' * 400_000 + "tm-x", 1), ("import {" * 60_000, 0), ("<tm-icon " * 60_000, 0),
     ("tideMarksIcons[" * 60_000, 60_000), ("import { " + "a, " * 300_000, 0), (" " * 300_000 + "tm-anchor", 1),
     ("\\u{e00" * 100_000, 0)],
    ids=range(8),
)  # fmt: skip
def test_no_text_runs_away(text: str, count: int) -> None:
    names = {"anchor": "anchor"}
    forms = [
        ReferenceForm(NameShape.CLASS, "tm-", names, frozenset(["icon"])),
        ReferenceForm(NameShape.ATTRIBUTE, "<tm-icon", names),
        ReferenceForm(NameShape.KEY, "tideMarksIcons", names),
        ReferenceForm(NameShape.IMPORT, "svg-modules", names),
    ]
    assert len(Scanner(forms, {0xE000: "anchor"}).scan(text).references) == count


def test_the_demo_shows_every_kind_of_finding(demo: ProjectFolder) -> None:
    found = usage(demo)
    used = {one["name"]: len(one["places"]) for one in found["used"]}
    assert used == {
        "stairs-up": 2, "lounge": 2, "anchor": 1, "stairs-down": 1, "life-ring": 1, "information": 1, "bollard": 1,
        "cafe": 1, "departures": 1, "fare": 1, "life-jacket": 1,
        "lift": 1, "lighthouse": 1, "muster-point": 1, "pier": 1, "step-free": 1, "ticket": 1, "ticket-return": 1,
        "tide-low": 1,
    }  # fmt: skip
    assert len(found["unused"]) == 82 - len(used) - 3, "three more are promised in a comment"
    assert found["unknown"] == []
    places = [(one["file"], one["line"], one["column"]) for one in found["undecidable"]]
    assert places == [("app/board.ts", 7, 10), ("app/timetable.html", 7, 30)]
    unknown = [(o["text"], o["nearest"], o["file"], o["line"]) for o in usage(demo, "mistakes")["unknown"]]
    assert unknown == [
        ("SaltmarshSigns.StairsDwn", "StairsDown", "mistakes/Deck.cs", 3),
        ('salt.before("lifering', "life-ring", "mistakes/board.scss", 8),
        ("salt-informaton", "information", "mistakes/timetable.html", 11),
    ]


def test_the_sheet_shows_how_often_each_is_used(demo: ProjectFolder) -> None:
    for name in ("usage.html", "usage.png"):
        assert demo.run("usage", "--sheet", name, "--quiet").returncode == 0
    page = demo.read("usage.html")
    assert page.count("<li") == 82 and page.count('class="unused"') == 63 and "19 of 82 icons" in page
    with Image.open(demo.root / "usage.png") as picture:
        assert picture.width == 1280 and picture.height > 700
    wrong = demo.run("usage", "--sheet", "usage.gif")
    assert wrong.returncode == 2 and "neither a .png nor an .html" in wrong.stderr
    for name in ("usage.html", "usage.png"):
        (demo.root / name).unlink()


def test_the_text_of_a_ligature_is_a_use(app: ProjectFolder) -> None:
    app.config(TEXT.replace("[icons]", "ligatures = true\n[icons]")).deliver()
    app.write("app/a.html", '<i class="tm-icon big" lang="en">Car-Ferry</i> <i class="tm-icon">ancor</i> <i>gull</i>')
    found = usage(app)
    assert [one["name"] for one in found["used"]] == ["car-ferry"]
    assert [(one["text"], one["nearest"]) for one in found["unknown"]] == [("ancor", "anchor")]


def test_who_takes_an_icon_away_hears_who_still_uses_it(app: ProjectFolder) -> None:
    app.write("app/a.html", '<i class="tm-icon tm-anchor"></i>').config(TEXT + '\n[usage]\nin = ["app"]\n')
    assert "code still refers to it: app/a.html:1" in app.run("pegs", "rename", "anchor", "kedge").stdout
    assert "code still refers to it" in app.run("pegs", "retire", "kedge").stdout
    assert "code still refers" not in app.run("pegs", "retire", "fog").stdout


def test_an_endless_line_and_a_locked_file_stop_nothing(app: ProjectFolder) -> None:
    app.write("app/own.html", '<i class="tm-icon tm-gull"></i>')
    app.write("app/endless.html", '<i class="tm-icon tm-anchor">' * 1_800_000)
    (app.root / "app/locked.html").write_text("x")
    (app.root / "app/locked.html").chmod(0)
    assert [one["name"] for one in usage(app)["used"]] == ["gull"]
    (app.root / "app/locked.html").chmod(0o644)


def test_comparing_knows_what_is_left_out_on_purpose(app: ProjectFolder) -> None:
    app.write("app/a.html", '<i class="tm-icon tm-anchor"></i>')
    less = '\n[bundle.less]\ninto = "less"\nfonts = ["woff2"]\noutputs = ["css"]\nonly = "used"\n'
    app.config(TEXT + less).deliver()
    result = app.run("compare", "dist", "less", "--allow", "minor", "--json")
    found = json.loads(result.stdout)
    assert found["gone"] == [] and found["left_out"] == sorted(set(ICONS) - {"anchor"}), result.stderr
    assert app.run("pegs", "retire", "fog").returncode == 0
    app.deliver()
    assert app.json("compare", "pegboard.csv", "less")["gone"] == []
    whole = app.json("compare", "less", "dist")
    assert whole["left_out"] == [] and "crane" in whole["added"]


def test_what_is_put_right_keeps_its_other_bytes_and_its_rights(app: ProjectFolder) -> None:
    script = app.root / "app/page.php"
    before = b'\xef\xbb\xbf<? \xff\xfe \xc3 ?>\r\n<i class="tm-icon tm-ancor"></i>\r\n\x80'
    script.write_bytes(before)
    script.chmod(0o751)
    assert app.run("usage", "--fix", "--yes").returncode == 0
    assert script.read_bytes() == before.replace(b"ancor", b"anchor") and script.stat().st_mode & 0o777 == 0o751


def test_a_folder_that_became_a_link_is_not_followed(app: ProjectFolder, client: Client, tmp_path: Path) -> None:
    git = client("git")
    app.write("app/a.html", '<i class="tm-icon tm-anchor"></i>')
    for command in (["init", "-q"], ["add", "app"]):
        subprocess.run([git, *command], cwd=app.root, check=True)
    (app.root / "app").rename(tmp_path / "elsewhere")
    (app.root / "app").symlink_to(tmp_path / "elsewhere", target_is_directory=True)
    assert usage(app)["used"] == []
