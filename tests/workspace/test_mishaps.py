"""Tired hands, full disks, one bad drawing among good ones: said, and nothing lost."""

from __future__ import annotations

import csv
import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

from oddpeg.tasks.build import build
from oddpeg.tasks.build_report import BuildOptions
from oddpeg.workspace.project import Project
from support.project import CONFIG, RING, SQUARE, ProjectFolder

KINDS = ["css", "json", "typescript", "scss", "kotlin", "csharp", "swift", "dart", "java", "python", "c-header", "xaml"]


KILLED = """
left, real = [{}], t.Tree.move
def move(tree, source, target):
    if source.startswith('.oddpeg/stage/') and source[-1].isdigit():
        if not left[0]: os.kill(os.getpid(), 9)
        left[0] -= 1
    real(tree, source, target)
t.Tree.move = move"""


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A project of three icons, built once; tests work on copies."""
    project = ProjectFolder(tmp_path_factory.mktemp("built")).config().icon("anchor").icon("buoy", RING)
    (project.root / "icons/icons.csv").write_text("icon,tags\nanchor,hook\n")
    project.icon("cleat", RING.replace('"8"', '"7"')).build()
    return project.root


@pytest.fixture
def copy(built: Path, tmp_path: Path) -> ProjectFolder:
    return ProjectFolder(Path(shutil.copytree(built, tmp_path / "copy")))


STOPS = [("one goes, one comes", stop) for stop in range(1, 14)]
STOPS += [(change, stop) for change in ("one goes", "all go") for stop in (2, 4, 6, 8)]


@pytest.mark.parametrize(("change", "stop"), STOPS)
def test_no_text_ever_names_an_icon_that_a_font_lacks(copy: ProjectFolder, change: str, stop: int) -> None:
    (copy.root / "icons/buoy.svg").unlink()
    if change != "one goes":
        copy.icon("davit", RING.replace('"8"', '"6"'))
    if change == "all go":
        (copy.root / "icons/anchor.svg").unlink()
        (copy.root / "icons/cleat.svg").unlink()
    copy.run_changed(KILLED.format(stop), "build", "-q", "--as-new")
    held = {0xE000, 0xE001, 0xE002, 0xE003}
    for kind in ("ttf", "woff", "woff2"):
        held &= set(TTFont(copy.root / f"dist/tide-marks.{kind}").getBestCmap())
    texts = "".join(p.read_text() for p in (copy.root / "dist").iterdir() if p.suffix in (".css", ".json", ".ts"))
    named = {code for code in range(0xE000, 0xE004) if f"\\{code:x}" in texts or f'"codepoint": {code}' in texts}
    assert named <= held, f"{named - held} are named and not there"
    build(Project.open(copy.root / "oddpeg.toml"), BuildOptions(as_new=True))
    assert not (copy.root / ".oddpeg/stage").exists()


def test_one_drawing_that_makes_us_fail_costs_only_itself(project: ProjectFolder) -> None:
    project.icon("cursed", SQUARE.replace("M4 4", "M4.25 4"))
    patch = """
import oddpeg.outline.pipeline, oddpeg.svg.reader as r
real = r._read
def read(document, keep_faint):
    drawing = real(document, keep_faint)
    if drawing.shapes[0].path.coords[0] == 4.25: raise ZeroDivisionError("our own mistake")
    return drawing
r._read = read"""
    result = project.run_changed(patch, "build")
    assert result.returncode == 70 and "Traceback" not in result.stderr
    assert "icons/cursed.svg: made Odd Peg itself fail (ZeroDivisionError)" in result.stderr
    log = Path(result.stderr.rpartition("report it with ")[2].strip())
    assert "our own mistake" in log.read_text() and log.stat().st_mode & 0o077 == 0
    log.unlink()
    assert [i["name"] for i in json.loads(project.read("dist/tide-marks.json"))["icons"]] == ["anchor", "buoy"]
    checked = project.run_changed(patch, "check", "--json")
    assert checked.returncode == 70
    verdicts = {d["icon"]: d["verdict"] for d in json.loads(checked.stdout)["drawings"]}
    assert verdicts["cursed"] == "won't fit" and verdicts["anchor"] != "won't fit"
    project.build()
    assert "cursed" in project.read("dist/tide-marks.json"), "the mistake was not kept in a cache"


@pytest.mark.parametrize("name", ["", " ", "Anchor Two", "a/b", "..", "ä b", "x" * 300, "a\nb", "-"])
def test_a_rename_to_what_is_no_name_changes_nothing(project: ProjectFolder, name: str) -> None:
    project.build()
    board = project.read("pegboard.csv")
    result = project.run("pegs", "rename", "--", "anchor", name)
    assert result.returncode in (1, 2) and "cure:" in result.stderr
    assert project.read("pegboard.csv") == board and (project.root / "icons/anchor.svg").exists()


FULL = [("ENOSPC", number) for number in range(1, 12)]
FULL += [(problem, number) for problem in ("EACCES", "EROFS") for number in (3, 7)]


@pytest.mark.parametrize(("problem", "number"), FULL)
def test_a_rename_on_a_full_or_read_only_disk_is_all_or_nothing(copy: ProjectFolder, problem: str, number: int) -> None:
    before = copy.read("pegboard.csv"), copy.read("icons/icons.csv")
    patch = f"""
left = [{number}]
for name in ("write_new", "move", "remove", "keep"):
    def change(tree, *args, real=getattr(t.Tree, name)):
        left[0] -= 1
        if not left[0]: raise OSError(errno.{problem}, os.strerror(errno.{problem}), args[0])
        return real(tree, *args)
    setattr(t.Tree, name, change)"""
    result = copy.run_changed(patch, "pegs", "rename", "anchor", "mooring")
    names = {p.name for p in (copy.root / "icons").iterdir()} - {"buoy.svg", "cleat.svg", "icons.csv"}
    if result.returncode == 0:
        assert names == {"mooring.svg"}
    else:
        assert "cure:" in result.stderr and "Traceback" not in result.stderr
        assert names == {"anchor.svg"}
        assert (copy.read("pegboard.csv"), copy.read("icons/icons.csv")) == before
    build(Project.open(copy.root / "oddpeg.toml"))


def gone() -> int:
    """Return the number of a process that has ended."""
    process = subprocess.Popen([sys.executable, "-c", ""])
    process.wait()
    return process.pid


def test_temporary_files_of_killed_processes_go(project: ProjectFolder) -> None:
    project.build()
    for name in (f".oddpeg/cache/.oddpeg-{gone()}-0.part", ".oddpeg/stage/7"):
        (project.root / name).parent.mkdir(exist_ok=True)
        (project.root / name).write_text("left over")
    project.build()
    assert not list((project.root / ".oddpeg").rglob("*.part")) and not (project.root / ".oddpeg/stage").exists()


def test_a_picture_whose_process_was_killed_leaves_nothing(project: ProjectFolder, tmp_path: Path) -> None:
    (tmp_path / "shots").mkdir()
    (tmp_path / f"shots/.oddpeg-{gone()}-0.part").write_text("half a picture")
    (tmp_path / "shots/.oddpeg-mine.part").write_text("mine")
    assert project.run("check", "--sheet", tmp_path / "shots/sheet.png").returncode == 0
    assert {p.name for p in (tmp_path / "shots").iterdir()} == {"sheet.png", ".oddpeg-mine.part"}


def test_a_change_by_somebody_else_meanwhile_is_kept(project: ProjectFolder) -> None:
    project.build()
    project.icon("cleat", RING)
    project.run_changed(KILLED.format(2), "build", "-q")
    (project.root / "dist/tide-marks.css").write_text("mine")
    result = project.run("build")
    assert project.read("dist/tide-marks.css") == "mine" and result.returncode == 1
    assert "edited by hand" in result.stderr or "changed by somebody else" in result.stderr + result.stdout
    project.build("--force")
    assert "tm-cleat" in project.read("dist/tide-marks.css")


@pytest.mark.parametrize("value", ["1em; } * { display: none", "calc(1em", "1em) 2px", "1em /* ", "url(x", "*/ 1em"])
def test_a_size_that_would_swallow_the_stylesheet_is_refused(project: ProjectFolder, value: str) -> None:
    text = CONFIG.replace('prefix = "tm"', f'prefix = "tm"\nsizes = {{ big = "{value}" }}')
    result = project.config(text).build(code=2)
    assert "classes.sizes.big" in result.stderr and "cure:" in result.stderr


@pytest.mark.parametrize("family", ["Tide\\u0000Marks", "Tide\\uFFFFMarks", "Tide \\u202EMarks", "Tide\\u001b[31m"])
def test_a_family_with_characters_that_nothing_shows_is_refused(project: ProjectFolder, family: str) -> None:
    result = project.config(CONFIG.replace("Tide Marks", family)).build(code=2)
    assert "font.family: holds the character U+" in result.stderr and "\x1b" not in result.stderr


@pytest.mark.parametrize("family", ["String", "System", "Icon", "a---b --> c", "Object", "*/ Math"])
def test_families_that_are_classes_or_end_comments(project: ProjectFolder, family: str) -> None:
    outputs = ", ".join(f'"{kind}"' for kind in [*KINDS, "sprite", "web-component", "android-xml"])
    text = CONFIG.replace("Tide Marks", family).replace('"css", "typescript", "json", "specimen"', outputs)
    project.icon("anchor", SQUARE.replace("<path", "<title>a--&gt;b*/ --- c</title><path")).config(text).build()
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
    project.config(CONFIG.replace("[icons]", "ligatures = true\n[icons]")).build()
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
    result = project.config(CONFIG.replace("[icons]", "units_per_em = 16384\n[icons]")).build("--prove", code=1)
    for told in (
        "icons/specks.svg: would need more than 4,094 separate outlines",
        "icons/wide.svg: would reach further than 32,767 units",
        "icons/caf\\udce9.svg: its name is not UTF-8",
    ):
        assert told in result.stderr
    names = [i["name"] for i in json.loads(project.read("dist/tide-marks.json"))["icons"]]
    assert names == ["anchor", "buoy", "endless", "smooth"]
    assert "has a transform that is not valid" in result.stdout


def test_cells_that_a_spreadsheet_would_work_out_are_text(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text(
        'icon,title,licence,credit\nanchor,"=HYPERLINK(""http://x"")",+1,@SUM(A1)\nbuoy,-2+3,ok,\n'
    )
    (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+003D,live\n")
    project.config(CONFIG.replace('"css"', '"csv"')).build()
    rows = list(csv.reader(project.read("dist/tide-marks.csv").splitlines()))
    assert all(len(cell) == 1 or cell[:1] not in ("=", "+", "-", "@") for row in rows for cell in row)
    assert '\'=HYPERLINK("http://x")' in rows[1] and "=" in rows[1] and "'-2+3" in rows[2]


def test_settling_adopts_no_edit_and_forgets_no_output(project: ProjectFolder) -> None:
    (project.root / "t.jinja").write_text("{{ c.family }}")
    template = '{ kind = "template", template = "t.jinja", to = "x.txt" }'
    project.config(CONFIG.replace('"css"', f'"css", {template}')).build()
    (project.root / "dist/tide-marks.css").write_text("/* Written by Odd Peg, and by me */")
    assert "nothing to settle" in project.run("pegs", "settle").stdout
    result = project.icon("cleat", RING).build(code=1)
    assert "dist/tide-marks.css: was edited by hand" in result.stderr and "x.txt" not in result.stderr


def test_a_cache_that_cannot_be_written_stops_nothing(project: ProjectFolder) -> None:
    project.build()
    change = """
def write(tree, name, *rest): raise OSError(errno.EROFS, os.strerror(errno.EROFS), name)
t.Tree.write_new = write"""
    project.icon("anchor", RING)
    result = project.run_changed(change, "find", "anchor")
    assert result.returncode == 0 and "U+E000" in result.stdout


def test_thousands_of_unknown_names_are_compared_so_often_and_no_more(project: ProjectFolder) -> None:
    lines = "".join(f"sign-{number},tag\n" for number in range(5000))
    (project.root / "icons/icons.csv").write_text(f"icon,tags\n{lines}")
    change = """
import oddpeg.suggestions as s
s.MOST_COMPARISONS = 100
real, asked = s.nearest, []
def nearest(word, known, *rest):
    asked.append(word)
    return real(word, known, *rest)
s.nearest = nearest
import atexit
os._exit = lambda code, end=os._exit: (print(f"asked {len(asked)}"), sys.stdout.flush(), end(code))"""
    assert "asked 50" in project.run_changed(change, "build", "-q").stdout, "two icons, a hundred comparisons"
