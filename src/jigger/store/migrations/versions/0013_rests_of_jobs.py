"""What is left of the piece of stock that a job is cut from, where that is kept as it is left."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.add_column("job", sa.Column("rest", sa.String, nullable=False, server_default=""))
