"""when somebody arrived for a take; which body took it, how much of a battery it used, what room saturated colours had"""

from alembic import op
import sqlalchemy as sa

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


FEW = {"ix_takes_owner_id_arrived": "arrived_at", "ix_takes_owner_id_warm": "warm_room_stops"}
"""Takes that some of learning asks for, among many others."""


def upgrade() -> None:
    op.add_column("takes", sa.Column("arrived_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("takes", sa.Column("body", sa.String(80), nullable=True))
    op.add_column("takes", sa.Column("charge", sa.Float(), nullable=True))
    op.add_column("takes", sa.Column("warm_room_stops", sa.Float(), nullable=True))
    for name, column in FEW.items():
        where = sa.text(f"deleted_at IS NULL AND {column} IS NOT NULL")
        op.create_index(name, "takes", ["owner_id", "started_at"], postgresql_where=where)
    # The last three are worked out in the background of what has no day.
    op.execute("UPDATE takes SET day = NULL")


def downgrade() -> None:
    for name in FEW:
        op.drop_index(name, "takes")
    for column in ("warm_room_stops", "charge", "body", "arrived_at"):
        op.drop_column("takes", column)
