"""The drawing process beside each web process: started when something is first to be drawn, and again when it has ended.

It is slower in the queue for the processor than what answers people. It is spoken to in pickles over its own pipes, by the
process that started it and nobody else.
"""

from __future__ import annotations

import atexit
import os
import pickle
import subprocess
import sys
import threading
from contextlib import suppress

from lucid_ridge.app.rehearsal.messages import Asked, Drawn, LacksTerrain, NoSuchFrame, PairAsked, PairDrawn, send
from lucid_ridge.core.light.terrain import Terrain

_DESK = "lucid_ridge.app.rehearsal.desk"


class Studio:
    """One process that draws."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._started_by = 0

    def _ready(self) -> subprocess.Popen[bytes]:
        if self._process is not None and (self._started_by != os.getpid() or self._process.poll() is not None):
            self.end()
        if self._process is None:
            self._process = subprocess.Popen(
                [sys.executable, "-W", "ignore", "-m", _DESK], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
                start_new_session=True,
                env={**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path)), "OPENBLAS_NUM_THREADS": "1"},
            )  # fmt: skip
            self._started_by = os.getpid()
        return self._process

    def draw(self, asked: Asked | PairAsked, terrain: Terrain | None) -> Drawn | PairDrawn | NoSuchFrame:
        """What was asked for, drawn; one after the other.

        Raises
        ------
        EOFError
            If the process ended before it had answered.

        """
        with self._lock:
            process = self._ready()
            assert process.stdin is not None
            assert process.stdout is not None
            try:
                send(process.stdin, asked)
                answer = pickle.load(process.stdout)
                if isinstance(answer, LacksTerrain):
                    send(process.stdin, (asked.terrain, terrain))
                    send(process.stdin, asked)
                    answer = pickle.load(process.stdout)
            except (OSError, EOFError, pickle.UnpicklingError):
                self.end()
                raise EOFError from None
        if isinstance(answer, Exception):
            raise answer
        assert isinstance(answer, Drawn | PairDrawn | NoSuchFrame)
        return answer

    def end(self) -> None:
        """End the process, where this one has started it."""
        process, self._process = self._process, None
        if process is None:
            return
        if self._started_by == os.getpid():
            process.kill()
            process.wait()
        for pipe in (process.stdin, process.stdout):
            if pipe is not None:
                with suppress(OSError):
                    pipe.close()


STUDIO = Studio()
atexit.register(STUDIO.end)
