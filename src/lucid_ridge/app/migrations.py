"""Bring a database's tables up to date with Alembic."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config

SCRIPTS = Path(__file__).resolve().parents[3] / "migrations"


def migrate(database_url: str, revision: str = "head", down: bool = False) -> None:
    """Run every migration that is missing up to a revision, or take back those after it."""
    config = Config()
    config.set_main_option("script_location", str(SCRIPTS))
    config.set_main_option("sqlalchemy.url", database_url.replace("%", "%%"))
    (command.downgrade if down else command.upgrade)(config, revision)
