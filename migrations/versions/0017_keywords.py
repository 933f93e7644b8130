"""keywords of pictures, and their sidecars as they came"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import ARRAY

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("pictures", sa.Column("keywords", ARRAY(sa.String(64)), nullable=False, server_default="{}"))
    op.alter_column("pictures", "keywords", server_default=None)
    op.add_column("pictures", sa.Column("sidecar", sa.Text(), nullable=True))


def downgrade() -> None:
    op.drop_column("pictures", "sidecar")
    op.drop_column("pictures", "keywords")
