"""The web server, a worker, the simulated forecast and camera as processes: started, waited for, stopped."""

from __future__ import annotations

import errno
import hashlib
import http.client
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Literal

from lucid_ridge.runtime.folder import ROOT
from lucid_ridge.runtime.processes import WITH_PARENT
from lucid_ridge.runtime.reach import AT_HOME, LOOPBACK, Reach

_PATIENCE_S = 180.0
_IN_MEMORY = Path("/dev/shm")
PRIVATE = 0o077
"""What nobody but the owner may do with the files that people bring: anything."""

Prepare = Literal["nothing", "migrate", "demo"]


class ServeError(RuntimeError):
    """The application cannot be served; says what to do."""


def listening_port(wanted: int, address: str = LOOPBACK) -> int:
    """*wanted* if it is free at an address of this machine, else any free one.

    Raises
    ------
    ServeError
        If the address is none of this machine's.

    """
    with socket.socket(socket.AF_INET6 if ":" in address else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        for port in (wanted, 0):
            try:
                probe.bind((address, port))
            except OSError as error:
                if error.errno != errno.EADDRINUSE:
                    raise ServeError(f"Nothing can listen at {address} port {port}: {error.strerror}.") from None
            else:
                return int(probe.getsockname()[1])
    raise ServeError(f"No port is free at {address}.")


def start_server(
    database_url: str,
    port: int,
    log: Path,
    files: Path,
    prepare: Prepare = "nothing",
    forecast_url: str | None = None,
    camera_url: str | None = None,
    processes: int = 2,
    threads: int = 8,
    reach: Reach = AT_HOME,
    workers: bool = False,
    backups: Path | None = None,
    object_store: str | None = None,
    brings_back: bool = False,
    may_come: Callable[[], bool] = lambda: True,
) -> subprocess.Popen[bytes]:
    """Start gunicorn, on loopback unless *reach* says otherwise, and wait until it answers.

    *files* is the folder for files that people attach. *prepare* says what the server does with its database
    first: nothing, migrate it, or migrate it and load the demo into it where it is empty. *forecast_url* is the
    address of a forecast source, *camera_url* of a camera. With *workers* what goes on in the background is left to them;
    *backups* is where they keep backups, *object_store* where files lie; *brings_back* says that whoever started the server
    puts a backup in the place of what is kept. It is waited for while
    *may_come* holds. It stops when the process that starts it ends, however that ends.

    Raises
    ------
    ServeError
        If it does not come up within three minutes, or cannot any more; the log is in the message.

    """
    environment = _environment(database_url, files, backups, object_store) | {
        "LUCID_RIDGE_PREPARE": prepare,
        "LUCID_RIDGE_REACH": reach.told(),
        "LUCID_RIDGE_WORKERS": "1" if workers else "",
        "LUCID_RIDGE_BRINGS_BACK": "1" if brings_back else "",
        "LUCID_RIDGE_THREADS_EACH": str(threads),
        "PROMETHEUS_MULTIPROC_DIR": str(_figures(log)),
        **({"LUCID_RIDGE_FORECAST": forecast_url} if forecast_url else {}),
        **({"LUCID_RIDGE_CAMERA": camera_url} if camera_url else {}),
    }
    https = []
    if reach.certificate is not None:
        https = ["--certfile", str(reach.certificate.chain), "--keyfile", str(reach.certificate.key)]
    log.touch(mode=0o600)
    with log.open("ab") as out:
        server = subprocess.Popen(
            [
                *WITH_PARENT, sys.executable, "-W", "ignore:The file finals2000A", "-m", "gunicorn", "--no-control-socket",
                "--bind", reach.bound(port), *https, "--forwarded-allow-ips", "", "--worker-class", "lucid_ridge.runtime.gunicorn_worker.PatientWorker", "--workers", str(processes),
                "--threads", str(threads), "--preload", "--umask", str(PRIVATE), "--logger-class", "lucid_ridge.runtime.gunicorn_log.JsonLogger",
                "lucid_ridge.runtime.wsgi:application",
            ],
            cwd=ROOT, env=environment, stdout=out, stderr=out, start_new_session=True,
        )  # fmt: skip
    return _waited_for(server, reach, port, log, may_come)


def _environment(database_url: str, files: Path, backups: Path | None, object_store: str | None) -> dict[str, str]:
    """What web processes and workers are told by the environment."""
    return os.environ | {
        "LUCID_RIDGE_DATABASE_URL": database_url,
        "LUCID_RIDGE_FILES": str(files),
        "LUCID_RIDGE_BACKUPS_FOLDER": str(backups or ""),
        "LUCID_RIDGE_OBJECT_STORE": object_store or "",
        "PYTHONTZPATH": "",
    }


def _figure_folders(log: Path) -> tuple[Path, Path]:
    name = f"lucid-ridge-{hashlib.sha256(str(log.resolve()).encode()).hexdigest()[:16]}"
    return _IN_MEMORY / name, log.with_suffix(".figures")


def forget_figures(log: Path) -> None:
    """Take away what the web processes of a server that has stopped counted."""
    for found in _figure_folders(log):
        shutil.rmtree(found, ignore_errors=True)


def _figures(log: Path) -> Path:
    """Where each web process keeps its figures for the others to add up; those of an earlier start count no more.

    In memory where there is a folder for that: they are mapped, and a process that writes to a map of a full disk is ended.
    """
    for found in _figure_folders(log):
        shutil.rmtree(found, ignore_errors=True)
        try:
            # It must be new: one that is left over and cannot be taken away may be somebody else's.
            found.mkdir(mode=0o700, parents=found.parent != _IN_MEMORY)
        except OSError:
            continue
        return found
    raise ServeError(f"No folder can be made at {found}.")


def _waited_for(
    server: subprocess.Popen[bytes], reach: Reach, port: int, log: Path, may_come: Callable[[], bool]
) -> subprocess.Popen[bytes]:
    """The server once it answers; stopped where it does not, or cannot any more."""
    end = time.monotonic() + _PATIENCE_S
    while server.poll() is None and may_come() and time.monotonic() < end:
        try:
            with urllib.request.urlopen(reach.ready_address(port), timeout=5, context=reach.trust()):
                return server
        except (OSError, http.client.HTTPException):
            time.sleep(0.1)
    server.kill()
    server.wait()
    raise ServeError(f"the server did not start:\n{log.read_text(errors='replace')[-2000:]}")


def start_worker(
    database_url: str, log: Path, files: Path, backups: Path, object_store: str | None = None
) -> subprocess.Popen[bytes]:
    """Start a worker. It stops when the process that starts it ends, however that ends."""
    log.touch(mode=0o600)
    with log.open("ab") as out:
        return subprocess.Popen(
            [*WITH_PARENT, sys.executable, "-W", "ignore:The file finals2000A", "-m", "lucid_ridge.runtime.worker"],
            cwd=ROOT, env=_environment(database_url, files, backups, object_store), stdout=out, stderr=out, start_new_session=True,
        )  # fmt: skip


def start_stand_in(name: Literal["forecast", "camera"], port: int) -> subprocess.Popen[bytes]:
    """Start a simulated forecast or camera on loopback; nobody waits for it: it is asked only once somebody wants it."""
    return subprocess.Popen(
        [*WITH_PARENT, sys.executable, "-W", "ignore", "-m", f"lucid_ridge.standins.{name}", "--port", str(port)],
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
    )  # fmt: skip


def stop_server(server: subprocess.Popen[bytes]) -> None:
    """Stop gunicorn and its processes, a worker, or a stand-in."""
    if server.poll() is None:
        server.terminate()
        try:
            server.wait(15)
        except subprocess.TimeoutExpired:
            os.killpg(server.pid, signal.SIGKILL)
