"""Programs that may be installed, run with a time limit."""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import signal
import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

BROWSERS = ("chromium", "chromium-browser", "google-chrome", "google-chrome-stable", "chrome", "msedge")
_SECONDS = 10  # to tell a version


class Program(NamedTuple):
    """A program on the path that tells its version."""

    path: str
    version: str


def find_program(programs: Sequence[str]) -> Program | None:
    """Return the first program on the path that tells its version. Programs of the current folder are not run."""
    for program in programs:
        path = shutil.which(program)
        if path is None or not Path(path).is_absolute():
            continue
        version = re.search(rb"\d[\d.]*", run([path, "--version"], _SECONDS) or b"")
        if version:
            return Program(path, version[0].decode())
    return None


def run(command: Sequence[str], seconds: float, data: bytes = b"", folder: str | None = None) -> bytes | None:
    """Return the output of a program; None where it fails or takes longer. folder: in which it runs."""
    pipe, nowhere = subprocess.PIPE, subprocess.DEVNULL
    try:
        process = subprocess.Popen(command, stdin=pipe, stdout=pipe, stderr=nowhere, cwd=folder, start_new_session=True)
    except OSError:
        return None
    with process:
        try:
            output, _ = process.communicate(data, timeout=seconds)
        except subprocess.TimeoutExpired:
            end(process)
            return None
        return output if process.returncode == 0 else None


def end(process: subprocess.Popen[bytes]) -> None:
    """End a program and all that it started: browsers have many processes, which would keep its pipes open."""
    if hasattr(os, "killpg"):
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)
    process.kill()


def sandbox_flags() -> tuple[str, ...]:
    """Return the option without which browsers refuse to start as root."""
    return ("--no-sandbox",) if hasattr(os, "geteuid") and os.geteuid() == 0 else ()
