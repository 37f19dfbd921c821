"""What all tests share: the installed command, small projects, outside clients."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("same every time", derandomize=True)
settings.load_profile("same every time")

ODDPEG = Path(sys.executable).with_name("oddpeg" + (".exe" if os.name == "nt" else ""))
CLIENTS = Path(__file__).parent / "clients"

CONFIG = """\
[font]
family = "Tide Marks"

[icons]
from = ["icons/**/*.svg"]

[classes]
prefix = "tm"

[bundle.web]
into = "dist"
fonts = ["woff2", "woff", "ttf"]
outputs = ["css", "typescript", "json", "specimen"]
"""

SQUARE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h16v16H4z"/></svg>'
RING = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><circle cx="12" cy="12" r="8" fill="none" '
    'stroke="#000" stroke-width="2"/></svg>'
)

Result = subprocess.CompletedProcess[str]


def oddpeg(*args: str | Path, cwd: Path, **env: str) -> Result:
    """Run the installed command; a traceback on either stream is always a failure."""
    result = subprocess.run(
        [str(ODDPEG), *map(str, args)],
        cwd=cwd,
        capture_output=True,
        text=True,
        encoding="utf-8",
        timeout=240,
        env={**os.environ, "COLUMNS": "200", **env},
    )
    assert "Traceback" not in result.stdout + result.stderr
    return result


class Project:
    """A project in a temporary folder."""

    def __init__(self, root: Path) -> None:
        self.root = root
        root.mkdir(parents=True, exist_ok=True)

    def config(self, text: str = CONFIG) -> Project:
        (self.root / "oddpeg.toml").write_text(text, encoding="utf-8")
        return self

    def icon(self, name: str, svg: str | bytes = SQUARE) -> Project:
        path = self.root / "icons" / f"{name}.svg"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(svg if isinstance(svg, bytes) else svg.encode())
        return self

    def run(self, *args: str | Path, **env: str) -> Result:
        return oddpeg(*args, cwd=self.root, **env)

    def build(self, *args: str, code: int = 0) -> Result:
        result = self.run("build", *args)
        assert result.returncode == code, result.stdout + result.stderr
        return result

    def read(self, path: str) -> str:
        return (self.root / path).read_text(encoding="utf-8")

    def bytes(self, path: str) -> bytes:
        return (self.root / path).read_bytes()

    def files(self, folder: str = "dist") -> set[str]:
        base = self.root / folder
        return {p.relative_to(base).as_posix() for p in base.rglob("*") if p.is_file()}


@pytest.fixture
def project(tmp_path: Path) -> Project:
    """A project with two icons and the plain config."""
    return Project(tmp_path / "harbour").config().icon("anchor").icon("buoy", RING)


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Project:
    """The demo project, built once."""
    made = Project(tmp_path_factory.mktemp("demo") / "saltmarsh")
    result = oddpeg("demo", made.root, cwd=made.root.parent)
    assert result.returncode == 0, result.stderr
    return made


@pytest.fixture(scope="session")
def client() -> Callable[[str], str]:
    """Return the path of an outside program, or of a file in a package from npm; where it is missing, skip, or fail
    if clients are required."""

    def find(name: str) -> str:
        modules = CLIENTS / "node_modules"
        local = next((path for path in (modules / ".bin" / name, modules / name) if path.is_file()), None)
        found = str(local) if local else shutil.which(name)
        if found:
            return found
        if os.environ.get("ODDPEG_REQUIRE_CLIENTS") == "1":
            pytest.fail(f"{name} is required and missing")
        pytest.skip(f"{name} is not installed")

    return find


@pytest.fixture(scope="module")
def browser(client: Callable[[str], str]) -> Iterator[object]:
    """Headless Chromium, driven by Selenium, without any network of its own."""
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = client("chromium")
    for flag in (
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--hide-scrollbars",
        "--force-device-scale-factor=1",
        "--window-size=1280,1000",
    ):
        options.add_argument(flag)
    driver = webdriver.Chrome(options, webdriver.ChromeService(client("chromedriver")))
    yield driver
    driver.quit()
