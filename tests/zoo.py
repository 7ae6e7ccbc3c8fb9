"""Awkward shapes, run through every operation; and an independent eye on what was written."""

import io
import re
import xml.etree.ElementTree as ET

import numpy as np
import resvg_py
import shapely
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from PIL import Image
from scipy import ndimage

from jigger.core.geometry.area.region import EMPTY, Region, difference, union

SVG = "{http://www.w3.org/2000/svg}"


def square(x: float, y: float, size: float, owner: str = "square") -> Region:
    return Region.polygon(owner, np.array([[x, y], [x + size, y], [x + size, y + size], [x, y + size]]))


RING = difference(square(0, 0, 30), square(8, 8, 14))

ZOO = {
    "empty": EMPTY,
    "square": square(0, 0, 20),
    "ring": RING,
    "island in a ring": union([RING, square(12, 12, 5)]),
    "corner contact": union([square(0, 0, 10), square(10, 10, 10)]),
    "sliver": Region.polygon("sliver", np.array([[0, 0], [40, 0], [40, 0.004]])),
    "bow tie": Region.polygon("bow tie", np.array([[0, 0], [20, 20], [20, 0], [0, 20]])),
    "two apart": union([square(0, 0, 9), square(15, 3, 6)]),
    "spiky": Region.polygon("spiky", np.array([[0, 0], [30, 1], [2, 2], [30, 6], [0, 9]])),
}


def svg_size(text: str) -> tuple[float, float]:
    """Width and height of an SVG in mm, from its own attributes."""
    root = ET.fromstring(text)
    return float(root.attrib["width"].removesuffix("mm")), float(root.attrib["height"].removesuffix("mm"))


def raster(text: str, pixels_per_mm: float) -> np.ndarray:
    """The SVG drawn by a renderer that knows nothing of Jigger: True where material is."""
    width, _ = svg_size(text)
    png = resvg_py.svg_to_bytes(svg_string=text, width=max(8, round(width * pixels_per_mm)), dpi=96.0)
    return np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGBA"))[:, :, 3] > 127


def count_raster(kept: np.ndarray, least_pixels: int = 6) -> tuple[int, int]:
    """Pieces (joined at edges) and enclosed openings (joined at edges or corners) of a picture."""
    kept = np.pad(kept, 2)
    labels, _ = ndimage.label(kept)
    pieces = int((np.bincount(labels.ravel())[1:] >= least_pixels).sum())
    openings, _ = ndimage.label(~kept, structure=np.ones((3, 3)))
    sizes = np.bincount(openings.ravel())
    sizes[0] = sizes[openings[0, 0]] = 0
    return pieces, int((sizes >= least_pixels).sum())


class Sampler(BasePen):
    """A pen that keeps closed paths as points, every curve in 64 equal steps of its parameter."""

    def __init__(self) -> None:
        super().__init__(None)
        self.rings: list[list[tuple[float, float]]] = []

    def _moveTo(self, pt):
        self.rings.append([pt])

    def _lineTo(self, pt):
        self.rings[-1].append(pt)

    def _closePath(self):
        pass

    def _curveToOne(self, *controls):
        controls = np.array([self._getCurrentPoint(), *controls])
        t = np.linspace(0, 1, 65)[1:, None]
        weights = np.hstack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3])
        self.rings[-1] += map(tuple, weights @ controls)


def svg_rings(text: str) -> list[np.ndarray]:
    """Every closed path of an SVG as points, read by a font library's path parser."""
    pen = Sampler()
    for path in ET.fromstring(text).iter(f"{SVG}path"):
        parse_path(path.attrib["d"], pen)
    return [np.array(ring) for ring in pen.rings]


def svg_polygons(text: str) -> shapely.Geometry:
    """The area an SVG's paths enclose by the even-odd rule."""
    area = shapely.MultiPolygon()
    for ring in svg_rings(text):
        area = area.symmetric_difference(contour(ring))
    return area


def contour(ring: np.ndarray) -> shapely.Polygon:
    """The area of a closed contour, which may not cross itself, but that the edges of a needle's tip may change sides
    by less than files have decimals.
    """
    drawn = shapely.Polygon(ring)
    if not drawn.is_valid:
        faces = shapely.polygonize([shapely.node(shapely.LinearRing(ring))]).geoms
        *loops, drawn = sorted(faces, key=lambda face: face.area)
        assert all(loop.buffer(-1e-4).is_empty for loop in loops), "a contour crosses itself"
    return drawn


def hpgl_polygons(text: str) -> list[shapely.Polygon]:
    """Closed contours of an HPGL file in mm, read by the standard: PU moves, PD draws, 0.025 mm a unit."""
    current: list[tuple[float, float]] = []
    rings, at = [], (0, 0)
    for name, words in re.findall(r"([A-Z]{2})([^;]*);", text):
        numbers = [int(word) for word in words.split(",") if word.strip()] if name in ("PU", "PD") else []
        points = list(zip(numbers[0::2], numbers[1::2], strict=True))
        if name == "PU":
            if len(current) > 3:
                rings.append(current)
            at = points[-1] if points else at
            current = [at]
        elif name == "PD":
            current += points
    assert all(ring[0] == ring[-1] for ring in rings), "a contour is not closed"
    return [shapely.Polygon([(x / 40, y / 40) for x, y in ring]) for ring in rings]


def resolved(area: shapely.Geometry, reach: float) -> bool:
    """Whether no neck, gap or long tip of an area is thinner than about twice `reach`, so that a raster sees them."""
    tips = shapely.get_parts(area.difference(area.buffer(-reach).buffer(1.2 * reach)))
    left, bottom, right, top = shapely.bounds(tips).reshape(-1, 4).T
    if (np.hypot(right - left, top - bottom) > 6 * reach).any():
        return False
    counts = []
    for probe in (area, area.buffer(-reach), area.buffer(reach)):
        polygons = [p for p in shapely.get_parts(probe) if p.area > 1e-9]
        counts.append((len(polygons), sum(len(p.interiors) for p in polygons)))
    return len(set(counts)) == 1
