"""Who made an edit, where they say their name."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.add_column("revision", sa.Column("who", sa.String, nullable=False, server_default=""))
