"""what a photographer chose once for everything that is new"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "preferences",
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("document", postgresql.JSONB(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_preferences_owner_id_photographers"),
        sa.PrimaryKeyConstraint("owner_id", name="pk_preferences"),
    )


def downgrade() -> None:
    op.drop_table("preferences")
