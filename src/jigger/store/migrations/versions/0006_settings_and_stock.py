"""Speed and force belong to a material on a machine; machines, settings and stock are kept beside the materials."""

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
