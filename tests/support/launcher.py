"""Start the installed command in tests: forked from one interpreter that has loaded everything, or fresh.

A fork runs the same entry point in a process of its own, with its own arguments, folder, environment and pipes, and
takes a third of the time of a fresh start. `ODDPEG_FRESH_STARTS=1` starts every command fresh.
"""

from __future__ import annotations

import gc
import importlib
import io
import json
import os
import pkgutil
import signal
import socket
import struct
import subprocess
import sys
import threading
from collections.abc import Mapping, Sequence
from importlib.metadata import entry_points
from pathlib import Path
from typing import NoReturn

ODDPEG = Path(sys.executable).with_name("oddpeg" + (".exe" if os.name == "nt" else ""))
Result = subprocess.CompletedProcess[str]
_TIMEOUT = 240.0  # seconds
_LENGTH = struct.Struct("!I")


class Launcher:
    """A connection to the process that forks; the process is started at the first command."""

    def __init__(self) -> None:
        self._server: subprocess.Popen[bytes] | None = None
        self._channel: socket.socket | None = None
        self._lock = threading.Lock()

    def run(self, args: Sequence[str], cwd: Path, env: Mapping[str, str]) -> Result:
        """Run `oddpeg` with `args` and return its exit code and what it printed.

        Raises:
            subprocess.TimeoutExpired: the command did not end in time.
        """
        if _needs_fresh_start(env):
            return self.run_fresh(args, cwd, env)
        with self._lock:
            return self._forked([str(ODDPEG), *args], cwd, env)

    def run_fresh(self, args: Sequence[str], cwd: Path, env: Mapping[str, str]) -> Result:
        """Do the same in a new interpreter."""
        return subprocess.run(
            [str(ODDPEG), *args], cwd=cwd, env=dict(env), stdin=subprocess.DEVNULL, capture_output=True,
            encoding="utf-8", timeout=_TIMEOUT, check=False,
        )  # fmt: skip

    def _forked(self, command: Sequence[str], cwd: Path, env: Mapping[str, str]) -> Result:
        channel = self._connected()
        (out, out_end), (err, err_end) = os.pipe(), os.pipe()
        with Path(os.devnull).open("rb") as nothing:
            body = json.dumps({"argv": [*command], "cwd": str(cwd), "env": {**env}}).encode()
            socket.send_fds(channel, [_LENGTH.pack(len(body))], [nothing.fileno(), out_end, err_end])
            channel.sendall(body)
        os.close(out_end)
        os.close(err_end)
        texts = ["", ""]
        readers = [threading.Thread(target=_read, args=(end, texts, at)) for at, end in enumerate((out, err))]
        for reader in readers:
            reader.start()
        try:
            channel.settimeout(_TIMEOUT)
            (status,) = _LENGTH.unpack(_received(channel, _LENGTH.size))
        except TimeoutError:
            self.close()
            raise subprocess.TimeoutExpired(list(command), _TIMEOUT) from None
        finally:
            for reader in readers:
                reader.join(10)
        return Result(list(command), os.waitstatus_to_exitcode(status), *texts)

    def _connected(self) -> socket.socket:
        if self._channel is None:
            self._channel, other = socket.socketpair()
            with other:
                self._server = subprocess.Popen(
                    [sys.executable, __file__, str(other.fileno())], pass_fds=[other.fileno()], start_new_session=True,
                    stdin=subprocess.DEVNULL,
                )  # fmt: skip
        return self._channel

    def close(self) -> None:
        """End the process that forks, and what it started."""
        if self._channel is not None and self._server is not None:
            self._channel.close()
            if self._server.poll() is None:
                os.killpg(self._server.pid, signal.SIGKILL)
            self._server.wait()
        self._channel = self._server = None


def _needs_fresh_start(env: Mapping[str, str]) -> bool:
    """Return whether the interpreter itself would start differently in this environment."""
    if not hasattr(os, "fork") or os.environ.get("ODDPEG_FRESH_STARTS") == "1":
        return True
    names = {name for name in {*env, *os.environ} if name.startswith(("PYTHON", "LC_")) or name == "LANG"}
    return any(env.get(name) != os.environ.get(name) for name in names)


def _read(end: int, texts: list[str], at: int) -> None:
    with open(end, encoding="utf-8") as file:  # a pipe has no path
        texts[at] = file.read()


def _received(channel: socket.socket, size: int) -> bytes:
    data = b""
    while len(data) < size:
        part = channel.recv(size - len(data))
        if not part:
            raise EOFError("the process that forks is gone")
        data += part
    return data


def _serve(channel: socket.socket) -> None:
    """Fork once for each request until the other side closes."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the entry point does before it loads anything
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
    import oddpeg
    import oddpeg.parallel

    for module in pkgutil.walk_packages(oddpeg.__path__, "oddpeg."):
        if not module.name.endswith("__main__"):
            importlib.import_module(module.name)
    measured = sys.modules["coverage"].Coverage.current() if "coverage" in sys.modules else None
    if measured:
        measured.save()  # once, instead of in every fork
        oddpeg.parallel.CAN_FORK = False  # to measure a worker takes longer than its work
    gc.collect()
    gc.freeze()  # forks share these pages as long as nothing writes to them
    while True:
        head, files, _, _ = socket.recv_fds(channel, _LENGTH.size, 3)
        if len(head) < _LENGTH.size:
            return
        request = json.loads(_received(channel, *_LENGTH.unpack(head)))
        child = os.fork()
        if child == 0:
            channel.close()
            _become(request, files)
        for file in files:
            os.close(file)
        channel.sendall(_LENGTH.pack(os.waitpid(child, 0)[1]))


def _become(request: dict[str, object], files: Sequence[int]) -> NoReturn:
    """Run the command of a request in this process, and end it."""
    try:
        for number, file in enumerate(files):
            os.dup2(file, number)
            os.close(file)
        argv, cwd, env = request["argv"], request["cwd"], request["env"]
        assert isinstance(argv, list) and isinstance(cwd, str) and isinstance(env, dict)
        os.chdir(cwd)
        os.environ.clear()
        os.environ.update(env)
        sys.argv = argv
        sys.stdin = io.TextIOWrapper(open(0, "rb", closefd=False))  # noqa: SIM115
        sys.stdout, sys.stderr = (io.TextIOWrapper(open(number, "wb", closefd=False)) for number in (1, 2))  # noqa: SIM115
        signal.signal(signal.SIGINT, signal.default_int_handler)
        (command,) = entry_points(group="console_scripts", name="oddpeg")
        command.load()()
    finally:
        os._exit(99)  # the command ends the process itself; to come here is a failure


if __name__ == "__main__":
    sys.path.pop(0)  # this folder, which a fresh start would not see
    with socket.socket(fileno=int(sys.argv[1])) as requests:
        _serve(requests)
