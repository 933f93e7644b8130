"""A served folder, as somebody starts it on the command line."""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from lucid_ridge.runtime.folder import Folder, running

PATIENCE_S = 300


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Served:
    """`ridge serve` in a folder, started, killed and started again at the same port."""

    def __init__(self, root: Path) -> None:
        # The postgres user must be able to enter the folder.
        root.mkdir(parents=True, exist_ok=True)
        for path in (root, root.parent, root.parent.parent):
            path.chmod(0o755)
        self.folder = Folder.of(root)
        self.port = free_port()
        self.process: subprocess.Popen[str] | None = None

    def run(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        """A command that ends by itself."""
        command = [sys.executable, "-m", "lucid_ridge.cli", *arguments]
        return subprocess.run(command, capture_output=True, text=True, check=False, timeout=PATIENCE_S)

    def serve(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        """A start that is expected to be refused."""
        return self.run("serve", "--data", str(self.folder.root), "--port", str(self.port), *arguments)

    def start(self, *arguments: str) -> None:
        command = [
            sys.executable,
            "-m",
            "lucid_ridge.cli",
            "serve",
            "--data",
            str(self.folder.root),
            "--port",
            str(self.port),
            *arguments,
        ]
        self.said = (self.folder.root / "said.txt").open("a+")
        self.process = subprocess.Popen(command, stdout=self.said, stderr=self.said, text=True)
        self.until(lambda: running(self.folder).get("pid") == self.process.pid and "address" in running(self.folder))

    def until(self, true: Any, what: str = "not so") -> None:
        end = time.monotonic() + PATIENCE_S
        while time.monotonic() < end:
            if self.process is not None and self.process.poll() is not None:
                raise AssertionError(f"it stopped: {self.words()}")
            if true():
                return
            time.sleep(0.05)
        raise AssertionError(f"{what} within {PATIENCE_S} s: {self.words()}")

    def words(self) -> str:
        return (self.folder.root / "said.txt").read_text()

    @property
    def postmaster(self) -> int:
        return int((self.folder.cluster / "data" / "postmaster.pid").read_text().split("\n")[0])

    @property
    def web(self) -> int:
        return int(running(self.folder)["server"][0])

    def workers(self) -> list[int]:
        found = subprocess.run(["pgrep", "-P", str(self.web)], capture_output=True, text=True, check=False)
        return [int(pid) for pid in found.stdout.split()]

    def background(self) -> list[int]:
        """The workers for what goes on in the background; none where one is just being started again."""
        command = ["pgrep", "-P", str(self.process.pid), "-f", "lucid_ridge.runtime.worker"]
        return [int(pid) for pid in subprocess.run(command, capture_output=True, text=True, check=False).stdout.split()]

    def kill(self, *pids: int) -> None:
        for pid in pids:
            try:
                os.kill(pid, signal.SIGKILL)
            except ProcessLookupError:
                continue

    def kill_all(self) -> None:
        self.kill(self.process.pid, self.web, *self.workers(), *self.background(), self.postmaster)
        self.process.wait()
        self.said.close()

    def stop(self) -> int:
        """Stop it as a person or systemd does; its exit code."""
        if self.process is None or self.process.poll() is not None:
            return -1
        self.process.terminate()
        code = self.process.wait(PATIENCE_S)
        self.said.close()
        return code

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            connection.request(
                method, path, None if body is None else json.dumps(body), {"Content-Type": "application/json"}
            )
            answer = connection.getresponse()
            data = answer.read()
            return answer.status, json.loads(data) if data else None
        finally:
            connection.close()

    def answers(self) -> bool:
        try:
            return self.ask("GET", "/api/health/ready")[0] == 200
        except (OSError, http.client.HTTPException):
            return False
