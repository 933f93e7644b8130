"""kit with usual values says so; how a composition looks and when its light comes next is kept beside it"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("kit_items", sa.Column("usual", sa.Boolean(), server_default=sa.false(), nullable=False))
    op.add_column("compositions", sa.Column("subject", sa.String(length=80), server_default="", nullable=False))
    op.execute(
        "UPDATE compositions SET subject = coalesce(left("
        "jsonb_path_query_first(document, '$.elements[*] ? (@.role == \"subject\").name') #>> '{}', 80), '')"
    )
    op.create_table(
        "outlooks",
        sa.Column("composition_id", sa.Uuid(), nullable=False),
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("view", postgresql.JSONB(), nullable=True),
        sa.Column("starts_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("ends_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("side", sa.String(length=12), nullable=False),
        sa.Column("good_until", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["composition_id"], ["compositions.id"], name="fk_outlooks_composition_id_compositions", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("composition_id", name="pk_outlooks"),
    )


def downgrade() -> None:
    op.drop_table("outlooks")
    op.drop_column("compositions", "subject")
    op.drop_column("kit_items", "usual")
