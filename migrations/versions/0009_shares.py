"""what somebody lets another look at, or copy"""

from alembic import op
import sqlalchemy as sa

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "shares",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("with_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("record_id", sa.Uuid(), nullable=False),
        sa.Column("may_copy", sa.Boolean(), nullable=False),
        sa.CheckConstraint("kind IN ('place', 'composition')", name="ck_shares_kind"),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_shares_owner_id_photographers"),
        sa.ForeignKeyConstraint(["with_id"], ["accounts.id"], name="fk_shares_with_id_accounts", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name="pk_shares"),
        sa.UniqueConstraint("with_id", "kind", "record_id", name="uq_shares_with_id_kind_record_id"),
    )
    op.create_index("ix_shares_owner_id", "shares", ["owner_id"])
    op.create_index("ix_shares_with_id", "shares", ["with_id"])


def downgrade() -> None:
    op.drop_table("shares")
