"""What was deleted long ago goes, with its files; all else stays, to be brought back or not."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid4

import pytest
from sqlalchemy import select, update

from lucid_ridge.app import purging
from lucid_ridge.app.database import now
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.tables import Base
from lucid_ridge.app.terrains.tables import TerrainRow

from .test_light_and_land import brought_in, valley  # noqa: F401 (a fixture)
from .test_variants_and_photographs import attach, composition, picture  # noqa: F401 (a fixture)


def files_of(app) -> set[str]:
    return {
        p.relative_to(app.extensions["files_folder"]).as_posix()
        for p in app.extensions["files_folder"].rglob("*")
        if p.is_file()
    }


def purged(app) -> int:
    with app.app_context():
        return purging.forget_deleted()


def aged(app, table, record_id, days):
    with app.extensions["database"].transaction() as session:
        session.execute(update(table).where(table.id == record_id).values(deleted_at=now() - timedelta(days=days)))


@pytest.mark.parametrize(("days", "gone"), [(0, False), (89, False), (91, True)])
def test_a_photograph_goes_with_its_files_once_nobody_brings_it_back(app, client, composition, days, gone):  # noqa: F811
    kept, deleted = (attach(client, composition, picture(), photograph_id=uuid4()).json["id"] for _ in range(2))
    before = files_of(app)
    client.delete(f"/api/photographs/{deleted}")
    aged(app, PhotographRow, deleted, days)
    assert purged(app) == int(gone)
    assert client.get(f"/api/photographs/{kept}/file").status_code == 200
    assert client.post(f"/api/photographs/{deleted}/restore").status_code == (404 if gone else 200)
    hexed = deleted.replace("-", "")
    assert files_of(app) == ({one for one in before if hexed not in one} if gone else before)
    assert purged(app) == 0


def test_terrain_goes_with_its_heights(app, client, valley):  # noqa: F811
    terrain = brought_in(client, valley)["id"]
    client.delete(f"/api/terrains/{terrain}")
    aged(app, TerrainRow, terrain, 100)
    assert purged(app) == 1
    assert not [one for one in files_of(app) if terrain.replace("-", "") in one]
    assert client.post(f"/api/terrains/{terrain}/restore").status_code == 404


def test_a_purge_that_was_cut_off_is_done_again(app, client, composition, monkeypatch):  # noqa: F811
    deleted = attach(client, composition, picture(), photograph_id=uuid4()).json["id"]
    client.delete(f"/api/photographs/{deleted}")
    aged(app, PhotographRow, deleted, 100)
    for path in app.extensions["files_folder"].rglob(f"*{deleted.replace('-', '')}*"):
        path.unlink()
    assert purged(app) == 1
    with app.extensions["database"].transaction() as session:
        assert session.scalars(select(PhotographRow.id)).all() == []


def test_only_what_nothing_refers_to_is_taken_away():
    """Whatever another row refers to would keep the database from letting go of it, or take that row along."""
    referred = {key.column.table.name for table in Base.metadata.tables.values() for key in table.foreign_keys}
    assert not {kind.__tablename__ for kind in purging._FILES} & referred
