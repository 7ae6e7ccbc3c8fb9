"""Artwork by itself: contours from a file as an area that keeps their curves."""

import hashlib
import json

from jigger.core.design.building.built import Problem
from jigger.core.design.building.local import ENGINE, NOWHERE, Local, nothing
from jigger.core.design.building.making import Making
from jigger.core.design.building.pictured import Pictures, PlacedPicture
from jigger.core.design.model.design import Artwork
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.rows import from_rows


def artwork(part: Artwork, making: Making, tol: float) -> Local:
    """What its contours enclose, with its picture where it is printed; empty with a problem where that is nothing."""
    digest = hashlib.sha256(part.outline.encode()).hexdigest()
    key = ("artwork", ENGINE, tol, part.id, digest, part.scale)

    def make() -> Region:
        contours = [from_rows(rows) for rows in json.loads(part.outline)]
        return Leaf(contours, tol / part.scale).placed(part.id, Affine.scale(part.scale))

    region = making.cache.get(key, make)
    if region.is_empty:
        return nothing(Problem("nothing-inside", part.id, f"“{part.title}” encloses nothing; bring its file in again"))
    pictures: Pictures = ()
    if part.picture and part.id in making.printed:
        place = part.picture.place.then(Affine.scale(part.scale))
        pictures = (PlacedPicture(part.id, part.picture, place, region),)
    return Local(key, region, region.bounds or NOWHERE, pictures=pictures)
