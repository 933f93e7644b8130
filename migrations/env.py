"""Alembic's environment: one connection, one transaction for all migrations."""

from alembic import context
from sqlalchemy import NullPool, create_engine

from lucid_ridge.app.tables import Base

url = context.config.get_main_option("sqlalchemy.url")
assert url, "run migrations through lucid_ridge.app.migrations"
with create_engine(url, poolclass=NullPool).connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
