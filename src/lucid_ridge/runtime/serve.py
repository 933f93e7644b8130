"""Start everything, say where it is, watch over it, and stop everything that was started."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from threading import Thread
from types import FrameType

from lucid_ridge.app.trust.fingerprint import fingerprint
from lucid_ridge.formats.sealed import SealedError
from lucid_ridge.runtime.backup import daily_name, rotate, write_backup
from lucid_ridge.runtime.bringing_back import asked, bring_back, tidy
from lucid_ridge.runtime.certificates import keep_fresh
from lucid_ridge.runtime.cluster import Cluster, ClusterError
from lucid_ridge.runtime.folder import Folder, Lock
from lucid_ridge.runtime.people import has_accounts, has_owner, invite_owner
from lucid_ridge.runtime.processes import Identity
from lucid_ridge.runtime.reach import AT_HOME, Reach, reach_of
from lucid_ridge.runtime.settings import Settings
from lucid_ridge.runtime.upgrade import UpgradeError, prepare_upgrade, program, revision_of
from lucid_ridge.runtime.web import (
    Prepare,
    ServeError,
    forget_figures,
    listening_port,
    start_server,
    start_stand_in,
    start_worker,
    stop_server,
)

DEFAULT_PORT = 8420
_LOOK_S = 1.0
_TRY_AGAIN_S = 5.0
_SOON_S = 10.0
_OFTEN = 8
_LONGEST_LOG = 20 * 1024 * 1024


@dataclass(frozen=True)
class Plan:
    """What is to be served, and how. Without *database_url* a cluster of our own is run in the folder."""

    folder: Folder
    port: int
    prepare: Prepare
    database_url: str | None = None
    forecast_url: str | None = None
    camera_url: str | None = None
    stand_ins: bool = False
    """Whether a simulated forecast and a simulated camera are run."""
    processes: int = 2
    threads: int = 8
    workers: int = 1
    daily_backups: bool = False
    object_store: str | None = None
    reach: Reach = AT_HOME
    moves: bool = False
    """Whether another port is taken where this one is not free, and the folder may be another user's: a demo may."""


def _leave(_: int, __: FrameType | None) -> None:
    raise KeyboardInterrupt


@contextmanager
def database_of(plan: Plan) -> Iterator[tuple[str, Cluster | None]]:
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
    port = listening_port(plan.port, plan.reach.listen)
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
    FolderError, ClusterError, UpgradeError, SealedError, ServeError
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
        url, cluster = stack.enter_context(database_of(plan))
        if cluster is not None:
            tidy(plan.folder, cluster)
        lock.tell(database_port=cluster.port if cluster else None)
        kept = prepare_upgrade(url, plan.folder.files, plan.folder.backups, plan.object_store)
        if kept is not None:
            print(f"The database is brought up to this version. What it was is kept in {kept}.", flush=True)
        if plan.stand_ins:
            weather_port, camera_port = listening_port(DEFAULT_PORT + 100), listening_port(DEFAULT_PORT + 120)
            stack.callback(stop_server, start_stand_in("forecast", weather_port))
            stack.callback(stop_server, start_stand_in("camera", camera_port))
            plan = replace(
                plan,
                forecast_url=f"http://127.0.0.1:{weather_port}",
                camera_url=f"http://127.0.0.1:{camera_port}",
            )
        if has_accounts(url):
            # Once people have accounts here, nobody comes in without one, from wherever it is reached.
            plan = replace(plan, reach=replace(plan.reach, accounts=True))
        web = _Web(plan, lock, url, port, lambda: cluster is None or cluster.alive)
        stack.callback(web.stop)
        web.start()
        print(f"Lucid Ridge is ready: {web.address}   (Ctrl-C stops it)", flush=True)
        _tell_others(plan.reach, port)
        if plan.reach.accounts and not has_owner(url):
            invite_owner(url, web.address)
        workers = _Workers(plan, url)
        stack.callback(workers.stop)
        return _watch(plan, web, workers, cluster, url)


def _tell_others(reach: Reach, port: int) -> None:
    """Say how somebody on another machine comes to trust the certificate."""
    authority = reach.certificate.authority if reach.certificate else None
    if authority is not None:
        print(
            f"A browser warns once, until it trusts this installation; how: {reach.address(port)}trust\n"
            f"SHA-256 of that certificate: {fingerprint(authority)}",
            flush=True,
        )


class _Web:
    """The web server of a plan: started, and started again where it stopped by itself."""

    def __init__(self, plan: Plan, lock: Lock, url: str, port: int, database_runs: Callable[[], bool]) -> None:
        self._plan, self._lock, self._url, self._port = plan, lock, url, port
        self._database_runs = database_runs
        self._server: subprocess.Popen[bytes] | None = None
        self._since = 0.0
        self._soon = 0
        self.address = plan.reach.address(port)

    def start(self, accounts: bool = False) -> None:
        """Start it; with *accounts* people sign in from now on: those of the database that was brought back."""
        if accounts:
            self._plan = replace(self._plan, reach=replace(self._plan.reach, accounts=True))
        plan, folder = self._plan, self._plan.folder
        self._since = time.monotonic()
        self._server = start_server(
            self._url, self._port, folder.log, folder.files, plan.prepare, plan.forecast_url, plan.camera_url, plan.processes, plan.threads,
            plan.reach, workers=True, backups=folder.backups, brings_back=plan.database_url is None, object_store=plan.object_store, may_come=self._database_runs,
        )  # fmt: skip
        self._since = time.monotonic()
        identity = Identity.of(self._server.pid)
        self._lock.tell(address=self.address, server=[identity.pid, identity.started] if identity else None)

    def stop(self) -> None:
        if self._server is not None:
            stop_server(self._server)
            forget_figures(self._plan.folder.log)

    @property
    def stopped(self) -> bool:
        return self._server is not None and self._server.poll() is not None

    def give_up(self) -> bool:
        """Whether it has stopped again and again as soon as it was started: that does not mend itself."""
        self._soon = self._soon + 1 if time.monotonic() - self._since < _SOON_S else 0
        return self._soon >= _OFTEN


class _Workers:
    """The workers of a plan, each started again where it stopped by itself: it does when its database goes."""

    def __init__(self, plan: Plan, url: str) -> None:
        self._plan, self._url = plan, url
        self._running: list[subprocess.Popen[bytes]] = []
        self._not_before = 0.0

    def look_after(self) -> None:
        self._running = [one for one in self._running if one.poll() is None]
        if len(self._running) < self._plan.workers and time.monotonic() >= self._not_before:
            self._not_before = time.monotonic() + _TRY_AGAIN_S
            folder = self._plan.folder
            self._running.append(
                start_worker(self._url, folder.log, folder.files, folder.backups, self._plan.object_store)
            )

    def stop(self) -> None:
        for one in self._running:
            one.terminate()
        for one in self._running:
            stop_server(one)
        self._running = []


def _watch(plan: Plan, web: _Web, workers: _Workers, cluster: Cluster | None, url: str) -> int:
    """Look after what runs: what stopped is started again, a backup made each day."""
    last_day = ""
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
        name = asked(plan.folder) if cluster is not None else None
        if cluster is not None and name is not None:
            _bring_back(plan, web, workers, cluster, name)
            continue
        workers.look_after()
        today = daily_name(datetime.now().date())
        if today != last_day and plan.reach.certificate is not None:
            keep_fresh(plan.reach.certificate)
        if today != last_day and plan.daily_backups:
            Thread(target=_back_up_today, args=(plan, url), name="backup", daemon=True).start()
        last_day = today
        _turn_log(plan.folder.log)
        time.sleep(_LOOK_S)


def _bring_back(plan: Plan, web: _Web, workers: _Workers, cluster: Cluster, name: str) -> None:
    """Put a backup in the place of what is kept, while nothing is served."""
    print(f"{name} is brought back; nobody is served meanwhile.", flush=True)
    workers.stop()
    web.stop()
    try:
        bring_back(plan.folder, cluster, name, plan.object_store)
    except SealedError as error:
        print(f"It was not brought back, and everything is as it was: {error}", file=sys.stderr, flush=True)
    else:
        print("It is brought back.", flush=True)
    try:
        web.start(accounts=has_accounts(cluster.url()))
    except ServeError as error:
        # It is seen to be stopped, and tried again.
        print(f"It does not start yet: {error}", file=sys.stderr, flush=True)
        return
    if plan.reach.accounts and not has_owner(cluster.url()):
        invite_owner(cluster.url(), web.address)


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


def _back_up_today(plan: Plan, url: str) -> None:
    """Make the backup of today unless it is there, and take old ones away."""
    folder = plan.folder
    target = folder.backups / daily_name(datetime.now().date())
    if target.exists():
        return
    try:
        write_backup(url, folder.files, revision_of(url) or "", program(), target, plan.object_store)
        rotate(folder.backups)
    except (SealedError, UpgradeError, OSError) as error:
        print(f"No backup was made today: {error}", file=sys.stderr, flush=True)


def demo(port: int = DEFAULT_PORT, empty: bool = False) -> int:
    """Start with demo data (kept once loaded; none with *empty*), until interrupted."""
    folder = Folder.of_demo("empty" if empty else "demo")
    return serve(Plan(folder, port, "migrate" if empty else "demo", stand_ins=True, moves=True))


def serve_by(settings: Settings) -> int:
    """Serve by somebody's settings until interrupted; see `serve` and `reach_of` for errors."""
    plan = plan_of(settings)
    plan.folder.check()
    return serve(replace(plan, reach=reach_of(settings, plan.folder.root / "authority")))


def plan_of(settings: Settings) -> Plan:
    """What is kept and served by somebody's settings, on loopback."""
    secret = settings.database_url
    return Plan(
        Folder.of(settings.data.expanduser().absolute()),
        settings.port,
        "migrate",
        database_url=None if secret is None else _driver(secret.get_secret_value()),
        forecast_url=settings.forecast_url,
        camera_url=settings.camera_url,
        processes=settings.processes,
        threads=settings.threads,
        workers=settings.workers,
        daily_backups=settings.backups,
        object_store=settings.object_store,
    )


def _driver(url: str) -> str:
    """The address of a database with the driver that is used here."""
    return url if "+psycopg://" in url else "postgresql+psycopg://" + url.split("://", 1)[-1]
