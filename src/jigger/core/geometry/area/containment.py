"""Lines round an area, put together from the edges of its offsets by what lies inside what."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.region import Region, all_traces
from jigger.core.geometry.curves.curves import Ints

Shapes = NDArray[np.object_]


def ringed(levels: Sequence[Region]) -> Region:
    """The first region, with lines round it: between the second and the third, the fourth and the fifth, and so on.
    Each lies inside the next, and no edge comes near to another's; so they are put together without an overlay.
    """
    polygons = [part for region in levels[:1] for part in region.geometry.geoms]
    for inner, outer in zip(levels[1::2], levels[2::2], strict=True):
        polygons += _between(inner, outer)
    return Region(MultiPolygon(polygons), lambda: all_traces(levels))


def _between(inner: Region, outer: Region) -> list[Polygon]:
    """What of `outer` is not `inner`. Its shells are the outer edges of `outer` and the openings of `inner`; the outer
    edges of `inner` and the openings of `outer` are each a hole in the smallest shell that they lie in.
    """
    fills, openings, _ = _faces(inner)
    around, holes, owner = _faces(outer)
    shells, faces = np.concatenate([around, openings]), np.concatenate([fills, holes])
    inside: list[list[Polygon]] = [[] for _ in shells]
    for holder, face in zip(_holders(shells, faces, np.r_[np.full(len(fills), -1), owner]), faces, strict=True):
        inside[holder].append(face)
    return [
        Polygon(shell.exterior, [face.exterior for face in held]) if held else shell
        for shell, held in zip(shells, inside, strict=True)
    ]


def _faces(region: Region) -> tuple[Shapes, Shapes, Ints]:
    """What its outer edges enclose, and its openings, as polygons; for each opening the number of its outer edge."""
    rings, owner = shapely.get_rings(shapely.get_parts(region.geometry), return_index=True)
    hole = np.diff(owner, prepend=-1) == 0
    faces = shapely.polygons(rings)
    return faces[~hole], faces[hole], owner[hole]


def _holders(shells: Shapes, faces: Shapes, known: Ints) -> Ints:
    """For each face the number of the smallest shell that it lies in. There is one; one that is `known` to hold it (-1:
    none), or the only one whose box does, is not looked at more closely.
    """
    points = shapely.get_point(shapely.get_exterior_ring(faces), 0)
    face, shell = shapely.STRtree(shells).query(points)
    unsure = (np.bincount(face, minlength=len(faces))[face] > 1) & (known[face] != shell)
    held = ~unsure
    held[unsure] = shapely.contains(shells[shell[unsure]], points[face[unsure]])
    face, shell = face[held], shell[held]
    order = np.argsort(-shapely.area(shells[shell]), kind="stable")  # the smallest one last
    result = np.zeros(len(faces), int)
    result[face[order]] = shell[order]
    return result
