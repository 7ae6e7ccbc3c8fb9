"""Pictures that people bring in, by the hash of their bytes."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "picture",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("added", sa.String, nullable=False),
    )
