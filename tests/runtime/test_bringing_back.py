"""A backup put in the place of what is kept, from a page: all of it or none, what was there kept, whatever dies meanwhile."""

from __future__ import annotations

import contextlib
import json
import shutil

import psycopg
import pytest

from lucid_ridge.app.backups.wishes import answered, is_wished_for, wish_for, wished_for
from lucid_ridge.app.migrations import migrate
from lucid_ridge.demo.load import ensure_photographer
from lucid_ridge.formats.sealed import SealedError
from lucid_ridge.runtime import bringing_back
from lucid_ridge.runtime.bringing_back import asked, bring_back, tidy
from lucid_ridge.runtime.cluster import Cluster
from lucid_ridge.runtime.folder import Folder, running
from lucid_ridge.runtime.upgrade import revisions

from .served import Served

PLACE = {"latitude_deg": 54.1, "longitude_deg": -2.4, "time_zone": "Europe/London"}


def names(served) -> list[str]:
    return [one["place"]["name"] for one in served.ask("GET", "/api/places")[1]["places"]]


def test_from_a_page_while_it_is_served(tmp_path_factory):
    served = Served(tmp_path_factory.mktemp("served"))
    try:
        served.start()
        served.ask("POST", "/api/places", {"place": PLACE | {"name": "Then"}})
        served.folder.files.mkdir(exist_ok=True)
        (served.folder.files / "note.txt").write_text("then")
        served.ask("POST", "/api/backups")
        served.until(lambda: any("by-hand" in one["name"] for one in served.ask("GET", "/api/backups")[1]["backups"]))
        served.until(lambda: served.ask("GET", "/api/jobs")[1]["jobs"][0]["state"] == "done")
        backup = next(
            one["name"] for one in served.ask("GET", "/api/backups")[1]["backups"] if "by-hand" in one["name"]
        )
        served.ask("POST", "/api/places", {"place": PLACE | {"name": "Since"}})
        (served.folder.files / "note.txt").write_text("since")
        assert sorted(names(served)) == ["Since", "Then"]
        # One that is damaged: told, and nothing happens.
        broken = served.folder.backups / "by-hand-broken.lucidridge.zip"
        broken.write_bytes((served.folder.backups / backup).read_bytes()[:-300])
        status, said = served.ask("POST", f"/api/backups/{broken.name}/bring-back")
        assert status == 202 and said["may_bring_back"]
        served.until(lambda: (served.ask("GET", "/api/backups")[1]["brought_back"] or {}).get("name") == broken.name)
        assert "was not brought back" in served.ask("GET", "/api/backups")[1]["brought_back"]["said"]
        assert sorted(names(served)) == ["Since", "Then"]
        assert served.ask("POST", "/api/backups/none.lucidridge.zip/bring-back")[0] == 404
        # And one that is whole.
        before = running(served.folder)["server"]
        assert served.ask("POST", f"/api/backups/{backup}/bring-back")[0] == 202
        served.until(lambda: running(served.folder)["server"] != before and served.answers(), "it does not come back")
        assert names(served) == ["Then"]
        # The backup that was being written when it was made does not begin anew.
        assert all(job["state"] == "done" for job in served.ask("GET", "/api/jobs")[1]["jobs"])
        assert (served.folder.files / "note.txt").read_text() == "then"
        told = served.ask("GET", "/api/backups")[1]
        assert told["brought_back"]["name"] == backup and not told["bringing_back"]
        kept = next(one["name"] for one in told["backups"] if one["name"].startswith("before-bringing-back"))
        assert kept in told["brought_back"]["said"]
        # What was here before can be brought back in its turn, and work goes on.
        before = running(served.folder)["server"]
        served.ask("POST", f"/api/backups/{kept}/bring-back")
        served.until(lambda: running(served.folder)["server"] != before and served.answers(), "it does not come back")
        assert sorted(names(served)) == ["Since", "Then"]
        assert (served.folder.files / "note.txt").read_text() == "since"
        assert served.ask("POST", "/api/places", {"place": PLACE | {"name": "After"}})[0] == 201
    finally:
        served.stop()


@pytest.fixture(scope="module")
def kept(tmp_path_factory):
    """A folder with a database that runs, and a backup of what it was before."""
    root = tmp_path_factory.mktemp("kept")
    for path in (root, root.parent, root.parent.parent):
        path.chmod(0o755)
    folder = Folder.of(root)
    cluster = Cluster(folder.cluster, durable=False)
    cluster.start()
    migrate(cluster.url())
    ensure_photographer(cluster.url())
    folder.files.mkdir()
    folder.backups.mkdir()
    yield folder, cluster
    cluster.stop()
    cluster.remove()


def written(folder, cluster, text: str) -> None:
    (folder.files / "note.txt").write_text(text)
    with psycopg.connect(cluster.url().replace("+psycopg", "")) as connection:
        connection.execute("UPDATE photographers SET name = %s", (text,))


def read(folder, cluster) -> tuple[str, str]:
    with psycopg.connect(cluster.url().replace("+psycopg", "")) as connection:
        return (folder.files / "note.txt").read_text(), connection.execute("SELECT name FROM photographers").fetchone()[
            0
        ]


def left_over(folder, cluster) -> list[str]:
    aside = [p.name for p in folder.root.iterdir() if p.name.startswith(".")]
    return [*aside, *(bringing_back._databases(cluster) & {"brought_back", "before_that"})]


STEPS = ["write_backup", "restore_backup", "_change_places", "done"]


@pytest.mark.parametrize("dies", ["raises", "is killed"])
@pytest.mark.parametrize("step", STEPS)
def test_wherever_it_is_cut_off_all_is_old_or_all_is_new(kept, monkeypatch, step, dies):
    """*raises*: an error is met there; *is killed*: nothing more runs, and a start comes after."""
    folder, cluster = kept
    written(folder, cluster, "then")
    name = f"{step.strip('_')}-{dies.replace(' ', '-')}.lucidridge.zip".replace("_", "-")
    bringing_back.write_backup(cluster.url(), folder.files, revisions()[-1], "x", folder.backups / name)
    written(folder, cluster, "since")
    wish_for(folder.backups, name)
    assert asked(folder) == name and is_wished_for(folder.backups)

    class Killed(BaseException):
        pass

    def cut_off(*_):
        raise SealedError("cut off") if dies == "raises" else Killed

    if step == "done":
        if dies == "is killed":
            monkeypatch.setattr(bringing_back, "tidy", cut_off)
    else:
        monkeypatch.setattr(bringing_back, step, cut_off)
    with contextlib.suppress(SealedError, Killed):
        bring_back(folder, cluster, name, None)
    monkeypatch.undo()
    tidy(folder, cluster)
    assert read(folder, cluster) == (("then", "then") if step == "done" else ("since", "since"))
    assert left_over(folder, cluster) == []
    assert not is_wished_for(folder.backups)
    assert answered(folder.backups).said.startswith("It was brought back" if step == "done" else "It was")
    assert ("not" in answered(folder.backups).said or "cut off" in answered(folder.backups).said) == (step != "done")
    for path in folder.backups.glob("before-*"):
        path.unlink()


def test_a_wish_is_heard_once_and_leads_nowhere_else(tmp_path):
    assert wished_for(tmp_path) is None
    wish_for(tmp_path, "a.lucidridge.zip")
    assert (wished_for(tmp_path), wished_for(tmp_path)) == ("a.lucidridge.zip", None)
    for odd in ("{", "[]", "{}", json.dumps({"name": 3}), json.dumps({"name": "../../etc/passwd"})):
        (tmp_path / ".bring-back").write_text(odd)
        assert wished_for(tmp_path) is None
    (tmp_path / ".brought-back").write_text("{")
    assert answered(tmp_path) is None
    shutil.rmtree(tmp_path)
