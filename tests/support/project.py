"""The installed command, and projects in temporary folders."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import oddpeg as odd
from support.engines import fonts_below, require_accepted
from support.json_output import assert_described
from support.launcher import ODDPEG, Launcher, Result

REPOSITORY = Path(__file__).parent.parent.parent
CLIENTS = REPOSITORY / "tests" / "clients"

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

LAUNCHER = Launcher()


def oddpeg(*args: str | Path, cwd: Path, **env: str) -> Result:
    """Run the installed command. A traceback on either stream is always a failure, and so is a document that its
    schema does not describe."""
    return _run(LAUNCHER.run, args, cwd, env)


def oddpeg_fresh(*args: str | Path, cwd: Path, **env: str) -> Result:
    """Run the installed command in an interpreter of its own, as a shell does."""
    return _run(LAUNCHER.run_fresh, args, cwd, env)


def _run(
    start: Callable[[Sequence[str], Path, Mapping[str, str]], Result],
    args: Sequence[str | Path],
    cwd: Path,
    env: Mapping[str, str],
) -> Result:
    arguments = [str(arg) for arg in args]
    builds = arguments[:1] == ["build"]
    others = fonts_below(cwd) if builds else {}
    result = start(arguments, cwd, {**os.environ, "COLUMNS": "200", **env})
    assert "Traceback" not in result.stdout + result.stderr
    if builds and result.returncode == 0:
        require_accepted(cwd, others)
    if "--json" in arguments and result.stdout:
        assert_described(arguments, result.stdout)
    return result


class ProjectFolder:
    """A project in a temporary folder."""

    def __init__(self, root: Path) -> None:
        self.root = root
        root.mkdir(parents=True, exist_ok=True)

    def config(self, text: str = CONFIG) -> ProjectFolder:
        (self.root / "oddpeg.toml").write_text(text, encoding="utf-8")
        return self

    def icon(self, name: str, svg: str | bytes = SQUARE) -> ProjectFolder:
        path = self.root / "icons" / f"{name}.svg"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(svg if isinstance(svg, bytes) else svg.encode())
        return self

    def write(self, path: str, text: str) -> ProjectFolder:
        (self.root / path).write_text(text, encoding="utf-8")
        return self

    def run(self, *args: str | Path, **env: str) -> Result:
        return oddpeg(*args, cwd=self.root, **env)

    def json(self, *args: str | Path, **env: str) -> Any:
        """Return the document that a command prints."""
        return json.loads(self.run(*args, "--json", **env).stdout)

    def read_json(self, path: str) -> Any:
        return json.loads(self.read(path))

    def run_changed(self, change: str, *command: str) -> Result:
        """Run a command in a process in which a script changed something first; `t` is the module of transactions."""
        arguments = list(command) or ["build"]
        script = (
            f"import errno, os, sys, oddpeg.store.transaction as t\n{change}\nsys.argv[1:] = {arguments!r}\n"
            "from oddpeg.cli.entry import main; main()"
        )
        return subprocess.run(
            [sys.executable, "-c", script], cwd=self.root, capture_output=True, text=True, encoding="utf-8", check=False
        )

    def build(self, *args: str, code: int = 0) -> Result:
        result = self.run("build", *args)
        assert result.returncode == code, result.stdout + result.stderr
        return result

    def deliver(self) -> ProjectFolder:
        """Build in this process, by the public API, where a test looks at what was delivered; no icon may be left
        out."""
        report = odd.build(odd.open_project(self.root))
        assert not report.faults, [fault.text() for fault in report.faults]
        require_accepted(self.root)
        return self

    def read(self, path: str) -> str:
        return (self.root / path).read_text(encoding="utf-8")

    def bytes(self, path: str) -> bytes:
        return (self.root / path).read_bytes()

    def files(self, folder: str = "dist") -> set[str]:
        base = self.root / folder
        return {p.relative_to(base).as_posix() for p in base.rglob("*") if p.is_file()}


def codepoints(project: ProjectFolder) -> dict[str, int]:
    """Return the codepoint of every icon, as the delivered glyph map has them."""
    return {i["name"]: i["codepoint"] for i in project.read_json("dist/tide-marks.json")["icons"]}


@contextmanager
def watching(
    project: ProjectFolder, log: Path, *options: str, end: signal.Signals = signal.SIGINT
) -> Iterator[subprocess.Popen[str]]:
    """Give a watcher at work, which writes into a log; a signal ends it."""

    def heed_interrupts() -> None:  # a shell's background jobs ignore them
        signal.signal(signal.SIGINT, signal.SIG_DFL)

    with log.open("w") as out:
        process = subprocess.Popen(
            [ODDPEG, "watch", *options], cwd=project.root, stdout=out, stderr=subprocess.STDOUT, text=True,
            preexec_fn=heed_interrupts if os.name != "nt" else None,
        )  # fmt: skip
    try:
        wait_for(log, "specimen is at" if options else "watching")
        yield process
    finally:
        process.send_signal(end)
        assert process.wait(10) == 0 and "Traceback" not in log.read_text(encoding="utf-8")


def wait_until(holds: Callable[[], bool], seconds: float = 20) -> None:
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end, "it did not come"
        time.sleep(0.05)


def wait_for(log: Path, words: str, seconds: float = 20) -> str:
    """Return what a process wrote into a file, once it holds some words."""
    wait_until(lambda: words in log.read_text(encoding="utf-8"), seconds)
    return log.read_text(encoding="utf-8")
