"""Jobs keep their tool path; what earlier ones would have sent is read into one, a line for each of its lines."""

import json
import re
from itertools import pairwise

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

UNITS_PER_MM = 40


def upgrade() -> None:
    with op.batch_alter_table("job") as table:
        table.add_column(sa.Column("path", sa.String, nullable=False, server_default=""))
    connection = op.get_bind()
    for job, program in connection.execute(sa.text("SELECT id, program FROM job")).all():
        values = {"job": job, "path": path_of(program) if program else ""}
        connection.execute(sa.text("UPDATE job SET path = :path WHERE id = :job"), values)
    with op.batch_alter_table("job") as table:
        table.drop_column("program")


def path_of(program: str) -> str:
    """The tool path, as version 1 of its text, of an HPGL program as Jigger wrote it."""
    tools: list[list[float]] = []
    strokes: list[list[object]] = []
    xs, ys = [0.0], [0.0]
    for part in re.split(r"(?=SP|PU)", program):
        if chosen := re.match(r"SP([1-9]\d*);VS(\d+);FS(\d+);", part):
            tools.append([int(chosen[1]), 10.0 * int(chosen[2]), int(chosen[3])])
        numbers = [
            int(number) / UNITS_PER_MM for word in re.findall(r"P[UD]([-\d,]+);", part) for number in word.split(",")
        ]
        points = list(zip(numbers[::2], numbers[1::2], strict=True))
        if len(points) > 1 and tools:
            run = [list(points[0]), *(list(b) for a, b in pairwise(points) if a != b)]
            strokes.append(["", int(tools[-1][0]), "right", [], run, []])
            xs, ys = [*xs, *(x for x, _ in points)], [*ys, *(y for _, y in points)]
    page = [min(xs), min(ys), max(xs), max(ys)]
    return json.dumps({"path": 1, "page": page, "tools": tools, "strokes": strokes}, separators=(",", ":"))
