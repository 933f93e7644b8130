"""Backups: everything comes back equal, what is damaged or hostile is named and changes nothing, old ones go by turns."""

from __future__ import annotations

import io
import json
import os
import random
import zipfile
from datetime import date, timedelta
from pathlib import Path

import psycopg
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.app.tables import Base
from lucid_ridge.formats.sealed import Manifest, SealedError
from lucid_ridge.runtime.backup import (
    SUFFIX,
    Kept,
    daily_name,
    restore_backup,
    rotate,
    to_keep,
    verify_backup,
    write_backup,
)


def rows(url: str) -> dict[str, list[tuple]]:
    """Every row of every table, in an order of its own."""
    with psycopg.connect(url.replace("+psycopg", "")) as connection:
        tables = [t.name for t in Base.metadata.sorted_tables]
        return {t: sorted(map(repr, connection.execute(f'SELECT * FROM "{t}"').fetchall())) for t in tables}


def content(folder: Path) -> dict[str, bytes]:
    return {
        p.relative_to(folder).as_posix(): p.read_bytes()
        for p in folder.rglob("*")
        if p.is_file() and ".tiles" not in p.parts
    }


@pytest.fixture(scope="module")
def made(databases, tmp_path_factory) -> Path:
    """A backup of the demo."""
    target = tmp_path_factory.mktemp("backup") / f"demo{SUFFIX}"
    write_backup(databases.fresh(demo=True), databases.files, "0006", "test", target)
    return target


def test_every_row_and_every_file_comes_back(databases, made, tmp_path):
    before, files = rows(databases.fresh(demo=True)), content(databases.files)
    assert sum(map(len, before.values())) > 30 and files
    empty, brought = databases.bare(), tmp_path / "files"
    restore_backup(made, empty, brought)
    assert rows(empty) == before
    assert content(brought) == files
    # And a backup of what came back is the same again, part by part.
    again = write_backup(empty, brought, "0006", "test", tmp_path / "again.zip")
    kept = {p.path: p.sha256 for p in verify_backup(made).parts if p.path.startswith("files/")}
    assert {p.path: p.sha256 for p in again.parts if p.path.startswith("files/")} == kept


def test_odd_texts_and_numbers_come_back(databases, tmp_path):
    url = databases.fresh()
    chance = random.Random(7)
    letters = "aé漢\U0001f304\u202e\"'\\;\n\t%$\u200d"
    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as connection:
        owner = connection.execute("SELECT id FROM photographers").fetchone()[0]
        for _ in range(60):
            name = "".join(chance.choices(letters, k=chance.randint(1, 60)))
            document = {name: [chance.uniform(-1e300, 1e300), chance.randint(-(2**60), 2**60), None, {"": name}]}
            connection.execute(
                "INSERT INTO preferences (owner_id, document) VALUES (%s, %s) "
                "ON CONFLICT (owner_id) DO UPDATE SET document = preferences.document || excluded.document",
                (owner, json.dumps(document)),
            )
    files = tmp_path / "files"
    for i in range(40):
        one = files / f"{i % 5:02d}" / f"{i} {'é' * (i % 7)}.bin"
        one.parent.mkdir(parents=True, exist_ok=True)
        one.write_bytes(chance.randbytes(chance.choice([0, 1, 7, 4096, 300_000])))
    write_backup(url, files, "0006", "test", tmp_path / "odd.zip")
    empty = databases.bare()
    restore_backup(tmp_path / "odd.zip", empty, tmp_path / "brought")
    assert rows(empty) == rows(url)
    assert content(tmp_path / "brought") == content(files)


def test_what_is_half_written_or_can_be_made_again_is_left_out(databases, tmp_path):
    files = tmp_path / "files"
    for name in (
        "terrain/.tiles/9/1.png",
        "terrain/.given 1",
        "photographs/ab.jpg",
        "photographs/.shown ab.jpg",
        "photographs/.part xy",
    ):
        (files / name).parent.mkdir(parents=True, exist_ok=True)
        (files / name).write_bytes(b"x")
    (files / "photographs" / "link.jpg").symlink_to("/etc/passwd")
    made = write_backup(databases.fresh(), files, "0006", "test", tmp_path / "b.zip")
    kept = ["files/photographs/.shown ab.jpg", "files/photographs/ab.jpg"]
    assert [p.path for p in made.parts] == ["database.dump", *kept]


def test_a_folder_or_a_name_that_is_taken_is_not_written_over(databases, made, tmp_path):
    (tmp_path / "files").mkdir()
    (tmp_path / "files" / "mine.jpg").write_bytes(b"mine")
    with pytest.raises(SealedError, match="not empty"):
        restore_backup(made, databases.bare(), tmp_path / "files")
    assert (tmp_path / "files" / "mine.jpg").read_bytes() == b"mine"


def parts_of(path: Path) -> dict[str, bytes]:
    with zipfile.ZipFile(path) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def rewritten(parts: dict[str, bytes], target: Path, **info) -> Path:
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts.items():
            entry = zipfile.ZipInfo(name)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = info.get(name, 0o600) << 16
            archive.writestr(entry, data)
    return target


def manifest(parts: dict[str, bytes], **change) -> bytes:
    told = json.loads(parts["manifest.json"]) | change
    return json.dumps(told).encode()


def with_part(parts: dict[str, bytes], name: str, data: bytes, size: int | None = None) -> dict[str, bytes]:
    import hashlib

    told = json.loads(parts["manifest.json"])
    told["parts"].append(
        {"path": name, "size": len(data) if size is None else size, "sha256": hashlib.sha256(data).hexdigest()}
    )
    return {**parts, name: data, "manifest.json": json.dumps(told).encode()}


BOMB = bytes(40 * 1024 * 1024)
HOSTILE = {
    "no zip": lambda p: None,
    "no manifest": lambda p: {k: v for k, v in p.items() if k != "manifest.json"},
    "another form": lambda p: {**p, "manifest.json": manifest(p, form="other")},
    "a newer form": lambda p: {**p, "manifest.json": manifest(p, version=99)},
    "no JSON": lambda p: {**p, "manifest.json": b"\xff{"},
    "deep JSON": lambda p: {**p, "manifest.json": b"[" * 100_000},
    "unknown field": lambda p: {**p, "manifest.json": manifest(p, evil=1)},
    "a part missing": lambda p: {k: v for k, v in p.items() if not k.startswith("files/")},
    "no database": lambda p: {k: v for k, v in p.items() if k != "database.dump"},
    "a part too many": lambda p: {**p, "files/extra": b"x"},
    "a byte changed": lambda p: {**p, "database.dump": p["database.dump"][:-1] + b"?"},
    "a part cut": lambda p: {**p, "database.dump": p["database.dump"][:-9]},
    "up and out": lambda p: with_part(p, "files/../../out", b"x"),
    "from the root": lambda p: with_part(p, "/etc/out", b"x"),
    "another folder": lambda p: with_part(p, "elsewhere/out", b"x"),
    "backslashes": lambda p: with_part(p, "files/..\\out", b"x"),
    "a line end in a name": lambda p: with_part(p, "files/a\nb", b"x"),
    "an odd way": lambda p: with_part(p, "files//a", b"x"),
    "larger than told": lambda p: with_part(p, "files/bomb", BOMB, size=10),
}


@pytest.mark.parametrize("kind", HOSTILE)
def test_hostile_and_damaged_archives_are_refused_by_name(databases, made, tmp_path, kind):
    changed = HOSTILE[kind](parts_of(made))
    target = tmp_path / "hostile.zip"
    if changed is None:
        target.write_bytes(b"PK\x03\x04 not really")
    else:
        rewritten(changed, target)
    empty = databases.bare()
    with pytest.raises(SealedError, match=r"hostile\.zip"):
        restore_backup(target, empty, tmp_path / "files")
    with psycopg.connect(empty.replace("+psycopg", "")) as connection:
        assert connection.execute("SELECT count(*) FROM pg_tables WHERE schemaname = 'public'").fetchone() == (0,)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["hostile.zip"]
    assert not (tmp_path.parent / "out").exists()


def test_a_link_and_a_part_told_twice_are_refused(made, tmp_path):
    parts = with_part(parts_of(made), "files/link", b"/etc/passwd")
    with pytest.raises(SealedError, match="no backup has"):
        verify_backup(rewritten(parts, tmp_path / "a.zip", **{"files/link": 0o120777}))
    out = io.BytesIO((rewritten(parts_of(made), tmp_path / "b.zip")).read_bytes())
    with zipfile.ZipFile(out, "a") as archive, pytest.warns(UserWarning, match="Duplicate"):
        archive.writestr("database.dump", b"other")
    (tmp_path / "c.zip").write_bytes(out.getvalue())
    with pytest.raises(SealedError, match="twice"):
        verify_backup(tmp_path / "c.zip")


def test_a_backup_cut_off_anywhere_is_refused(made, tmp_path):
    whole = made.read_bytes()
    for share in (0.001, 0.1, 0.5, 0.9, 0.999):
        (tmp_path / "cut.zip").write_bytes(whole[: int(len(whole) * share)])
        with pytest.raises(SealedError):
            verify_backup(tmp_path / "cut.zip")


def test_a_backup_that_cannot_be_made_leaves_nothing(tmp_path):
    nowhere = "postgresql+psycopg://nobody:x@127.0.0.1:1/none"
    with pytest.raises(SealedError, match="pg_dump"):
        write_backup(nowhere, tmp_path / "files", "0006", "test", tmp_path / "out" / "b.zip")
    assert list((tmp_path / "out").iterdir()) == []


def test_the_manifest_tells_what_made_it(made):
    told = verify_backup(made)
    assert isinstance(told, Manifest) and told.revision == "0006" and told.parts[0].path == "database.dump"


days = st.dates(date(2020, 1, 1), date(2035, 1, 1))


@given(st.sets(days, max_size=60))
def test_what_is_kept_is_the_newest_and_no_more_than_asked(made_on):
    kept, most = to_keep(made_on), Kept()
    assert kept <= made_on
    assert len(kept) <= most.days + most.weeks + most.months
    assert set(sorted(made_on)[-most.days :]) <= kept
    assert to_keep(kept) == kept
    # The newest of each of the last months on which there is one.
    newest = {}
    for day in sorted(made_on):
        newest[day.year, day.month] = day
    assert set(list(newest.values())[-most.months :]) <= kept


def test_two_years_of_days_rotated_each_night(tmp_path):
    other = tmp_path / f"before-0006-20260101T000000{SUFFIX}"
    other.write_bytes(b"")
    start = date(2026, 1, 1)
    for i in range(730):
        (tmp_path / daily_name(start + timedelta(days=i))).write_bytes(b"")
        rotate(tmp_path)
    last = start + timedelta(days=729)
    left = sorted(date.fromisoformat(p.name[:10]) for p in tmp_path.iterdir() if p != other)
    assert other.exists()
    assert left[-7:] == [last - timedelta(days=i) for i in range(6, -1, -1)]
    # The last day of each of the eleven months before this one is still there.
    ends = [date(2027, month, 1) - timedelta(days=1) for month in range(2, 13)]
    assert set(ends) <= set(left)
    assert len(left) <= 23


def test_what_backups_that_were_cut_off_left_behind_goes_a_day_later(tmp_path):
    old, new = tmp_path / ".2026-01-02.lucidridge.zip.part", tmp_path / ".2026-01-03.lucidridge.zip.part"
    aside, other = tmp_path / ".dump-abc", tmp_path / ".notes"
    for path in (old, new, other):
        path.write_text("half")
    aside.mkdir()
    (aside / "database.dump").write_text("half")
    for path in (old, aside, other):
        os.utime(path, (0, 0))
    assert rotate(tmp_path) == []
    assert {p.name for p in tmp_path.iterdir()} == {new.name, other.name}
