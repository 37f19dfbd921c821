"""The watcher and its server: builds again when something changes, and shows what builds delivered."""

from __future__ import annotations

import re
import shutil
import signal
import time
from pathlib import Path

import pytest

from support.project import CONFIG, RING, SQUARE, ProjectFolder, codepoints, wait_for, wait_until, watching


def address(log: Path) -> str:
    """Where the server is."""
    found = re.search(r"http://127\.0\.0\.1:\d+/", log.read_text())
    assert found
    return str(found[0])


def test_watch_builds_again_and_survives_what_is_broken(project: ProjectFolder, tmp_path: Path) -> None:
    log = tmp_path / "log"
    with watching(project, log) as process:
        project.icon("cleat", SQUARE.replace("M4 4", "M5 5"))
        wait_for(log, "new cleat")
        assert "cleat" in codepoints(project)
        project.icon("cleat", "<svg")
        wait_for(log, "not well-formed")
        halves = RING[:60], RING[60:]
        project.icon("davit", halves[0])
        time.sleep(0.5)
        with (project.root / "icons/davit.svg").open("a") as file:
            file.write(halves[1])
        assert "davit.svg" not in wait_for(log, "new davit"), "it is not built before it is whole"
        project.icon("cleat", SQUARE.replace("M4 4", "M6 5"))
        wait_for(log, "4 icons")
        project.config("[font\n")
        wait_for(log, "not built: 1 fault")
        project.config(CONFIG.replace('"Tide Marks"', '"Moorings"'))
        wait_until((project.root / "dist/moorings.css").exists)
        time.sleep(1.5)  # for what may still be on its way
        text = log.read_text()
        assert process.poll() is None and "Traceback" not in text
        lines = [line for line in text.splitlines() if " icons, " in line or "not built" in line]
        assert 6 <= len(lines) <= 10, (
            "about one line for each change; an editor's save may count twice, two quick ones once"
        )
        time.sleep(1.5)
        assert log.read_text() == text, "our own writing is no change"


def test_a_draft_comes_at_once_and_the_finished_files_follow(project: ProjectFolder, tmp_path: Path) -> None:
    log = tmp_path / "log"
    project.config(CONFIG.replace('"specimen"]', '"specimen", "specimen-sheet"]'))
    with watching(project, log):
        picture = project.bytes("dist/tide-marks-specimen.png")
        project.icon("cleat", SQUARE.replace("M4 4", "M5 5"))
        wait_for(log, "draft, ")
        wait_until(lambda: project.bytes("dist/tide-marks-specimen.png") != picture)
        project.icon("davit", RING)
        wait_until(lambda: log.read_text().count("draft, ") == 2)
    finished = {p: p.read_bytes() for p in project.root.glob("dist/*")}
    assert "davit" in codepoints(project), "and at the end, when the watch is ended before that"
    shutil.rmtree(project.root / "dist")
    project.build()
    assert finished == {p: p.read_bytes() for p in project.root.glob("dist/*")}


def test_watch_sees_code_where_a_bundle_holds_what_it_uses(project: ProjectFolder, tmp_path: Path) -> None:
    log = tmp_path / "log"
    (project.root / "app").mkdir()
    project.write("app/page.html", '<i class="tm-icon tm-buoy"></i>')
    less = '\n[usage]\nin = ["app"]\n\n[bundle.less]\ninto = "less"\noutputs = ["css"]\nonly = "used"\n'
    project.config(CONFIG + less)
    with watching(project, log, end=signal.SIGTERM):
        assert ".tm-anchor" not in project.read("less/tide-marks.css")
        project.write("app/page.html", '<i class="tm-icon tm-anchor"></i><i class="tm-icon tm-buoy"></i>')
        wait_until(lambda: ".tm-anchor" in project.read("less/tide-marks.css"))


@pytest.mark.exhaustive
def test_watch_sees_folders_come_go_and_change_their_names(project: ProjectFolder, tmp_path: Path) -> None:
    log = tmp_path / "log"
    project.config(CONFIG.replace('"css"', '"css", { kind = "sprite", to = "sprite.svg" }').replace("icons/**", "**"))
    outside = ProjectFolder(tmp_path / "outside").icon("winch", RING).icon("davit", SQUARE.replace("M4 4", "M5 4"))
    with watching(project, log):
        (outside.root / "icons").rename(project.root / "icons/deck")
        wait_for(log, "new davit, winch")
        (project.root / "icons/deck").rename(project.root / "icons/aft")
        time.sleep(0.7)
        (project.root / "icons/aft").rename(tmp_path / "away")
        wait_for(log, "RETIRED davit, winch")
        (tmp_path / "away").rename(project.root / "icons/back")
        wait_for(log, "back davit, winch")
        text = log.read_text()
        time.sleep(1.5)
        assert log.read_text() == text, "our own sprite is no drawing"


def test_the_server_stands_two_hundred_requests_and_closed_tabs(project: ProjectFolder, tmp_path: Path) -> None:
    import socket
    from concurrent.futures import ThreadPoolExecutor
    from urllib.request import urlopen

    log = tmp_path / "log"
    with watching(project, log, "--serve"):
        url = address(log)
        port = int(url.rstrip("/").rpartition(":")[2])
        for _ in range(20):
            with socket.create_connection(("127.0.0.1", port)) as tab:
                tab.sendall(f"GET / HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode())
        with ThreadPoolExecutor(200) as pool:
            pages = list(pool.map(lambda _: urlopen(url, timeout=60).status, range(200)))
        assert pages == [200] * 200
        (project.root / "dist/tide-marks-specimen.html").write_text("a stranger's page")
        with pytest.raises(OSError, match="503"):
            urlopen(url, timeout=60)
        assert "Traceback" not in log.read_text() and "Exception" not in log.read_text()


@pytest.mark.exhaustive
def test_watch_builds_once_for_a_change_that_is_reported_twice(project: ProjectFolder, tmp_path: Path) -> None:
    log = tmp_path / "log"
    with watching(project, log):
        time.sleep(0.5)
        path = project.root / "icons/anchor.svg"
        path.write_text(RING)
        wait_for(log, "changed anchor")
        path.chmod(0o600)  # a report of its own, with nothing to build
        time.sleep(1.5)
        assert log.read_text().count("changed anchor") == 1


def test_the_server_shows_no_file_that_a_build_refused(project: ProjectFolder, tmp_path: Path) -> None:
    from urllib.error import HTTPError
    from urllib.request import urlopen

    (tmp_path / "secret.html").write_text("secret")
    output = f'{{ kind = "specimen", to = "{tmp_path}/secret.html" }}'
    project.config(CONFIG.replace('"specimen"', output))
    log = tmp_path / "log"
    with watching(project, log, "--serve"):
        with pytest.raises(HTTPError) as problem:
            urlopen(address(log), timeout=60)
        assert problem.value.code == 503 and b"secret" not in problem.value.read()


def test_every_file_that_the_config_names_is_watched(project: ProjectFolder) -> None:
    from oddpeg.building.watching import matters
    from oddpeg.project.project import Project

    own = project.read("oddpeg.toml").replace("[icons]\n", '[icons]\nnames = "vendor/names.json"\n')
    table = """
[repack.signs]
font = "vendor/a.bin"
into = "out"
names = "vendor/map.csv"
metrics_of = "vendor/b.bin"
"""
    project.config(own + table)
    opened = Project.open(project.root / "oddpeg.toml")
    named = ["names.json", "a.bin", "map.csv", "b.bin"]
    assert all(matters((project.root / "vendor" / name).resolve(), opened) for name in named)
    assert not matters((project.root / "vendor/other.json").resolve(), opened)
