"""what takes were as one number, to sum them by; how long they were held by hand"""

from alembic import op
import sqlalchemy as sa

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

HERE = sa.text("deleted_at IS NULL")
SUMMED = ["rating", "day", "shutter_s", "way", "water_look", "sun_height_deg", "sun_off_deg", "season"]
NEW = {
    "ix_takes_owner_id_place_id_rating": (["owner_id", "place_id", "rating"], HERE),
    "ix_takes_owner_id_kind_rating": (["owner_id", "kind", "rating"], HERE),
    "ix_takes_owner_id_rating": (["owner_id", "rating"], HERE),
    "ix_takes_owner_id_water_look_started_at": (
        ["owner_id", "water_look", "started_at"],
        sa.text("deleted_at IS NULL AND water_look IS NOT NULL AND rating IS NOT NULL"),
    ),
    "ix_takes_owner_id_by_hand": (
        ["owner_id", "started_at"],
        sa.text("deleted_at IS NULL AND over_stops IS NOT NULL"),
    ),
}


def upgrade() -> None:
    op.add_column("takes", sa.Column("over_stops", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("kind", sa.Integer(), nullable=True))
    # Both are worked out in the background of what has no day.
    op.execute("UPDATE takes SET day = NULL")
    op.drop_index("ix_takes_owner_id_place_id", "takes")
    for name, (columns, where) in NEW.items():
        op.create_index(name, "takes", columns, postgresql_where=where)


def downgrade() -> None:
    for name in NEW:
        op.drop_index(name, "takes")
    op.create_index(
        "ix_takes_owner_id_place_id", "takes", ["owner_id", "place_id"], postgresql_include=SUMMED, postgresql_where=HERE
    )
    op.drop_column("takes", "kind")
    op.drop_column("takes", "over_stops")
