"""Openings and pieces that are narrow all over, layers that lie on each other, faces that end hidden, wishes."""

import json
import math

import pytest
import shapely

from jigger.core.checks.findings import Report
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design
from jigger.core.joinery.widths.compact import compact
from jigger.services.workshop import Workshop
from tests.zoo import hpgl_polygons


def of(*layers: dict) -> Design:
    return read_design(
        json.dumps({"jigger": 9, "name": "T", "layers": [{"id": f"L{n}", **x} for n, x in enumerate(layers)]})
    )


def disc(name: str, size: float, x: float = 0.0, y: float = 0.0, **more: object) -> dict:
    place = {"on": "page", "x": x, "y": y}
    return {"kind": "shape", "id": name, "form": "disc", "width": size, "height": size, "place": place, **more}


def plate(*holes: dict, material: str = "mild-steel", **more: object) -> dict:
    sheet = {"kind": "shape", "id": "s", "form": "rectangle", "width": 200, "height": 100, "place": {"on": "page"}}
    return {
        "material": material,
        "parts": [sheet, *({**hole, "join": {"kind": "knock out"}} for hole in holes)],
        **more,
    }


def found(report: Report, code: str) -> list[str]:
    return [finding.severity for finding in report.all_findings if finding.code == code]


@pytest.mark.parametrize(
    ("size", "severity"), [(0.1, "stop"), (0.8, "stop"), (1.19, "stop"), (1.5, "warn"), (1.9, None)]
)
def test_holes_that_the_kerf_does_not_enter_stop(workshop: Workshop, size: float, severity: str | None) -> None:
    report = workshop.report(of(plate(disc("h", size))))
    assert found(report, "narrow-opening") == ([severity] if severity else [])
    assert (report.layers[0].opening is None) == (severity is None)
    if severity:
        assert report.layers[0].opening == pytest.approx(size, abs=0.005)


def test_a_short_slot_is_measured_across(workshop: Workshop) -> None:
    slot = {**disc("h", 1), "form": "rectangle", "width": 2.5, "height": 1.0}
    report = workshop.report(of(plate(slot)))
    assert found(report, "narrow-opening") == ["stop"] and report.layers[0].opening == pytest.approx(1.0, abs=0.005)


def test_compact_widths_are_those_of_the_disc_that_fits() -> None:
    shapes = [
        (shapely.Point(0, 0).buffer(0.5, quad_segs=64), 1.0),
        (shapely.box(0, 0, 3, 1), 1.0),
        (shapely.Polygon([(0, 0), (2, 0), (1, math.sqrt(3))]), 2 / math.sqrt(3)),
        (shapely.box(0, 0, 9, 9), None),
    ]
    for area, width in shapes:
        necks = compact([area], 2.0)
        assert [neck.width for neck in necks] == ([pytest.approx(width, abs=0.005)] if width else [])


def test_dots_thinner_than_a_strip_are_found(workshop: Workshop) -> None:
    report = workshop.report(of({"material": "outdoor-vinyl", "parts": [disc("a", 0.5), disc("b", 30, x=50)]}))
    assert found(report, "thin-strip") == ["warn"] and report.layers[0].strip == pytest.approx(0.5, abs=0.005)


@pytest.mark.parametrize(("wish", "severity"), [("one", "stop"), ("each", "stop"), ("named", "stop"), ("any", "warn")])
def test_necks_are_judged_by_the_wish_on_materials_without_a_share(
    workshop: Workshop, wish: str, severity: str
) -> None:
    """Two discs that overlap by a neck of 0.2 mm in vinyl, whose own share is 0."""
    apart = 2 * math.sqrt(20**2 - 0.1**2)
    parts = [disc("a", 40), disc("b", 40, x=apart)]
    report = workshop.report(of({"material": "outdoor-vinyl", "wish": wish, "bridges": {"on": False}, "parts": parts}))
    assert report.layers[0].pieces == 1 and severity in found(report, "thin-strip")
    assert report.ready == (severity == "warn")


def test_each_thing_must_be_one_piece(workshop: Workshop) -> None:
    layer = {"material": "outdoor-vinyl", "wish": "each", "bridges": {"on": False}}
    two = workshop.report(of({**layer, "parts": [disc("a", 20), disc("b", 20, x=60)]}))
    assert two.ready and two.layers[0].loose == 0
    split = disc("a", 20, finishes=[{"id": "r", "kind": "repeat", "columns": 2, "gap_x": 9}])
    loose = workshop.report(of({**layer, "parts": [split, disc("b", 20, x=90)]}))
    assert not loose.ready and loose.layers[0].loose == 1 and found(loose, "would-fall-out") == ["stop"]
    assert workshop.report(of({**layer, "wish": "any", "parts": [split]})).ready


def test_layers_on_each_other_that_nothing_relates_are_found_with_their_area(workshop: Workshop) -> None:
    low, top = plate(material="outdoor-vinyl"), {"material": "removable-vinyl", "parts": [disc("d", 20, x=90)]}
    report = workshop.report(of(low, top))
    (finding,) = [f for f in report.all_findings if f.code == "layers-overlap"]
    assert finding.measured == pytest.approx(math.pi * 100, rel=1e-3)
    related = {**top, "relations": [{"id": "r", "kind": "on", "lower": "L0"}]}
    assert not found(workshop.report(of(low, related)), "layers-overlap")
    away = {"material": "removable-vinyl", "parts": [disc("d", 20, x=300)]}
    assert not found(workshop.report(of(low, away)), "layers-overlap")


@pytest.mark.parametrize(("material", "hidden"), [("heat-film", True), ("window-film", True), ("outdoor-vinyl", False)])
def test_faces_that_end_hidden_say_so_and_are_written_mirrored_on_request(
    workshop: Workshop, material: str, hidden: bool
) -> None:
    design = of({"material": material, "parts": [disc("a", 40), disc("b", 10, x=50)]})
    assert found(workshop.report(design), "not-mirrored") == ["warn"] * hidden
    plain, mirrored = (hpgl_polygons(workshop.written(design, "plt", *flag)) for flag in ([], ["mirrored"]))
    width = max(polygon.bounds[2] for polygon in plain)

    def boxes(polygons: list[shapely.Polygon]) -> list[tuple[float, ...]]:
        return sorted(tuple(round(value, 1) for value in polygon.bounds) for polygon in polygons)

    turned = [shapely.affinity.affine_transform(polygon, [-1, 0, 0, 1, width, 0]) for polygon in plain]
    assert boxes(mirrored) == boxes(turned) != boxes(plain)


def test_rules_that_an_older_design_keeps_learn_of_the_face() -> None:
    rules = {"id": "heat-film", "name": "Film", "process": "knife", "colour": "#8a2f3c", "wish": "any", "least_strip": 1,
             "least_opening": 0.6, "least_piece": 6, "bridge": 2, "kerf": 0, "sheet": [500, 3000], "stock": "roll",
             "speed": 200, "force": 95}  # fmt: skip
    old = {"jigger": 8, "name": "T", "layers": [{"id": "L", "material": "heat-film"}], "rules": [rules]}
    design = read_design(json.dumps(old))
    assert design.material("heat-film").hidden_face
