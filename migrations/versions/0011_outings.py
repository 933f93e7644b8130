"""outings"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "outings",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("leaves_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("back_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.CheckConstraint("version >= 1", name="ck_outings_version"),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_outings_owner_id_photographers"),
        sa.PrimaryKeyConstraint("id", name="pk_outings"),
    )
    op.create_index("ix_outings_owner_id", "outings", ["owner_id"])
    op.create_index("ix_outings_leaves_at", "outings", ["leaves_at"])


def downgrade() -> None:
    op.drop_table("outings")
