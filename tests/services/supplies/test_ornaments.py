"""Ornaments: each shipped one is a clean shape, found by words; one's own are kept and go into designs as drawn."""

import pytest

from jigger.core.design.edits.strokes import DrawPath
from jigger.core.design.model.design import Design, Layer, Stroke, Surface
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.design.ornaments.ornament import shipped
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.geometry.boxes import middle
from jigger.core.geometry.curves.outline import outlines
from jigger.services.house import House

EMPTY = Design(name="Empty", layers=[Layer(id="a", material="outdoor-vinyl")], surface=Surface(width=300, height=200))


def test_there_are_enough_and_every_one_has_words_of_its_own() -> None:
    assert len(shipped()) >= 24
    assert len({one.title for one in shipped().values()}) == len(shipped())
    assert all(one.tags and abs(sum(middle(one.box))) < 0.01 for one in shipped().values())


@pytest.mark.parametrize("name", shipped())
def test_each_is_a_clean_shape_that_can_be_cut_large(house: House, name: str) -> None:
    identity = house.designs.add(EMPTY, "made")
    opened = house.designs.edit(identity, house.ornaments.put(name, "a", 150.0))
    report, built = house.workshop.report(opened.design), house.workshop.exact(opened.design)
    wrong = [
        finding for finding in report.all_findings if finding.code in ("crosses-itself", "drawn-twice", "open-ends")
    ]
    assert not wrong and not [finding for finding in report.all_findings if finding.severity == "stop"]
    left, bottom, right, top = built.parts[opened.design.parts()[-1].id].region.bounds or (0, 0, 0, 0)
    assert max(right - left, top - bottom) == pytest.approx(150, abs=0.1)
    assert ((left + right) / 2, (bottom + top) / 2) == pytest.approx((150, 100), abs=0.1)
    drawn = sum(len(path.nodes) for path in shipped()[name].paths)
    assert outlines(built.layers[0].kept).nodes <= 1.7 * drawn + 4, "arcs are parted at their quarters"


def test_words_find_them(house: House) -> None:
    assert {one.id for one in house.ornaments.listed("ROPE round")} == {"rope-ring"}
    assert house.ornaments.listed("no such thing") == [] and "frame" in house.ornaments.tags()
    with pytest.raises(UnknownChoice):
        house.ornaments.put("crown", "a")


def test_ones_own_are_kept_as_drawn_and_taken_away(house: House) -> None:
    identity = house.designs.add(EMPTY, "made")
    wave = DrawnPath(
        nodes=[Node(x=20, y=30, out_x=9, out_y=30, width=0.5), Node(x=90, y=60, bulge=0.4), Node(x=120, y=20)]
    )
    opened = house.designs.edit(identity, DrawPath(layer="a", paths=[wave], width=5.0, filled=False))
    part = opened.design.parts()[-1].id
    area = house.workshop.exact(opened.design).parts[part].region.area
    kept = house.ornaments.keep(opened.design, part, "Gangway", "plank yard")
    assert house.ornaments.listed("plank")[0].title == "Gangway" and kept.paths[0].nodes[0].width == 0.5
    again = house.designs.edit(identity, house.ornaments.put(kept.id, "a"))
    copy = again.design.parts()[-1]
    assert isinstance(copy, Stroke)
    assert house.workshop.exact(again.design).parts[copy.id].region.area == pytest.approx(area, rel=1e-3)
    house.ornaments.remove(kept.id)
    assert not house.ornaments.listed("plank")
    with pytest.raises(CommandRefused, match="ships with Jigger"):
        house.ornaments.remove("anchor")
    with pytest.raises(CommandRefused, match="drawn paths"):
        words = house.designs.open(house.designs.create("stencil-plate", {})).design
        house.ornaments.keep(words, words.parts()[-1].id)
