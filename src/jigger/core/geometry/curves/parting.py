"""Nodes that a file, rounded, would write as one: of neighbours one is left out, others are moved a little apart."""

import numpy as np
from scipy.spatial import cKDTree

from jigger.core.geometry.area.rings import neighbours
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, within

MEETING = 1.5e-4  # mm: nodes no further apart may come to lie on each other where coordinates are written to 1e-4
APART = 3e-4  # mm: nodes so far apart never do
LEAST = 3  # segments of an outline
ROUNDS = 4  # as a node that is moved may come near a third


def without_nothings(curves: Curves, ring: Ints) -> Ints | None:
    """The numbers of the segments of closed outlines that are more than rounding, of each outline LEAST at least; None
    where all are.
    """
    size = curves.sizes
    if size.min(initial=MEETING) >= MEETING:
        return None
    longest = np.lexsort((-size, ring))
    rank = np.empty(len(ring), int)
    rank[longest] = within(np.bincount(ring))
    return np.flatnonzero((size >= MEETING) | (rank < LEAST))


def parted(curves: Curves, ring: Ints, polygon: Ints) -> tuple[Curves, Floats | float]:
    """The segments of closed outlines (`ring` (n,): the outline of each; `polygon`: the component of each outline) with
    nodes of a component that are within MEETING mm of each other APART, where they are not neighbours; and how far the
    ends of each were moved, mm. Two that lie on each other move out of the material, each to its own side.
    """
    node = curves.starts.copy()
    ahead, before = neighbours(ring)
    for _ in range(ROUNDS):
        pairs = cKDTree(node).query_pairs(MEETING, output_type="ndarray")
        i, j = pairs.reshape(-1, 2).T
        met = (polygon[ring[i]] == polygon[ring[j]]) & (ahead[i] != j) & (ahead[j] != i)
        i, j = i[met], j[met]
        if not len(i):
            break
        way = node[j] - node[i]
        far = np.hypot(*way.T)
        same = far < 1e-9
        way[same] = (_outward(curves, before, j) - _outward(curves, before, i))[same]
        way /= np.maximum(np.hypot(*way.T), 1e-12)[:, None]
        for which, sign in ((i, -0.5), (j, 0.5)):
            np.add.at(node, which, sign * (APART - far)[:, None] * way)
    moved = np.hypot(*(node - curves.starts).T)
    if not moved.any() and not (curves.ends != node[ahead]).any():
        return curves, 0.0
    return curves.met(node, node[ahead]), np.maximum(moved, moved[ahead])


def _outward(curves: Curves, before: Ints, which: Ints) -> Floats:
    """From each node towards what is no material there, (n, 2): to the right of the way through it."""
    way = curves.heading(before[which], np.ones(len(which))) + curves.heading(which, np.zeros(len(which)))
    return np.column_stack([way[:, 1], -way[:, 0]])
