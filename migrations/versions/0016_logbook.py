"""what is worked out of takes for the logbook's views"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import TSVECTOR

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

_LIVING = sa.text("deleted_at IS NULL")


def upgrade() -> None:
    op.add_column("takes", sa.Column("day", sa.Date(), nullable=True))
    op.add_column("takes", sa.Column("season", sa.String(8), nullable=True))
    op.add_column("takes", sa.Column("way", sa.String(12), nullable=True))
    op.add_column("takes", sa.Column("water_look", sa.String(12), nullable=True))
    op.add_column("takes", sa.Column("sun_height_deg", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("sun_off_deg", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("shutter_s", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("support", sa.String(12), nullable=True))
    op.add_column("takes", sa.Column("words", TSVECTOR(), nullable=True))
    op.create_index("ix_takes_owner_id_day", "takes", ["owner_id", "day"], postgresql_where=_LIVING)
    op.create_index(
        "ix_takes_owner_id_season_started_at_id",
        "takes",
        ["owner_id", "season", "started_at", "id"],
        postgresql_where=_LIVING,
    )
    op.drop_index("ix_takes_owner_id_faults", "takes")
    op.create_index(
        "ix_takes_owner_id_faults",
        "takes",
        ["owner_id"],
        postgresql_include=["faults", "day"],
        postgresql_where=sa.text("deleted_at IS NULL AND faults <> '{}'"),
    )
    op.create_index("ix_takes_without_day", "takes", ["id"], postgresql_where=sa.text("day IS NULL"))
    op.create_index("ix_takes_words", "takes", ["words"], postgresql_using="gin")
    op.create_index(
        "ix_takes_owner_id_place_id",
        "takes",
        ["owner_id", "place_id"],
        postgresql_include=[
            "rating", "day", "shutter_s", "way", "water_look", "sun_height_deg", "sun_off_deg", "season"
        ],
        postgresql_where=_LIVING,
    )  # fmt: skip


def downgrade() -> None:
    for name in ("owner_id_place_id", "words", "without_day", "owner_id_season_started_at_id", "owner_id_day"):
        op.drop_index(f"ix_takes_{name}", "takes")
    op.drop_index("ix_takes_owner_id_faults", "takes")
    op.create_index(
        "ix_takes_owner_id_faults",
        "takes",
        ["owner_id"],
        postgresql_include=["faults"],
        postgresql_where=sa.text("deleted_at IS NULL AND faults <> '{}'"),
    )
    for name in ("words", "support", "shutter_s", "sun_off_deg", "sun_height_deg", "water_look", "way", "season", "day"):
        op.drop_column("takes", name)
