"""The web process, made patient with slow clients without being held up by them.

As it comes, a thread waits for as long as a client likes to take over sending its request: a few that never finish keep
everybody else out. Here a request is given to a thread for good only once its head has come, and what follows has to keep
coming.
"""

from __future__ import annotations

import socket
import time
from typing import Any

from gunicorn.workers import gthread

HEAD_S = 15.0
"""So long a client may take over the head of its first request."""
SILENCE_S = 10.0
"""So long it may be silent while it sends, or takes, anything else."""
SLOWEST_BYTES_S = 4096
"""And so fast it has to be on the whole: an upload over a poor connection is, one byte a second is not."""
_SLICE_S = 0.05
_LONGEST_HEAD = 64 * 1024


class _Socket(socket.socket):
    """A socket that waits, but not for ever."""

    def setblocking(self, flag: bool) -> None:  # as the library has it
        self.settimeout(SILENCE_S if flag else 0.0)


class _Sender:
    """What a client sends, as long as it keeps coming."""

    def __init__(self, sock: Any) -> None:  # noqa: ANN401  # plain or over TLS
        self._sock = sock
        self.begin()

    def begin(self) -> None:
        """A request begins."""
        self._began, self._got = time.monotonic(), 0

    def recv(self, size: int) -> bytes:
        """What has come; TimeoutError where it comes too slowly."""
        if time.monotonic() - self._began > HEAD_S + self._got / SLOWEST_BYTES_S:
            raise TimeoutError
        data: bytes = self._sock.recv(size)
        self._got += len(data)
        return data


class Connection(gthread.TConn):  # type: ignore[misc]
    """A connection whose first request is there once its head is."""

    def __init__(self, cfg: Any, sock: socket.socket, client: Any, server: Any) -> None:  # noqa: ANN401
        self._late_at = time.monotonic() + HEAD_S
        self.sender: _Sender | None = None
        super().__init__(cfg, _Socket(sock.family, sock.type, sock.proto, fileno=sock.detach()), client, server)

    @property
    def data_ready(self) -> bool:
        """Whether a thread will not wait for what is missing. Over TLS that cannot be seen from outside."""
        if time.monotonic() > self._late_at:
            self.sock.shutdown(socket.SHUT_RD)
            return True
        if self.cfg.is_ssl:
            return False
        try:
            head = self.sock.recv(_LONGEST_HEAD, socket.MSG_PEEK | socket.MSG_DONTWAIT)
        except BlockingIOError:
            return False
        except OSError:
            return True
        return head == b"" or b"\r\n\r\n" in head or len(head) >= _LONGEST_HEAD

    @data_ready.setter
    def data_ready(self, _: bool) -> None:
        """It is looked at when somebody asks."""

    def wait_for_data(self, timeout: float) -> bool:
        """Wait for a moment; whether a thread can take it."""
        if self.cfg.is_ssl:
            ready: bool = super().wait_for_data(min(timeout, _SLICE_S))
            return ready
        end = time.monotonic() + _SLICE_S
        while not self.data_ready:
            if time.monotonic() > end:
                return False
            time.sleep(0.002)
        return True

    def init(self) -> None:
        """Begin to read: the handshake, where there is one, and what follows."""
        fresh = not self.initialized
        super().init()
        if fresh and not self.is_http2:
            self.sender = self.parser.unreader.sock = _Sender(self.sock)


gthread.TConn = Connection


class PatientWorker(gthread.ThreadWorker):  # type: ignore[misc]
    """Threads that no client holds up for long."""

    def handle(self, conn: Any) -> Any:  # noqa: ANN401  # as the library has it
        """Handle a request of a connection."""
        if conn.sender is not None:
            conn.sender.begin()
        return super().handle(conn)
