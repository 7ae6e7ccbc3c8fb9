"""Proofs that customers look at by a link, and what they say to them."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "proof",
        sa.Column("token", sa.String, primary_key=True),
        sa.Column("design_id", sa.String, sa.ForeignKey("design.id"), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("created", sa.String, nullable=False),
        sa.Column("withdrawn", sa.String, nullable=False, server_default=""),
    )
    op.create_index("proof_design", "proof", ["design_id"])
    op.create_table(
        "proof_word",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("token", sa.String, sa.ForeignKey("proof.token"), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("words", sa.String, nullable=False),
        sa.Column("approved", sa.Boolean, nullable=False),
        sa.Column("created", sa.String, nullable=False),
    )
    op.create_index("proof_word_token", "proof_word", ["token"])
