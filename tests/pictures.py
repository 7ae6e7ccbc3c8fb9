"""Areas as pictures: an independent way to compute joins, offsets and relations, pixel by pixel."""

import numpy as np
from PIL import Image, ImageDraw
from scipy import ndimage

from jigger.core.geometry.area.region import Region

BOX = (-30.0, -30.0, 90.0, 70.0)  # mm that pictures show
SCALE = 8  # pixels a mm


def picture(region: Region) -> np.ndarray:
    """True where material is: every ring filled by a drawing library, holes taken out again."""
    left, bottom, right, top = BOX
    size = round((right - left) * SCALE), round((top - bottom) * SCALE)
    image = Image.new("1", size)
    draw = ImageDraw.Draw(image)
    for polygon in region.geometry.geoms:
        own = Image.new("1", size)
        ink = ImageDraw.Draw(own)
        for ring, value in [(polygon.exterior, 1), *((hole, 0) for hole in polygon.interiors)]:
            ink.polygon([((x - left) * SCALE - 0.5, (y - bottom) * SCALE - 0.5) for x, y in ring.coords], fill=value)
        draw.bitmap((0, 0), own, fill=1)
    return np.asarray(image)


def thicker(drawn: np.ndarray, distance: float) -> np.ndarray:
    """Grown by mm, or shrunk, by the distance of each pixel from what is drawn."""
    if distance < 0:
        return ~thicker(~drawn, -distance)
    return ndimage.distance_transform_edt(~drawn) <= distance * SCALE if drawn.any() else drawn


def filled(drawn: np.ndarray) -> np.ndarray:
    return ndimage.binary_fill_holes(drawn)


def alike(a: np.ndarray, b: np.ndarray) -> bool:
    """Whether two pictures differ by no more than the width of their edges."""
    return not ndimage.binary_erosion(a ^ b, np.ones((4, 4))).any()
