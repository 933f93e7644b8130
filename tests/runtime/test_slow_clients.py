"""Clients that send slowly, or more than is taken: the others are served meanwhile, and each hears what is wrong."""

from __future__ import annotations

import http.client
import json
import socket
import time

import pytest

from lucid_ridge.runtime import gunicorn_worker
from lucid_ridge.runtime.web import listening_port, start_server, stop_server

MANY = 40


@pytest.fixture(scope="module")
def port(databases, tmp_path_factory):
    """A server with as many threads as it comes with: fewer than there are slow clients here."""
    folder, found = tmp_path_factory.mktemp("slow"), listening_port(18460)
    process = start_server(databases.fresh(demo=False), found, folder / "log", folder / "files")
    yield found
    stop_server(process)


def answered_within(port: int) -> float:
    """How long somebody waits who asks for something small."""
    since = time.monotonic()
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    connection.request("GET", "/api/health/live")
    assert connection.getresponse().status == 200
    connection.close()
    return time.monotonic() - since


def slow(port: int, start: bytes) -> socket.socket:
    made = socket.create_connection(("127.0.0.1", port))
    made.sendall(start)
    return made


@pytest.mark.parametrize("start", [b"", b"GET /api/health/live HT", b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX: "])
def test_half_sent_requests_keep_nobody_out(port, start):
    held = [slow(port, start) for _ in range(MANY)]
    waited = [answered_within(port) for _ in range(5)]
    # As it comes it waits for as long as they do, which is for ever.
    assert max(waited) < gunicorn_worker.HEAD_S / 2
    # They are let go after a while.
    held[0].settimeout(gunicorn_worker.HEAD_S * 4)
    held[0].recv(2000)
    for one in held:
        one.close()


def test_one_that_drips_is_cut_off(port):
    dripping = slow(port, b"POST /api/places HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\n")
    since = time.monotonic()
    dripping.settimeout(0.5)
    while time.monotonic() - since < gunicorn_worker.HEAD_S * 4:
        try:
            dripping.sendall(b"x")
            if dripping.recv(2000) == b"":
                break
            break
        except TimeoutError:
            continue
        except OSError:
            break
    assert gunicorn_worker.HEAD_S * 0.5 < time.monotonic() - since < gunicorn_worker.HEAD_S * 3
    dripping.close()


def test_one_that_is_only_slow_is_served(port):
    place = {"place": {"name": "x", "latitude_deg": 1.0, "longitude_deg": 1.0, "time_zone": "UTC"}}
    body = json.dumps(place).encode()
    head = f"POST /api/places HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Type: application/json\r\nContent-Length: {len(body)}\r\n\r\n"
    sending = slow(port, b"")
    for part in (head[:30].encode(), head[30:].encode(), body[:20], body[20:]):
        time.sleep(0.7)
        sending.sendall(part)
    sending.settimeout(60)
    assert sending.recv(100).startswith(b"HTTP/1.1 201")
    sending.close()


def test_two_requests_on_one_connection(port):
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    for _ in range(3):
        connection.request("GET", "/api/health/live")
        assert json.loads(connection.getresponse().read())["version"]
    connection.close()


def test_a_body_that_is_too_large_is_told_so_and_not_cut_off(port):
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    connection.request("POST", "/api/places", b"x" * 9_000_000, {"Content-Type": "application/json"})
    answer = connection.getresponse()
    assert answer.status == 413
    assert answer.headers["Content-Type"] == "application/problem+json"
    connection.close()
