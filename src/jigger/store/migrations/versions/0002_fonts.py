"""Fonts that people add, and favourites."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "font",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("family", sa.String, nullable=False),
        sa.Column("digest", sa.String, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("added", sa.String, nullable=False),
        sa.Column("removed", sa.Boolean, nullable=False),
    )
    op.create_table("favourite", sa.Column("font", sa.String, primary_key=True))
