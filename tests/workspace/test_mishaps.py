"""Tired hands, full disks, one bad drawing among good ones: said, and nothing lost."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

from oddpeg.tasks.build import BuildOptions, build
from oddpeg.workspace.project import Project
from support.project import CONFIG, RING, SQUARE, ProjectFolder

KINDS = ["css", "json", "typescript", "scss", "kotlin", "csharp", "swift", "dart", "java", "python", "c-header", "xaml"]


def script(project: ProjectFolder, patch: str, *command: str) -> subprocess.CompletedProcess[str]:
    """Run a command in a process in which something was changed first."""
    text = (
        f"import errno, os, sys, oddpeg.workspace.transaction as t\n{patch}\nsys.argv[1:] = {list(command)!r}\n"
        "from oddpeg.cli.entry import main; main()"
    )
    return subprocess.run([sys.executable, "-c", text], cwd=project.root, capture_output=True, text=True, check=False)


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
    script(copy, KILLED.format(stop), "build", "-q", "--as-new")
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
    result = script(project, patch, "build")
    assert result.returncode == 70 and "Traceback" not in result.stderr
    assert "icons/cursed.svg: made Odd Peg itself fail (ZeroDivisionError)" in result.stderr
    log = Path(result.stderr.rpartition("report it with ")[2].strip())
    assert "our own mistake" in log.read_text() and log.stat().st_mode & 0o077 == 0
    log.unlink()
    assert [i["name"] for i in json.loads(project.read("dist/tide-marks.json"))["icons"]] == ["anchor", "buoy"]
    checked = script(project, patch, "check", "--json")
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
    result = script(copy, patch, "pegs", "rename", "anchor", "mooring")
    names = {p.name for p in (copy.root / "icons").iterdir()} - {"buoy.svg", "cleat.svg", "icons.csv"}
    if result.returncode == 0:
        assert names == {"mooring.svg"}
    else:
        assert "cure:" in result.stderr and "Traceback" not in result.stderr
        assert names == {"anchor.svg"}
        assert (copy.read("pegboard.csv"), copy.read("icons/icons.csv")) == before
    build(Project.open(copy.root / "oddpeg.toml"))


def test_temporary_files_of_killed_processes_go(project: ProjectFolder) -> None:
    project.build()
    for name in (".oddpeg/cache/.oddpeg-1-0.part", ".oddpeg/stage/7"):
        (project.root / name).parent.mkdir(exist_ok=True)
        (project.root / name).write_text("left over")
    project.build()
    assert not list((project.root / ".oddpeg").rglob("*.part")) and not (project.root / ".oddpeg/stage").exists()


def test_a_picture_whose_process_was_killed_leaves_nothing(project: ProjectFolder, tmp_path: Path) -> None:
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    (tmp_path / "shots").mkdir()
    (tmp_path / f"shots/.oddpeg-{gone.pid}-0.part").write_text("half a picture")
    (tmp_path / "shots/.oddpeg-mine.part").write_text("mine")
    assert project.run("check", "--sheet", tmp_path / "shots/sheet.png").returncode == 0
    assert {p.name for p in (tmp_path / "shots").iterdir()} == {"sheet.png", ".oddpeg-mine.part"}


def test_a_change_by_somebody_else_meanwhile_is_kept(project: ProjectFolder) -> None:
    project.build()
    project.icon("cleat", RING)
    script(project, KILLED.format(2), "build", "-q")
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
