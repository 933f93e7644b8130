"""Indexes from which the logbook's and the places' counts are read."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_index(
        "ix_takes_owner_id_place_id_started_at_id", "takes", ["owner_id", "place_id", "started_at", "id"],
        postgresql_where=sa.text("deleted_at IS NULL"),
    )  # fmt: skip
    op.create_index(
        "ix_takes_owner_id_faults", "takes", ["owner_id"], postgresql_include=["faults"],
        postgresql_where=sa.text("deleted_at IS NULL AND faults <> '{}'"),
    )  # fmt: skip
    op.create_index(
        "ix_compositions_owner_id_place_id", "compositions", ["owner_id", "place_id"],
        postgresql_where=sa.text("deleted_at IS NULL"),
    )  # fmt: skip


def downgrade() -> None:
    op.drop_index("ix_compositions_owner_id_place_id", "compositions")
    op.drop_index("ix_takes_owner_id_faults", "takes")
    op.drop_index("ix_takes_owner_id_place_id_started_at_id", "takes")
