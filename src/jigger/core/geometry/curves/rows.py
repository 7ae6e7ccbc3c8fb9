"""Chains of curves as plain rows of numbers, to be kept and read again.

A chain is its start and then its segments: [x, y] a line to there, six numbers a cubic (both handles and its end),
[x, y, radius, angle, sweep] an arc about there, radians; mm.
"""

from math import cos, isfinite, sin

import numpy as np

from jigger.core.geometry.curves.curves import ARC, LINE, Curves

PLACES = 7
Rows = list[list[float]]


def to_rows(curves: Curves, places: int = PLACES) -> Rows:
    """Nothing for a chain of nothing."""
    if not len(curves):
        return []
    rows: Rows = [curves.starts[0].round(places).tolist()]
    for kind, controls, arc in zip(
        curves.kind.tolist(), curves.controls.round(places).tolist(), curves.arc.round(places + 2).tolist(), strict=True
    ):
        if kind == ARC:
            rows.append(arc)
        else:
            rows.append(controls[3] if kind == LINE else [*controls[1], *controls[2], *controls[3]])
    return rows


def from_rows(rows: Rows) -> Curves:
    """The chain again. Raises ValueError where a row is none."""
    if not rows:
        return Curves.of(())
    (x, y), straight, arcs, order = rows[0], [], [], []
    for row in rows[1:]:
        if len(row) not in (2, 5, 6):
            raise ValueError(f"a row of {len(row)} numbers")
        if not all(isfinite(value) for value in row):
            raise ValueError("a number without end")
        order.append(len(row) == 5)
        if len(row) == 5:
            arcs.append(row)
            x, y = row[0] + row[2] * cos(row[3] + row[4]), row[1] + row[2] * sin(row[3] + row[4])
        else:
            straight.append([[x, y], *(list(point) for point in zip(row[::2], row[1::2], strict=True))])
            x, y = row[-2:]
    return Curves.mixed([np.array(one) for one in straight], np.array(arcs, float).reshape(-1, 5), order)
