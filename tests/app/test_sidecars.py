"""XMP sidecars: ExifTool reads what is written here and the other way round; what others wrote stays; hostile ones are named."""

from __future__ import annotations

import io
import json
import random
import subprocess
import zipfile
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from PIL import Image

from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.pictures import taken
from lucid_ridge.demo.valley import scene_of
from lucid_ridge.formats.photographs import read_photograph
from lucid_ridge.formats.sidecars import Judged, SidecarError, embedded, read_sidecar, stem_of, with_judged

SEED = random.SystemRandom().randrange(10**6)
WORDS = ("dew", "low sun", "Moos & Stein", "<b>", "漢字", "a'b\"c", "1", "beck, in spate", "\U0001f304", "ﬁ")
XMP = "application/rdf+xml"


def exiftool(*arguments: str) -> str:
    """The reference: ExifTool as Debian has it."""
    made = subprocess.run(
        ["exiftool", "-charset", "UTF8", *arguments], capture_output=True, timeout=60, check=True, encoding="utf-8"
    )
    return made.stdout


def told(path: Path) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(exiftool("-j", "-struct", "-XMP:all", "-n", str(path)))[0]
    return found


def subjects(found: dict[str, Any]) -> list[str]:
    one = found.get("Subject", [])
    return [str(word) for word in (one if isinstance(one, list) else [one])]


def drawn(r: random.Random) -> Judged:
    return Judged(r.choice([None, 0, 1, 5]), False, tuple(r.sample(WORDS, r.randrange(5))))


def test_exiftool_reads_what_is_written_here(tmp_path):
    print("seed", SEED)
    r = random.Random(SEED)
    path = tmp_path / "a.xmp"
    for _ in range(12):
        judged = drawn(r)
        path.write_bytes(with_judged(None, judged))
        found = told(path)
        assert (found.get("Rating"), subjects(found)) == (judged.rating, list(judged.keywords))
        assert read_sidecar(path.read_bytes()) == judged
    path.write_bytes(with_judged(None, Judged(None, True)))
    assert told(path)["Rating"] == -1


def test_what_exiftool_writes_is_read_here_and_what_is_not_ours_stays(tmp_path):
    r = random.Random(SEED + 1)
    for k in range(6):
        path, judged = tmp_path / f"{k}.xmp", drawn(r)
        exiftool(
            *(f"-XMP-dc:Subject={word}" for word in judged.keywords),
            *([f"-XMP-xmp:Rating={judged.rating}"] if judged.rating is not None else []),
            "-XMP-dc:Title=Tarn & wind",
            "-XMP-photoshop:City=Hollin",
            "-XMP-crs:Exposure2012=+0.35",
            "-XMP-iptcCore:CreatorCity=Somewhere",
            "-XMP-xmp:Label=Green",
            str(path),
        )
        assert read_sidecar(path.read_bytes()) == judged
        before, other = told(path), drawn(r)
        path.write_bytes(with_judged(path.read_bytes(), other))
        after = told(path)
        assert (after.pop("Rating", None), subjects(after)) == (other.rating, list(other.keywords))
        before.pop("Rating", None)
        for found in (before, after):
            found.pop("Subject", None)
            found.pop("XMPToolkit", None)
        assert after == before and before["Label"] == "Green"
        assert with_judged(path.read_bytes(), other) == path.read_bytes(), "written again it stays the same"


def test_a_rating_within_a_picture_is_read(tmp_path):
    path = tmp_path / "a.jpg"
    Image.new("RGB", (40, 30), "gray").save(path)
    assert embedded(path.read_bytes()) == Judged()
    exiftool("-XMP-xmp:Rating=4", "-XMP-dc:Subject=reeds", "-overwrite_original", str(path))
    assert embedded(path.read_bytes()) == Judged(4, False, ("reeds",))


def test_exif_of_the_cameras_frames_is_what_exiftool_reads(tmp_path):
    scene = scene_of("glass")
    [(_, data)] = list(taken(scene, scene.composition.moment_utc, longest_px=200))
    path = tmp_path / "a.jpg"
    path.write_bytes(data)
    facts = read_photograph(data).facts
    found = json.loads(exiftool("-j", "-n", str(path)))[0]
    for name, own in (
        ("ExposureTime", facts.exposure_s),
        ("FNumber", facts.f_number),
        ("ISO", facts.iso),
        ("FocalLength", facts.focal_length_mm),
        ("SubjectDistance", facts.focus_m),
    ):
        assert found[name] == pytest.approx(own, rel=1e-3), name
    assert facts.taken is not None and found["DateTimeOriginal"] == facts.taken.strftime("%Y:%m:%d %H:%M:%S")
    shot = Rehearsal(build_state(scene), 200).shots[0]
    assert found["FNumber"] == pytest.approx(shot.aperture_n, rel=1e-2)


_LAUGHS = b'<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "ha">' + b"".join(
    b'<!ENTITY %c "&%c;&%c;&%c;&%c;">' % (98 + k, 97 + k, 97 + k, 97 + k, 97 + k) for k in range(12)
)
HOSTILE = {
    "nothing": b"",
    "no xml": b"\xff\xd8\xff\xe0 picture",
    "cut off": with_judged(None, Judged(3))[:-30],
    "entities": _LAUGHS + b"]><x>&l;</x>",
    "entities in UTF-16": (_LAUGHS + b"]><x>&l;</x>").decode().encode("utf-16"),
    "other xml": b"<svg/>",
    "too large": b"<x>" + b" " * 2_000_000 + b"</x>",
    "a strange encoding": b'<?xml version="1.0" encoding="nonsense"?><x/>',
}


@pytest.mark.parametrize("kind", HOSTILE)
def test_what_is_no_sidecar_is_named(kind):
    with pytest.raises(SidecarError):
        read_sidecar(HOSTILE[kind])


@pytest.mark.parametrize(
    ("text", "judged"), [("99", None), ("NaN", None), ("-2", None), ("3.0", 3), ("five", None), ("", None)]
)
def test_a_rating_out_of_bounds_is_none(text, judged):
    made = with_judged(None, Judged(1)).replace(b">1<", f">{text}<".encode())
    assert read_sidecar(made).rating == judged


def test_names_of_sidecars():
    same = ("IMG_01.JPG", "img_01.xmp", "IMG_01.CR2.xmp", "dir/IMG_01.dng", "C:\\card\\IMG_01.jpg")
    assert {stem_of(one) for one in same} == {"img_01"}
    assert stem_of("no ending") == "no ending" and stem_of("a.b c.jpg") == "a.b c"


def bring(client, name: str, colour: str) -> dict[str, Any]:
    made = io.BytesIO()
    Image.new("RGB", (40, 30), colour).save(made, "JPEG")
    answer = client.put(
        f"/api/pictures/{uuid4()}", query_string={"name": name}, data=made.getvalue(), content_type="image/jpeg"
    )
    picture: dict[str, Any] = answer.json["picture"]
    return picture


def send(client, name: str, data: bytes):
    return client.put("/api/pictures/sidecar", query_string={"name": name}, data=data, content_type=XMP)


def test_a_sidecar_judges_its_picture_and_comes_back_with_what_was_judged_here(demo, tmp_path):
    one, other = bring(demo, "A_100%.jpg", "red"), bring(demo, "A_1001.jpg", "blue")
    path = tmp_path / "A_100%.xmp"
    exiftool("-XMP-xmp:Rating=2", "-XMP-dc:Subject=reeds", "-XMP-dc:Title=Mine", str(path))
    answer = send(demo, "A_100%.XMP", path.read_bytes())
    assert [p["id"] for p in answer.json["pictures"]] == [one["id"]]
    judged = answer.json["pictures"][0]
    assert (judged["rating"], judged["keywords"], judged["version"]) == (2, ["reeds"], 2)
    body = {"version": 2, "rating": 5, "verdict": "keep", "keywords": ["reeds", "dusk"]}
    assert demo.put(f"/api/pictures/{one['id']}/judged", json=body).json["keywords"] == ["reeds", "dusk"]
    body = {"version": 3, "rating": 4, "verdict": "keep"}
    assert demo.put(f"/api/pictures/{one['id']}/judged", json=body).json["keywords"] == ["reeds", "dusk"]
    path.write_bytes(demo.get(f"/api/pictures/{one['id']}/sidecar").data)
    found = told(path)
    assert (found["Rating"], subjects(found), found["Title"]) == (4, ["reeds", "dusk"], "Mine")
    untouched = demo.get(f"/api/pictures/{other['id']}/sidecar").data
    assert read_sidecar(untouched) == Judged()


def test_a_rejected_one_is_rejected_and_a_later_rating_takes_that_away(demo):
    bring(demo, "b.jpg", "green")
    assert send(demo, "b.xmp", with_judged(None, Judged(None, True))).json["pictures"][0]["verdict"] == "reject"
    later = send(demo, "b.xmp", with_judged(None, Judged(3))).json["pictures"][0]
    assert (later["verdict"], later["rating"]) == (None, 3)


def test_what_cannot_be_taken_in_says_what_to_do(demo):
    bring(demo, "c.jpg", "white")
    assert "Bring the picture in first" in send(demo, "d.xmp", with_judged(None, Judged(1))).json["detail"]
    for kind in ("nothing", "no xml", "cut off", "entities", "other xml"):
        assert send(demo, "c.xmp", HOSTILE[kind]).status_code == 422, kind
    assert send(demo, "c.xmp", HOSTILE["too large"]).status_code == 413
    answer = demo.put("/api/pictures/sidecar?name=c.xmp", data=b"{}", content_type="application/json")
    assert answer.status_code == 415
    for keywords in ([""], [" x"], ["x" * 65], ["a"] * 101):
        body = {"version": 1, "rating": None, "verdict": None, "keywords": keywords}
        picture = demo.get("/api/pictures?loose=true").json["pictures"][0]["id"]
        assert demo.put(f"/api/pictures/{picture}/judged", json=body).status_code == 422


def test_the_sidecars_of_a_take_are_one_archive(demo):
    take = next(t for t in demo.get("/api/takes").json["takes"] if t["picture_id"])
    picture = demo.get(f"/api/pictures?take_id={take['id']}").json["pictures"][0]
    body = {"version": picture["version"], "rating": 5, "verdict": None, "keywords": ["calm"]}
    demo.put(f"/api/pictures/{picture['id']}/judged", json=body)
    archive = zipfile.ZipFile(io.BytesIO(demo.get(f"/api/review/takes/{take['id']}/sidecars").data))
    assert archive.namelist() == ["glass.xmp"]
    assert read_sidecar(archive.read("glass.xmp")) == Judged(5, False, ("calm",))
