"""A disk that fills, a folder that cannot be written to, files that are lost, while it is served: told, and nothing lost."""

from __future__ import annotations

import contextlib
import http.client
import io
import json
import secrets
import shutil
import subprocess
import tempfile
import time
from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image

from .served import Served

PLACE = {"latitude_deg": 54.1, "longitude_deg": -2.4, "elevation_m": 300, "time_zone": "Europe/London"}


def picture() -> bytes:
    out = io.BytesIO()
    Image.effect_noise((1600, 1100), 90).convert("RGB").save(out, "JPEG", quality=95)
    return out.getvalue()


def send(served, path: str):
    """What is said to a picture that is attached."""
    connection = http.client.HTTPConnection("127.0.0.1", served.port, timeout=60)
    connection.request("PUT", f"{path}?name=fold.jpg", picture(), {"Content-Type": "image/jpeg"})
    answer = connection.getresponse()
    said = answer.status, json.loads(answer.read())
    connection.close()
    return said


@pytest.fixture
def small():
    """A served folder on a disk of its own, of 250 MB."""
    # Not below pytest's own folder, which the postgres user may not enter.
    disk = Path(tempfile.mkdtemp(prefix="lucid-ridge-disk-"))
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=250m", "tmpfs", str(disk)], check=False)
    if mounted.returncode != 0:
        disk.rmdir()
        pytest.skip("nothing can be mounted here: no disk of its own to fill")
    served = Served(disk / "data")
    try:
        served.start()
        yield served
    finally:
        served.stop()
        subprocess.run(["umount", "-l", str(disk)], check=False)
        disk.rmdir()


def kept(served) -> set[str]:
    return {one["id"] for one in served.ask("GET", "/api/places?limit=1000")[1]["places"]}


def test_a_full_disk_is_told_and_everything_goes_on_when_there_is_room(small):
    acknowledged, told = set(), set()
    ballast = small.folder.root.parent / "ballast"

    def write() -> int:
        made = str(uuid4())
        sent = {"id": made, "place": PLACE | {"name": f"Place {made}"}, "access": secrets.token_hex(1900)}
        try:
            status, said = small.ask("POST", "/api/places", sent)
        except (OSError, http.client.HTTPException):
            return 0
        if status == 201:
            acknowledged.add(made)
        else:
            told.add((status, said["title"]))
        return status

    assert write() == 201
    end = time.monotonic() + 60
    while not told and time.monotonic() < end:
        # What the database gives back meanwhile is taken as well.
        with contextlib.suppress(OSError), ballast.open("ab", buffering=0) as out:
            while out.write(bytes(65536)) and out.write(bytes(4096)):
                pass
        for _ in range(20):
            write()
    assert told <= {(507, "This cannot be kept"), (503, "The database does not answer")}, told
    assert told, f"the disk took everything: {shutil.disk_usage(small.folder.root)}"
    ballast.unlink()
    small.until(lambda: write() == 201, "no write was taken once there was room")
    assert kept(small) >= acknowledged


def test_a_folder_of_files_that_takes_nothing_more_is_told(small):
    place = small.ask("POST", "/api/places", {"place": PLACE | {"name": "Fold"}})[1]["id"]
    usual = next(one for one in small.ask("GET", "/api/beginnings/kit")[1]["formats"] if one["id"] == "full")
    status, made = small.ask(
        "POST", "/api/beginnings/kit", {"format": "full", "items": [one["id"] for one in usual["choices"]]}
    )
    assert status == 201, made
    items = {item["item"]["kind"]: item["id"] for item in made["items"]}
    links = {f"{kind}_id": items[kind] for kind in ("body", "lens", "support")}
    composition = small.ask("POST", "/api/compositions", {"name": "Fold", "place_id": place, **links})[1]["id"]
    pictures = small.folder.root / "files" / "reference photographs"
    pictures.mkdir(parents=True, exist_ok=True)
    path = f"/api/compositions/{composition}/photographs"
    subprocess.run(["mount", "-t", "tmpfs", "-o", "ro,size=1m", "tmpfs", str(pictures)], check=True)
    try:
        status, said = send(small, f"{path}/{uuid4()}")
        assert (status, said["title"]) == (507, "This cannot be kept"), said
        assert "may not write" in said["detail"]
        subprocess.run(["mount", "-o", "remount,rw,size=16k", str(pictures)], check=True)
        status, said = send(small, f"{path}/{uuid4()}")
        assert status == 507 and "disk is full" in said["detail"], said
        assert small.ask("GET", path)[1]["photographs"] == []
        assert not list(pictures.iterdir())
    finally:
        subprocess.run(["umount", "-l", str(pictures)], check=True)
    photograph = str(uuid4())
    status, said = send(small, f"{path}/{photograph}")
    assert status == 201, said

    # And files that somebody took away: told as such, and the rest stays as it is.
    for one in pictures.iterdir():
        one.unlink()
    status, said = small.ask("GET", f"/api/photographs/{photograph}/file")
    assert (status, said["title"]) == (404, "No such photograph's file")
    assert small.ask("GET", f"/api/compositions/{composition}")[0] == 200
    assert small.ask("GET", "/api/health/ready")[0] == 200
