"""Jobs: counted, stopped, begun anew, done once however often they are begun; and two workers and two servers as one."""

from __future__ import annotations

import asyncio
import io
import os
import signal
import subprocess
import sys
import threading
import time
import zipfile
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import pytest
from sqlalchemy import func, select, text, update

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, now
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.jobs import operations, running
from lucid_ridge.app.jobs.queue import Here
from lucid_ridge.app.jobs.running import MOST_CUT_OFF, Overtaken, Running, Stopped, Work, carry_out
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.jobs.works import WORKS
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.runtime.backup import verify_backup
from lucid_ridge.runtime.worker import ALL_WORKS, make_queue, sweep
from tests.app.test_archives import everything
from tests.app.test_light_and_land import TIFF, settled, valley  # noqa: F401

from .conftest import add_place, close

ZIP = {"content_type": "application/zip"}


def ended(client, job: dict[str, Any], within_s: float = 300) -> dict[str, Any]:
    """A job once it has ended."""
    end = time.monotonic() + within_s
    while time.monotonic() < end:
        told = client.get(f"/api/jobs/{job['id']}").json
        if told["state"] in ("done", "failed", "stopped"):
            for thread in threading.enumerate():
                if thread.name.startswith("job "):
                    thread.join()
            return told
        time.sleep(0.05)
    raise AssertionError(f"it does not end: {told}")


def exported(client) -> bytes:
    made = client.post("/api/archives/export")
    assert made.status_code == 202
    told = ended(client, made.json)
    assert told["state"] == "done" and told["has_file"], told
    data = file_of(client, told)
    assert client.delete(f"/api/jobs/{told['id']}").status_code == 204
    assert client.get(f"/api/jobs/{told['id']}/file").status_code == 404
    return data


def file_of(client, job: dict[str, Any]) -> bytes:
    with client.get(f"/api/jobs/{job['id']}/file") as answer:
        return answer.data


def test_everything_goes_out_and_into_another_installation_through_the_api(demo, client, app, demo_app):
    data = exported(demo)
    assert zipfile.ZipFile(io.BytesIO(data)).testzip() is None
    told = ended(client, client.post("/api/archives/import", data=data, **ZIP).json)
    assert told["state"] == "done"
    assert "New here: " in told["text"] and "places" in told["text"]
    assert everything(app) == everything(demo_app)
    again = ended(client, client.post("/api/archives/import", data=data, **ZIP).json)
    assert again["text"].startswith("Nothing new in it")
    # What was sent is gone; what came out stays until it is forgotten.
    assert list((app.extensions["files_folder"] / "jobs").iterdir()) == []


def test_what_is_no_archive_is_refused_before_or_after_it_is_looked_at(client, app):
    refused = client.post("/api/archives/import", data=b"PK no", **ZIP)
    assert refused.status_code == 422
    assert client.post("/api/archives/import", data=b"x", content_type="text/plain").status_code == 415
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("a", b"x")
    told = ended(client, client.post("/api/archives/import", data=out.getvalue(), **ZIP).json)
    assert told["state"] == "failed" and not told["may_retry"]
    assert told["text"] == "This file is no archive of Lucid Ridge: it has no manifest.json."
    assert client.delete(f"/api/jobs/{told['id']}").status_code == 204
    assert client.get("/api/jobs").json["jobs"] == []
    assert list((app.extensions["files_folder"] / "jobs").iterdir()) == []


def noted(app, **values: Any) -> UUID:
    """A job that nobody has begun."""
    with app.extensions["database"].transaction() as session:
        row = JobRow(owner_id=LOCAL_PHOTOGRAPHER, kind="export", name="x", arguments={}, **values)
        session.add(row)
        session.flush()
        return row.id


def row_of(app, job: UUID) -> JobRow:
    with app.extensions["database"].transaction() as session:
        return session.get_one(JobRow, job)


def test_a_job_is_stopped_at_its_next_step_and_begun_anew(app, client, monkeypatch):
    monkeypatch.setattr(running, "_TELL_EVERY_S", 0.0)
    stopping = threading.Event()

    def run(job: Running) -> None:
        job.tell("counting", 1, 3)
        stopping.wait(20)
        job.tell("counting", 2, 3)
        raise AssertionError("it goes on")

    job = noted(
        app,
    )
    thread = threading.Thread(target=carry_out, args=(app, job, {"export": Work(run)}))
    thread.start()
    while client.get(f"/api/jobs/{job}").json["doing"] != "counting":
        time.sleep(0.02)
    told = client.post(f"/api/jobs/{job}/stop").json
    assert (told["doing"], told["may_stop"], told["done"], told["whole"]) == ("stopping", False, 1, 3)
    assert client.delete(f"/api/jobs/{job}").status_code == 422
    stopping.set()
    thread.join()
    told = client.get(f"/api/jobs/{job}").json
    assert (told["state"], told["may_retry"]) == ("stopped", True)
    put: list[UUID] = []
    monkeypatch.setattr(app.extensions["queue"], "put", put.append)
    assert client.post(f"/api/jobs/{job}/retry").json["state"] == "waiting"
    assert put == [job]
    assert client.post(f"/api/jobs/{job}/retry").status_code == 422
    # One that waits ends at once, and is not begun any more.
    assert client.post(f"/api/jobs/{job}/stop").json["state"] == "stopped"
    carry_out(app, job, {"export": Work(run)})
    assert row_of(app, job).state == "stopped"


def test_one_that_is_begun_twice_is_done_once(app):
    """The first process was thought dead, and was not: what it does after that is taken back."""
    place: dict[str, Any] = {
        "name": "x", "latitude_deg": 0, "longitude_deg": 0, "elevation_m": 0, "time_zone": "UTC",
        "owner_id": LOCAL_PHOTOGRAPHER,
    }  # fmt: skip
    begun, go_on = threading.Event(), threading.Event()
    seen: list[type] = []

    def run(job: Running, wait: bool) -> None:
        if wait:
            begun.set()
            go_on.wait(20)
        try:
            with app.extensions["database"].transaction() as session:
                session.add(PlaceRow(**place))
                session.flush()
                job.finish(session, {})
        except Overtaken:
            seen.append(Overtaken)
            raise

    job = noted(app)
    first = threading.Thread(target=carry_out, args=(app, job, {"export": Work(lambda j: run(j, True))}))
    first.start()
    begun.wait(20)
    carry_out(app, job, {"export": Work(lambda j: run(j, False))})
    go_on.set()
    first.join()
    carry_out(app, job, {"export": Work(lambda j: run(j, False))})
    with app.extensions["database"].transaction() as session:
        assert session.scalar(select(func.count()).select_from(PlaceRow)) == 1
    row = row_of(app, job)
    assert (row.state, row.attempt, seen) == ("done", 2, [Overtaken])


def test_one_that_ends_its_process_again_and_again_is_given_up(app):
    undone: list[str] = []
    work = {
        "export": Work(
            lambda job: (_ for _ in ()).throw(KeyboardInterrupt), lambda s, a, problem: undone.append(problem)
        )
    }
    job = noted(app)
    for _ in range(MOST_CUT_OFF):
        with pytest.raises(KeyboardInterrupt):
            carry_out(app, job, work)
        assert row_of(app, job).state == "running"
    carry_out(app, job, work)
    row = row_of(app, job)
    assert (row.state, len(undone)) == ("failed", 1)
    assert "cut off" in row.problem and row.problem == undone[0]


def test_a_terrain_that_is_stopped_and_forgotten_leaves_nothing_behind(app, client, valley, monkeypatch):  # noqa: F811
    monkeypatch.setattr(app.extensions["queue"], "put", lambda job: None)
    terrain = uuid4()
    assert client.put(f"/api/terrains/{terrain}?name=valley", data=valley, content_type=TIFF).status_code == 202
    (job,) = client.get("/api/jobs").json["jobs"]
    sent = app.extensions["files_folder"] / "jobs"
    assert len(list(sent.iterdir())) == 1
    assert client.post(f"/api/jobs/{job['id']}/stop").json["state"] == "stopped"
    told = client.get(f"/api/terrains/{terrain}").json
    assert (told["state"], told["problem"]) == ("failed", "It was stopped.")
    assert client.delete(f"/api/jobs/{job['id']}").status_code == 204
    assert list(sent.iterdir()) == []


def test_what_killed_processes_left_is_swept_after_a_day(app):
    with app.app_context():
        old, young = (operations.folder() / f"{operations.PASSING}{name}" for name in ("old", "young"))
        for one in (old, young):
            one.mkdir()
            (one / "half").write_bytes(b"x")
        os.utime(old, (0, 0))
        operations.forget_old_ones()
        assert (old.exists(), young.exists()) == (False, True)


def test_what_goes_wrong_is_told_without_its_inside(app, client, caplog):
    def run(job: Running) -> None:
        raise RuntimeError("secret inside")

    job = noted(app)
    carry_out(app, job, {"export": Work(run)})
    told = row_of(app, job)
    assert told.state == "failed" and "secret" not in told.problem and str(job) in told.problem
    assert "secret inside" in caplog.text


def test_jobs_are_their_owners_alone(app, client):
    job = noted(app)
    with app.extensions["database"].transaction() as session:
        from lucid_ridge.app.database import Photographer

        other = uuid4()
        session.add(Photographer(id=other, name="o"))
        session.flush()
        session.execute(update(JobRow).values(owner_id=other))
    for method, path in (("GET", ""), ("POST", "/stop"), ("POST", "/retry"), ("DELETE", ""), ("GET", "/file")):
        assert client.open(f"/api/jobs/{job}{path}", method=method).status_code == 404
    assert client.get("/api/jobs").json["jobs"] == []


def test_old_jobs_are_forgotten_and_left_ones_put_back(app, monkeypatch):
    old = noted(app, state="done", ended_at=now() - operations._KEPT * 2, result={"file": "old.zip"})
    left = noted(app, seen_at=now() - operations._LEFT * 2)
    noted(app)
    noted(app, state="failed", seen_at=now() - operations._LEFT * 2, ended_at=now())
    put: list[UUID] = []
    monkeypatch.setattr(app.extensions["queue"], "put", put.append)
    with app.app_context():
        (operations.folder() / "old.zip").write_bytes(b"x")
        assert operations.put_left_ones() == 1
        assert operations.forget_old_ones() == 1
        assert not (operations.folder() / "old.zip").exists()
    assert put == [left]
    with app.extensions["database"].transaction() as session:
        assert session.get(JobRow, old) is None


def test_every_kind_is_there():
    from typing import get_args

    from lucid_ridge.app.jobs.schemas import JobKind

    assert set(ALL_WORKS) == set(get_args(JobKind))
    assert set(WORKS) < set(ALL_WORKS), "what a server without workers does not offer"
    assert issubclass(Stopped, Exception)


# --- two servers and two workers on one database ----------------------------------------------------------


class Workers:
    """Worker processes on a database, as a start command runs them."""

    def __init__(self, url: str, files: Path, log: Path) -> None:
        self._environment = os.environ | {
            "LUCID_RIDGE_DATABASE_URL": url, "LUCID_RIDGE_FILES": str(files), "PYTHONTZPATH": "",
        }  # fmt: skip
        self._log = log
        self.running: list[subprocess.Popen[bytes]] = []

    def start(self) -> None:
        with self._log.open("ab") as out:
            command = [sys.executable, "-W", "ignore", "-m", "lucid_ridge.runtime.worker"]
            self.running.append(subprocess.Popen(command, env=self._environment, stdout=out, stderr=out))

    def kill(self) -> None:
        one = self.running.pop(0)
        one.send_signal(signal.SIGKILL)
        one.wait()

    def stop(self) -> None:
        for one in self.running:
            one.terminate()
        for one in self.running:
            assert one.wait(60) is not None


@pytest.fixture
def two_servers(databases, tmp_path):
    url, files = databases.fresh(demo=False), tmp_path / "files"
    made = [create_app(Configuration(url, files, workers=True)) for _ in range(2)]
    workers = Workers(url, files, tmp_path / "worker.log")
    yield [one.test_client() for one in made], workers, made
    workers.stop()
    for one in made:
        one.extensions["queue"].close()
        close(one)


def test_two_servers_and_two_workers_are_one(two_servers, valley):  # noqa: F811
    (one, other), workers, apps = two_servers
    workers.start()
    workers.start()
    terrain = uuid4()
    # Nobody waits for it: it is sent to one server, and asked for at the other.
    sent = one.put(f"/api/terrains/{terrain}?name=valley", data=valley, content_type=TIFF)
    assert sent.status_code == 202, sent.json
    again = other.put(f"/api/terrains/{terrain}?name=valley", data=valley, content_type=TIFF)
    assert again.status_code == 200
    place = add_place(one, name="Ling Moss")
    assert other.get("/api/places").json["places"][0]["id"] == place
    changed = other.put(
        f"/api/places/{place}", json={"version": 1, "place": other.get("/api/places").json["places"][0]["place"]}
    )
    assert changed.status_code == 200
    stale = one.put(f"/api/places/{place}", json={"version": 1, "place": changed.json["place"]})
    assert stale.status_code == 409
    assert settled(other, str(terrain))["state"] == "ready"
    jobs = [client.post("/api/archives/export").json for client in (one, other) * 3]
    told = [ended(client, job) for client, job in zip((other, one) * 3, jobs, strict=True)]
    assert {t["state"] for t in told} == {"done"}
    # Whoever is asked hands out the file that the other's worker made.
    sizes = {len(file_of(one, t)) for t in told}
    assert len(sizes) == 1
    # A worker killed in the middle: another takes it up, and does it once.
    data = file_of(one, told[0])
    sent_jobs = [one.post("/api/archives/import", data=data, **ZIP).json for _ in range(6)]
    workers.kill()
    workers.start()
    ends = [ended(other, job) for job in sent_jobs]
    assert {t["state"] for t in ends} == {"done"}, ends
    with apps[0].extensions["database"].transaction() as session:
        assert session.scalar(select(func.count()).select_from(PlaceRow)) == 1


def test_one_that_waits_behind_a_dead_workers_is_not_held_up(two_servers):
    """A worker ended without a word, its job was put into the queue once more meanwhile: both places hold one name."""
    _, _, (app, _) = two_servers
    left = noted(app, state="running", seen_at=now() - operations._LEFT * 2)
    queue = app.extensions["queue"]
    states = text("SELECT status::text FROM procrastinate_jobs ORDER BY id")

    def waiting() -> list[str]:
        with app.extensions["database"].transaction() as session:
            return list(session.scalars(states))

    queue.put(left)
    with app.extensions["database"].transaction() as session:
        session.execute(text("UPDATE procrastinate_jobs SET status = 'doing', worker_id = NULL"))
    queue.put(left)
    queue.put(left)
    assert waiting() == ["doing", "todo"]

    async def once() -> None:
        made = make_queue(app.extensions["database"].engine.url.render_as_string(hide_password=False), app)
        async with made.open_async():
            await sweep(made, app)

    asyncio.run(once())
    assert waiting() == ["todo"]


def test_a_backup_is_made_from_the_page_and_can_be_kept_elsewhere(databases, tmp_path):
    url, files, backups = databases.fresh(demo=False), tmp_path / "files", tmp_path / "backups"
    app = create_app(Configuration(url, files, backups_folder=backups))
    client = app.test_client()
    add_place(client, name="Ling Moss")
    app.extensions["queue"] = Here(lambda job: carry_out(app, job, ALL_WORKS))
    told = ended(client, client.post("/api/backups").json)
    assert told["state"] == "done" and "whole" in told["text"], told
    (one,) = client.get("/api/backups").json["backups"]
    with client.get(f"/api/backups/{one['name']}") as answer:
        (tmp_path / "kept.lucidridge.zip").write_bytes(answer.data)
    assert verify_backup(tmp_path / "kept.lucidridge.zip").form == "lucid-ridge-backup"
    for name in ("..%2fkept.lucidridge.zip", "none.lucidridge.zip", "x"):
        assert client.post(f"/api/backups/{name}/bring-back").status_code in (404, 422)
        assert client.get(f"/api/backups/{name}").status_code in (404, 422)
    close(app)


def test_without_a_folder_no_backup_is_offered(client):
    told = client.get("/api/backups").json
    assert (told["offered"], told["may_bring_back"], told["backups"]) == (False, False, [])
    assert client.post("/api/backups").status_code == 422
