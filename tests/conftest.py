"""Fixtures that all tests share: projects, outside clients, a browser.

A test that asks for one of the fixtures in `OUTSIDE` needs more than Python: it belongs to `make test-clients`, every
other one to `make test`.
"""

from __future__ import annotations

import importlib
import io
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from types import ModuleType
from typing import NoReturn, cast

import pytest
from hypothesis import HealthCheck, settings
from PIL import Image

from oddpeg import parallel
from support.firefox import firefox_shots
from support.pages import Screenshot, chromium
from support.project import CLIENTS, LAUNCHER, REPOSITORY, RING, ProjectFolder, oddpeg

if "COVERAGE_FILE" in os.environ:
    parallel.CAN_FORK = False  # to measure a worker takes longer than its work

OUTSIDE = {"client", "library", "browser", "firefox", "screenshot", "installed"}

# no test measures time: on a busy machine, any of them may take long
settings.register_profile(
    "same every time", derandomize=True, deadline=None, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("same every time")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if isinstance(item, pytest.Function) and OUTSIDE & set(item.fixturenames):
            item.add_marker("clients")


def pytest_sessionfinish() -> None:
    LAUNCHER.close()


@pytest.fixture
def project(tmp_path: Path) -> ProjectFolder:
    """A project with two icons and the plain config."""
    return ProjectFolder(tmp_path / "harbour").config().icon("anchor").icon("buoy", RING)


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """The demo project, built once."""
    made = ProjectFolder(tmp_path_factory.mktemp("demo") / "saltmarsh")
    result = oddpeg("demo", made.root, cwd=made.root.parent)
    assert result.returncode == 0, result.stderr
    return made


@pytest.fixture(scope="session")
def client() -> Callable[[str], str]:
    """Return the path of an outside program, or of a file in a package from npm; where it is missing, skip, or fail
    if clients are required."""

    def find(name: str) -> str:
        modules, validator = CLIENTS / "node_modules", REPOSITORY / ".venv-validator/bin"
        local = next((p for p in (modules / ".bin" / name, modules / name, validator / name) if p.is_file()), None)
        found = str(local) if local else shutil.which(name)
        if name == "node" and not modules.is_dir():
            found = None  # what tests hand to it imports packages
        return found or _missing(name)

    return find


@pytest.fixture(scope="session")
def library() -> Callable[[str], ModuleType]:
    """Return a package of the group `clients`; where it is missing, skip, or fail if clients are required."""

    def find(name: str) -> ModuleType:
        try:
            return importlib.import_module(name)
        except ImportError:
            _missing(name)

    return find


def _missing(name: str) -> NoReturn:
    if os.environ.get("ODDPEG_REQUIRE_CLIENTS") == "1":
        pytest.fail(f"{name} is required and missing")
    pytest.skip(f"{name} is not installed")


@pytest.fixture(scope="module")
def browser(client: Callable[[str], str]) -> Iterator[object]:
    """Headless Chromium, driven by Selenium, without any network of its own."""
    with chromium(client("chromium"), client("chromedriver")) as driver:
        yield driver


@pytest.fixture(scope="session")
def firefox(client: Callable[[str], str], tmp_path_factory: pytest.TempPathFactory) -> Iterator[Screenshot]:
    """Return what shows a page in headless Firefox: called with a file, a width, a height, and a pixel ratio."""
    with firefox_shots(client("firefox-esr"), tmp_path_factory.mktemp("firefox")) as shot:
        yield shot


@pytest.fixture(params=["chromium", "firefox"])
def screenshot(request: pytest.FixtureRequest) -> Screenshot:
    """Return what shows a page, in each browser: called with a file, a width, a height, and a pixel ratio."""
    if request.param == "firefox":
        return cast("Screenshot", request.getfixturevalue("firefox"))
    browser = request.getfixturevalue("browser")

    def shot(page: Path, width: int, height: int, ratio: int = 1) -> Image.Image:
        browser.set_window_size(width, height + 200)
        if ratio != 1:
            size = {"width": width, "height": height, "deviceScaleFactor": ratio, "mobile": False}
            browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
        browser.get(page.as_uri())
        ready = "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))"
        browser.execute_async_script(ready)
        picture = browser.get_screenshot_as_png()
        browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
        return Image.open(io.BytesIO(picture))

    return shot
