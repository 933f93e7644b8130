"""Where jobs wait: in the database for a worker process, or not at all, in a thread of this process."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Protocol
from uuid import UUID

import procrastinate
from procrastinate.exceptions import AlreadyEnqueued

TASK = "carry_out"


class Queue(Protocol):
    """Somewhere that jobs are put."""

    def put(self, job: UUID) -> None:
        """Have a job carried out; once more is no more than once."""


class Here:
    """Jobs begin at once, each in a thread of this process, and end with it: for tests."""

    def __init__(self, carry_out: Callable[[UUID], None]) -> None:
        self._carry_out = carry_out

    def put(self, job: UUID) -> None:
        """Begin a job."""
        threading.Thread(target=self._carry_out, args=(job,), name=f"job {job}", daemon=True).start()


class InDatabase:
    """Jobs wait in the application's own database until a worker takes them, on whichever machine."""

    def __init__(self, database_url: str) -> None:
        self._url = database_url.replace("+psycopg", "")
        self._app: procrastinate.App | None = None
        self._lock = threading.Lock()

    def _opened(self) -> procrastinate.App:
        """The queue, with connections that belong to this process: it may have been forked off another."""
        with self._lock:
            if self._app is None:
                connector = procrastinate.SyncPsycopgConnector(conninfo=self._url, min_size=0, max_size=2, timeout=10)
                self._app = procrastinate.App(connector=connector)
                self._app.open()
            return self._app

    def put(self, job: UUID) -> None:
        """Put a job into the queue unless it waits there already. Two workers never have one at the same time."""
        name = str(job)
        task = self._opened().configure_task(TASK, lock=name, queueing_lock=name, allow_unknown=True)
        try:
            task.defer(job=name)
        except AlreadyEnqueued:
            return

    def close(self) -> None:
        """Close its connections."""
        with self._lock:
            if self._app is not None:
                self._app.close()
                self._app = None
