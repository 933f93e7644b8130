"""Put the demo data into an empty database."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Base, Database, Photographer
from lucid_ridge.app.tables import PlaceRow
from lucid_ridge.demo.valley import load_valley

_LOADING = ".part demo"
"""A file that is there while the demo is loaded."""


@contextmanager
def _short(database_url: str) -> Iterator[Session]:
    """One transaction on connections of its own, closed after it."""
    database = Database(database_url)
    try:
        with database.transaction() as session:
            yield session
    finally:
        database.dispose()


def ensure_photographer(database_url: str) -> None:
    """Make the local photographer, who owns everything, if there is none."""
    with _short(database_url) as session:
        if session.get(Photographer, LOCAL_PHOTOGRAPHER) is None:
            session.add(Photographer(id=LOCAL_PHOTOGRAPHER, name="Local photographer"))


def load_demo(database_url: str, files_folder: Path | None = None) -> bool:
    """Load the demo unless there are places already; whether it was loaded.

    A loading that was cut off is begun anew: nobody can have used what it left, since nothing is served before it is done.
    """
    mark = None if files_folder is None else files_folder / _LOADING
    with _short(database_url) as session:
        if mark is not None and mark.exists():
            for table in reversed(Base.metadata.sorted_tables):
                if table is not Photographer.__table__:
                    session.execute(delete(table))
        elif session.scalar(select(func.count()).select_from(PlaceRow)):
            return False
    if mark is not None:
        mark.parent.mkdir(parents=True, exist_ok=True)
        mark.touch()
    load_valley(database_url, files_folder)
    if mark is not None:
        mark.unlink()
    return True
