"""Versions of designs with names, tags of designs, and which window an edit came from."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "version_name",
        sa.Column("design_id", sa.String, primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("created", sa.String, nullable=False),
    )
    op.add_column("revision", sa.Column("window", sa.String, nullable=False, server_default=""))
    op.add_column("revision", sa.Column("base", sa.Integer, nullable=True))
    op.add_column("design", sa.Column("tags", sa.String, nullable=False, server_default=""))
    op.create_index("head_move_revision", "head_move", ["design_id", "revision"])
    op.create_index("revision_parent", "revision", ["design_id", "parent"])
