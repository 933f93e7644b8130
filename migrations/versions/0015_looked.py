"""what the pictures of takes show"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "looked",
        sa.Column("take_id", sa.Uuid(), nullable=False),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("looked_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], name="fk_looked_take_id_takes", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("take_id", name="pk_looked"),
    )


def downgrade() -> None:
    op.drop_table("looked")
