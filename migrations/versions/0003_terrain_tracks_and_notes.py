"""terrains, marks and paths, and more about places"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def _shared(table):
    return [
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name=op.f(f"fk_{table}_owner_id")),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
    ]


def upgrade() -> None:
    numbers = (
        "latitude_deg",
        "longitude_deg",
        "cell_m",
        "lowest_m",
        "highest_m",
        "void_share",
        "south_deg",
        "west_deg",
        "north_deg",
        "east_deg",
        "done",
    )
    op.create_table(
        "terrains",
        sa.Column("state", sa.String(length=12), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("source_text", sa.String(length=200), nullable=False),
        *(sa.Column(name, sa.Integer(), nullable=False) for name in ("size_bytes", "columns", "rows")),
        *(sa.Column(name, sa.Float(), nullable=False) for name in numbers),
        *_shared("terrains"),
    )
    op.create_table(
        "tracks",
        sa.Column("place_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(length=8), nullable=False),
        sa.Column("sort", sa.String(length=16), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("points", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        *_shared("tracks"),
        sa.ForeignKeyConstraint(["place_id"], ["places.id"], name=op.f("fk_tracks_place_id")),
    )
    op.create_index(op.f("ix_tracks_place_id"), "tracks", ["place_id"], unique=False)
    for table in ("terrains", "tracks"):
        op.create_index(op.f(f"ix_{table}_owner_id"), table, ["owner_id"], unique=False)
    for column in ("notes", "sky"):
        empty = sa.text("'{}'::jsonb")
        op.add_column(
            "places", sa.Column(column, postgresql.JSONB(astext_type=sa.Text()), nullable=False, server_default=empty)
        )
        op.alter_column("places", column, server_default=None)


def downgrade() -> None:
    for column in ("notes", "sky"):
        op.drop_column("places", column)
    op.drop_table("tracks")
    op.drop_table("terrains")
