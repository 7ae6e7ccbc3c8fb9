"""DXF read back by the library's auditing reader and put together by the tests, bulge by bulge."""

import io
import math
import os
import subprocess
import sys

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf import recover
from shapely.ops import polygonize, unary_union

from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.outline import outlines
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}


def read(design: Design, *options: str) -> ezdxf.document.Drawing:
    data = WORKSHOP.file(design, "dxf", *options)
    drawing, auditor = recover.read(io.BytesIO(data))
    assert not auditor.errors and not auditor.fixes
    return drawing


def ring_of(rows: list[tuple[float, float, float]]) -> shapely.Polygon:
    """Arcs by their bulges, worked out here: sweep = 4·atan(bulge)."""
    points: list[tuple[float, float]] = []
    for (x, y, bulge), (to_x, to_y, _) in zip(rows, [*rows[1:], rows[0]], strict=True):
        points.append((x, y))
        chord = math.hypot(to_x - x, to_y - y)
        if abs(bulge) < 1e-9 or chord < 1e-9:
            continue
        sweep = 4 * math.atan(bulge)
        radius = chord / (2 * math.sin(abs(sweep) / 2))
        height = radius * math.cos(abs(sweep) / 2) * math.copysign(1, bulge)
        cx = (x + to_x) / 2 - height * (to_y - y) / chord
        cy = (y + to_y) / 2 + height * (to_x - x) / chord
        first = math.atan2(y - cy, x - cx)
        steps = max(2, math.ceil(abs(sweep) / (2 * math.acos(1 - min(0.9, 0.0005 / radius)))))
        points += [(cx + radius * math.cos(first + sweep * i / steps), cy + radius * math.sin(first + sweep * i / steps))
                   for i in range(1, steps)]  # fmt: skip
    return shapely.Polygon(points)


def areas(drawing: ezdxf.document.Drawing) -> dict[str, shapely.Geometry]:
    """Even-odd, layer by layer."""
    rings: dict[str, list[shapely.Polygon]] = {}
    for one in drawing.modelspace():
        assert one.dxftype() in ("LWPOLYLINE", "POLYLINE") and one.is_closed
        if one.dxftype() == "LWPOLYLINE":
            rows = list(one.get_points("xyb"))
        else:
            rows = [(vertex.dxf.location.x, vertex.dxf.location.y, vertex.dxf.bulge) for vertex in one.vertices]
        rings.setdefault(one.dxf.layer, []).append(ring_of(rows))
    return {layer: odd(some) for layer, some in rings.items()}


def odd(some: list[shapely.Polygon]) -> shapely.Geometry:
    found = shapely.Polygon()
    for ring in sorted(some, key=lambda one: -one.area):
        found = found.symmetric_difference(ring.buffer(0))
    return found


def true_area(kept: Region) -> float:
    """Of what the outlines enclose, their curves followed far more finely than areas are."""
    rings = [ring.flattened(1e-5)[0] for ring in outlines(kept).rings()]
    return sum(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2 for x, y in (ring.T for ring in rings))


@pytest.mark.parametrize("name", DEMO)
def test_areas_come_back_in_mm_a_layer_a_material(name: str) -> None:
    page = WORKSHOP.page(DEMO[name])
    drawing = read(DEMO[name])
    assert drawing.header["$INSUNITS"] == 4 and drawing.dxfversion == "AC1024"
    found = areas(drawing)
    assert len(found) == len(page.layers)
    for layer, area in zip(page.layers, found.values(), strict=True):
        wanted = shapely.affinity.translate(layer.kept.geometry, -page.box[0], -page.box[1])
        assert area.area == pytest.approx(true_area(layer.kept), rel=1e-4, abs=0.02)
        assert area.symmetric_difference(wanted).buffer(-0.0125).is_empty, "within hundredths of a mm all along"
        assert len(shapely.get_parts(area.buffer(-0.02).buffer(0.02))) == len(
            shapely.get_parts(wanted.buffer(-0.02).buffer(0.02))
        )


def test_circles_are_arcs_and_lines_are_lines() -> None:
    drawing = read(DEMO["Yard badge W"])
    on_disc = straight = 0
    for one in drawing.modelspace():
        rows = list(one.get_points("xyb"))
        for (x, y, bulge), (to_x, to_y, _) in zip(rows, [*rows[1:], rows[0]], strict=True):
            straight += bulge == 0
            if all(abs(math.hypot(a - 50, b - 50) - 50) < 1e-3 for a, b in ((x, y), (to_x, to_y))) and bulge:
                radius = math.hypot(to_x - x, to_y - y) / (2 * math.sin(2 * math.atan(abs(bulge))))
                assert radius == pytest.approx(50, abs=1e-3)
                on_disc += 1
    assert 4 <= on_disc <= 12 and straight >= 8, "what is left of the disc's edge is arcs of its radius"


@pytest.mark.parametrize("name", ["Bow name, two colours", "Yard badge, ring", "Water can, side panel"])
def test_the_older_one_says_the_same(name: str, caplog: pytest.LogCaptureFixture) -> None:
    drawing, new = read(DEMO[name], "r12"), read(DEMO[name])
    assert drawing.dxfversion == "AC1009" and "$INSUNITS" not in caplog.text, "nothing for a log"
    for one, other in zip(areas(drawing).values(), areas(new).values(), strict=True):
        assert one.symmetric_difference(other).area < 0.02


@pytest.mark.parametrize("name", ["Merrow", "Bow name, two colours"])
def test_splines_are_the_curves_and_short_lines_are_lines(name: str) -> None:
    page = WORKSHOP.page(DEMO[name])
    kinds: dict[str, list[shapely.LineString]] = {}
    for one in read(DEMO[name], "splines").modelspace():
        points = [tuple(p)[:2] for p in (
            one.flattening(0.001) if one.dxftype() != "LINE" and one.dxftype() != "LWPOLYLINE" else
            [one.dxf.start, one.dxf.end] if one.dxftype() == "LINE" else
            [*one.get_points("xy"), one.get_points("xy")[0]])]  # fmt: skip
        kinds.setdefault(one.dxftype(), []).append(shapely.LineString(points))
    assert "SPLINE" in kinds
    lines = [shapely.set_precision(line, 1e-5) for some in kinds.values() for line in some]
    faces = list(polygonize(unary_union(lines)))
    kept = [shapely.affinity.translate(layer.kept.geometry, -page.box[0], -page.box[1]) for layer in page.layers]
    every = unary_union(kept)
    inside = unary_union([face for face in faces if every.buffer(-0.01).intersects(face.representative_point())])
    assert inside.symmetric_difference(every).area < 2e-4 * every.area
    flat = read(DEMO[name], "polylines")
    assert not any(row[2] for one in flat.modelspace() for row in one.get_points("xyb"))


def test_every_process_writes_the_same_bytes() -> None:
    """The library keeps classes that every file has in a set, whose order is another in each process."""
    program = (
        "import hashlib, sys; from jigger.services.workshop import Workshop; "
        "from jigger.core.design.model.document import read_design; "
        "print(hashlib.sha256(Workshop().file(read_design(sys.stdin.buffer.read()), 'dxf')).hexdigest())"
    )
    given = WORKSHOP.file(next(iter(DEMO.values())), "json")
    found = {
        subprocess.run([sys.executable, "-c", program], input=given, capture_output=True, check=True,
                       env={**os.environ, "PYTHONHASHSEED": seed}).stdout
        for seed in ("1", "2", "4", "6")
    }  # fmt: skip
    assert len(found) == 1


def test_choices_of_curves_are_one_of_three() -> None:
    design = next(iter(DEMO.values()))
    assert WORKSHOP.file(design, "dxf", "arcs") == WORKSHOP.file(design, "dxf")
    for several, words in ((("arcs", "splines"), "arcs and splines"), (("splines", "polylines"), "splines and polylines"),
                           (("splines", "r12"), "R12 has no splines")):  # fmt: skip
        with pytest.raises(CommandRefused, match=words):
            WORKSHOP.file(design, "dxf", *several)
    assert WORKSHOP.file(design, "dxf", "polylines", "r12") != WORKSHOP.file(design, "dxf", "r12")


def test_the_same_design_gives_the_same_bytes_and_layers_have_plain_names() -> None:
    design = DEMO["Bow name, two colours"]
    odd_one = design.model_copy(deep=True)
    odd_one.layers[0].name = 'Größe "7" | <rot>'
    odd_one.layers[1].name = odd_one.layers[0].name
    first = WORKSHOP.file(odd_one, "dxf")
    assert first == WORKSHOP.file(odd_one, "dxf")
    names = [layer.dxf.name for layer in read(odd_one).layers]
    assert len(set(names)) == len(names) and all(
        name.isascii() and not set(name) & set('<>/\\":;?*|=`') for name in names
    )
    assert np.isfinite([row for one in read(odd_one).modelspace() for row in one.get_points("xyb")]).all()
