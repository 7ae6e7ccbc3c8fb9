"""Which piece of stock a job lies on, so that what it uses is taken off when it is cut; and where it came from."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.add_column("job", sa.Column("list_id", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("run", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("stock", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("used", sa.Double, nullable=False, server_default="0"))
    op.add_column("job", sa.Column("booked", sa.String, nullable=False, server_default=""))
