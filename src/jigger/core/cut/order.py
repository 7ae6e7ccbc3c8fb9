"""The order of contours: what lies inside is cut before what is round it, with short travel between."""

import numpy as np

from jigger.core.geometry.curves import Floats
from jigger.core.geometry.nesting import rings_inside
from jigger.core.geometry.region import Region


def ordered_contours(region: Region, start: tuple[float, float]) -> list[Floats]:
    """All closed rings of a region, each begun at the vertex nearest to where the tool comes from.

    A ring is cut only after every ring inside it; among those that may be cut the nearest is next.
    """
    rings = list(region.rings())
    if not rings:
        return []
    inside = rings_inside(rings)
    at = np.array(start, float)
    waiting = set(range(len(rings)))
    done: list[Floats] = []
    while waiting:
        free = [i for i in waiting if not inside[i] & waiting]
        nearest = min(free, key=lambda i: (float(((rings[i] - at) ** 2).sum(axis=1).min()), i))
        open_ring = rings[nearest][:-1]
        first = int(((open_ring - at) ** 2).sum(axis=1).argmin())
        begun = np.roll(open_ring, -first, axis=0)
        done.append(np.vstack([begun, begun[:1]]))
        at = done[-1][-1]
        waiting.remove(nearest)
    return done
