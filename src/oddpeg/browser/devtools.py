"""A headless Chromium, driven over its debugging pipe. Source: Chrome DevTools Protocol, `--remote-debugging-pipe`:
JSON messages that end with a zero byte, on the file descriptors 3 (to the browser) and 4 (from it). No port is opened.
"""

from __future__ import annotations

import contextlib
import json
import os
import select
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Mapping
from types import TracebackType
from typing import Any

from oddpeg.browser.programs import end, sandbox_flags

_FLAGS = (
    "--headless=new",
    "--disable-gpu",
    "--disable-extensions",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-lcd-text",
    "--force-device-scale-factor=1",
    "--force-webrtc-ip-handling-policy=disable_non_proxied_udp",
    "--no-first-run",
    "--no-default-browser-check",
    "--remote-debugging-pipe",
)
# a process in between moves the descriptors to the numbers that the protocol wants, since they may be taken here
_MOVED = """\
import fcntl, os, sys
own = [fcntl.fcntl(int(number), fcntl.F_DUPFD, 10) for number in sys.argv[1:3]]
os.dup2(own[0], 3)
os.dup2(own[1], 4)
os.execv(sys.argv[3], sys.argv[3:])
"""
_LARGEST = 400_000_000  # bytes of all answers together
HAS_PIPE = sys.platform != "win32"  # there, handles are not passed on by their numbers

Message = dict[str, Any]
Handler = Callable[[Message], None]


class BrowserError(Exception):
    """The browser cannot be started, refused a command, or took too long."""


class Browser:
    """A browser with one empty page.

    Attributes:
        handlers: what is called with the parameters of an event, by its name.
    """

    def __init__(self, path: str, hosts: tuple[str, ...], seconds: float) -> None:
        """Start a program. hosts: the only ones it may connect to; seconds: after which every wait ends."""
        self.handlers: dict[str, Handler] = {}
        self._until = time.monotonic() + seconds
        self._answers: dict[int, Message] = {}
        self._buffer, self._received, self._number, self._session = bytearray(), 0, 0, ""
        self._folder = tempfile.TemporaryDirectory(prefix="oddpeg-", ignore_cleanup_errors=True)
        others = "".join(f", EXCLUDE {host}" for host in hosts)
        own = [f"--user-data-dir={self._folder.name}", f"--host-resolver-rules=MAP * ~NOTFOUND{others}"]
        self._process, self._write, self._read = self._start([path, *_FLAGS, *sandbox_flags(), *own, "about:blank"])

    def __enter__(self) -> Browser:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, problem: BaseException | None, trace: TracebackType | None
    ) -> None:
        end(self._process)
        self._process.wait()
        for descriptor in (self._write, self._read):
            os.close(descriptor)
        self._folder.cleanup()

    def attach(self) -> None:
        """Take the page over; commands go to it from now on."""
        pages = self.call("Target.getTargets")["targetInfos"]
        page = next((one["targetId"] for one in pages if one["type"] == "page"), None)
        if page is None:
            page = self.call("Target.createTarget", {"url": "about:blank"})["targetId"]
        self._session = self.call("Target.attachToTarget", {"targetId": page, "flatten": True})["sessionId"]

    def call(self, method: str, parameters: Mapping[str, Any] | None = None) -> Message:
        """Return the answer to a command; raise `BrowserError` where it is refused or late."""
        number = self.send(method, parameters)
        while number not in self._answers:
            self._take(self._until - time.monotonic())
        answer = self._answers.pop(number)
        if "error" in answer:
            raise BrowserError(f"{method}: {answer['error'].get('message', 'refused')}")
        result: Message = answer.get("result", {})
        return result

    def answered(self, number: int) -> bool:
        """Return whether a command that was sent has its answer, and drop that."""
        return self._answers.pop(number, None) is not None

    def send(self, method: str, parameters: Mapping[str, Any] | None = None) -> int:
        """Send a command without waiting; return its number."""
        self._number += 1
        message: Message = {"id": self._number, "method": method, "params": parameters or {}}
        if self._session:
            message["sessionId"] = self._session
        data = json.dumps(message).encode() + b"\0"
        try:
            while data:
                data = data[os.write(self._write, data) :]
        except OSError as problem:
            raise BrowserError("it ended") from problem
        return self._number

    def wait(self, done: Callable[[], bool], seconds: float) -> bool:
        """Take events until something is the case; return whether it is after so many seconds at most."""
        until = min(time.monotonic() + seconds, self._until)
        while not done() and (left := until - time.monotonic()) > 0:
            with contextlib.suppress(TimeoutError):
                self._take(min(left, 0.05), late=TimeoutError)
        return done()

    def _take(self, seconds: float, late: type[Exception] = BrowserError) -> None:
        """Read messages: keep answers, dispatch events. Raise `late` if none arrives in time."""
        if not select.select([self._read], [], [], max(seconds, 0))[0]:
            raise late("it did not answer in time")
        data = os.read(self._read, 1 << 20)
        self._received += len(data)
        if not data or self._received > _LARGEST:
            raise BrowserError("it ended" if not data else "it sends too much")
        self._buffer += data
        if b"\0" not in data:
            return
        *whole, rest = self._buffer.split(b"\0")
        self._buffer = rest
        for text in whole:
            message = json.loads(text)
            if "id" in message:
                self._answers[message["id"]] = message
            elif handler := self.handlers.get(message.get("method", "")):
                handler(message["params"])

    def _start(self, command: list[str]) -> tuple[subprocess.Popen[bytes], int, int]:
        """Return the process, and the ends of its pipes: to write to, to read from."""
        (theirs_in, write), (read, theirs_out) = os.pipe(), os.pipe()
        nowhere = subprocess.DEVNULL
        try:
            process = subprocess.Popen(
                [sys.executable, "-I", "-S", "-c", _MOVED, str(theirs_in), str(theirs_out), *command],
                stdin=nowhere,
                stdout=nowhere,
                stderr=nowhere,
                cwd=self._folder.name,
                pass_fds=(theirs_in, theirs_out),
                start_new_session=True,
            )
        except OSError as problem:
            raise BrowserError(f"it cannot be started: {problem}") from problem
        finally:
            os.close(theirs_in)
            os.close(theirs_out)
        return process, write, read
