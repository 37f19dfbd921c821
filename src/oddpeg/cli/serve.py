"""A local server for the specimen, for `watch --serve`.

Covers HTTP and Server-Sent Events (HTML Standard §9.2). It listens on the loopback address only, serves the named pages
only, and refuses other host names.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import BoundedSemaphore, Condition, Thread
from typing import Any

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.outputs.live_reload import with_live_reload

USUAL_PORT = 5327
_BEAT = 10.0  # seconds between signs of life on a silent stream
_TIMEOUT = 30  # seconds to read a request or to write a response
_MOST_OPEN = 256  # connections; more are closed at once
_WAITING = (
    "<!doctype html><title>Not built yet</title><meta http-equiv=refresh content=1><p>There is no specimen yet: the"
    " build has faults; see the terminal."
)


Pages = Mapping[str, Callable[[], str | None]]


class SpecimenServer(ThreadingHTTPServer):
    """A server of pages that notifies open pages after a build.

    pages: by address, a function that returns the current page, or None before the first build.
    """

    daemon_threads = True
    request_queue_size = 256  # a browser that restores many tabs asks for all at once

    def __init__(self, pages: Pages, port: int) -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self.pages = pages
        self._built = 0
        self._open = True
        self._news = Condition()
        self._free = BoundedSemaphore(_MOST_OPEN)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.server_address[1]}/"

    def hosts(self) -> tuple[str, ...]:
        """Return the host names that a browser on this machine may use; any other is DNS rebinding."""
        return f"127.0.0.1:{self.server_address[1]}", f"localhost:{self.server_address[1]}"

    def tell(self) -> None:
        """Let all pages load again."""
        with self._news:
            self._built += 1
            self._news.notify_all()

    def wait(self, known: int) -> int | None:
        """Return the number of builds once it is another than `known`, or after a while; None at the end."""
        with self._news:
            self._news.wait_for(lambda: self._built != known or not self._open, _BEAT)
            return self._built if self._open else None

    def process_request(self, request: Any, client_address: Any) -> None:
        """Serve a connection in a thread of its own, unless there are too many."""
        if self._free.acquire(blocking=False):
            super().process_request(request, client_address)
        else:
            self.shutdown_request(request)

    def process_request_thread(self, request: Any, client_address: Any) -> None:
        """Serve a connection, then make room for another."""
        try:
            super().process_request_thread(request, client_address)
        finally:
            self._free.release()

    def handle_error(self, request: object, client_address: object) -> None:
        """Print nothing: a page that was closed while it loaded is no error."""

    def close(self) -> None:
        """End every stream, and the serving."""
        with self._news:
            self._open = False
            self._news.notify_all()
        self.shutdown()
        self.server_close()


class _Handler(BaseHTTPRequestHandler):
    server: SpecimenServer
    protocol_version = "HTTP/1.1"
    timeout = _TIMEOUT

    def do_GET(self) -> None:
        path = self.path.partition("?")[0]
        hosts = self.headers.get_all("Host", [])
        if len(hosts) != 1 or hosts[0] not in self.server.hosts():
            self._send(403, "text/plain", "This page is for this machine alone.\n")
        elif path == "/changes":
            self._stream()
        elif path in self.server.pages:
            page = self.server.pages[path]()
            self._send(*((503, "text/html", _WAITING) if page is None else (200, "text/html", with_live_reload(page))))
        else:
            self._send(404, "text/plain", f"There are: {', '.join(self.server.pages)}\n")

    def _send(self, status: int, kind: str, text: str) -> None:
        body = text.encode("utf-8")
        self.send_response(status)
        self._headers(kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def _headers(self, kind: str) -> None:
        self.send_header("Content-Type", f"{kind}; charset=utf-8")
        self.send_header("Cache-Control", "no-store")
        self.send_header("X-Content-Type-Options", "nosniff")
        self.send_header("X-Frame-Options", "DENY")
        self.send_header("Content-Security-Policy", "frame-ancestors 'none'")

    def _stream(self) -> None:
        self.send_response(200)
        self._headers("text/event-stream")
        self.send_header("Connection", "close")
        self.end_headers()
        self.close_connection = True
        known = -1
        try:
            while (now := self.server.wait(known)) is not None:
                self.wfile.write(f"data: {now}\n\n".encode())
                self.wfile.flush()
                known = now
        except OSError:
            pass  # the page was closed

    def log_message(self, format: str, *args: object) -> None:  # noqa: A002  the name is the library's
        pass


def open_server(pages: Pages, port: int | None) -> SpecimenServer:
    """Return a stand that serves already. port: None for the usual one, or any that is free; raise `UsageError` where
    the one asked for is taken."""
    for number in (USUAL_PORT, 0) if port is None else (port,):
        try:
            server = SpecimenServer(pages, number)
        except OSError as problem:
            if port is not None:
                raise UsageError(
                    Diagnostic(
                        "port-taken",
                        f"cannot listen on port {port}: {problem.strerror}",
                        "choose another --port, or leave it out",
                        "--port",
                    )
                ) from None
            continue
        Thread(target=server.serve_forever, daemon=True).start()
        return server
    raise UsageError(
        Diagnostic(
            "port-taken",
            "cannot listen on any port of 127.0.0.1",
            "see whether something on this machine forbids it",
            "--serve",
        )
    )
