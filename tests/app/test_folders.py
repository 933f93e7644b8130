"""Pictures from a folder on disk: each once, resumed where it was cut off; what cannot be used is named and the rest goes on."""

from __future__ import annotations

import io
import os
import random
import subprocess
import time
from pathlib import Path
from uuid import uuid4

import pytest
from flask import g
from PIL import Image
from sqlalchemy import func, select
from werkzeug.exceptions import Forbidden

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER
from lucid_ridge.app.files import files_folder
from lucid_ridge.app.identity import Who
from lucid_ridge.app.photographs.files import CAME_BACK
from lucid_ridge.app.pictures import folders
from lucid_ridge.app.pictures.bringing import keep_many, make_copies
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.tables import PictureRow
from lucid_ridge.formats.sidecars import Judged, with_judged
from tests.app.test_jobs import ended, file_of, two_servers  # noqa: F401


def jpeg(seed: int) -> bytes:
    made = io.BytesIO()
    Image.frombytes("RGB", (32, 24), random.Random(seed).randbytes(32 * 24 * 3)).save(made, "JPEG")
    return made.getvalue()


@pytest.fixture
def card(tmp_path: Path) -> Path:
    """Two folders with pictures of the same names, their sidecars, and much that is none."""
    for k, name in enumerate(("100", "101")):
        folder = tmp_path / "card" / name
        folder.mkdir(parents=True)
        for n in range(6):
            (folder / f"IMG_{n:04d}.JPG").write_bytes(jpeg(300 * k + n))
        (folder / "IMG_0003.xmp").write_bytes(with_judged(None, Judged(4 + k, False, (name,))))
    root = tmp_path / "card"
    (root / "100" / "cut.jpg").write_bytes(jpeg(7)[:200])
    (root / "100" / "empty.jpg").write_bytes(b"")
    (root / "100" / "words.jpg").write_text("no picture at all")
    (root / "100" / "copy of 0001.jpg").write_bytes(jpeg(1))
    (root / "100" / "lonely.xmp").write_bytes(with_judged(None, Judged(1)))
    (root / "100" / "notes.txt").write_text("not looked at")
    (root / "101" / "link.jpg").symlink_to("/etc/passwd")
    (root / "101" / "loop").symlink_to(root)
    (root / "101" / ".hidden.jpg").write_bytes(jpeg(999))
    os.mkfifo(root / "101" / "pipe.jpg")
    (root / "101" / "folder.jpg").mkdir()
    return root


def kept(app) -> list[PictureRow]:
    with app.extensions["database"].transaction() as session:
        return list(session.scalars(select(PictureRow).order_by(PictureRow.name)))


def test_each_picture_comes_in_once_and_what_is_none_is_named(app, card):
    with app.app_context():
        made = folders.bring_folder(card)
        again = folders.bring_folder(card)
    assert (made.fresh, made.known, made.judged) == (12, 1, 2)
    named = {path.name: why for path, why in made.refused}
    assert set(named) == {"cut.jpg", "empty.jpg", "words.jpg", "lonely.xmp", "link.jpg", "pipe.jpg"}
    assert (
        "link" in named["link.jpg"] and "no file" in named["pipe.jpg"] and "Bring the picture in" in named["lonely.xmp"]
    )
    assert (again.fresh, again.known, again.judged) == (0, 13, 2)
    rows = kept(app)
    assert len(rows) == 12
    judged = {row.keywords[0]: row.rating for row in rows if row.keywords}
    assert judged == {"100": 4, "101": 5}, "each sidecar is for the picture of its own folder, the second time too"
    assert (card / "100" / "IMG_0000.JPG").read_bytes() == jpeg(0)


def test_what_was_killed_goes_on_without_loss_or_doubles(app, card):
    def killed(doing: str, done: int, whole: int) -> None:
        if done >= 7:
            raise KeyboardInterrupt

    with app.app_context():
        with pytest.raises(KeyboardInterrupt):
            folders.bring_folder(card, killed)
        before = len(kept(app))
        made = folders.bring_folder(card)
    assert 0 < before < 12 and made.fresh == 12 - before
    with app.extensions["database"].transaction() as session:
        assert session.scalar(select(func.count(func.distinct(PictureRow.sha256)))) == len(kept(app)) == 12


def test_a_folder_without_pictures_says_so(app, tmp_path):
    with app.app_context():
        with pytest.raises(Refused, match="no picture in"):
            folders.bring_folder(tmp_path)
        with pytest.raises(Refused, match="no folder here"):
            folders.bring_folder(tmp_path / "gone")


# --- the folder of the installation, as a job -----------------------------------------------------------------------


def laid(app, count: int, broken: int = 0) -> Path:
    """The folder of the installation, with so many pictures in it; of some only the head is good."""
    with app.app_context():
        root = files_folder(folders.INBOX)
    for k in range(count):
        data = jpeg(k)
        (root / f"IMG_{k:04d}.JPG").write_bytes(data[: len(data) * 2 // 3] if k < broken else data)
    return root


def test_what_lies_in_the_servers_folder_is_brought_in_by_a_press(app, client):
    empty = client.get("/api/pictures/inbox").json
    assert empty["offered"] and empty["files"] == 0
    refused = client.post("/api/pictures/inbox")
    assert refused.status_code == 422 and "Lay some into it" in refused.json["errors"][0]["message"]
    root = laid(app, 40, broken=2)
    (root / "words.jpg").write_text("no picture at all")
    assert client.get("/api/pictures/inbox").json["files"] == 41
    job = ended(client, client.post("/api/pictures/inbox").json)
    assert (job["state"], job["text"]) == ("done", "38 brought in, 3 could not be used.")
    named = file_of(client, job).decode().splitlines()
    assert sorted(line.split(":")[0] for line in named) == ["IMG_0000.JPG", "IMG_0001.JPG", "words.jpg"]
    assert "broken or cut off" in named[-1] and all(len(line.split(": ", 1)[1]) > 20 for line in named)
    pictures = client.get("/api/pictures?loose=true&limit=100").json["pictures"]
    assert len(pictures) == 38 and (root / "IMG_0005.JPG").read_bytes() == jpeg(5)
    shown = client.get(f"/api/pictures/{pictures[0]['id']}/small")
    assert Image.open(io.BytesIO(shown.data)).size == (32, 24)
    again = ended(client, client.post("/api/pictures/inbox").json)
    assert again["text"] == "0 brought in, 38 were here already, 3 could not be used."


def test_how_far_a_picture_is_focused_is_read_where_only_its_makers_notes_tell(app, client, tmp_path):
    file = tmp_path / "told.jpg"
    file.write_bytes(jpeg(1))
    subprocess.run(
        ["exiftool", "-q", "-overwrite_original", "-XMP-aux:ApproximateFocusDistance=1.5", str(file)], check=True
    )
    with app.app_context():
        folders.bring_folder(tmp_path)
        sent = client.put(
            f"/api/pictures/{uuid4()}?name=b.jpg", data=file.read_bytes() + b"\0", content_type="image/jpeg"
        )
    assert sent.status_code == 201
    assert [FACTS.read(row.document).focus_m for row in kept(app)] == [1.5, 1.5]


def test_a_copy_is_made_when_it_is_asked_for_before_its_turn(app, client):
    with app.app_context():
        good, broken = keep_many([("good.jpg", jpeg(1)), ("cut.jpg", jpeg(2)[:-400])])
        assert client.get(f"/api/pictures/{good.picture_id}/shown").status_code == 200
        refused = client.get(f"/api/pictures/{broken.picture_id}/shown")
        assert refused.status_code == 422 and "cut off" in refused.json["errors"][0]["message"]
        assert [row.has_copy for row in kept(app)] == [False, True]
        assert [name for name, _ in make_copies(lambda *_: None).values()] == ["cut.jpg"]
    assert [row.name for row in kept(app)] == ["good.jpg"]


def test_what_was_cut_off_between_heads_and_copies_is_counted_right(app, tmp_path):
    """The broken ones of two folders have one name; the first run ends when all heads are read."""
    for folder in ("a", "b"):
        (tmp_path / folder).mkdir()
        for n in range(3):
            (tmp_path / folder / f"{n}.jpg").write_bytes(
                jpeg(n if folder == "a" else 10 + n)[: -400 if n == 0 else None]
            )

    def killed(doing: str, done: int, whole: int) -> None:
        if "copies" in doing:
            raise KeyboardInterrupt

    with app.app_context():
        with pytest.raises(KeyboardInterrupt):
            folders.bring_folder(tmp_path, killed)
        made = folders.bring_folder(tmp_path)
    assert made.text == "0 brought in, 4 were here already, 2 could not be used."
    assert {path for path, _ in made.refused} == {tmp_path / "a" / "0.jpg", tmp_path / "b" / "0.jpg"}


def test_only_whoever_runs_the_installation_sees_its_folder(app, client):
    with app.test_request_context():
        g.who = Who(LOCAL_PHOTOGRAPHER, "", "photographer")
        assert not folders.inbox().offered
        with pytest.raises(Forbidden):
            folders.begin_bringing()


def test_killed_again_and_again_in_the_middle_nothing_is_lost_or_there_twice(two_servers):  # noqa: F811
    (one, _), workers, (app, _) = two_servers
    count = 300
    laid(app, count)
    workers.start()
    job = one.post("/api/pictures/inbox").json
    for least in (40, 160):
        end = time.monotonic() + 120
        while len(kept(app)) < least and time.monotonic() < end:
            time.sleep(0.02)
        assert len(kept(app)) < count, "it is in the middle"
        workers.kill()
        workers.start()
    told = ended(one, job)
    assert told["state"] == "done", told
    rows = kept(app)
    assert len(rows) == len({row.sha256 for row in rows}) == count
    assert all(row.has_copy for row in rows)
    with app.app_context():
        assert {path for row in rows for path in CAME_BACK.paths(row.id, row.file_name)} <= set(
            CAME_BACK.path().iterdir()
        )
