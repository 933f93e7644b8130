"""A process of one's own that is spoken to over its pipes: started when it is first needed, and anew when it is gone."""

from __future__ import annotations

import atexit
import os
import subprocess
import sys
from contextlib import suppress
from typing import IO, NamedTuple


class Pipes(NamedTuple):
    """Where the process hears, and where it tells."""

    hears: IO[bytes]
    tells: IO[bytes]


class OwnProcess:
    """The process that runs a module; it is told nothing of the environment but where programs and packages lie.

    Whoever asks holds a lock: it hears one thing after the other.
    """

    def __init__(self, module: str, options: tuple[str, ...] = ()) -> None:
        self._command = [sys.executable, *options, "-m", module]
        self.process: subprocess.Popen[bytes] | None = None
        self._started_by = 0
        atexit.register(self.end)

    def ready(self) -> Pipes:
        """The pipes of the process, which runs by then."""
        # A process forked off since has its own.
        if self.process is not None and (self._started_by != os.getpid() or self.process.poll() is not None):
            self.end()
        if self.process is None:
            self.process = subprocess.Popen(
                self._command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, start_new_session=True,
                env={"PATH": os.environ.get("PATH", ""), "PYTHONPATH": os.pathsep.join(filter(None, sys.path)), "OPENBLAS_NUM_THREADS": "1"},
            )  # fmt: skip
            self._started_by = os.getpid()
        assert self.process.stdin is not None
        assert self.process.stdout is not None
        return Pipes(self.process.stdin, self.process.stdout)

    def kill(self) -> None:
        """Kill the process where it takes too long: whoever waits for its answer hears that it is gone."""
        if self.process is not None and self._started_by == os.getpid():
            self.process.kill()

    def end(self) -> None:
        """End the process, where this one has started it; whoever asks next gets a new one."""
        process, self.process = self.process, None
        if process is None:
            return
        if self._started_by == os.getpid():
            process.kill()
            process.wait()
        for pipe in (process.stdin, process.stdout):
            if pipe is not None:
                with suppress(OSError):
                    pipe.close()
