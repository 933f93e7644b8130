"""Processes by verified identity: a number alone may by now belong to something else."""

from __future__ import annotations

import os
import signal
import time
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Identity:
    """A process: its number, and when it was started, in clock ticks since the machine was."""

    pid: int
    started: int

    @classmethod
    def of(cls, pid: int) -> Identity | None:
        """The process that has this number now; None if there is none."""
        try:
            stat = Path(f"/proc/{pid}/stat").read_text()
        except OSError:
            return None
        # The name in brackets may hold anything; what follows it are the fields from the third on.
        fields = stat.rpartition(")")[2].split()
        return None if fields[0] == "Z" else cls(pid, int(fields[19]))

    @property
    def alive(self) -> bool:
        """Whether this very process still runs."""
        return Identity.of(self.pid) == self

    def end(self, patience_s: float = 15.0) -> bool:
        """Ask it to stop, and kill its group when it does not; whether it is gone."""
        for sign, wait_s in ((signal.SIGTERM, patience_s), (signal.SIGKILL, 5.0)):
            if not self.alive:
                return True
            try:
                if sign == signal.SIGKILL and os.getpgid(self.pid) == self.pid:
                    os.killpg(self.pid, sign)
                else:
                    os.kill(self.pid, sign)
            except ProcessLookupError:
                return True
            until = time.monotonic() + wait_s
            while self.alive and time.monotonic() < until:
                time.sleep(0.05)
        return not self.alive


def works_in(pid: int, folder: Path) -> bool:
    """Whether a process has *folder* as its working directory, as a postmaster has its data."""
    try:
        return Path(f"/proc/{pid}/cwd").resolve(strict=True) == folder.resolve(strict=True)
    except OSError:
        return False


WITH_PARENT = ("setpriv", "--pdeathsig", "TERM")
"""Put before a command: it is asked to stop when the process that started it ends, however that ends."""
