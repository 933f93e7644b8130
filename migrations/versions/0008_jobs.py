"""work that goes on in the background, and the queue it waits in"""

from pathlib import Path

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

MOMENT = sa.DateTime(timezone=True)
QUEUE = Path(__file__).resolve().parents[1] / "procrastinate-3.10.0.sql"


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", MOMENT, nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("name", sa.String(160), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("doing", sa.String(80), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("whole", sa.Integer(), nullable=False),
        sa.Column("attempt", sa.Integer(), nullable=False),
        sa.Column("cut_off", sa.Integer(), nullable=False),
        sa.Column("arguments", postgresql.JSONB(), nullable=False),
        sa.Column("result", postgresql.JSONB(), nullable=True),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("stop_asked", sa.Boolean(), nullable=False),
        sa.Column("seen_at", MOMENT, nullable=False),
        sa.Column("ended_at", MOMENT, nullable=True),
        sa.CheckConstraint("state IN ('waiting', 'running', 'done', 'failed', 'stopped')", name="ck_jobs_state"),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_jobs_owner_id_photographers"),
        sa.PrimaryKeyConstraint("id", name="pk_jobs"),
    )
    op.create_index("ix_jobs_owner_id", "jobs", ["owner_id"])
    op.create_index("ix_jobs_owner_id_created_at", "jobs", ["owner_id", "created_at"])
    op.create_index(
        "ix_jobs_seen_at", "jobs", ["seen_at"], postgresql_where=sa.text("state IN ('waiting', 'running')")
    )
    # The library's own tables and functions, as its version in the lock has them. Many statements at once: the driver
    # takes them only where nothing is filled in.
    with op.get_bind().connection.cursor() as cursor:
        cursor.execute(QUEUE.read_bytes())


def downgrade() -> None:
    op.drop_table("jobs")
    op.execute(
        """
        DO $$
        DECLARE one record;
        BEGIN
            FOR one IN SELECT format('DROP TABLE IF EXISTS %I CASCADE', tablename) AS act FROM pg_tables
                       WHERE schemaname = 'public' AND tablename LIKE 'procrastinate\\_%' LOOP EXECUTE one.act; END LOOP;
            FOR one IN SELECT format('DROP FUNCTION IF EXISTS %s CASCADE', oid::regprocedure) AS act FROM pg_proc
                       WHERE proname LIKE 'procrastinate\\_%' LOOP EXECUTE one.act; END LOOP;
            FOR one IN SELECT format('DROP TYPE IF EXISTS %I CASCADE', typname) AS act FROM pg_type
                       WHERE typname LIKE 'procrastinate\\_%' AND typtype IN ('e', 'c') LOOP EXECUTE one.act; END LOOP;
        END $$
        """
    )
