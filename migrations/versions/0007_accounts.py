"""accounts, the devices they are signed in on, invitations, and attempts to sign in"""

from alembic import op
import sqlalchemy as sa

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

ROLES = "role IN ('owner', 'photographer', 'viewer')"
MOMENT = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "accounts",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("name_key", sa.String(320), nullable=False),
        sa.Column("password_hash", sa.String(200), nullable=False),
        sa.Column("role", sa.String(16), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("stopped_at", MOMENT, nullable=True),
        sa.CheckConstraint(ROLES, name="ck_accounts_role"),
        sa.ForeignKeyConstraint(["id"], ["photographers.id"], name="fk_accounts_id_photographers"),
        sa.PrimaryKeyConstraint("id", name="pk_accounts"),
        sa.UniqueConstraint("name_key", name="uq_accounts_name_key"),
    )
    op.create_table(
        "sign_ins",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("token_hash", sa.LargeBinary(), nullable=False),
        sa.Column("device", sa.String(80), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("seen_at", MOMENT, nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name="fk_sign_ins_account_id_accounts", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_sign_ins"),
        sa.UniqueConstraint("token_hash", name="uq_sign_ins_token_hash"),
    )
    op.create_index("ix_sign_ins_account_id", "sign_ins", ["account_id"])
    op.create_table(
        "invitations",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("token_hash", sa.LargeBinary(), nullable=False),
        sa.Column("role", sa.String(16), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=True),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("ends_at", MOMENT, nullable=False),
        sa.Column("used_at", MOMENT, nullable=True),
        sa.CheckConstraint(ROLES, name="ck_invitations_role"),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name="fk_invitations_account_id_accounts", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_invitations"),
        sa.UniqueConstraint("token_hash", name="uq_invitations_token_hash"),
    )
    op.create_index("ix_invitations_account_id", "invitations", ["account_id"])
    op.create_table(
        "attempts",
        sa.Column("id", sa.BigInteger(), sa.Identity(), nullable=False),
        sa.Column("key", sa.LargeBinary(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_attempts"),
    )
    op.create_index("ix_attempts_key_at", "attempts", ["key", "at"])
    op.create_index("ix_attempts_at", "attempts", ["at"])


def downgrade() -> None:
    for table in ("attempts", "invitations", "sign_ins", "accounts"):
        op.drop_table(table)
