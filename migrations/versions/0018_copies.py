"""whether the copy for the screen is made of a picture"""

from alembic import op
import sqlalchemy as sa

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("pictures", sa.Column("has_copy", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.alter_column("pictures", "has_copy", server_default=None)
    op.create_index("ix_pictures_without_copy", "pictures", ["owner_id", "id"], postgresql_where=sa.text("NOT has_copy"))


def downgrade() -> None:
    op.drop_index("ix_pictures_without_copy", table_name="pictures")
    op.drop_column("pictures", "has_copy")
