"""The server of the specimen by itself: who may ask, for how long, and how many at once."""

from __future__ import annotations

import contextlib
import socket
from collections.abc import Iterator

import pytest

from oddpeg.cli import serve
from oddpeg.cli.serve import SpecimenServer, open_server


@pytest.fixture
def server(monkeypatch: pytest.MonkeyPatch) -> Iterator[SpecimenServer]:
    monkeypatch.setattr(serve, "_MOST_OPEN", 3)
    monkeypatch.setattr(serve._Handler, "timeout", 0.5)
    opened = open_server({"/": lambda: "<p>signs</p>"}, None)
    yield opened
    opened.close()


def connection(server: SpecimenServer) -> socket.socket:
    made = socket.create_connection(("127.0.0.1", server.server_address[1]), timeout=10)
    made.settimeout(10)
    return made


def answer(server: SpecimenServer, *hosts: str) -> str:
    with connection(server) as asking:
        lines = ["GET / HTTP/1.1", *(f"Host: {host}" for host in hosts), "Connection: close", "", ""]
        asking.sendall("\r\n".join(lines).encode())
        return b"".join(iter(lambda: asking.recv(4096), b"")).decode()


def test_one_known_host_is_asked_for_and_no_page_frames_it(server: SpecimenServer) -> None:
    host = server.address.split("/")[2]
    page = answer(server, host)
    assert page.startswith("HTTP/1.1 200") and "signs" in page
    assert "X-Frame-Options: DENY" in page and "frame-ancestors 'none'" in page
    for hosts in ((host, "reef.example"), ("reef.example", host), (host, host), ("reef.example",), ()):
        refused = answer(server, *hosts)
        assert " 403 " in refused.splitlines()[0] and "signs" not in refused


def test_silent_and_surplus_connections_are_closed(server: SpecimenServer) -> None:
    silent = [connection(server) for _ in range(3)]
    for one in silent:
        one.sendall(b"GET / HT")
    with connection(server) as surplus:
        surplus.sendall(b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
        with contextlib.suppress(ConnectionResetError):  # that is a way to close, too
            assert surplus.recv(99) == b"", "there is no room"
    for one in silent:
        assert one.recv(99) == b"", "it did not ask in time"
        one.close()
    assert "signs" in answer(server, server.address.split("/")[2]), "there is room again"
