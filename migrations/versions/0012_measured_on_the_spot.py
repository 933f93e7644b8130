"""what is measured on the spot, and links that sign another device of one's own in"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "spots",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("owner_id", sa.Uuid(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("place_id", sa.Uuid(), nullable=False),
        sa.Column("composition_id", sa.Uuid(), nullable=True),
        sa.Column("measured_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_on_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("document", JSONB(), nullable=False),
        sa.CheckConstraint("version >= 1", name="ck_spots_version"),
        sa.CheckConstraint("kind IN ('position', 'bearing', 'skyline', 'reading', 'note')", name="ck_spots_kind"),
        sa.ForeignKeyConstraint(["owner_id"], ["photographers.id"], name="fk_spots_owner_id_photographers"),
        sa.ForeignKeyConstraint(["place_id"], ["places.id"], name="fk_spots_place_id_places"),
        sa.ForeignKeyConstraint(["composition_id"], ["compositions.id"], name="fk_spots_composition_id_compositions"),
        sa.PrimaryKeyConstraint("id", name="pk_spots"),
    )
    op.create_index("ix_spots_owner_id", "spots", ["owner_id"])
    op.create_index("ix_spots_place_id", "spots", ["place_id"])
    op.create_index("ix_spots_composition_id", "spots", ["composition_id"])
    op.add_column("invitations", sa.Column("pairs", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    op.drop_column("invitations", "pairs")
    op.drop_table("spots")
