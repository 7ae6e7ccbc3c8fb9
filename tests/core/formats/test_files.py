"""Files read back by what did not write them: an own parser, a foreign renderer."""

import json
import re
import xml.etree.ElementTree as ET
from collections.abc import Sequence

import numpy as np
import pytest
import shapely
from fontTools.pens.boundsPen import BoundsPen
from fontTools.svgLib.path import parse_path
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from jigger.core.checks.findings import LayerReport
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import VERSION, Design
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.core.geometry.boxes import around
from jigger.core.geometry.curves.outline import outlines
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop
from tests.zoo import SVG, count_raster, hpgl_polygons, raster, resolved, svg_polygons, svg_size

DEMO = {design.name: design for design in demo_designs()}
WORKSHOP = Workshop()
# What is cut by itself: a design of one layer, or a layer of a design of several.
JOBS = {
    name if len(design.layers) == 1 else f"{name}, {layer.id}": (design, layer.id)
    for name, design in DEMO.items()
    for layer in design.layers
    if layer.build != "print"
}


def svg(name: str) -> str:
    design, layer = JOBS[name]
    return WORKSHOP.written(design, "svg", layer=layer, cropped=True)


def hpgl(name: str) -> str:
    design, layer = JOBS[name]
    return WORKSHOP.written(design, "plt", layer=layer, cropped=True)


def kept(name: str) -> Built:
    design, layer = JOBS[name]
    return WORKSHOP.exact(design).only(layer)


def reported(name: str) -> list[LayerReport]:
    design, layer = JOBS[name]
    return [one for one in WORKSHOP.report(design).layers if one.id == layer]


def check_svg(text: str, layers: Sequence[LayerReport], pixels_per_mm: float) -> None:
    """Pieces, holes and area of the drawn SVG are those of the report."""
    width, height = svg_size(text)
    drawn = raster(text, pixels_per_mm)
    pieces, holes = count_raster(drawn)
    assert (pieces, holes) == (sum(x.pieces for x in layers), sum(x.holes for x in layers))
    area = sum(layer.area for layer in layers)
    outline = sum(layer.outline for layer in layers)
    rows, columns = np.nonzero(drawn)
    pixel = (width / (np.ptp(columns) + 1)) * (height / (np.ptp(rows) + 1))  # as drawn: renderers round the page
    assert drawn.sum() * pixel == pytest.approx(area, abs=outline / pixels_per_mm)
    assert svg_polygons(text).area == pytest.approx(area, rel=5e-4)
    assert all(layer.deviation <= 0.013 for layer in layers)


@pytest.mark.parametrize("name", JOBS)
def test_demo_designs_are_drawn_as_reported(name: str) -> None:
    check_svg(svg(name), reported(name), 8)


words = st.text("ABDEGORSTabdegor0468&@%", min_size=1, max_size=7)


@settings(max_examples=9)
@given(
    words,
    st.sampled_from(TEXT_FONTS),
    st.sampled_from([12.0, 40.0, 90.0]),
    st.sampled_from(["stencil-plate", "initial-in-shape"]),
)
def test_any_words_are_drawn_as_reported(text: str, font: str, height: float, name: str) -> None:
    size = {"size_mm": 100} if name == "initial-in-shape" else {}
    design = starter(name).make({"text": text, "font": font, "height_mm": height, **size})
    report = WORKSHOP.report(design)
    assume(report.layers[0].pieces and not report.layers[0].specks)
    pixels_per_mm = 2400 / max(svg_size(WORKSHOP.written(design, "svg")))
    assume(resolved(svg_polygons(WORKSHOP.written(design, "svg")), 1.0 / pixels_per_mm))
    check_svg(WORKSHOP.written(design, "svg"), report.layers, pixels_per_mm)
    if name == "stencil-plate":
        assert report.layers[0].pieces == 1 and not report.layers[0].loose


@pytest.mark.parametrize("name", list(JOBS)[1::2])
def test_the_svg_is_plain_and_at_true_size(name: str) -> None:
    text = svg(name)
    root = ET.fromstring(text)
    left, bottom, right, top = kept(name).box
    assert svg_size(text) == pytest.approx((right - left, top - bottom), abs=0.013)
    assert root.attrib["viewBox"] == "0 0 {} {}".format(
        *(root.attrib[k].removesuffix("mm") for k in ("width", "height"))
    )
    groups = list(root)
    assert [g.attrib["data-layer"] for g in groups] == [JOBS[name][1]]
    assert groups[0].attrib["data-material"] == reported(name)[0].material
    for element in root.iter():
        assert element.tag in (f"{SVG}svg", f"{SVG}g", f"{SVG}path")
        assert not {"transform", "style", "class"} & set(element.attrib)
        if element.tag == f"{SVG}path":
            assert {"fill", "fill-rule", "d"} <= set(element.attrib)
            assert re.fullmatch(r"(M[-\d., ]+([LC][-\d., ]+)+Z)+", element.attrib["d"])
    box = shapely.total_bounds(svg_polygons(text))
    assert box == pytest.approx([0, 0, right - left, top - bottom], abs=0.013)
    assert true_bounds(text) == pytest.approx([0, 0, *svg_size(text)], abs=1.5e-4), "curves end inside the page"


def true_bounds(text: str) -> list[float]:
    """The box of the curves themselves, as a reader of fonts takes it."""
    pen = BoundsPen(None)
    for element in ET.fromstring(text).iter(f"{SVG}path"):
        parse_path(element.attrib["d"], pen)
    return list(pen.bounds)


@pytest.mark.parametrize("name", list(JOBS)[0::2])
def test_the_hpgl_holds_the_same_contours(name: str) -> None:
    """Each contour closed, within a unit of the region's, the box's corner at the origin."""
    rings = hpgl_polygons(hpgl(name))
    built = kept(name)
    left, bottom, *_ = built.box
    lines = shapely.MultiLineString([r - (left, bottom) for layer in built.layers for r in layer.kept.rings()])
    drawn = shapely.MultiLineString([ring.exterior for ring in rings])
    assert len(rings) == len(lines.geoms)
    for one, other in ((lines, drawn), (drawn, lines)):
        shapely.prepare(one)
        assert shapely.dwithin(one, shapely.points(shapely.get_coordinates(other)), 0.025).all()
    assert drawn.bounds[:2] == pytest.approx((0, 0), abs=0.013)
    area = shapely.MultiPolygon()
    for ring in rings:
        area = area.symmetric_difference(shapely.make_valid(ring))
    assert area.area == pytest.approx(sum(layer.kept.area for layer in built.layers), rel=1e-3)


@pytest.mark.parametrize("name", list(JOBS)[1::2])
def test_cuts_begin_on_the_flat(name: str) -> None:
    """No contour of the demo has only corners and short lines, so none begins at a corner."""
    for ring in hpgl_polygons(hpgl(name)):
        points = np.array(ring.exterior.coords)
        arriving, leaving = points[-1] - points[-2], points[1] - points[0]
        cross = arriving[0] * leaving[1] - arriving[1] * leaving[0]
        turn = np.degrees(np.arctan2(cross, arriving @ leaving))
        assert abs(turn) < 20, "a unit of rounding turns short steps by as much; a corner turns further"


@pytest.mark.parametrize("name", list(JOBS)[0::2])
def test_inside_is_cut_before_outside(name: str) -> None:
    rings = hpgl_polygons(hpgl(name))
    for i, ring in enumerate(rings):
        for later in rings[i + 1 :]:
            assert not (ring.area > later.area and ring.contains(later.representative_point()))


@pytest.mark.parametrize("name", list(JOBS)[::3])
def test_the_same_design_gives_the_same_bytes(name: str) -> None:
    again, (design, layer) = Workshop(), JOBS[name]
    assert again.written(design, "svg", layer=layer, cropped=True) == svg(name)
    assert again.written(design, "plt", layer=layer, cropped=True) == hpgl(name)


def test_layers_take_the_colour_they_are_given() -> None:
    design = DEMO["Merrow"].model_copy(deep=True)
    design.layers[0].colour = "#aa3355"
    assert 'fill="#aa3355"' in WORKSHOP.written(design, "svg")


@pytest.mark.parametrize("name", list(JOBS)[1::2])
def test_the_svg_says_how_true_it_is(name: str) -> None:
    groups = list(ET.fromstring(svg(name)))
    for group, layer in zip(groups, reported(name), strict=True):
        assert (
            float(group.attrib["data-deviation"]) == pytest.approx(layer.deviation, abs=6e-5)
            and layer.deviation <= 0.013
        )
        segments = 0
        for ring in re.findall(r"M([^Z]*)Z", "".join(path.attrib["d"] for path in group)):
            points = re.findall(r"[-\d.]+,[-\d.]+", ring)
            segments += len(re.findall("[LC]", ring)) + (points[0] != points[-1])  # closing draws a last line
        assert int(group.attrib["data-nodes"]) == layer.nodes == segments


@pytest.mark.parametrize("name", ["Plover’s Rest", "Yard badge W"])
def test_arcs_on_request_enclose_the_same(name: str) -> None:
    plain, arcs = svg(name), WORKSHOP.written(DEMO[name], "svg", "arcs")
    assert "A" not in "".join(re.findall(' d="([^"]*)"', plain))
    found = re.findall(r"A([\d.]+),([\d.]+) 0 [01] [01] ", arcs)
    assert len(found) >= 8 and all(x == y for x, y in found)
    assert svg_polygons(arcs).area == pytest.approx(svg_polygons(plain).area, rel=5e-4)
    assert svg_polygons(arcs).symmetric_difference(svg_polygons(plain)).area < 0.012 * svg_polygons(plain).length
    assert count_raster(raster(arcs, 6)) == count_raster(raster(plain, 6))


def test_nothing_to_cut_is_refused_not_written() -> None:
    for kind in ("svg", "plt"):
        with pytest.raises(CommandRefused, match="nothing to cut"):
            WORKSHOP.written(Design(name="Bare"), kind)


def test_the_design_file_is_json_with_a_version() -> None:
    from jigger.core.design.model.document import write_design

    assert json.loads(write_design(DEMO["Merrow"]))["jigger"] == VERSION


@pytest.mark.parametrize("name", [name for name, design in DEMO.items() if len(design.layers) > 1])
def test_layers_written_one_by_one_lie_on_each_other_as_designed(name: str) -> None:
    design = DEMO[name]
    whole = WORKSHOP.exact(design)
    left, bottom, right, top = whole.box
    page = around(outlines(layer.kept).curves.extent for layer in whole.layers)  # of curves, not of their chords
    for layer in whole.layers:
        text = WORKSHOP.written(design, "svg", layer=layer.id)
        assert svg_size(text) == pytest.approx((page[2] - page[0], page[3] - page[1]), abs=1e-3)
        mine = np.array(layer.kept.bounds) - [left, bottom, left, bottom]
        x0, y0, x1, y1 = shapely.total_bounds(svg_polygons(text))
        assert [x0, top - bottom - y1, x1, top - bottom - y0] == pytest.approx(mine, abs=0.01)
        rings = hpgl_polygons(WORKSHOP.written(design, "plt", layer=layer.id))
        assert shapely.total_bounds(rings) == pytest.approx(mine, abs=0.03)
        mirrored = shapely.total_bounds(hpgl_polygons(WORKSHOP.written(design, "plt", "mirrored", layer=layer.id)))
        assert mirrored[[2, 0]] == pytest.approx(right - left - mine[[0, 2]], abs=0.03)
