"""Start everything, say where it is, and stop everything that was started."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from types import FrameType
from typing import Literal

from lucid_ridge.runtime.cluster import Cluster

ROOT = Path(__file__).resolve().parents[3]
STATE = ROOT / ".state"
DEFAULT_PORT = 8420

Prepare = Literal["nothing", "migrate", "demo"]


def _listening_port(wanted: int) -> int:
    """*wanted* if it is free, else any free one."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", wanted))
        except OSError:
            probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def start_server(
    database_url: str, port: int, log: Path, files: Path, prepare: Prepare = "nothing", forecast_url: str | None = None
) -> subprocess.Popen[bytes]:
    """Start gunicorn on loopback and wait until it answers.

    *files* is the folder for files that people attach. *prepare* says what the server does with its database
    first: nothing, migrate it, or migrate it and load the demo into it where it is empty. *forecast_url* is the
    address of a forecast source.

    Raises
    ------
    RuntimeError
        If it does not come up within a minute; the log is in the message.

    """
    environment = os.environ | {
        "LUCID_RIDGE_DATABASE_URL": database_url,
        "LUCID_RIDGE_FILES": str(files),
        "LUCID_RIDGE_PREPARE": prepare,
        "PYTHONTZPATH": "",
        **({"LUCID_RIDGE_FORECAST": forecast_url} if forecast_url else {}),
    }
    with log.open("ab") as out:
        server = subprocess.Popen(
            [
                sys.executable, "-W", "ignore:The file finals2000A", "-m", "gunicorn", "--no-control-socket",
                "--bind", f"127.0.0.1:{port}", "--worker-class", "gthread", "--workers", "2", "--threads", "4",
                "--preload", "--access-logfile", "-", "lucid_ridge.runtime.wsgi:application",
            ],
            cwd=ROOT, env=environment, stdout=out, stderr=out, start_new_session=True,
        )  # fmt: skip
    for _ in range(600):
        if server.poll() is not None:
            break
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/places", timeout=5):
                return server
        except OSError:
            time.sleep(0.1)
    server.kill()
    raise RuntimeError(f"the server did not start:\n{log.read_text(errors='replace')[-2000:]}")


def start_forecast(port: int) -> subprocess.Popen[bytes]:
    """Start the simulated forecast on loopback; it is asked only once somebody looks at a day."""
    return subprocess.Popen(
        [sys.executable, "-m", "lucid_ridge.standins.forecast", "--port", str(port)],
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
    )  # fmt: skip


def stop_server(server: subprocess.Popen[bytes]) -> None:
    """Stop gunicorn and its workers, or the simulated forecast."""
    if server.poll() is None:
        server.terminate()
        try:
            server.wait(15)
        except subprocess.TimeoutExpired:
            os.killpg(server.pid, signal.SIGKILL)


def demo(port: int = DEFAULT_PORT, empty: bool = False) -> int:
    """Start with demo data (kept once loaded; none with *empty*), until interrupted."""

    def leave(_: int, __: FrameType | None) -> None:
        raise KeyboardInterrupt

    signal.signal(signal.SIGTERM, leave)
    signal.signal(signal.SIGHUP, leave)
    kept = "empty" if empty else "demo"
    cluster = Cluster(STATE / kept)
    server: subprocess.Popen[bytes] | None = None
    weather: subprocess.Popen[bytes] | None = None
    try:
        cluster.start()
        chosen = _listening_port(port)
        prepare: Prepare = "migrate" if empty else "demo"
        weather_port = _listening_port(DEFAULT_PORT + 100)
        weather = start_forecast(weather_port)
        server = start_server(
            cluster.url(),
            chosen,
            STATE / "server.log",
            STATE / f"{kept}-files",
            prepare,
            f"http://127.0.0.1:{weather_port}",
        )
        print(f"Lucid Ridge is ready: http://127.0.0.1:{chosen}/   (Ctrl-C stops it)", flush=True)
        server.wait()
        print(f"The server stopped by itself; its log is {STATE / 'server.log'}.", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
        return 0
    finally:
        for process in (server, weather):
            if process is not None:
                stop_server(process)
        cluster.stop()
