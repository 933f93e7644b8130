"""Turns: what takes long is done one at a time in each process, so that small requests get through beside it."""

from __future__ import annotations

import fcntl
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from functools import wraps
from pathlib import Path
from typing import TypeVar, cast

from flask import Flask, Response, current_app

from lucid_ridge.app.problems import Busy

Route = TypeVar("Route", bound=Callable[..., Response])

PATIENCE_S = 30.0
_LOOK_AGAIN_S = 0.005
_PLACES = ".turns"


class Turns:
    """One turn at a time in this process, and one less than there are processor cores among all of this machine.

    *waiting* may stand in line, and hold a thread each while they do. *places* is the folder in which processes see each other's
    turns; None where there are no others.
    """

    def __init__(self, waiting: int, places: Path | None) -> None:
        self._line = threading.Semaphore(1 + waiting)
        self._turn = threading.Lock()
        self._places = places
        self._at_once = max(1, (os.cpu_count() or 1) - 1)

    @contextmanager
    def turn(self) -> Iterator[None]:
        """Wait for one's turn, and have it within the block.

        Raises
        ------
        Busy
            If too many wait already, or the turn does not come within half a minute.

        """
        end = time.monotonic() + PATIENCE_S
        if not self._line.acquire(blocking=False):
            raise Busy
        try:
            if not self._turn.acquire(timeout=PATIENCE_S):
                raise Busy
            try:
                with self._place(end):
                    yield
            finally:
                self._turn.release()
        finally:
            self._line.release()

    @contextmanager
    def _place(self, end: float) -> Iterator[None]:
        """A place among the processes of this machine: the lock on a file, which ends with the process that holds it."""
        if self._places is None:
            yield
            return
        with ExitStack() as held:
            while not any(self._held(number, held) for number in range(self._at_once)):
                if time.monotonic() > end:
                    raise Busy
                time.sleep(_LOOK_AGAIN_S)
            yield

    def _held(self, number: int, held: ExitStack) -> bool:
        """Whether a place is ours now; *held* gives it back."""
        assert self._places is not None
        try:
            self._places.mkdir(parents=True, exist_ok=True)
            file = held.enter_context((self._places / str(number)).open("ab"))
        except OSError:
            # A full disk or a folder that cannot be written to is no reason not to search.
            return True
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            file.close()
            return False
        return True


def give_turns(app: Flask, threads: int, files: Path | None) -> None:
    """Let a process that answers so many requests at a time do one long one; half its threads stay free for others."""
    app.extensions["turns"] = Turns(max(0, threads // 2 - 1), None if files is None else files / _PLACES)


@contextmanager
def turn() -> Iterator[None]:
    """What takes long, within the block: it waits for its turn.

    Raises
    ------
    Busy
        If too many wait already.

    """
    with cast(Turns, current_app.extensions["turns"]).turn():
        yield


def in_turn(route: Route) -> Route:
    """A route that takes long: it waits for its turn."""

    @wraps(route)
    def waits(*args: object, **named: object) -> Response:
        with turn():
            return route(*args, **named)

    return cast(Route, waits)
