"""Jobs say which layer they are, in which colour; what they were begun with; whether a person loaded their material."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.add_column("job", sa.Column("layer", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("colour", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("begun", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("loaded", sa.Boolean, nullable=False, server_default=sa.false()))
    # Earlier jobs counted contours, not mm; what they drew is all that is left to say of them.
    op.execute("UPDATE job SET done = 0, total = 0 WHERE state != 'lined up'")
