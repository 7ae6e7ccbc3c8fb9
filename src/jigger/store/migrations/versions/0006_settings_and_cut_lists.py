"""Speed and force belong to a material on a machine; settings and cut lists are kept, lists with all that was done."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"

FIRST = {"knife": "roll-plotter", "plasma": "plate-table", "laser": "beam-bed"}  # machine of a process


def upgrade() -> None:
    op.create_table(
        "shop",
        sa.Column("kind", sa.String, primary_key=True),
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("text", sa.String, nullable=False),
    )
    op.create_table(
        "cut_list",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("seq", sa.Integer, nullable=False),
        sa.Column("created", sa.String, nullable=False),
        sa.Column("changed", sa.String, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
    )
    op.create_table(
        "cut_list_state",
        sa.Column("list_id", sa.String, sa.ForeignKey("cut_list.id"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("parent", sa.Integer),
        sa.Column("label", sa.String, nullable=False),
        sa.Column("text", sa.String, nullable=False),
        sa.Column("created", sa.String, nullable=False),
    )
    connection = op.get_bind()
    for identity, text in connection.execute(sa.text("SELECT id, rules FROM material")).all():
        rules = json.loads(text)
        speed, force = rules.pop("speed", None), rules.pop("force", None)
        values = {"id": identity, "rules": json.dumps(rules)}
        connection.execute(sa.text("UPDATE material SET rules = :rules WHERE id = :id"), values)
        machine = FIRST.get(rules.get("process", ""))
        if machine and speed is not None and force is not None:
            setting = {"machine": machine, "material": identity, "speed": speed, "force": force}
            row = {"id": f"{machine} {identity}", "text": json.dumps(setting)}
            connection.execute(sa.text("INSERT INTO shop (kind, id, text) VALUES ('setting', :id, :text)"), row)
