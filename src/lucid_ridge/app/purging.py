"""What was deleted long ago and can be missed by nothing: taken away for good, with its files."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import select

from lucid_ridge.app.database import Editable, now
from lucid_ridge.app.editing import database
from lucid_ridge.app.files import drop
from lucid_ridge.app.outings.tables import OutingRow
from lucid_ridge.app.photographs.files import CAME_BACK, REFERENCE
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.spots.tables import SpotRow
from lucid_ridge.app.terrains import files as terrain_files
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.app.variants.tables import VariantRow

KEPT = timedelta(days=90)
"""For how long a deleted record can be brought back."""
_AT_A_TIME = 100


def _heights(row: Any) -> list[Path]:
    return [terrain_files.kept(row.id)]


def _none(row: Any) -> list[Path]:
    return []


_FILES: dict[type[Editable], Callable[[Any], list[Path]]] = {
    PhotographRow: lambda row: REFERENCE.paths(row.id, row.file_name),
    PictureRow: lambda row: CAME_BACK.paths(row.id, row.file_name),
    TerrainRow: _heights,
    TrackRow: _none,
    VariantRow: _none,
    OutingRow: _none,
    SpotRow: _none,
}
"""The kinds of record that no other record's row refers to, and the files of each."""


def forget_deleted() -> int:
    """Take away what was deleted `KEPT` ago, whoever's it was; how many records. For a worker, now and then.

    Files go before their row: what is cut off in between is done again.
    """
    gone = 0
    for kind, files in _FILES.items():
        table: Any = kind
        with database().transaction() as session:
            rows = session.scalars(
                select(table).where(table.deleted_at < now() - KEPT).limit(_AT_A_TIME).with_for_update(skip_locked=True)
            ).all()
            for row in rows:
                for path in files(row):
                    drop(path)
                session.delete(row)
            gone += len(rows)
    return gone
