"""Which machine a job is for, where it waits, how far it came and how true it was; steps found by where they began."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.add_column("job", sa.Column("machine", sa.String, nullable=False, server_default="roll-plotter"))
    op.add_column("job", sa.Column("place", sa.Integer, nullable=False, server_default="0"))
    op.add_column("job", sa.Column("reached", sa.Integer, nullable=False, server_default="0"))
    op.add_column("job", sa.Column("strokes", sa.Integer, nullable=False, server_default="0"))
    op.add_column("job", sa.Column("stray", sa.Double, nullable=True))
    op.add_column("job", sa.Column("pen", sa.Boolean, nullable=False, server_default=sa.false()))
    op.add_column("job", sa.Column("settings", sa.String, nullable=False, server_default=""))
    op.create_index("revision_step", "revision", ["design_id", "step_from"])
    op.drop_index("revision_parent", "revision")
    op.create_index("job_state", "job", ["machine", "state"])
