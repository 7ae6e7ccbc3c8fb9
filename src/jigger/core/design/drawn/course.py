"""Courses to curves: the nodes of paths, arcs, rounded corners, and how wide the pen is along them."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jigger.core.design.drawn.rounding import rounded
from jigger.core.design.model.strokes import DrawnPath, Node, StrokeCourse
from jigger.core.geometry.curves.curves import Curves, Floats

SAME = 1e-6  # mm: nodes nearer than this are one

Handles = tuple[float, float, float, float]
Stretch = tuple[Node, Node, tuple[float, float], tuple[float, float]]


@dataclass(frozen=True, eq=False)
class CourseRun:
    """A course's curves end to end, mm in the part, and whether they close. `widths`: the share of the pen's width at
    each segment's start and end, (n, 2); None where it is the same all along.
    """

    curves: Curves
    closed: bool
    widths: Floats | None = None


def drawn(course: StrokeCourse) -> list[CourseRun]:
    """Those of its paths that have a length."""
    if course.kind == "line":
        turned = np.radians(course.angle)
        end = np.array([[course.length * np.cos(turned), course.length * np.sin(turned)]])
        return [CourseRun(Curves.lines(np.zeros((1, 2)), end), False)]
    if course.kind in ("circle", "arc"):
        sweep = 360.0 if course.kind == "circle" else course.sweep
        row = [0.0, 0.0, course.radius, np.radians(course.start), np.radians(sweep)]
        return [CourseRun(Curves.arcs(np.array([row])), abs(sweep) >= 360)] if sweep else []
    found = (drawn_path(path) for path in course.paths)
    return [one for one in found if len(one.curves)]


def drawn_path(path: DrawnPath) -> CourseRun:
    """One path's curves."""
    every = stretches(path)
    curves, counts = _segments(every)
    runs = [(a, b) for (a, b, *_), count in zip(every, counts, strict=True) if count]
    ends = np.cumsum([count for count in counts if count]).tolist()
    begins = [0, *ends[:-1]]
    whole, shares = curves, [(a.width, b.width) for a, b in runs]
    counts = [count for count in counts if count]
    if any(node.round for node in path.nodes):
        pieces = [curves[i:j] for i, j in zip(begins, ends, strict=True)]
        whole, shares, counts = _with_round_corners(path.closed, runs, pieces)
    varies = any(node.width != 1.0 for node in path.nodes)
    closed = path.closed and len(whole) > 1
    if len(whole):
        met = np.vstack([whole.ends[:-1], whole.starts[:1] if closed else whole.ends[-1:]])
        whole = whole.met(np.vstack([whole.starts[:1], whole.ends[:-1]]), met)
    widths = [
        one for (a, b), count in zip(shares, counts, strict=True) for one in pairwise(np.linspace(a, b, count + 1))
    ]
    return CourseRun(whole, closed, np.array(widths) if varies and widths else None)


def _segments(every: list[Stretch]) -> tuple[Curves, list[int]]:
    """All stretches as curves, and in how many pieces each comes: more than one are of an arc, none of no length."""
    straight: list[Floats] = []
    arcs: list[list[float]] = []
    is_arc: list[bool] = []
    counts = []
    for a, b, leaving, arriving in every:
        apart = math.hypot(b.x - a.x, b.y - a.y) > SAME
        start, end = np.array([a.x, a.y]), np.array([b.x, b.y])
        if a.bulge and apart:
            arcs.append(arc_row(start, end, a.bulge))
            counts.append(len(Curves.arcs(np.array(arcs[-1:]))))
            is_arc += [True] * counts[-1]
        elif any(leaving) or any(arriving):
            straight.append(np.array([start, start + leaving, end + arriving, end]))
            counts.append(1)
            is_arc.append(False)
        else:
            straight += [np.array([start, end])] if apart else []
            counts.append(int(apart))
            is_arc += [False] if apart else []
    return Curves.mixed(straight, np.array(arcs, float).reshape(-1, 5), is_arc), counts


def _with_round_corners(
    closed: bool, runs: list[tuple[Node, Node]], curves: list[Curves]
) -> tuple[Curves, list[tuple[float, float]], list[int]]:
    """The curves with arcs at corners that are to be round; widths at the ends of each part, and its pieces."""
    whole, count = list(curves), len(curves)
    joints: dict[int, Curves] = {}
    for i, (_, node) in enumerate(runs):
        after = (i + 1) % count
        if node.round and (closed or i + 1 < count) and count > 1:
            room = (0.5 if runs[i][0].round else 1.0, 0.5 if runs[after][1].round else 1.0)
            if found := rounded(curves[i], curves[after], node.round, room, (whole[i], whole[after])):
                curves[i], joints[i], curves[after] = found
    parts, shares = [], []
    for i, (a, b) in enumerate(runs):
        parts.append(curves[i])
        shares.append((a.width, b.width))
        if i in joints:
            parts.append(joints[i])
            shares.append((b.width, b.width))
    return Curves.joined(parts), shares, [len(part) for part in parts]


def stretches(path: DrawnPath) -> list[Stretch]:
    """Each stretch of a path: its nodes, the handle that leaves the first and the one that arrives at the second."""
    nodes, bent = path.nodes, handles(path)
    last = len(nodes) - 1
    ways = [(i, i + 1) for i in range(last)] + ([(last, 0)] if path.closed and last > 0 else [])
    return [(nodes[i], nodes[j], bent[i][2:], bent[j][:2]) for i, j in ways]


def handles(path: DrawnPath) -> list[Handles]:
    """The handles of each node, to the one before it and to the one after, said from it. Those of flowing ones lie
    along the line from the node before to the one after, a sixth of it long (Catmull and Rom's spline).
    """
    nodes = path.nodes
    last = len(nodes) - 1
    found: list[Handles] = []
    for i, node in enumerate(nodes):
        if node.kind != "flowing":
            found.append((node.in_x, node.in_y, node.out_x, node.out_y))
            continue
        before = nodes[i - 1] if i or path.closed else node
        after = nodes[i + 1 if i < last else 0] if i < last or path.closed else node
        x, y = round((after.x - before.x) / 6, 3), round((after.y - before.y) / 6, 3)
        found.append((-x, -y, x, y))
    return found


def segment(a: Node, b: Node, leaving: tuple[float, float], arriving: tuple[float, float]) -> Curves:
    """From a node to the next: a line, a cubic, or an arc in pieces; nothing where they are one."""
    return _segments([(a, b, leaving, arriving)])[0]


def arc_row(start: Floats, end: Floats, bulge: float) -> list[float]:
    """Centre x, y, radius, start angle and sweep (radians) of the arc between two points; `bulge`: see Node."""
    chord = end - start
    sweep = 4 * float(np.arctan(bulge))
    away = (1 / bulge - bulge) / 4  # the centre's distance from the chord, in chords, to its left
    x, y = (start + end) / 2 + away * np.array([-chord[1], chord[0]])
    radius = float(np.hypot(start[0] - x, start[1] - y))
    return [float(x), float(y), radius, float(np.arctan2(start[1] - y, start[0] - x)), sweep]
