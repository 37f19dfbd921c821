"""`oddpeg watch --serve` in Chromium: the page loads again after each build and stays where it was; nothing else is
served, to nobody else."""

from __future__ import annotations

import http.client
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys

from support.pages import names, press
from support.project import CONFIG, RING, SQUARE, ProjectFolder, wait_for, watching

SETTLED = "document.readyState === 'complete' && document.activeElement.id === 'query'"  # the focus comes back last


@pytest.fixture
def served(tmp_path: Path) -> Iterator[tuple[ProjectFolder, str, Path]]:
    """A project of 120 icons being watched and served: the project, its address, what the watch says."""
    project, log = ProjectFolder(tmp_path / "harbour").config(), tmp_path / "log"
    for i in range(120):
        project.icon(f"sign-{i:03}", RING.replace('r="8"', f'r="{2 + i / 20}"'))
    with watching(project, log, "--serve", "--port", "0"):
        yield project, wait_for(log, "the specimen is at ").split("the specimen is at ")[1].strip(), log


def later(browser: Any, script: str, seconds: float = 20) -> Any:
    """Return what a script returns once that is true."""
    end = time.monotonic() + seconds
    while not (found := browser.execute_script(script)):
        assert time.monotonic() < end, script
        time.sleep(0.05)
    return found


def ask(address: str, path: str, host: str | None = None) -> tuple[int, str]:
    connection = http.client.HTTPConnection(address.removeprefix("http://").strip("/"), timeout=5)
    connection.request("GET", path, headers={"Host": host} if host else {})
    answer = connection.getresponse()
    return answer.status, answer.read().decode()


def test_it_loads_again_and_keeps_query_scroll_and_panel(browser: Any, served: tuple[ProjectFolder, str, Path]) -> None:
    project, address, _ = served
    browser.set_window_size(1280, 700)
    browser.get(address)
    press(browser, "/", "sign")
    browser.execute_script("move(60, true); scrollTo(0, 500); panel.scrollTop = 90; window.before = true")
    project.icon("sign-bell", SQUARE)
    later(browser, f"return !window.before && {SETTLED} && scrollY === 500 && panel.scrollTop === 90")
    assert "sign-bell" in browser.execute_script("return every.map(i => i.name)")
    assert browser.execute_script("return [query.value, panel.querySelector('h2').textContent]") == ["sign", "sign-060"]
    browser.execute_script("window.before = true")
    project.icon("sign-bell", "<svg")
    later(browser, "return !window.before")
    project.icon("sign-bell", SQUARE)
    later(browser, f"return {SETTLED} && every.some(i => i.name === 'sign-bell')")
    (project.root / "icons/icons.csv").write_text("icon,tags\nsign-bell,alarm\n", encoding="utf-8")
    later(browser, f"return {SETTLED} && every.some(i => i.tags[0] === 'alarm')")
    press(browser, Keys.ESCAPE, "bell")
    assert names(browser) == ["sign-bell"]
    assert [entry for entry in browser.get_log("browser") if "Content Security" in entry["message"]] == []


def test_nothing_else_is_served_and_to_nobody_else(served: tuple[ProjectFolder, str, Path]) -> None:
    _, address, _ = served
    assert address.startswith("http://127.0.0.1:")
    assert ask(address, "/")[0] == 200 and ask(address, "/web")[0] == 200
    for path in ("/pegboard.csv", "/../oddpeg.toml", "/dist/tide-marks.css", "//etc/passwd"):
        assert ask(address, path)[0] == 404
    status, text = ask(address, "/", "rebound.example")
    assert status == 403 and "every" not in text


def test_wrong_use_is_said(project: ProjectFolder, served: tuple[ProjectFolder, str, Path]) -> None:
    port = served[1].strip("/").rpartition(":")[2]
    taken = project.run("watch", "--serve", "--port", port)
    assert (
        taken.returncode == 2
        and f"cannot listen on port {port}" in taken.stderr
        and "choose another --port" in taken.stderr
    )
    nothing = project.config(CONFIG.replace(', "specimen"', "")).run("watch", "--serve")
    assert (
        nothing.returncode == 2
        and "there is no specimen to serve" in nothing.stderr
        and 'add "specimen"' in nothing.stderr
    )
