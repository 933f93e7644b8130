"""Put the demo data into an empty database."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Database, Photographer
from lucid_ridge.app.tables import PlaceRow
from lucid_ridge.demo.valley import load_valley


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
    """Load the demo unless there are places already; whether it was loaded."""
    with _short(database_url) as session:
        if session.scalar(select(func.count()).select_from(PlaceRow)):
            return False
    load_valley(database_url, files_folder)
    return True
