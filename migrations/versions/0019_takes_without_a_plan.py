"""takes that nobody planned: of no composition"""

from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

TABLES = ("sequences", "takes")


def upgrade() -> None:
    for table in TABLES:
        op.alter_column(table, "composition_id", nullable=True)


def downgrade() -> None:
    op.execute("UPDATE pictures SET take_id = NULL, sequence_id = NULL, number = NULL WHERE sequence_id IN "
               "(SELECT id FROM sequences WHERE composition_id IS NULL)")
    for table in reversed(TABLES):
        op.execute(f"DELETE FROM {table} WHERE composition_id IS NULL")
        op.alter_column(table, "composition_id", nullable=False)
