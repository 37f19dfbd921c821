"""A folder from a stranger: nothing in it makes us run, read, write or delete outside of what is ours."""

from __future__ import annotations

import hashlib
import json
import os
import re
import shutil
import subprocess
from pathlib import Path

import pytest

from oddpeg.outputs.registry import KINDS
from oddpeg.sources.code import list_files
from oddpeg.sources.globs import Glob
from oddpeg.store.cache import cache_file
from oddpeg.store.tree import Kind, Tree, belongs_to_version_control
from support.clients import Client, run
from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder

DATA = table("hostile")

pytestmark = pytest.mark.skipif(os.name == "nt", reason="makes links")


def digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def into(folder: str) -> str:
    return CONFIG.replace('into = "dist"', f'into = "{folder}"')


@pytest.mark.parametrize("record", ["journal", "delivered"])
def test_a_record_that_came_with_the_folder_deletes_and_moves_nothing(project: ProjectFolder, record: str) -> None:
    for name in ("mine.txt", "src/app.py"):
        (project.root / name).parent.mkdir(exist_ok=True)
        (project.root / name).write_text(f"{name}\n")
    state = project.root / ".oddpeg"
    (state / "stage").mkdir(parents=True)
    (state / "stage/0").write_text("#!/bin/sh\ntouch /tmp/owned\n")
    (project.root / ".git/hooks").mkdir(parents=True)
    if record == "journal":
        old = {"moves": [["0", ".git/hooks/post-checkout"]], "remove": ["mine.txt"]}
        steps = [[".git/hooks/post-checkout", None, "x"], ["mine.txt", digest(b"mine.txt\n"), None]]
        body = json.dumps({"steps": steps, "forward": True})
        (state / "journal.json").write_text(json.dumps({**old, "body": body, "seal": "0" * 64}))
    else:
        files = {n: digest((project.root / n).read_bytes()) for n in ("mine.txt", "src/app.py")}
        (state / "delivered.json").write_text(json.dumps({"bundles": {"gone": files, "web": files}}))
        (state / "seals.json").write_text(json.dumps({"delivered": "0" * 64}))
        (project.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+E000,live\n")
    result = project.run("build")
    assert (project.root / "mine.txt").read_text() == "mine.txt\n", result.stderr
    assert (project.root / "src/app.py").exists() and not list((project.root / ".git/hooks").iterdir())


def test_a_moved_or_cloned_project_still_knows_its_own_files(project: ProjectFolder, tmp_path: Path) -> None:
    every = (
        '"css", "typescript", "json", "csv", "markdown", "credits", "specimen", "specimen-sheet", "sprite", "base64"'
    )
    project.config(
        CONFIG.replace('"css", "typescript", "json", "specimen"', every).replace('"ttf"', '"ttf", "eot", "svg"')
    )
    project.deliver()
    clone = ProjectFolder(tmp_path / "clone")
    shutil.copytree(project.root, clone.root, dirs_exist_ok=True)
    for name in ("seals.json", "shown.json", "shapes.json", "lock"):
        (clone.root / ".oddpeg" / name).unlink(missing_ok=True)  # some locks are removed when they open
    assert clone.run("pegs", "settle").returncode == 0, "a record made elsewhere is taken over by what files tell"
    clone.icon("cleat", RING.replace('"8"', '"5"')).deliver()
    assert "tm-cleat" in clone.read("dist/tide-marks.css")
    clone.config(into("public")).deliver()
    assert not clone.files("dist"), "what is stale is known as ours, too"


def test_nothing_is_written_through_links(project: ProjectFolder, tmp_path: Path) -> None:
    outside = tmp_path / "outside"
    outside.mkdir()
    (outside / "lock").write_text("precious")
    (project.root / ".oddpeg").symlink_to(outside)
    assert ".oddpeg: is a link" in project.build(code=1).stderr
    (project.root / ".oddpeg").unlink()
    (project.root / ".oddpeg").mkdir()
    for name in ("cache", "stage", "lock"):
        (project.root / ".oddpeg" / name).symlink_to(outside / name)
        assert f".oddpeg/{name}: is a link" in project.build(code=1).stderr
        (project.root / ".oddpeg" / name).unlink()
    project.deliver()
    (project.root / cache_file()).unlink()
    (project.root / cache_file()).symlink_to(outside / "lock")
    project.icon("cleat", RING).deliver()
    project.run("find", "cleat")
    assert (outside / "lock").read_text() == "precious" and len(list(outside.iterdir())) == 1


def test_two_bundles_cannot_meet_through_a_link(project: ProjectFolder) -> None:
    (project.root / "a").mkdir()
    (project.root / "b").symlink_to("a")
    text = into("a") + '\n[bundle.other]\ninto = "b"\noutputs = ["css"]\n'
    result = project.config(text).build(code=1)
    assert "is reached through the link b" in result.stderr and not list((project.root / "a").iterdir())


def test_a_pegboard_that_is_a_link_is_refused(project: ProjectFolder, tmp_path: Path) -> None:
    project.deliver()
    (project.root / "pegboard.csv").rename(tmp_path / "board.csv")
    text = (tmp_path / "board.csv").read_text()
    (project.root / "pegboard.csv").symlink_to(tmp_path / "board.csv")
    for command in (["build"], ["pegs", "retire", "buoy"], ["pegs", "rename", "buoy", "float"]):
        result = project.run(*command)
        assert result.returncode == 1 and "link" in result.stderr and "cure:" in result.stderr
    assert (tmp_path / "board.csv").read_text() == text and (project.root / "pegboard.csv").is_symlink()


def test_inputs_are_read_inside_the_project_alone(project: ProjectFolder, tmp_path: Path) -> None:
    secret = tmp_path / "secret"
    secret.mkdir()
    (secret / "hidden.svg").write_text(SQUARE)
    (secret / "t.jinja").write_text("secret")
    (project.root / "icons/out.svg").symlink_to(secret / "hidden.svg")
    result = project.build(code=1)
    assert "icons/out.svg: is a link that leads out of the project" in result.stderr
    assert "out" not in project.read("pegboard.csv")
    (project.root / "icons/out.svg").unlink()
    text = CONFIG.replace('"icons/**/*.svg"', '"icons/**/*.svg", "../secret/*.svg"')
    result = project.config(text).build(code=2)
    assert "leads out of the project" in result.stderr and "--also-read" in result.stderr
    assert project.run("--also-read", secret, "build").returncode == 0
    assert "hidden" in project.read("pegboard.csv")
    assert project.run("build", ODDPEG_ALSO_READ=str(secret)).returncode == 0
    for name in ("../secret/t.jinja", str(secret / "t.jinja"), "/dev/zero"):
        text = CONFIG.replace('"css"', f'{{ kind = "template", template = "{name}", to = "x.txt" }}')
        assert "leads out of the project" in project.config(text).build(code=1).stderr


def test_pipes_devices_and_loops_hold_nothing_up(project: ProjectFolder) -> None:
    os.mkfifo(project.root / "icons/pipe.svg")
    (project.root / "icons/loop").symlink_to("..")
    (project.root / "icons/nowhere.svg").symlink_to("nothing")
    os.mkfifo(project.root / "icons/icons.csv")
    with (project.root / "icons/sparse.svg").open("wb") as file:
        file.truncate(1 << 40)
    result = project.build(code=1)
    (project.root / "icons/self.svg").symlink_to("self.svg")
    result = project.build(code=1)
    for told in (
        "pipe.svg: is neither a file nor a folder",
        "nowhere.svg: is a link that leads nowhere",
        "self.svg: is a link that leads nowhere",
        "loop: is a link back to a folder that it is in",
        "sparse.svg",
    ):
        assert result.stderr.count(told) == 1
    assert sorted(project.read_json("dist/tide-marks.json")["icons"][i]["name"] for i in (0, 1)) == ["anchor", "buoy"]


def test_a_config_that_is_a_link_out_of_the_folder_must_be_named(project: ProjectFolder, tmp_path: Path) -> None:
    other = ProjectFolder(tmp_path / "other").config().icon("anchor")
    (project.root / "oddpeg.toml").unlink()
    (project.root / "oddpeg.toml").symlink_to(other.root / "oddpeg.toml")
    result = project.build(code=2)
    assert "link that leads out of this folder" in result.stderr and "--config" in result.stderr
    assert not (other.root / "dist").exists()


def test_own_outputs_never_become_drawings(project: ProjectFolder) -> None:
    text = (
        CONFIG.replace("icons/**/*.svg", "**/*.svg")
        .replace('"css"', '"css", "sprite"')
        .replace('"ttf"', '"ttf", "svg"')
    )
    for _ in range(2):
        project.config(text).deliver()
    project.config(text.replace('into = "dist"', 'into = "public"')).deliver()
    assert project.read("pegboard.csv") == "icon,codepoint,state\nanchor,U+E000,live\nbuoy,U+E001,live\n"


def test_a_lost_pegboard_stops_the_build(project: ProjectFolder) -> None:
    project.deliver()
    board = project.read("pegboard.csv")
    for text in (None, "", "icon,codepoint,state\n"):
        (project.root / "pegboard.csv").unlink(missing_ok=True)
        if text is not None:
            (project.root / "pegboard.csv").write_text(text)
        result = project.icon("aback").build(code=1)
        assert "every codepoint would be given out anew" in result.stderr and "pegs adopt" in result.stderr
    assert project.run("pegs", "adopt", "dist/tide-marks.json").returncode == 0
    project.deliver()
    assert set(board.splitlines()) < set(project.read("pegboard.csv").splitlines())


def test_git_runs_nothing_that_a_repository_names(project: ProjectFolder, client: Client) -> None:
    """Every hook and helper that a stranger's configuration can name, each leaving a mark when it runs."""
    project.deliver()
    mark = project.root.parent / "ran"
    script = project.root / "evil.sh"
    script.write_text(f"#!/bin/sh\necho $0 $@ >> {mark}\ncat\n")
    script.chmod(0o755)

    def git(*args: str) -> None:
        run(client("git"), *args, cwd=project.root)

    git("init", "-q")
    (project.root / ".gitattributes").write_text("*.csv diff=evil filter=evil\n")
    for line in ("user.name x", "user.email x@example.com"):
        git("config", *line.split())
    git("add", "-A")
    git("commit", "-qm", "first")
    for key in ("core.fsmonitor", "core.pager", "diff.evil.textconv", "diff.evil.command", "diff.external",
                "filter.evil.smudge", "core.sshCommand", "pager.log", "gpg.program", "core.askPass"):  # fmt: skip
        git("config", key, str(script))
    for hook in ("post-index-change", "post-checkout", "pre-commit"):
        (project.root / ".git/hooks").mkdir(exist_ok=True)
        (project.root / ".git/hooks" / hook).symlink_to(script)
    git("config", "log.showSignature", "true")
    mark.unlink(missing_ok=True)
    result = project.run("pegs", "settle")
    assert result.returncode == 0 and not mark.exists(), mark.read_text()


def test_no_git_of_the_repository_is_run(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / ".git").mkdir()
    mark = project.root.parent / "ran"
    project.write("git", f"#!/bin/sh\necho $0 >> {mark}\n")
    (project.root / "git").chmod(0o755)
    for path in (".", str(project.root), ""):
        for command in (["usage"], ["pegs", "settle"]):
            project.run(*command, PATH=f"{path}{os.pathsep}{os.environ['PATH']}")
    assert not mark.exists(), mark.read_text()


def test_an_index_leads_to_no_other_file(monkeypatch: pytest.MonkeyPatch, project: ProjectFolder) -> None:
    (project.root / ".git").mkdir()
    secret = project.root.parent / "secret.html"
    secret.write_text('<i class="tm-icon tm-secret">')
    listed = "\0".join([str(secret), "../secret.html", "app/page.html"]).encode()
    monkeypatch.setattr(subprocess, "run", lambda *_, **__: subprocess.CompletedProcess([], 0, listed, b""))
    files = list_files(project.root, [], frozenset())
    assert [os.path.relpath(path, project.root) for path in files.paths] == ["app/page.html"]


@pytest.mark.parametrize(
    "command",
    [
        "check --write D",
        "repack font.ttf --into D",
        "proof --picture D/x.png",
        "inspect font.ttf --sheet D/below/x.png",
    ],
)
def test_a_link_takes_no_result_out_of_the_folder(project: ProjectFolder, tmp_path: Path, command: str) -> None:
    shutil.copy(project.deliver().root / "dist/tide-marks.ttf", project.root / "font.ttf")
    outside = tmp_path / "outside"
    (outside / "below").mkdir(parents=True)
    (project.root / "D").symlink_to(outside)
    result = project.run(*command.split())
    assert result.returncode == 1 and "leads out of the current folder through a link" in result.stderr
    assert [path for path in outside.rglob("*") if path.is_file()] == []
    assert project.run(*command.replace("D", str(outside)).split()).returncode == 0, "that is the user's own word"


def test_texts_turn_no_line_of_code_around(project: ProjectFolder) -> None:
    turned = SQUARE.replace("<path", "<title>low\u202e\u2066 tide\u2069\u061c</title><path")
    project.icon("tide", turned)
    project.write("icons/icons.csv", "icon,title,licence,credit\nbuoy,a\u202eb,c\u2066d,e\u200ff\n")
    kinds = [name for name in KINDS if name not in ("template", "npm-package")]
    project.config(CONFIG.replace('["css", "typescript", "json", "specimen"]', json.dumps(kinds)))
    project.deliver()
    files = [path for path in (project.root / "dist").rglob("*") if path.is_file()]
    binary = {".ttf", ".woff", ".woff2", ".eot", ".zip", ".png"}
    texts = [path.read_text(encoding="utf-8", errors="replace") for path in files if path.suffix not in binary]
    assert len(texts) > len(kinds) / 2 and any("low tide" in text for text in texts)
    assert not [text for text in texts if re.search("[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]", text)]


def test_nothing_controls_the_terminal(project: ProjectFolder) -> None:
    project.icon("bad\x1b[31m\u202ename", "<svg").icon(
        "titled", SQUARE.replace("<path", "<title>\u202ex\x9b</title><path")
    )
    for command in (["build"], ["check", "--all"], ["find", "titled"], ["use", "titled"], ["pegs", "list"]):
        result = project.run(*command)
        assert not any(c in result.stdout + result.stderr for c in "\x1b\x9b\u202e"), command


@pytest.mark.parametrize(
    "name",
    [".git", ".GIT", ".git ", ".git.", ".git::$INDEX_ALLOCATION", ".g\u200dit", "GIT~1", "gi7eba~1", ".gitmodules"],
)
def test_every_spelling_of_version_control(name: str) -> None:
    assert belongs_to_version_control(f"dist/{name}/config")


@pytest.mark.parametrize("name", ["git", "dist/github.css", "digit", "agit~1x", ".vscode", "legit/x", "hg"])
def test_what_only_looks_like_it(name: str) -> None:
    assert not belongs_to_version_control(name)


def test_a_tree_follows_no_link(tmp_path: Path) -> None:
    tree = Tree(tmp_path / "in")
    (tmp_path / "in/real").mkdir(parents=True)
    (tmp_path / "out").mkdir()
    (tmp_path / "out/file").write_text("mine")
    (tmp_path / "in/link").symlink_to("../out")
    (tmp_path / "in/direct").symlink_to("../out/file")
    for change in (
        lambda: tree.write_new("link/new", b"x"),
        lambda: tree.write_new("direct", b"x"),
        lambda: tree.move("real/x", "link/file"),
        lambda: tree.append("direct", b"x", 0),
        lambda: tree.read("direct", 10),
        lambda: tree.read("link/file", 10),
        lambda: tree.write_new("../out/new", b"x"),
        lambda: tree.write_new("real//x", b"x"),
    ):
        with pytest.raises(OSError):
            change()
    tree.write_new("real/x", b"x")
    tree.remove("direct")
    tree.remove_folder("link")
    assert tree.kind("link") is Kind.NOTHING and (tmp_path / "out/file").read_text() == "mine"
    assert list((tmp_path / "out").iterdir()) == [tmp_path / "out/file"]


def test_the_key_is_kept_private_and_a_damaged_one_replaced(project: ProjectFolder, tmp_path: Path) -> None:
    home = {"XDG_STATE_HOME": str(tmp_path / "state"), "HOME": str(tmp_path)}
    assert project.run("build", **home).returncode == 0
    key = tmp_path / "state/oddpeg/key"
    assert key.stat().st_size == 32 and key.stat().st_mode & 0o077 == 0
    key.write_bytes(b"short")
    assert project.icon("cleat", RING).run("build", **home).returncode == 0
    assert key.stat().st_size == 32


SHAPES = [
    b"",
    b"\x00" * 100,
    b"[]",
    b"{}",
    b'{"bundles": []}',
    b'{"bundles": {"web": 3}}',
    b'{"icons": [1]}',
    b"[" * 9000,
    b'{"shown": {"web": {"anchor": "x"}}}',
    b"\xff\xfe",
    b'{"bundles": {"web": {"dist/x": [1]}}}',
    b"null",
    b"1e999",
]


@pytest.mark.exhaustive
def test_records_and_caches_of_any_shape(project: ProjectFolder) -> None:
    project.deliver()
    css = project.read("dist/tide-marks.css")
    names = ["delivered.json", "arrivals.json", "shapes.json", "shown.json", "seals.json"]
    for shape in SHAPES:
        for name in [*names, cache_file().removeprefix(".oddpeg/"), "journal.json"]:
            (project.root / ".oddpeg" / name).write_bytes(shape)
        project.build("--prove")
        assert project.run("find", "anchor").returncode == 0, shape
        assert project.read("dist/tide-marks.css") == css, shape


def test_globs() -> None:
    for glob, path, wanted in DATA["globs"]:
        assert Glob(glob).fits(path.split("/")) == wanted, glob
    for glob, path in (("**/" * 40 + "b.svg", "a/" * 40 + "c.svg"), ("**/a/" * 20 + "b.svg", "a/" * 60 + "c.svg")):
        assert not Glob(glob).fits(path.split("/")), "at once"
