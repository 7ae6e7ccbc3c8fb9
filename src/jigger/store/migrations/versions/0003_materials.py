"""Materials whose shop rules people made or changed."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "material",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("rules", sa.String, nullable=False),
    )
