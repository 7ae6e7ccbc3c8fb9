"""The form of a region apart from where it lies: equal forms share what is dear to compute."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar
from weakref import WeakKeyDictionary

import numpy as np
import shapely

from jigger.core.cache import Cache, CacheKey, digest
from jigger.core.geometry.area.region import GRID_PLACES, Region

Made = TypeVar("Made")


@dataclass(frozen=True)
class AreaForm:
    """`shape` tells the vertices of a region from its first one on, ring by ring; where that lies, and whose letters it
    has.
    """

    shape: bytes
    anchor: tuple[float, float]
    letters: tuple[frozenset[str], ...]


_FORMS: WeakKeyDictionary[Region, AreaForm] = WeakKeyDictionary()


def form_of(region: Region) -> AreaForm:
    """The form of a region that is not empty, found once for each region."""
    found = _FORMS.get(region)
    if found is None:
        if by := region.moved_from:
            source, dx, dy = by
            known = form_of(source)
            moved = AreaForm(known.shape, (known.anchor[0] + dx, known.anchor[1] + dy), known.letters)
            return _FORMS.setdefault(region, moved)
        points = shapely.get_coordinates(region.geometry)
        sizes = shapely.get_num_coordinates(shapely.get_rings(region.geometry))
        near = np.rint((points - points[0]) * 10**GRID_PLACES).astype(np.int64)
        shape = digest(sizes.tobytes() + near.tobytes())
        letters = (
            [part.traces[0].birth.family.owners for part in region.cover.parts if part.traces] if region.cover else []
        )
        found = _FORMS[region] = AreaForm(shape, (float(points[0][0]), float(points[0][1])), tuple(letters))
    return found


def shared(region: Region, key: CacheKey, cache: Cache, make: Callable[[], Made]) -> tuple[Made, tuple[float, float]]:
    """What `make` gives for a region, or gave for one of its form before, and how far on from that it lies, mm."""
    form = form_of(region)
    (x, y), made = cache.get((*key, form.shape), lambda: (form.anchor, make()))
    return made, (form.anchor[0] - x, form.anchor[1] - y)


def shared_by_all(
    regions: Sequence[Region], key: CacheKey, cache: Cache, make: Callable[[list[Region]], list[Made]]
) -> list[tuple[Made, tuple[float, float]]]:
    """The same of many regions; `make` gives it for all those at once that have a form of their own."""
    forms = [form_of(region) for region in regions]

    def together(numbers: list[int]) -> list[tuple[tuple[float, float], Made]]:
        made = make([regions[number] for number in numbers])
        return [(forms[number].anchor, one) for number, one in zip(numbers, made, strict=True)]

    found = cache.get_all([(*key, form.shape) for form in forms], together)
    return [(made, (form.anchor[0] - x, form.anchor[1] - y)) for form, ((x, y), made) in zip(forms, found, strict=True)]
