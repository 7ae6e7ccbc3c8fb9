"""Designs, revisions, head moves, jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "design",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("seq", sa.Integer, nullable=False),
        sa.Column("created", sa.String, nullable=False),
        sa.Column("changed", sa.String, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
    )
    op.create_table(
        "revision",
        sa.Column("design_id", sa.String, sa.ForeignKey("design.id"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("parent", sa.Integer),
        sa.Column("step_from", sa.Integer),
        sa.Column("label", sa.String, nullable=False),
        sa.Column("command", sa.String, nullable=False),
        sa.Column("snapshot", sa.String, nullable=False),
        sa.Column("burst", sa.String),
        sa.Column("created", sa.String, nullable=False),
    )
    op.create_table(
        "head_move",
        sa.Column("design_id", sa.String, primary_key=True),
        sa.Column("seq", sa.Integer, primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.ForeignKeyConstraint(["design_id", "revision"], ["revision.design_id", "revision.number"]),
    )
    op.create_table(
        "job",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("design_id", sa.String, sa.ForeignKey("design.id"), nullable=False),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("material", sa.String, nullable=False),
        sa.Column("state", sa.String, nullable=False),
        sa.Column("message", sa.String, nullable=False),
        sa.Column("done", sa.Double, nullable=False),
        sa.Column("total", sa.Double, nullable=False),
        sa.Column("program", sa.String, nullable=False),
        sa.Column("picture", sa.String, nullable=False),
        sa.Column("created", sa.String, nullable=False),
        sa.Column("changed", sa.String, nullable=False),
    )
