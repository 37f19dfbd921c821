"""Firefox by its own remote protocol, Marionette: its command line scales pictures to CSS pixels."""

from __future__ import annotations

import base64
import io
import json
import os
import socket
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from PIL import Image

from support.pages import Screenshot

_READY = "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))"


class _Session:
    """Commands and their answers, both as JSON with their length before them (Firefox source docs: Marionette)."""

    def __init__(self, port: int) -> None:
        self._stream = socket.create_connection(("127.0.0.1", port), timeout=60).makefile("rwb")
        self._read()  # the greeting
        self.ask("WebDriver:NewSession")

    def _read(self) -> Any:
        size = b""
        while not size.endswith(b":"):
            size += self._stream.read(1)
        return json.loads(self._stream.read(int(size[:-1])))

    def ask(self, command: str, **values: object) -> Any:
        data = json.dumps([0, 1, command, values]).encode()
        self._stream.write(str(len(data)).encode() + b":" + data)
        self._stream.flush()
        _, _, problem, answer = self._read()
        assert problem is None, problem
        return answer


@contextmanager
def firefox_shots(program: str, profile: Path) -> Iterator[Screenshot]:
    """Give what shows a page in headless Firefox: called with a file, a width, a height, and a pixel ratio."""
    (profile / "user.js").write_text('user_pref("marionette.port", 0);\n')
    command = [program, "--headless", "--no-remote", "--marionette", "--remote-allow-system-access"]
    command += ["--profile", str(profile)]
    home = {**os.environ, "HOME": str(profile), "MOZ_HEADLESS": "1"}
    with subprocess.Popen(command, env=home, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as process:
        written = profile / "MarionetteActivePort"
        for _ in range(600):
            if written.exists() and written.read_text():
                break
            assert process.poll() is None
            time.sleep(0.1)
        session = _Session(int(written.read_text()))

        def shot(page: Path, width: int, height: int, ratio: int = 1) -> Image.Image:
            session.ask("Marionette:SetContext", value="chrome")
            script = f'Services.prefs.setCharPref("layout.css.devPixelsPerPx", "{ratio}.0")'
            session.ask("WebDriver:ExecuteScript", script=script, args=[])
            session.ask("Marionette:SetContext", value="content")
            session.ask("WebDriver:SetWindowRect", width=width, height=height + 200)
            session.ask("WebDriver:Navigate", url=page.as_uri())
            session.ask("WebDriver:ExecuteAsyncScript", script=_READY, args=[])
            picture = session.ask("WebDriver:TakeScreenshot", full=False)["value"]
            return Image.open(io.BytesIO(base64.b64decode(picture)))

        yield shot
        process.terminate()
