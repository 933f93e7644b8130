"""Start everything, say where it is, watch over it, and stop everything that was started."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from threading import Thread
from types import FrameType
from typing import Literal

from lucid_ridge.runtime.backup import BackupError, Manifest, daily_name, restore_backup, rotate, write_backup
from lucid_ridge.runtime.cluster import Cluster, ClusterError
from lucid_ridge.runtime.folder import ROOT, Folder, FolderError, Lock, running
from lucid_ridge.runtime.processes import WITH_PARENT, Identity
from lucid_ridge.runtime.settings import Settings
from lucid_ridge.runtime.upgrade import UpgradeError, prepare_upgrade, program, revision_of

DEFAULT_PORT = 8420
_LOOK_S = 1.0
_TRY_AGAIN_S = 5.0
_SOON_S = 10.0
_OFTEN = 8
_LONGEST_LOG = 20 * 1024 * 1024

Prepare = Literal["nothing", "migrate", "demo"]


class ServeError(RuntimeError):
    """The application cannot be served; says what to do."""


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
    database_url: str,
    port: int,
    log: Path,
    files: Path,
    prepare: Prepare = "nothing",
    forecast_url: str | None = None,
    processes: int = 2,
    threads: int = 4,
) -> subprocess.Popen[bytes]:
    """Start gunicorn on loopback and wait until it answers.

    *files* is the folder for files that people attach. *prepare* says what the server does with its database
    first: nothing, migrate it, or migrate it and load the demo into it where it is empty. *forecast_url* is the
    address of a forecast source. It stops when the process that starts it ends, however that ends.

    Raises
    ------
    ServeError
        If it does not come up within three minutes; the log is in the message.

    """
    environment = os.environ | {
        "LUCID_RIDGE_DATABASE_URL": database_url,
        "LUCID_RIDGE_FILES": str(files),
        "LUCID_RIDGE_PREPARE": prepare,
        "PYTHONTZPATH": "",
        **({"LUCID_RIDGE_FORECAST": forecast_url} if forecast_url else {}),
    }
    log.touch(mode=0o600)
    with log.open("ab") as out:
        server = subprocess.Popen(
            [
                *WITH_PARENT, sys.executable, "-W", "ignore:The file finals2000A", "-m", "gunicorn", "--no-control-socket",
                "--bind", f"127.0.0.1:{port}", "--worker-class", "gthread", "--workers", str(processes),
                "--threads", str(threads), "--preload", "--access-logfile", "-", "lucid_ridge.runtime.wsgi:application",
            ],
            cwd=ROOT, env=environment, stdout=out, stderr=out, start_new_session=True,
        )  # fmt: skip
    for _ in range(1800):
        if server.poll() is not None:
            break
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health/ready", timeout=5):
                return server
        except OSError:
            time.sleep(0.1)
    server.kill()
    raise ServeError(f"the server did not start:\n{log.read_text(errors='replace')[-2000:]}")


def start_forecast(port: int) -> subprocess.Popen[bytes]:
    """Start the simulated forecast on loopback; it is asked only once somebody looks at a day."""
    return subprocess.Popen(
        [*WITH_PARENT, sys.executable, "-m", "lucid_ridge.standins.forecast", "--port", str(port)],
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


@dataclass(frozen=True)
class Plan:
    """What is to be served, and how. Without *database_url* a cluster of our own is run in the folder."""

    folder: Folder
    port: int
    prepare: Prepare
    database_url: str | None = None
    forecast_url: str | None = None
    simulated_forecast: bool = False
    """Whether a forecast of our own is run."""
    processes: int = 2
    threads: int = 4
    daily_backups: bool = False
    moves: bool = False
    """Whether another port is taken where this one is not free, and the folder may be another user's: a demo may."""


def _leave(_: int, __: FrameType | None) -> None:
    raise KeyboardInterrupt


@contextmanager
def _database(plan: Plan) -> Iterator[tuple[str, Cluster | None]]:
    """The database of a plan while it is needed, and the cluster where it is ours."""
    if plan.database_url is not None:
        yield plan.database_url, None
        return
    cluster = Cluster(plan.folder.cluster)
    try:
        cluster.start()
        yield cluster.url(), cluster
    finally:
        cluster.stop()


def _port_of(plan: Plan) -> int:
    port = _listening_port(plan.port)
    if port != plan.port:
        if not plan.moves:
            raise ServeError(
                f"Port {plan.port} is taken by another program. Stop that one, or choose another with --port."
            )
        print(f"Port {plan.port} is taken by another program; this start is on another one.", file=sys.stderr)
    return port


def serve(plan: Plan) -> int:
    """Serve until interrupted, or until the web server stops by itself.

    Raises
    ------
    FolderError, ClusterError, UpgradeError, BackupError, ServeError
        If it cannot be served; each says what to do.

    """
    signal.signal(signal.SIGTERM, _leave)
    signal.signal(signal.SIGHUP, _leave)
    try:
        plan.folder.check(whose=not plan.moves)
        with plan.folder.held() as lock:
            return _serve(plan, lock)
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
        return 0


def _serve(plan: Plan, lock: Lock) -> int:
    with ExitStack() as stack:
        # The port is asked for first: starting a database only to find that there is none takes long.
        port = _port_of(plan)
        url, cluster = stack.enter_context(_database(plan))
        lock.tell(database_port=cluster.port if cluster else None)
        kept = prepare_upgrade(url, plan.folder.files, plan.folder.backups)
        if kept is not None:
            print(f"The database is brought up to this version. What it was is kept in {kept}.", flush=True)
        forecast = plan.forecast_url
        if plan.simulated_forecast:
            weather_port = _listening_port(DEFAULT_PORT + 100)
            stack.callback(stop_server, start_forecast(weather_port))
            forecast = f"http://127.0.0.1:{weather_port}"
        web = _Web(plan, lock, url, port, forecast)
        stack.callback(web.stop)
        web.start()
        print(f"Lucid Ridge is ready: {web.address}   (Ctrl-C stops it)", flush=True)
        return _watch(plan, web, cluster, url)


class _Web:
    """The web server of a plan: started, and started again where it stopped by itself."""

    def __init__(self, plan: Plan, lock: Lock, url: str, port: int, forecast: str | None) -> None:
        self._plan, self._lock, self._url, self._port, self._forecast = plan, lock, url, port, forecast
        self._server: subprocess.Popen[bytes] | None = None
        self._since = 0.0
        self._soon = 0
        self.address = f"http://127.0.0.1:{port}/"

    def start(self) -> None:
        plan, folder = self._plan, self._plan.folder
        self._since = time.monotonic()
        self._server = start_server(
            self._url, self._port, folder.log, folder.files, plan.prepare, self._forecast, plan.processes, plan.threads
        )
        self._since = time.monotonic()
        identity = Identity.of(self._server.pid)
        self._lock.tell(address=self.address, server=[identity.pid, identity.started] if identity else None)

    def stop(self) -> None:
        if self._server is not None:
            stop_server(self._server)

    @property
    def stopped(self) -> bool:
        return self._server is not None and self._server.poll() is not None

    def give_up(self) -> bool:
        """Whether it has stopped again and again as soon as it was started: that does not mend itself."""
        self._soon = self._soon + 1 if time.monotonic() - self._since < _SOON_S else 0
        return self._soon >= _OFTEN


def _watch(plan: Plan, web: _Web, cluster: Cluster | None, url: str) -> int:
    """Look after what runs: what stopped is started again, a backup made each day."""
    last_backup = ""
    while True:
        if cluster is not None and not cluster.alive:
            _start_again(plan.folder, cluster)
        if web.stopped:
            if web.give_up():
                print(f"The web server stops as soon as it is started; its log is {plan.folder.log}.", file=sys.stderr)
                return 1
            print("The web server stopped by itself; it is started again.", file=sys.stderr, flush=True)
            try:
                web.start()
            except ServeError as error:
                # The database may have gone at the same moment: that is seen to first, then this is tried anew.
                print(f"It does not start yet: {error}", file=sys.stderr, flush=True)
                time.sleep(_LOOK_S)
                continue
        today = daily_name(datetime.now().date())
        if plan.daily_backups and today != last_backup:
            last_backup = today
            Thread(target=_back_up_today, args=(plan.folder, url), name="backup", daemon=True).start()
        _turn_log(plan.folder.log)
        time.sleep(_LOOK_S)


def _turn_log(log: Path) -> None:
    """Put a log aside that has grown long, and one before it away. The server goes on writing at the end of the same file."""
    if log.stat().st_size > _LONGEST_LOG:
        shutil.copyfile(log, log.with_suffix(".log.1"))
        os.truncate(log, 0)


def _start_again(folder: Folder, cluster: Cluster) -> None:
    """Start a database that stopped on the port that the server knows it by, however long that takes."""
    print("The database stopped; it is started again.", file=sys.stderr, flush=True)
    while True:
        try:
            cluster.start(cluster.port)
        except ClusterError as error:
            why = f"The disk of {folder.root} is full: free some room." if folder.disk_is_full() else str(error)
            print(f"It does not start yet. {why}", file=sys.stderr, flush=True)
            time.sleep(_TRY_AGAIN_S)
        else:
            print("The database runs again; nothing that was saved is lost.", file=sys.stderr, flush=True)
            return


def _back_up_today(folder: Folder, url: str) -> None:
    """Make the backup of today unless it is there, and take old ones away."""
    target = folder.backups / daily_name(datetime.now().date())
    if target.exists():
        return
    try:
        write_backup(url, folder.files, revision_of(url) or "", program(), target)
        rotate(folder.backups)
    except (BackupError, UpgradeError, OSError) as error:
        print(f"No backup was made today: {error}", file=sys.stderr, flush=True)


def demo(port: int = DEFAULT_PORT, empty: bool = False) -> int:
    """Start with demo data (kept once loaded; none with *empty*), until interrupted."""
    folder = Folder.of_demo("empty" if empty else "demo")
    return serve(Plan(folder, port, "migrate" if empty else "demo", simulated_forecast=True, moves=True))


def plan_of(settings: Settings) -> Plan:
    """What is served by somebody's settings."""
    secret = settings.database_url
    return Plan(
        Folder.of(settings.data.expanduser().absolute()),
        settings.port,
        "migrate",
        database_url=None if secret is None else _driver(secret.get_secret_value()),
        forecast_url=settings.forecast_url,
        processes=settings.processes,
        threads=settings.threads,
        daily_backups=settings.backups,
    )


def _driver(url: str) -> str:
    """The address of a database with the driver that is used here."""
    return url if "+psycopg://" in url else "postgresql+psycopg://" + url.split("://", 1)[-1]


@contextmanager
def _database_in_use(plan: Plan) -> Iterator[str]:
    """The database of a folder: the one that is served now, else one started for this."""
    told = running(plan.folder)
    if plan.database_url is None and told.get("database_port") and _lives(told):
        cluster = Cluster(plan.folder.cluster)
        cluster.port = int(told["database_port"])
        yield cluster.url()
        return
    with plan.folder.held(), _database(plan) as (url, _):
        yield url


def _lives(told: dict[str, object]) -> bool:
    pid = told.get("pid")
    return isinstance(pid, int) and Identity.of(pid) is not None


def back_up(settings: Settings, target: Path) -> Manifest:
    """Write everything that is kept in a folder into one file, while it is served or not.

    Raises
    ------
    FolderError, ClusterError, BackupError
        If there is nothing, or it cannot be read or written.

    """
    plan = plan_of(settings)
    if plan.folder.is_new and plan.database_url is None:
        raise FolderError(f"Nothing is kept in {plan.folder.root} yet. Name the folder that is served with --data.")
    if target.exists():
        raise BackupError(f"{target} is there already. Choose another name.")
    with _database_in_use(plan) as url:
        revision = revision_of(url)
        if revision is None:
            raise BackupError("The database is empty; there is nothing to back up.")
        return write_backup(url, plan.folder.files, revision, program(), target.absolute())


def _see_that_it_is_empty(url: str) -> None:
    if revision_of(url) is not None:
        raise BackupError("The database is not empty. Bring a backup back into a new one.")


def bring_back(settings: Settings, source: Path) -> Manifest:
    """Bring a backup back into a folder in which nothing is kept yet.

    Raises
    ------
    FolderError, ClusterError, BackupError
        If something is kept there, or the backup is damaged; nothing is left behind then.

    """
    plan = plan_of(settings)
    if not plan.folder.is_new:
        raise FolderError(f"Something is kept in {plan.folder.root} already. Name a new folder with --data.")
    plan.folder.check()
    with plan.folder.held():
        try:
            with _database(plan) as (url, _):
                _see_that_it_is_empty(url)
                return restore_backup(source, url, plan.folder.files)
        except BaseException:
            if plan.database_url is None:
                Cluster(plan.folder.cluster).remove()
            raise
