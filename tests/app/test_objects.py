"""Files in an object store: two machines that share one, a store that is gone, backups and archives with what lies in it."""

from __future__ import annotations

import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from flask import Flask
from moto.server import ThreadedMotoServer

from lucid_ridge.app import purging
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.objects import Objects, bring_all, send_all
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.problems import StoreTrouble
from lucid_ridge.runtime.backup import restore_backup, write_backup
from lucid_ridge.runtime.upgrade import program, revisions

from .conftest import add_kit, add_place, close
from .test_hostile_files import finished
from .test_light_and_land import brought_in, valley  # noqa: F401 (a fixture)
from .test_purging import aged
from .test_variants_and_photographs import attach, picture

# Connections of a store that is let go are closed by the collector, which aiohttp tells of.
pytestmark = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")


@pytest.fixture(scope="module")
def s3():
    """The address of a stand-in for S3 on loopback."""
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    host, port = server.get_host_and_port()
    yield f"http://{host}:{port}"
    server.stop()


@pytest.fixture(params=["folder", "s3"])
def store(request, tmp_path, monkeypatch) -> str:
    """The address of an empty store of each kind."""
    if request.param == "folder":
        return f"file://{tmp_path}/store"
    monkeypatch.setenv("AWS_ENDPOINT_URL", request.getfixturevalue("s3"))
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "any")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "any")
    monkeypatch.setenv("AWS_DEFAULT_REGION", "us-east-1")
    import s3fs

    bucket = f"pictures-{uuid4().hex}"
    s3fs.S3FileSystem(skip_instance_cache=True).mkdir(bucket)
    return f"s3://{bucket}/lucid-ridge"


@dataclass
class Machine:
    """One of several that serve the same database and the same store, each with a folder of its own."""

    app: Flask
    folder: Path

    def __getattr__(self, name: str) -> Any:
        return getattr(self.app.test_client(), name)

    def empty(self) -> None:
        """Take away every copy, as on a machine that is new."""
        for path in self.folder.rglob("*"):
            if path.is_file():
                path.unlink()


@pytest.fixture
def machines(databases, store, tmp_path):
    url = databases.fresh()
    made = [
        Machine(create_app(Configuration(url, tmp_path / name, object_store=store)), tmp_path / name) for name in "ab"
    ]
    yield made
    for one in made:
        close(one.app)


@pytest.fixture
def composition(machines):
    kit = add_kit(machines[0])
    place = add_place(machines[0])
    links = {k: kit[k] for k in ("body_id", "lens_id", "support_id")}
    return machines[0].post("/api/compositions", json={"name": "Bank", "place_id": place, **links}).json


def test_what_one_machine_takes_in_another_shows(machines, composition, valley, store):  # noqa: F811
    one, other = machines
    data = picture()
    photograph = attach(one, composition, data, photograph_id=uuid4()).json["id"]
    assert other.get(f"/api/photographs/{photograph}/file").data == data
    assert (
        other.get(f"/api/photographs/{photograph}/shown").data == one.get(f"/api/photographs/{photograph}/shown").data
    )
    terrain = brought_in(one, valley)["id"]
    with one.get(f"/api/terrains/{terrain}/file") as here, other.get(f"/api/terrains/{terrain}/file") as there:
        assert here.data == there.data and here.status_code == 200
    other.empty()
    assert other.get(f"/api/photographs/{photograph}/file").data == data
    names = Objects(store).names()
    assert sum(name.startswith("reference photographs/") for name in names) == 2
    assert [name for name in names if name.startswith("terrain/")] == [f"terrain/{terrain.replace('-', '')}.tif"]


def test_an_archive_is_written_on_one_machine_and_fetched_from_another(
    machines, composition, databases, tmp_path, store
):
    one, other = machines
    attach(one, composition, picture(), photograph_id=uuid4())
    one.empty()
    job = one.post("/api/archives/export").json["id"]
    assert finished(one, f"/api/jobs/{job}", "running", "state").json["state"] == "done"
    with other.get(f"/api/jobs/{job}/file") as answer:
        archive = answer.data
    assert archive[:2] == b"PK"
    apart = Machine(
        create_app(Configuration(databases.fresh(), tmp_path / "c", object_store=f"{store}-c")), tmp_path / "c"
    )
    sent = apart.post("/api/archives/import", data=archive, content_type="application/zip").json["id"]
    assert finished(apart, f"/api/jobs/{sent}", "running", "state").json["state"] == "done"
    # What was sent is taken away once it is in.
    end, kinds = time.monotonic() + 20, {"jobs"}
    while "jobs" in kinds and time.monotonic() < end:
        kinds = {name.split("/")[0] for name in Objects(f"{store}-c").names()}
    assert kinds == {"reference photographs"}
    close(apart.app)
    assert other.delete(f"/api/jobs/{job}").status_code == 204
    assert not [name for name in Objects(store).names() if name.startswith("jobs/")]


def test_what_is_taken_away_for_good_goes_from_the_store(machines, composition, store):
    one, other = machines
    photograph = attach(one, composition, picture(), photograph_id=uuid4()).json["id"]
    one.delete(f"/api/photographs/{photograph}")
    aged(one.app, PhotographRow, photograph, 100)
    with other.app.app_context():
        assert purging.forget_deleted() == 1
    assert Objects(store).names() == []


def test_a_backup_holds_what_lies_in_the_store_and_brings_it_back(machines, composition, databases, store, tmp_path):
    one, _ = machines
    data = picture()
    photograph = attach(one, composition, data, photograph_id=uuid4()).json["id"]
    one.empty()
    url = one.app.extensions["database"].engine.url.render_as_string(hide_password=False)
    write_backup(url, one.folder, revisions()[-1], program(), tmp_path / "all.zip", store)
    back, again = databases.bare(), f"{store}-again"
    restore_backup(tmp_path / "all.zip", back, tmp_path / "d", again)
    assert {n for n in Objects(again).names() if "photographs" in n} == {
        n for n in Objects(store).names() if "photographs" in n
    }
    late = Machine(create_app(Configuration(back, tmp_path / "e", object_store=again)), tmp_path / "e")
    assert late.get(f"/api/photographs/{photograph}/file").data == data
    close(late.app)


def test_a_store_that_is_gone_is_told_and_nothing_is_kept(databases, tmp_path, monkeypatch, s3):
    monkeypatch.setenv("AWS_ENDPOINT_URL", s3)
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "any")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "any")
    app = create_app(Configuration(databases.fresh(), tmp_path / "a", object_store="s3://there-is-no-such-bucket/x"))
    machine = Machine(app, tmp_path / "a")
    kit, place = add_kit(machine), add_place(machine)
    links = {k: kit[k] for k in ("body_id", "lens_id", "support_id")}
    made = machine.post("/api/compositions", json={"name": "Bank", "place_id": place, **links}).json
    refused = attach(machine, made, picture(), photograph_id=uuid4())
    assert (refused.status_code, refused.json["type"]) == (503, "/problems/store")
    assert machine.get(f"/api/compositions/{made['id']}/photographs").json["photographs"] == []
    assert [p for p in (tmp_path / "a").rglob("*") if p.is_file()] == []
    close(app)


def test_a_copy_is_fetched_anew_only_where_the_store_has_a_later_one(store, tmp_path):
    objects, path = Objects(store), tmp_path / "copy" / "a.txt"
    given = tmp_path / "given"
    given.write_bytes(b"first")
    objects.send(given, "x/a.txt")
    objects.bring("x/a.txt", path)
    stamp = path.stat().st_mtime_ns
    objects.bring("x/a.txt", path)
    assert path.stat().st_mtime_ns == stamp
    time.sleep(1.1)
    given.write_bytes(b"later")
    objects.send(given, "x/a.txt")
    objects.bring("x/a.txt", path)
    assert path.read_bytes() == b"later"
    with pytest.raises(FileNotFoundError):
        objects.bring("x/none.txt", tmp_path / "none")
    objects.drop("x/a.txt")
    objects.drop("x/a.txt")
    assert objects.names() == []


def test_all_of_a_folder_goes_there_and_comes_back_but_what_is_being_written(store, tmp_path):
    here, there = tmp_path / "here", tmp_path / "there"
    for name, data in (("a/b.jpg", b"one"), ("c d é.tif", b"two" * 9000), ("a/.part x", b"half")):
        (here / name).parent.mkdir(parents=True, exist_ok=True)
        (here / name).write_bytes(data)
    send_all(store, here)
    bring_all(store, there)
    assert {p.relative_to(there).as_posix(): p.read_bytes() for p in there.rglob("*") if p.is_file()} == {
        "a/b.jpg": b"one",
        "c d é.tif": b"two" * 9000,
    }
    send_all(None, here)
    bring_all(None, there)


def test_an_address_that_is_none_is_told():
    with pytest.raises(StoreTrouble):
        Objects("nowhere://x").names()
