"""Outside programs at work, and a server for pages that need one."""

from __future__ import annotations

import http.server
import os
import subprocess
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

Client = Callable[[str], str]  # the path of a program by its name


def run(*command: str | Path, cwd: Path, **env: str) -> str:
    """Run a program; it must succeed. Return what it printed."""
    done = subprocess.run(
        [str(c) for c in command],
        cwd=cwd,
        capture_output=True,
        text=True,
        timeout=300,
        env={**os.environ, **env},
        check=False,
    )
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


@contextmanager
def serving(folder: Path) -> Iterator[tuple[str, list[str]]]:
    """Serve a folder; give its address, and the paths that were asked for so far."""
    asked: list[str] = []

    class Handler(http.server.SimpleHTTPRequestHandler):
        def log_message(self, form: str, *args: Any) -> None:
            asked.append(self.path)

    with http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Handler, directory=str(folder))) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_address[1]}", asked
        server.shutdown()
