"""variants and reference photographs"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def _shared(table):
    return [
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["composition_id"], ["compositions.id"], name=op.f(f"fk_{table}_composition_id")),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name=op.f(f"fk_{table}_owner_id")),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
    ]


def upgrade() -> None:
    op.create_table(
        "variants",
        sa.Column("composition_id", sa.Uuid(), nullable=False),
        sa.Column("body_id", sa.Uuid(), nullable=False),
        sa.Column("lens_id", sa.Uuid(), nullable=False),
        sa.Column("support_id", sa.Uuid(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        *_shared("variants"),
        *(
            sa.ForeignKeyConstraint([column], ["kit_items.id"], name=op.f(f"fk_variants_{column}"))
            for column in ("body_id", "lens_id", "support_id")
        ),
    )
    op.create_table(
        "photographs",
        sa.Column("composition_id", sa.Uuid(), nullable=False),
        sa.Column("file_name", sa.String(length=160), nullable=False),
        sa.Column("media_type", sa.String(length=40), nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.Column("view_deg", sa.Float(), nullable=True),
        *_shared("photographs"),
    )
    for table in ("variants", "photographs"):
        op.create_index(op.f(f"ix_{table}_composition_id"), table, ["composition_id"], unique=False)
        op.create_index(op.f(f"ix_{table}_owner_id"), table, ["owner_id"], unique=False)


def downgrade() -> None:
    op.drop_table("photographs")
    op.drop_table("variants")
