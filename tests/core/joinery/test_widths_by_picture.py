"""Strips and openings of the demo designs against pictures of their files, drawn by a renderer that knows none of it."""

import re

import numpy as np
import pytest
from scipy import ndimage

from jigger.core.cache import Cache
from jigger.core.checks.measuring import least_gap
from jigger.core.joinery.widths.necks import Neck, Necks, gaps, strips
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop
from tests.zoo import raster

PIXELS, FINEST = 3000, 16.0  # along the longer side of a whole picture; a mm at most
PADDED = 80  # pixels all round, more than any opening that is looked for
NEAR = 600  # pixels across a place
PLACES = 8  # of a layer that are looked at closely
TRUE = 0.02  # of a width: three pixels
WORKSHOP = Workshop()
DESIGNS = {design.name: design for design in demo_designs()[::2]}  # each looks at its own; half of them are enough here


def split(drawn: np.ndarray, away: np.ndarray, radius: float) -> int:
    """How many pieces more there are once everything within `radius` pixels of an edge is gone; crumbs of an edge that
    runs out, no wider than a pixel more, are none.
    """
    pieces, _ = ndimage.label(drawn)
    left, count = ndimage.label(away > radius)
    inmost, home = np.zeros(count + 1), np.zeros(count + 1, int)
    np.maximum.at(inmost, left.ravel(), away.ravel())
    home[left.ravel()] = pieces.ravel()
    homes = home[1:][inmost[1:] > radius + 1.0]
    return len(homes) - len(np.unique(homes))


def window(svg: str, x: float, y: float, half: float) -> str:
    """The same file showing only what lies within `half` mm of a point of it."""
    size = f'width="{2 * half}mm" height="{2 * half}mm" viewBox="{x - half} {y - half} {2 * half} {2 * half}"'
    return re.sub(r'width="[^"]*" height="[^"]*" viewBox="[^"]*"', size, svg, count=1)


def measured_on(svg: str, neck: Neck, corner: tuple[float, float], material: bool) -> float:
    """The widest disc about the middle of a place, mm across, on a picture of it."""
    half = 2.0 * neck.width
    drawn = raster(window(svg, neck.at[0] - corner[0], corner[1] - neck.at[1], half), NEAR / (2 * half)) == material
    away = ndimage.distance_transform_edt(np.pad(drawn, 1, constant_values=True))
    middle = (NEAR + 1) / 2
    (radius,) = ndimage.map_coordinates(away, [[middle], [middle]], order=1)
    return 2 * radius * 2 * half / NEAR


def check(svg: str, drawn: np.ndarray, found: Necks, scale: float, corner: tuple[float, float], material: bool) -> None:
    """`drawn`: True where there is material, or for gaps where there is none; `corner`: left and top of the file, mm."""
    for neck in found.necks[:PLACES]:  # it is as narrow as it says,
        assert measured_on(svg, neck, corner, material) <= neck.width * (1 + TRUE)
    least = min([found.reach, *(neck.width for neck in found.necks)])
    away = ndimage.distance_transform_edt(drawn)
    # and nothing is narrower than the narrowest
    assert split(drawn, away, least * scale / 2 - 1.5) == 0, (
        "somewhere it is narrower than the narrowest that was found"
    )


@pytest.mark.parametrize("name", DESIGNS)
def test_pictures_show_the_same_narrow_places(name: str) -> None:
    design = DESIGNS[name]
    for layer in WORKSHOP.exact(design).layers:
        svg, kept = WORKSHOP.written(design, "svg", layer=layer.id, cropped=True), layer.kept
        left, bottom, right, top = kept.bounds or (0.0, 0.0, 1.0, 1.0)
        scale = min(FINEST, PIXELS / max(right - left, top - bottom))
        drawn = np.pad(raster(svg, scale), PADDED)
        check(svg, drawn, strips(kept, layer.material.least_strip, Cache()), scale, (left, top), True)
        check(svg, ~drawn, gaps(kept, least_gap(layer), Cache()), scale, (left, top), False)
