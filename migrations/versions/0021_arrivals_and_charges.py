"""when somebody arrived for a take; which body took it, how much of a battery it used, what room saturated colours had"""

from alembic import op
import sqlalchemy as sa

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("takes", sa.Column("arrived_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("takes", sa.Column("body", sa.String(80), nullable=True))
    op.add_column("takes", sa.Column("charge", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("warm_room_stops", sa.Float(), nullable=True))
    # The last three are worked out in the background of what has no day.
    op.execute("UPDATE takes SET day = NULL")


def downgrade() -> None:
    for column in ("warm_room_stops", "charge", "body", "arrived_at"):
        op.drop_column("takes", column)
