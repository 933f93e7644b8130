"""One process a folder, one postmaster a cluster, each known by more than a number."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import time
from collections import namedtuple
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

import psycopg
import pytest

from lucid_ridge.runtime import folder as folders
from lucid_ridge.runtime.cluster import Cluster
from lucid_ridge.runtime.folder import Folder, FolderError, running
from lucid_ridge.runtime.processes import Identity, works_in

HOLD = """
import sys, time
from pathlib import Path
from lucid_ridge.runtime.folder import Folder
with Folder.of(Path(sys.argv[1])).held() as lock:
    lock.tell(address="http://127.0.0.1:5999/")
    print("held", flush=True)
    time.sleep(60)
"""


@contextmanager
def started(*command: str, **how) -> Iterator[subprocess.Popen]:
    """A process that is gone afterwards."""
    with subprocess.Popen(command, **how) as process:
        try:
            yield process
        finally:
            process.kill()


@pytest.fixture
def folder(tmp_path) -> Folder:
    return Folder.of(tmp_path)


def test_a_second_start_is_told_where_the_first_one_is(folder):
    with started(sys.executable, "-c", HOLD, str(folder.root), stdout=subprocess.PIPE) as first:
        assert first.stdout.readline() == b"held\n"
        with pytest.raises(FolderError, match=rf"process {first.pid}.*127\.0\.0\.1:5999") as told, folder.held():
            pass
        assert "stop it first" in str(told.value)
    # A killed one holds nothing.
    with folder.held():
        assert running(folder)["pid"] == os.getpid()
    assert running(folder) == {}


def test_the_server_that_a_killed_start_left_is_ended_and_nothing_else(folder):
    with started("sleep", "60", start_new_session=True) as ours, started("sleep", "60") as other:
        known, foreign = Identity.of(ours.pid), Identity.of(other.pid)
        # The number of the second one is told with another start: it belongs to something else by now.
        folder.lock.write_text(json.dumps({"pid": 1, "server": [foreign.pid, foreign.started - 1]}))
        with folder.held():
            assert other.poll() is None
        folder.lock.write_text(json.dumps({"pid": 1, "server": [known.pid, known.started]}))
        with folder.held():
            assert ours.wait(5) != 0
        assert other.poll() is None


def test_one_that_does_not_stop_when_asked_is_killed_with_its_group():
    command = ("bash", "-c", "trap '' TERM; echo deaf; sleep 60 & wait; wait")
    with started(*command, start_new_session=True, stdout=subprocess.PIPE) as deaf:
        assert deaf.stdout.readline() == b"deaf\n"
        # What has ended and is not yet waited for counts as gone.
        assert Identity.of(deaf.pid).end(patience_s=0.3)
        assert deaf.wait(5) == -9
        assert Identity.of(deaf.pid) is None


def test_what_is_left_of_a_broken_lock_is_not_believed(folder):
    for text in ("", "{", "[]", '{"server": "x"}', '{"server": [1]}', "null"):
        folder.lock.write_text(text)
        with folder.held():
            pass


def test_a_folder_that_cannot_be_used_says_why(folder, monkeypatch, tmp_path):
    folder.check()
    usage = namedtuple("usage", "total used free")
    with monkeypatch.context() as patch:
        patch.setattr(shutil, "disk_usage", lambda _: usage(10, 10, 0))
        with pytest.raises(FolderError, match=r"full.*Free some room"):
            folder.check()

    class Wrong(datetime):
        @classmethod
        def now(cls, tz=None):
            return cls(1970, 1, 1, tzinfo=UTC)

    with monkeypatch.context() as patch:
        patch.setattr(folders, "datetime", Wrong)
        with pytest.raises(FolderError, match=r"clock of this machine says 01 January 1970"):
            folder.check()
    with monkeypatch.context() as patch:
        patch.setattr(os, "geteuid", lambda: 12345)
        with pytest.raises(FolderError, match=r"belongs to .*user 12345"):
            folder.check()
        folder.check(whose=False)
    (tmp_path / "file").write_text("")
    with pytest.raises(FolderError, match="cannot be made"):
        Folder.of(tmp_path / "file" / "below").check()


@pytest.fixture
def cluster(tmp_path_factory):
    place = tmp_path_factory.mktemp("cluster")
    for path in (place, place.parent, place.parent.parent):
        path.chmod(0o755)
    made = Cluster(place / "database", durable=False)
    yield made
    made.stop()


def answers(cluster: Cluster) -> bool:
    with psycopg.connect(cluster.url().replace("+psycopg", "")) as connection:
        return connection.execute("SELECT 1").fetchone() == (1,)


def postmaster(cluster: Cluster) -> int:
    return int((cluster.folder / "data" / "postmaster.pid").read_text().split("\n")[0])


def test_a_cluster_goes_through_what_a_kill_may_leave(cluster):
    # A making that was cut off: what is half there is made anew.
    for half in ("data.new", "data"):
        (cluster.folder / half).mkdir(parents=True)
        (cluster.folder / half / "base").write_text("half")
    cluster.start()
    assert answers(cluster) and cluster.alive
    # Killed, it is started again on the same port.
    pid, port = postmaster(cluster), cluster.port
    os.kill(pid, 9)
    until = time.monotonic() + 10
    while cluster.alive and time.monotonic() < until:
        time.sleep(0.05)
    assert not cluster.alive
    cluster.start(port)
    assert cluster.port == port and answers(cluster)
    # One that still runs is stopped first: another start of the same folder does not sit beside it.
    again = Cluster(cluster.folder, durable=False)
    again.start()
    assert answers(again) and postmaster(again) != pid
    again.stop()
    # The number of something else, and an empty file, are no postmaster: neither is asked to stop, neither bars the way.
    with started("sleep", "60") as bystander:
        for text in (f"{bystander.pid}\n{cluster.folder}/data\n1\n", "", "x\n"):
            (cluster.folder / "data" / "postmaster.pid").write_text(text)
            assert not cluster.alive
            cluster.start()
            assert answers(cluster)
            cluster.stop()
        assert bystander.poll() is None


def test_a_process_is_known_by_where_it_works(tmp_path):
    with started("sleep", "60", cwd=tmp_path) as here:
        assert works_in(here.pid, tmp_path)
        assert not works_in(here.pid, Path("/"))
        assert not works_in(2**22 + 1, tmp_path)
