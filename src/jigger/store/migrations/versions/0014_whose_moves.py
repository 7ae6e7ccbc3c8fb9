"""Who made a design show a state, also by undo, redo and going back, and in which window."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    for name in ("window", "who"):
        op.add_column("head_move", sa.Column(name, sa.String, nullable=False, server_default=""))
