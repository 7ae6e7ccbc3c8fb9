"""Outlines: how true, how lean and how fast, beside the raw geometry library and a curve-native boolean library.

The eyes are those of the tests: distances, areas and extremes are measured apart from how the product proves them.
"""

import hashlib
import time
from pathlib import Path

import numpy as np
import pathops
import shapely
from scipy.spatial import cKDTree
from tests.core.geometry.outlined import apart, area, dense, extremes, kinks, off, sizes
from tests.zoo import Sampler

from bench.figures import milliseconds
from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.offsets.offset import grow
from jigger.core.lettering.face import Face
from jigger.core.lettering.lettercase import TEXT_FONTS, LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.text import set_lines

CASE = LetterCase()
NAMED = ("pacifico", "great-vibes", "alfa-slab-one", "anton", "pirata-one")
CUBIC_FACE = "cantarell"
TEXT, HEIGHT = "Merrow Heron", 60.0
LONG = "Quiet Heron and the Plovers Rest at Withy Lock under Merrow Bridge by sea"  # sixty letters
CHARACTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&@!?"
SWEPT = tuple(font for font in TEXT_FONTS if font != "inter")


def run(quick: bool = False) -> dict[str, object]:
    if quick:
        face = CASE.face("anton")
        return {"joins": joins(face), "offset_6_mm": offset(face), "sweep": sweep(("anton",), "B8g")}
    fonts = {font: CASE.face(font) for font in NAMED} | _cubic_face()
    return {
        "joins": {name: joins(face) for name, face in fonts.items()},
        "offset_6_mm": {name: offset(face) for name, face in fonts.items()},
        "letters_60_and_600": {name: many(fonts[name]) for name in ("pacifico", "anton")},
        "sweep": sweep(),
    }


def _cubic_face() -> dict[str, Face]:
    """A face with cubic outlines, where the system has it."""
    found = sorted(Path("/usr/share/fonts").glob("**/Cantarell-Bold.otf")) or sorted(
        Path("/usr/share/fonts").glob("**/Cantarell*.otf")
    )
    if not found:
        return {}
    data = found[0].read_bytes()
    return {CUBIC_FACE: Face(data, hashlib.sha256(data).hexdigest(), "Cantarell")}


def letters(text: str, face: Face, tolerance: float = 0.002, height: float = HEIGHT) -> list[Region]:
    spec = LineSpec(text, tuple(f"t{i}" for i in range(len(split_letters(text)))), face, height)
    return [letter.region for letter in set_lines([spec], Arrangement("left"), tolerance).letters]


def own_nodes(parts: list[Region]) -> int:
    return sum(len(part.traces[0].birth.curves) for part in parts)


def joins(face: Face) -> dict[str, object]:
    parts = letters(TEXT, face)
    region = union(parts)
    found = outlines(region)
    exact = union(letters(TEXT, face, 0.0002))
    points = shapely.get_coordinates(shapely.segmentize(exact.geometry.boundary, 0.05))
    crossings = sum(_crossings(a, b) for i, a in enumerate(parts) for b in parts[i + 1 : i + 3])
    other = _boolean(parts)
    return {
        "nodes": found.nodes,
        "nodes_of_the_font": own_nodes(parts),
        "crossings": crossings,
        "proved_deviation_mm": round(found.deviation, 4),
        "measured_from_region_mm": round(apart(found, region), 4),
        "exact_shape_to_outline_mm": round(float(off(points, [dense(r) for r in found.rings()]).max()), 4),
        "worst_kink_at_smooth_nodes_deg": round(float(kinks(found).max(initial=0)), 2),
        "outline_ms": milliseconds(lambda: outlines(region.moved(0.5, 0.0)), 5)["median_ms"],
        "raw_library_union_ms": _raw_union(parts),
        "boolean_library_ms": milliseconds(lambda: _boolean(parts), 5)["median_ms"],
        "boolean_library_area_off_percent": round(100 * (_ring_area(other) / area(found) - 1), 4),
        "boolean_library_to_outline_mm": _to(other, [dense(r) for r in found.rings()]),
    }


def _crossings(a: Region, b: Region) -> int:
    met = shapely.get_parts(a.geometry.boundary.intersection(b.geometry.boundary))
    return int((~shapely.is_empty(met)).sum())


def _boolean(parts: list[Region]) -> list[np.ndarray]:
    """The letters' own curves united by the curve-native library, as flattened rings."""
    builder = pathops.OpBuilder()
    for part in parts:
        path = pathops.Path(fillType=pathops.FillType.WINDING)
        pen = path.getPen()
        for trace in part.traces:
            pieces = trace.birth.curves.controls[np.unique(trace.birth.curve)].tolist()
            pen.moveTo(pieces[0][0])
            for controls in pieces:
                pen.curveTo(*controls[1:])
            pen.closePath()
        builder.add(path, pathops.PathOp.UNION)
    result = builder.resolve()
    result.convertConicsToQuads()
    sampler = Sampler()
    result.draw(sampler)
    return [np.array(ring) for ring in sampler.rings]


def _ring_area(rings: list[np.ndarray]) -> float:
    area = shapely.MultiPolygon()
    for ring in rings:
        if len(ring) > 3:
            area = area.symmetric_difference(shapely.make_valid(shapely.Polygon(ring)))
    return float(area.area)


def _to(rings: list[np.ndarray], ours: list[np.ndarray]) -> float:
    points = np.concatenate(rings)
    return round(float(off(points, ours).max()), 4)


def offset(face: Face, distance: float = 6.0) -> dict[str, object]:
    parts = letters(TEXT, face)
    region = union(parts)
    outlines(region)
    grown = grow(region, distance, 0.002)
    found = outlines(grown)
    exact = union(letters(TEXT, face, 0.0002))
    source = cKDTree(shapely.get_coordinates(shapely.segmentize(exact.geometry.boundary, 0.01)))
    away = np.abs(source.query(np.concatenate([dense(r, 0.1) for r in found.rings()]))[0] - distance)
    at_nodes, inside = extremes(found)
    finer = exact.geometry.buffer(distance, quad_segs=400).area
    return {
        "nodes": found.nodes,
        "nodes_of_the_font": own_nodes(parts),
        "ratio": round(found.nodes / own_nodes(parts), 2),
        "proved_deviation_mm": round(found.deviation, 4),
        "worst_distance_error_mm": round(float(away.max()), 4),
        "area_off_percent": round(100 * (grown.area / finer - 1), 4),
        "extremes_with_a_node_percent": round(100 * at_nodes / max(1, at_nodes + inside), 1),
        "worst_kink_at_smooth_nodes_deg": round(float(kinks(found).max(initial=0)), 2),
        "grow_anew_ms": milliseconds(lambda: grow(region, distance, 0.002), 3)["median_ms"],
        "raw_library_buffer_ms": milliseconds(lambda: region.geometry.buffer(distance, quad_segs=44), 3)["median_ms"],
    }


def many(face: Face) -> dict[str, object]:
    """Sixty and six hundred letters welded with one 6 mm offset; equal letters share theirs."""
    result: dict[str, object] = {}
    for count, text in ((60, LONG), (600, " ".join([LONG] * 10))):
        cache = Cache()
        parts = letters(text, face)
        for part in parts:
            grow(part, 6.0, 0.002, cache)
        made = cache.made["grown"]
        taken = []
        for _ in range(3):
            start = time.perf_counter()
            grown = [grow(part, 6.0, 0.002, cache) for part in parts]
            placed = time.perf_counter()
            region = union(grown)
            welded = time.perf_counter()
            outlines(region)
            taken.append((placed - start, welded - placed, time.perf_counter() - welded))
        place, weld, outline = (round(1000 * sorted(times)[1], 1) for times in zip(*taken, strict=True))
        result[str(count)] = {
            "letters": len(parts), "glyphs_grown": made, "place_ms": place, "weld_ms": weld, "outline_ms": outline,
            "grown_again_when_warm": cache.made["grown"] - made,
            "raw_library_union_ms": _raw_union(grown),
        }  # fmt: skip
    return result


def _raw_union(regions: list[Region]) -> float:
    return milliseconds(lambda: shapely.union_all([region.geometry for region in regions]), 3)["median_ms"]


def sweep(fonts: tuple[str, ...] = SWEPT, characters: str = CHARACTERS) -> dict[str, object]:
    """Every character of every text font welded to its neighbour, and grown by 3 mm."""
    worst = {"welded_area_off_percent": 0.0, "grown_area_off_percent": 0.0, "deviation_mm": 0.0, "kink_deg": 0.0}
    counts = dict.fromkeys(("outlines", "invalid", "chorded", "short_segments", "at_nodes", "inside"), 0)
    for font in fonts:
        face = CASE.face(font)
        for i, one in enumerate(characters):
            pair = letters(one + CHARACTERS[(i + 7) % len(CHARACTERS)], face)
            if len(pair) < 2:
                continue
            nearer = pair[1].moved(round(pair[0].bounds[2] - pair[1].bounds[0] - 4.0, 4), 0.0)
            welded = union((pair[0], nearer))
            for name, region in (("welded", welded), ("grown", grow(welded, 3.0, 0.002))):
                found = outlines(region)
                rings = found.flattened(0.001)
                valid = all(shapely.Polygon(ring).is_valid for ring in rings)
                percent = abs(100 * (area(found) / region.area - 1))
                worst[f"{name}_area_off_percent"] = max(worst[f"{name}_area_off_percent"], percent)
                worst["deviation_mm"] = max(worst["deviation_mm"], found.deviation)
                worst["kink_deg"] = max(worst["kink_deg"], float(kinks(found).max(initial=0)))
                counts["outlines"] += 1
                counts["invalid"] += not valid
                counts["chorded"] += found.chorded
                if name == "grown":
                    counts["short_segments"] += int((sizes(found) < 0.05).sum())
                    at_nodes, inside = extremes(found)
                    counts["at_nodes"] += at_nodes
                    counts["inside"] += inside
    share = 100 * counts["at_nodes"] / max(1, counts["at_nodes"] + counts.pop("inside"))
    counts.pop("at_nodes")
    return {
        **counts,
        **{name: round(value, 4) for name, value in worst.items()},
        "extremes_with_a_node_percent": round(share, 2),
    }
