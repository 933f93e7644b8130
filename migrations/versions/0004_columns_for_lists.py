"""what lists show stands in columns; what cannot be is refused by the database itself"""

from alembic import op
import sqlalchemy as sa

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

EDITABLE = ("kit_items", "places", "compositions", "variants", "photographs", "terrains", "tracks", "takes")

CHECKS = {
    "kit_items": {"kind": "kind IN ('body', 'lens', 'filter', 'support', 'gear', 'light')"},
    "places": {
        "position": "latitude_deg BETWEEN -90 AND 90 AND longitude_deg BETWEEN -180 AND 180",
    },
    "photographs": {"size": "size_bytes > 0 AND width_px > 0 AND height_px > 0"},
    "terrains": {
        "state": "state IN ('importing', 'ready', 'failed')",
        "done": "done BETWEEN 0 AND 1",
        "grid": "columns > 0 AND rows > 0 AND cell_m > 0",
    },
    "tracks": {"kind": "kind IN ('mark', 'path')"},
    "takes": {
        "rating": "rating BETWEEN 0 AND 5",
        "times": "ended_at >= started_at",
    },
}

# Column, type, and what it holds of the documents that are there.
FROM_DOCUMENTS = {
    "compositions": (
        ("moment_utc", sa.DateTime(timezone=True), "(document->>'moment_utc')::timestamptz"),
        ("east_m", sa.Float(), "coalesce((document->>'east_m')::float8, 0)"),
        ("north_m", sa.Float(), "coalesce((document->>'north_m')::float8, 0)"),
        ("azimuth_deg", sa.Float(), "coalesce((document->>'azimuth_deg')::float8, 0)"),
        ("element_count", sa.Integer(), "coalesce(jsonb_array_length(document->'elements'), 0)"),
    ),
    "sequences": (
        ("time_zone", sa.String(length=64), "document->>'time_zone'"),
        ("frame_count", sa.Integer(), "jsonb_array_length(document->'sequence'->'frames')"),
        ("aperture_n", sa.Float(), "(document#>>'{sequence,frames,0,aperture,value}')::float8"),
        ("shutter_s", sa.Float(), "(document#>>'{sequence,frames,0,shutter,value}')::float8"),
        ("iso", sa.Float(), "(document#>>'{sequence,frames,0,iso,value}')::float8"),
        ("filters", sa.Text(), "coalesce(document#>>'{sequence,frames,0,filters}', 'none')"),
    ),
    "takes": (
        (
            "frames_done",
            sa.Integer(),
            "(SELECT count(DISTINCT f->>'number') FROM jsonb_array_elements(document->'frames') f WHERE f->>'status' = 'done')",
        ),
    ),
}


def upgrade() -> None:
    for table, columns in FROM_DOCUMENTS.items():
        for name, kind, value in columns:
            op.add_column(table, sa.Column(name, kind, nullable=True))
            op.execute(f'UPDATE {table} SET "{name}" = {value}')
            op.alter_column(table, name, nullable=False)
    for table in EDITABLE:
        op.create_check_constraint(op.f(f"ck_{table}_version"), table, "version >= 1")
    for table, checks in CHECKS.items():
        for name, text in checks.items():
            op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, text)
    op.create_index("ix_takes_owner_id_started_at_id", "takes", ["owner_id", "started_at", "id"])
    op.create_index("ix_compositions_owner_id_updated_at", "compositions", ["owner_id", "updated_at"])
    op.drop_index("ix_takes_started_at", table_name="takes")


def downgrade() -> None:
    op.create_index("ix_takes_started_at", "takes", ["started_at"])
    op.drop_index("ix_compositions_owner_id_updated_at", table_name="compositions")
    op.drop_index("ix_takes_owner_id_started_at_id", table_name="takes")
    for table, checks in CHECKS.items():
        for name in checks:
            op.drop_constraint(op.f(f"ck_{table}_{name}"), table)
    for table in EDITABLE:
        op.drop_constraint(op.f(f"ck_{table}_version"), table)
    for table, columns in FROM_DOCUMENTS.items():
        for name, _, _ in columns:
            op.drop_column(table, name)
