"""pictures that came back from the camera"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "pictures",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("sequence_id", sa.Uuid(), nullable=True),
        sa.Column("take_id", sa.Uuid(), nullable=True),
        sa.Column("number", sa.Integer(), nullable=True),
        sa.Column("for_take", sa.Uuid(), nullable=True),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("file_name", sa.String(160), nullable=False),
        sa.Column("media_type", sa.String(40), nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("rating", sa.Integer(), nullable=True),
        sa.Column("verdict", sa.String(8), nullable=True),
        sa.Column("document", JSONB(), nullable=False),
        sa.CheckConstraint("version >= 1", name="ck_pictures_version"),
        sa.CheckConstraint("size_bytes > 0 AND width_px > 0 AND height_px > 0", name="ck_pictures_size"),
        sa.CheckConstraint("rating BETWEEN 0 AND 5", name="ck_pictures_rating"),
        sa.CheckConstraint("verdict IN ('keep', 'reject')", name="ck_pictures_verdict"),
        sa.CheckConstraint("number >= 1", name="ck_pictures_number"),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_pictures_owner_id_photographers"),
        sa.ForeignKeyConstraint(["sequence_id"], ["sequences.id"], name="fk_pictures_sequence_id_sequences"),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], name="fk_pictures_take_id_takes"),
        sa.PrimaryKeyConstraint("id", name="pk_pictures"),
    )
    op.create_index("ix_pictures_owner_id", "pictures", ["owner_id"])
    op.create_index("ix_pictures_sequence_id", "pictures", ["sequence_id"])
    op.create_index("ix_pictures_for_take", "pictures", ["for_take"])
    op.create_index("ix_pictures_take_id", "pictures", ["take_id"])
    op.create_index("ix_pictures_owner_id_sha256", "pictures", ["owner_id", "sha256"])
    op.create_index("ix_pictures_owner_id_taken_at_id", "pictures", ["owner_id", "taken_at", "id"])


def downgrade() -> None:
    op.drop_table("pictures")
