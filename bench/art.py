"""Art from files: letters of every text font printed, compressed and traced, against themselves; how long files take.

The raw library's figure is that of the contour alone: the same picture followed between its pixels, no curve fitted.
"""

import io
import re
import time

import contourpy
import numpy as np
import resvg_py
import shapely
from PIL import Image

from jigger.core.art.found import found_art
from jigger.core.art.pictures import picture_of
from jigger.core.design.starters import plain_lettering
from jigger.core.geometry.curves.outline import outlines
from jigger.core.lettering.lettercase import SHIPPED
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

AROUND = 5.0  # mm
WORDS = "Heron&8"


def run(quick: bool = False) -> dict[str, object]:
    workshop = Workshop()
    fonts = [one for one, entry in SHIPPED.items() if "pict" not in entry.character][: 2 if quick else None]
    return {"traced at 300 dpi, JPEG 80": traced(workshop, fonts), "seconds": seconds(workshop, 2 if quick else None)}


def scan(
    workshop: Workshop, font: str, text: str = WORDS, dpi: int = 300, quality: int = 80
) -> tuple[bytes, shapely.Geometry, int]:
    """A JPEG of letters 30 mm high, their true area in the picture's mm, and how many nodes they have."""
    design = plain_lettering(text, [(text, font, 30.0)], (len(text) * 45.0, 80.0))
    built = workshop.exact(design)
    left, bottom, right, top = built.page_box
    columns, rows = (int((size + 2 * AROUND) * dpi / 25.4) for size in (right - left, top - bottom))
    per = 25.4 / dpi
    head = f'width="{columns}" height="{rows}" viewBox="{-AROUND} {-AROUND} {columns * per} {rows * per}"'
    svg = re.sub(r'width="[^"]*" height="[^"]*" viewBox="[^"]*"', head, workshop.written(design, "svg"), count=1)
    drawn = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, dpi=96.0, background="#ffffff"))))
    stream = io.BytesIO()
    drawn.convert("L").save(stream, "JPEG", quality=quality, dpi=(dpi, dpi))
    kept = built.layers[0].kept
    shift = -left + AROUND, -top + rows * per - AROUND
    return stream.getvalue(), shapely.affinity.translate(kept.geometry, *shift), outlines(kept).nodes


def away(a: shapely.Geometry, b: shapely.Geometry) -> np.ndarray:
    """How far points along each boundary are from the other, mm."""
    sides = [(x.boundary, y.boundary) for x, y in ((a, b), (b, a))]
    return np.concatenate(
        [shapely.distance(shapely.points(shapely.get_coordinates(shapely.segmentize(x, 0.05))), y) for x, y in sides]
    )


def traced(workshop: Workshop, fonts: list[str]) -> dict[str, object]:
    off, plain, shares = [], [], {}
    for font in fonts:
        data, true, nodes = scan(workshop, font)
        (one,) = picture_of(data).painted
        off.append(away(one.area.geometry, true))
        shares[font] = outlines(one.area).nodes / nodes
        plain.append(contour(data, true))
    every, bare = np.concatenate(off), np.concatenate(plain)
    return {
        "fonts": len(fonts), "mean mm": round(float(every.mean()), 4),
        "p99 mm": round(float(np.percentile(every, 99)), 4),
        "max mm": round(float(every.max()), 3), "contour alone, mean mm": round(float(bare.mean()), 4),
        "nodes, of the letters' own, median": round(float(np.median(list(shares.values()))), 2),
        "most": max(shares, key=shares.__getitem__), "its share": round(max(shares.values()), 2),
    }  # fmt: skip


def contour(data: bytes, true: shapely.Geometry) -> np.ndarray:
    """How far the contour of the library alone lies from the letters."""
    ink = np.pad(255.0 - np.asarray(Image.open(io.BytesIO(data)).convert("L"), float), 1)
    found = [np.asarray(line, float) for line in contourpy.contour_generator(z=ink, name="serial").lines(127.5)]
    lines = [line for line in found if len(line) > 30]
    points = np.concatenate([np.column_stack([line[:, 0] - 0.5, len(ink) - 2 - (line[:, 1] - 0.5)]) for line in lines])
    return np.asarray(shapely.distance(shapely.points(points * 25.4 / 300), true.boundary))


def seconds(workshop: Workshop, some: int | None) -> dict[str, float]:
    """The slowest demo design read back of each kind of file, and a large picture."""
    worst: dict[str, float] = {}
    for design in demo_designs()[:some]:
        for kind in ("svg", "dxf", "pdf"):
            data = workshop.file(design, kind)
            begun = time.perf_counter()
            found_art(data, kind)
            worst[kind] = max(worst.get(kind, 0.0), round(time.perf_counter() - begun, 2))
    data, _, _ = scan(workshop, "lobster", WORDS if some else "Heron&8 Merrow", 300 if some else 640)
    wide, high = Image.open(io.BytesIO(data)).size
    begun = time.perf_counter()
    picture_of(data)
    worst[f"picture of {wide * high / 1e6:.1f} million pixels"] = round(time.perf_counter() - begun, 2)
    return worst
