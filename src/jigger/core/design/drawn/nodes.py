"""What can be done to the nodes of one path. Each gives a new path; the old one stays as it is.

A `stretch` is counted by the node it leaves; `t` runs along it from 0 to 1.
"""

import math
from collections.abc import Collection
from typing import Any

import numpy as np

from jigger.core.design.drawn.course import SAME, arc_row, drawn_path, handles, segment, stretches
from jigger.core.design.model.strokes import DrawnPath, Node, NodeKind
from jigger.core.geometry.curves.curves import ARC, CUBIC, Curves, Floats

PLACES = 4
LEVEL = 0.02  # mm: an extreme nearer to a node than this is that node's


def as_path(curves: Curves, closed: bool) -> DrawnPath:
    """The nodes that curves end to end run through; where handles lie on one line, smooth ones."""
    count = len(curves)
    if not count:
        return DrawnPath()
    points = curves.starts if closed else np.vstack([curves.starts, curves.ends[-1:]])
    nodes = [{"x": round(x, PLACES), "y": round(y, PLACES)} for x, y in points.tolist()]
    for i in range(count):
        a, b = nodes[i], nodes[(i + 1) % len(nodes)]
        if curves.kind[i] == ARC:
            a["bulge"] = round(math.tan(float(curves.arc[i, 4]) / 4), 9)
        elif curves.kind[i] == CUBIC:
            (a["out_x"], a["out_y"]), (b["in_x"], b["in_y"]) = (
                np.round(curves.controls[i, k] - curves.controls[i, e], PLACES).tolist() for k, e in ((1, 0), (2, 3))
            )
    path = DrawnPath(nodes=[Node(**node) for node in nodes], closed=closed)
    for node in path.nodes:
        if _in_line(node):
            node.kind = "smooth"
    return path


def _in_line(node: Node) -> bool:
    into, out = math.hypot(node.in_x, node.in_y), math.hypot(node.out_x, node.out_y)
    cross = node.in_x * node.out_y - node.in_y * node.out_x
    return into * out > 0 and node.in_x * node.out_x + node.in_y * node.out_y < 0 and abs(cross) < 2e-3 * into * out


def _with(path: DrawnPath, nodes: list[Node], closed: bool | None = None) -> DrawnPath:
    return DrawnPath(nodes=nodes, closed=path.closed if closed is None else closed)


def settled(path: DrawnPath) -> DrawnPath:
    """The same path with every flowing node a smooth one, its handles as they are."""
    return _with(path, [
        node.model_copy(update={"kind": "smooth", "in_x": a, "in_y": b, "out_x": c, "out_y": d})
        if node.kind == "flowing" else node
        for node, (a, b, c, d) in zip(path.nodes, handles(path), strict=True)
    ])  # fmt: skip


def moved(path: DrawnPath, which: Collection[int], dx: float, dy: float) -> DrawnPath:
    """Some nodes further on, their handles with them."""
    return _with(path, [
        node.model_copy(update={"x": round(node.x + dx, PLACES), "y": round(node.y + dy, PLACES)})
        if i in which else node
        for i, node in enumerate(path.nodes)
    ])  # fmt: skip


def with_handle(path: DrawnPath, number: int, side: str, x: float, y: float) -> DrawnPath:
    """The handle on one `side` (in, out) of a node put at a point, mm. That of the other side turns with it at a smooth
    node, and is as long at a symmetric one; a flowing node becomes smooth.
    """
    path = settled(path)
    node = path.nodes[number]
    dx, dy = x - node.x, y - node.y
    values: dict[str, float] = {f"{side}_x": dx, f"{side}_y": dy}
    size, other = math.hypot(dx, dy), "out" if side == "in" else "in"
    if node.kind != "corner" and size > SAME:
        length = size if node.kind == "symmetric" else math.hypot(*(getattr(node, f"{other}_{axis}") for axis in "xy"))
        values |= {f"{other}_x": -dx / size * length, f"{other}_y": -dy / size * length}
    return _changed(path, number, {name: round(value, PLACES) for name, value in values.items()})


def _changed(path: DrawnPath, number: int, values: dict[str, Any]) -> DrawnPath:
    nodes = list(path.nodes)
    nodes[number] = nodes[number].model_copy(update=values)
    return _with(path, nodes)


def of_kind(path: DrawnPath, which: Collection[int], kind: NodeKind) -> DrawnPath:
    """Nodes made corners, smooth, symmetric or flowing. Handles that do not lie on one line are turned to the middle of
    both; where there are none, a third of the way to the neighbours is taken along the line between these.
    """
    if kind in ("corner", "flowing"):
        flat = {"in_x": 0.0, "in_y": 0.0, "out_x": 0.0, "out_y": 0.0} if kind == "flowing" else {}
        base = path if kind == "flowing" else settled(path)
        nodes = [
            node.model_copy(update={"kind": kind, **flat}) if i in which else node for i, node in enumerate(base.nodes)
        ]
        return _with(path, nodes)
    path = settled(path)
    for number in which:
        path = _changed(path, number, _aligned(path, number, kind))
    return path


def _aligned(path: DrawnPath, number: int, kind: NodeKind) -> dict[str, Any]:
    node, count = path.nodes[number], len(path.nodes)
    here, into, out = (np.array(pair) for pair in ((node.x, node.y), (node.in_x, node.in_y), (node.out_x, node.out_y)))
    before = path.nodes[number - 1] if number or path.closed else node
    after = path.nodes[(number + 1) % count] if number + 1 < count or path.closed else node
    to_before, to_after = (np.array([one.x, one.y]) - here for one in (before, after))
    sizes = [float(np.hypot(*one)) or float(np.hypot(*far)) / 3 for one, far in ((into, to_before), (out, to_after))]
    if np.hypot(*into) > SAME or np.hypot(*out) > SAME:
        ways = [one / np.hypot(*one) for one in (out, -into) if np.hypot(*one) > SAME]
        way = np.sum(ways, axis=0)
    else:
        way = to_after - to_before
    way = way / np.hypot(*way) if np.hypot(*way) > SAME else np.array([1.0, 0.0])
    if kind == "symmetric":
        sizes = [sum(sizes) / 2] * 2
    (a, b), (c, d) = np.round(-way * sizes[0], PLACES).tolist(), np.round(way * sizes[1], PLACES).tolist()
    ends = not path.closed and number in (0, count - 1)
    if ends and number == 0:
        a = b = 0.0
    if ends and number == count - 1:
        c = d = 0.0
    return {"kind": kind, "in_x": a, "in_y": b, "out_x": c, "out_y": d}


def with_node(path: DrawnPath, stretch: int, t: float) -> DrawnPath:
    """Another node on a stretch, the path as it was. Raises IndexError."""
    path = settled(path)
    a, b, leaving, arriving = stretches(path)[stretch]
    nodes = list(path.nodes)
    width = round(a.width + t * (b.width - a.width), PLACES)
    if a.bulge:
        sweep = 4 * math.atan(a.bulge)
        row = _whole(a, b)
        angle = row[3] + t * sweep
        x, y = row[0] + row[2] * math.cos(angle), row[1] + row[2] * math.sin(angle)
        new = Node(x=round(x, PLACES), y=round(y, PLACES), width=width, bulge=round(math.tan((1 - t) * sweep / 4), 9))
        nodes[stretch] = a.model_copy(update={"bulge": round(math.tan(t * sweep / 4), 9)})
    elif any(leaving) or any(arriving):
        one, zero = segment(a, b, leaving, arriving), np.zeros(2, int)
        cut = one.between(zero, np.array([0.0, t]), np.array([t, 1.0])).controls
        (x, y), (bx, by) = cut[0, 3].tolist(), cut[1, 3].tolist()
        hands = np.round(
            [cut[0, 1] - cut[0, 0], cut[0, 2] - cut[0, 3], cut[1, 1] - cut[1, 0], cut[1, 2] - (bx, by)], PLACES
        )
        first, into, out, last = hands.tolist()
        new = Node(x=round(x, PLACES), y=round(y, PLACES), width=width, kind="smooth", in_x=into[0], in_y=into[1],
                   out_x=out[0], out_y=out[1])  # fmt: skip
        nodes[stretch] = _freed(a, "out", first)
        after = (stretch + 1) % len(nodes)
        nodes[after] = _freed(nodes[after], "in", last)
    else:
        x, y = a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)
        new = Node(x=round(x, PLACES), y=round(y, PLACES), width=width)
    nodes.insert(stretch + 1, new)
    return _with(path, nodes)


def _freed(node: Node, side: str, hand: list[float]) -> Node:
    """A node with a handle of another length; what was symmetric is smooth then."""
    kind: NodeKind = "smooth" if node.kind == "symmetric" else node.kind
    return node.model_copy(update={f"{side}_x": hand[0], f"{side}_y": hand[1], "kind": kind})


def _whole(a: Node, b: Node) -> list[float]:
    return arc_row(np.array([a.x, a.y]), np.array([b.x, b.y]), a.bulge)


def without(path: DrawnPath, which: Collection[int]) -> DrawnPath:
    """The path through the other nodes only."""
    nodes = [node for i, node in enumerate(path.nodes) if i not in which]
    return _with(path, nodes, path.closed and len(nodes) > 1)


def broken(path: DrawnPath, number: int) -> list[DrawnPath]:
    """The path opened at a node, or where it is open already in two; both ends stand where the node was."""
    nodes = path.nodes
    if path.closed:
        around = [*nodes[number:], *nodes[: number + 1]]
        return [_with(path, _ended(around), False)]
    if number in (0, len(nodes) - 1):
        return [path]
    return [_with(path, _ended(nodes[: number + 1])), _with(path, _ended(nodes[number:]))]


def _ended(nodes: list[Node]) -> list[Node]:
    """Nodes of an open path: beyond its ends it has no handles and no arc."""
    nodes = list(nodes)
    nodes[0] = nodes[0].model_copy(update={"in_x": 0.0, "in_y": 0.0, "round": 0.0})
    nodes[-1] = nodes[-1].model_copy(update={"out_x": 0.0, "out_y": 0.0, "bulge": 0.0, "round": 0.0})
    return nodes


def turned_round(path: DrawnPath) -> DrawnPath:
    """The same path run the other way."""
    back = [
        node.model_copy(update={"in_x": node.out_x, "in_y": node.out_y, "out_x": node.in_x, "out_y": node.in_y})
        for node in reversed(path.nodes)
    ]
    bulges = [-node.bulge for node in reversed(path.nodes)]
    bulges = [*bulges[1:], bulges[0]]  # each belongs to the node that the stretch leaves now
    return _with(path, [node.model_copy(update={"bulge": bulge}) for node, bulge in zip(back, bulges, strict=True)])


def joined(first: DrawnPath, second: DrawnPath, near: float) -> DrawnPath:
    """Two open paths as one, from the end of the first to the start of the second; ends nearer to each other than
    `near` mm become one node.
    """
    a, b = first.nodes[-1], second.nodes[0]
    if math.hypot(a.x - b.x, a.y - b.y) > near:
        return _with(first, [*first.nodes, *second.nodes])
    met = a.model_copy(update={"out_x": b.out_x, "out_y": b.out_y, "bulge": b.bulge})
    return _with(first, [*first.nodes[:-1], met, *second.nodes[1:]])


def closed_up(path: DrawnPath, near: float) -> DrawnPath:
    """The path closed; ends nearer to each other than `near` mm become one node."""
    if len(path.nodes) < 2 or path.closed:
        return path
    a, b = path.nodes[-1], path.nodes[0]
    if len(path.nodes) > 2 and math.hypot(a.x - b.x, a.y - b.y) <= near:
        met = b.model_copy(update={"in_x": a.in_x, "in_y": a.in_y})
        return _with(path, [met, *path.nodes[1:-1]], True)
    return _with(path, path.nodes, True)


def pulled(path: DrawnPath, stretch: int, t: float, x: float, y: float) -> DrawnPath:
    """A stretch pulled so that its point at t lies at x, y, mm: of an arc its sweep, of a curve both handles, as little
    as does it; a line becomes a curve. Smooth nodes at its ends become corners. Raises IndexError.
    """
    path = settled(path)
    a, b, leaving, arriving = stretches(path)[stretch]
    after = (stretch + 1) % len(path.nodes)
    if a.bulge:
        bulge = bulge_through((a.x, a.y), (b.x, b.y), (x, y))
        return path if bulge is None else _changed(path, stretch, {"bulge": bulge})
    start, end = np.array([a.x, a.y]), np.array([b.x, b.y])
    if not any(leaving) and not any(arriving):
        leaving, arriving = tuple((end - start) / 3), tuple((start - end) / 3)
    t = min(max(t, 0.05), 0.95)
    p = np.array([start, start + leaving, end + arriving, end])
    shares = np.array([(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t**3])
    off = np.array([x, y]) - shares @ p
    by = off / (shares[1] ** 2 + shares[2] ** 2)
    first, last = np.round(leaving + shares[1] * by, PLACES), np.round(arriving + shares[2] * by, PLACES)
    path = _changed(path, stretch, _bent(a, "out", first))
    return _changed(path, after, _bent(path.nodes[after], "in", last))


def _bent(node: Node, side: str, hand: Floats) -> dict[str, Any]:
    values: dict[str, Any] = {f"{side}_x": float(hand[0]), f"{side}_y": float(hand[1])}
    kept = _in_line(node.model_copy(update=values))
    return {**values, "kind": "smooth" if kept and node.kind != "corner" else "corner"}


def bulge_through(a: tuple[float, float], b: tuple[float, float], at: tuple[float, float]) -> float | None:
    """Of the arc from a to b through a third point; None where all three are in line."""
    (ax, ay), (bx, by), (x, y) = a, b, at
    to_a, to_b = (ax - x, ay - y), (bx - x, by - y)
    cross, dot = to_a[0] * to_b[1] - to_a[1] * to_b[0], to_a[0] * to_b[0] + to_a[1] * to_b[1]
    if abs(cross) < 1e-9 * (math.hypot(*to_a) * math.hypot(*to_b) + 1e-12):
        return None
    # The angle at a point of an arc over its chord is half of what the arc does not turn through.
    sweep = 2 * (math.pi - abs(math.atan2(cross, dot)))
    return round(math.copysign(math.tan(sweep / 4), -cross), 9)


def bowed(nodes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Nodes as a pen says them: one with a point `through` is reached by the arc through that point."""
    found: list[dict[str, Any]] = []
    for node in nodes:
        node, by = {name: value for name, value in node.items() if name != "through"}, node.get("through")
        if by and found:
            start, end, at = ((one["x"], one["y"]) for one in (found[-1], node, by))
            found[-1]["bulge"] = bulge_through(start, end, at) or 0.0
        found.append(node)
    return found


def as_arc(path: DrawnPath, stretch: int) -> DrawnPath:
    """A stretch as the arc through its ends and its middle; of a line, one of a sixth of a turn. Raises IndexError."""
    path = settled(path)
    a, b, leaving, arriving = stretches(path)[stretch]
    bulge = None
    if any(leaving) or any(arriving):
        x, y = segment(a, b, leaving, arriving).at(np.zeros(1, int), np.array([0.5]))[0].tolist()
        bulge = bulge_through((a.x, a.y), (b.x, b.y), (x, y))
    after = (stretch + 1) % len(path.nodes)
    path = _changed(path, stretch, {"bulge": bulge or round(math.tan(math.pi / 12), 9), "out_x": 0.0, "out_y": 0.0})
    return _changed(path, after, {"in_x": 0.0, "in_y": 0.0})


def as_line(path: DrawnPath, stretch: int) -> DrawnPath:
    """A stretch run straight. Raises IndexError."""
    path = settled(path)
    after = (stretch + 1) % len(path.nodes)
    if stretch >= len(stretches(path)):
        raise IndexError(stretch)
    values = {"bulge": 0.0, "out_x": 0.0, "out_y": 0.0, "kind": "corner"}
    return _changed(_changed(path, stretch, values), after, {"in_x": 0.0, "in_y": 0.0, "kind": "corner"})


def extremes(path: DrawnPath) -> list[tuple[int, float]]:
    """Where a path runs level or upright between its nodes: stretches and t, to have nodes there."""
    found = []
    for i, (a, b, leaving, arriving) in enumerate(stretches(path)):
        if a.bulge:
            row = _whole(a, b)
            quarters = np.arange(-8, 9) * np.pi / 2
            t = (quarters - row[3]) / row[4]
        elif any(leaving) or any(arriving):
            c, d, e = np.diff(segment(a, b, leaving, arriving).controls[0], axis=0)
            roots = [np.roots([(c - 2 * d + e)[axis], 2 * (d - c)[axis], c[axis]]) for axis in (0, 1)]
            t = np.concatenate([one[np.abs(one.imag) < 1e-9].real for one in roots])
        else:
            continue
        one = segment(a, b, leaving, arriving)
        for share in np.sort(t[(t > 0) & (t < 1)]).tolist():
            if _from_ends(one, share) > LEVEL:
                found.append((i, round(share, 6)))
    return found


def _from_ends(one: Curves, share: float) -> float:
    """How far a point of a stretch, which may be an arc in several pieces, is from its ends, mm."""
    place = share * len(one)
    index = min(int(place), len(one) - 1)
    first, point, last = one.at(np.array([0, index, len(one) - 1]), np.array([0.0, place - index, 1.0]))
    return float(min(np.hypot(*(point - first)), np.hypot(*(point - last))))


def with_extremes(path: DrawnPath) -> DrawnPath:
    """The same path with nodes at its extremes."""
    for stretch in sorted({i for i, _ in extremes(path)}, reverse=True):
        done = 0.0
        for n, t in enumerate([t for i, t in extremes(path) if i == stretch]):
            path, done = with_node(path, stretch + n, (t - done) / (1 - done)), t
    return path


def nearest(path: DrawnPath, x: float, y: float, only: int | None = None) -> tuple[int, float, float]:
    """The stretch, of all or `only` one, and t of its point nearest to x, y, and how far that is, mm; (0, 0, inf)
    without a stretch.
    """
    best = (0, 0.0, math.inf)
    t = np.linspace(0, 1, 65)
    for i, (a, b, leaving, arriving) in enumerate(stretches(path)):
        one = segment(a, b, leaving, arriving)
        if not len(one) or only not in (None, i):
            continue
        place = t * len(one)
        index = np.minimum(place.astype(int), len(one) - 1)
        away = np.hypot(*(one.at(index, place - index) - (x, y)).T)
        k = int(away.argmin())
        if away[k] < best[2]:
            best = i, float(t[k]), float(away[k])
    return best


def scaled(path: DrawnPath, by: float, dx: float = 0.0, dy: float = 0.0) -> DrawnPath:
    """The path moved by dx, dy mm and then made `by` times as large; widths are shares and stay."""
    sizes = ("in_x", "in_y", "out_x", "out_y", "round")
    return _with(path, [
        node.model_copy(update={
            "x": round((node.x + dx) * by, PLACES), "y": round((node.y + dy) * by, PLACES),
            **{name: round(getattr(node, name) * by, PLACES) for name in sizes},
        })
        for node in path.nodes
    ])  # fmt: skip


def curve_of(path: DrawnPath) -> Curves:
    """Its curves, without rounded corners."""
    return drawn_path(_with(path, [node.model_copy(update={"round": 0.0}) for node in path.nodes])).curves
