"""how far a photographer's practice has come"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice",
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_practice_owner_id_photographers"),
        sa.PrimaryKeyConstraint("owner_id", name="pk_practice"),
    )


def downgrade() -> None:
    op.drop_table("practice")
