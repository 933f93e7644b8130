"""Bring a database's tables up to date with Alembic."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config

SCRIPTS = Path(__file__).resolve().parents[3] / "migrations"


def migrate(database_url: str) -> None:
    """Run every migration that is missing."""
    config = Config()
    config.set_main_option("script_location", str(SCRIPTS))
    config.set_main_option("sqlalchemy.url", database_url.replace("%", "%%"))
    command.upgrade(config, "head")
