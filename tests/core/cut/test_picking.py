"""Parts and pieces by themselves: on the list, in files, on the machine, and nothing else of the design."""

import pytest
import shapely

from jigger.core.cut.lists.cutlist import CutList, Item
from jigger.core.cut.lists.list_edits import PutOnList
from jigger.core.cut.picking import ALL, Picked
from jigger.core.design.model.design import Lettering
from jigger.core.design.model.families import families_of
from jigger.core.errors import CommandRefused
from jigger.services.demo.boatyard import demo_designs
from jigger.services.lists.laying import lay_out
from jigger.services.workshop import Workshop
from tests.zoo import count_raster, raster

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
HERON, TWO = DEMO["Quiet Heron"], DEMO["Bow name, two colours"]


def test_parts_are_the_pieces_they_have_a_share_in_and_together_the_whole() -> None:
    design = DEMO["Yard badge, ring"]
    (layer,) = WORKSHOP.exact(design).layers
    families, parts = families_of(design), [part.id for part in design.parts()]
    found = {part: Picked((part,)).of(layer.kept, families) for part in parts}
    kept = {part: area for part, area in found.items() if not area.is_empty}
    assert len(kept) >= 3
    for part, area in kept.items():
        for piece in area.polygons():
            assert any(part in families[owner] for owner in piece.owners() if owner in families)
    both = Picked(tuple(kept)).of(layer.kept, families)
    assert shapely.equals(both.geometry.normalize(), layer.kept.geometry.normalize())
    assert sum(area.area for area in kept.values()) >= layer.kept.area - 1e-6


@pytest.mark.parametrize("name", ["Quiet Heron", "Yard badge, ring", "Stern word, stepped"])
def test_single_pieces_are_what_lies_under_their_points(name: str) -> None:
    design = DEMO[name]
    (layer,) = WORKSHOP.exact(design).layers
    pieces = layer.kept.polygons()
    points = tuple(piece.inside_point for piece in pieces[::3])
    found = Picked(pieces=points).of(layer.kept, families_of(design))
    assert found.area == pytest.approx(sum(piece.area for piece in pieces[::3]))
    svg = WORKSHOP.file(design, "svg", picked=Picked(pieces=points)).decode()
    assert count_raster(raster(svg, 8.0))[0] == len(points), "the file has these pieces and no other"
    path = WORKSHOP.tool_path(design, picked=Picked(pieces=points))
    rings = sum(1 + len(piece.hole_rings()) for piece in pieces[::3])
    assert len(path.strokes) == rings


def test_what_is_not_there_is_said() -> None:
    with pytest.raises(CommandRefused, match="no longer there"):
        WORKSHOP.file(HERON, "svg", picked=Picked(pieces=((-5000.0, 0.0),)))
    with pytest.raises(CommandRefused, match="nothing is kept"):
        WORKSHOP.file(HERON, "svg", picked=Picked(parts=("nobody",)))
    with pytest.raises(CommandRefused, match="choose a layer first"):
        WORKSHOP.file(TWO, "svg", picked=Picked(parts=("nobody",)))
    assert WORKSHOP.file(TWO, "svg", picked=ALL) == WORKSHOP.file(TWO, "svg")


def test_items_of_some_pieces_are_items_of_their_own_and_say_what_they_are() -> None:
    (layer,) = WORKSHOP.exact(HERON).layers
    point = layer.kept.polygons()[0].inside_point
    name = next(part.id for part in HERON.parts() if isinstance(part, Lettering))
    data = CutList(name="L")
    for parts, pieces in (([], []), ([name], []), ([], [point]), ([name], []), ([], [(-900.0, -900.0)])):
        edit = PutOnList(design="h", revision=1, layers=[layer.id], parts=parts, pieces=pieces)
        data = edit.apply(data)
    assert [one.copies for one in data.items] == [1, 2, 1, 1]
    laid = lay_out(data, lambda *_: HERON, lambda _: 1, lambda *_: WORKSHOP.exact(HERON))
    titles = [laid.items[one.id].title for one in data.items]
    assert titles[0] == "Quiet Heron" and len(set(titles[:3])) == 3 and "1 piece" in titles[2]
    assert laid.items[data.items[3].id].missing == "one that was chosen is no longer there; choose again"
    areas = {one.entry.item: one.entry.kept.area for one in laid.runs[0].placed}
    assert areas[data.items[2].id] == pytest.approx(layer.kept.polygons()[0].area)


def test_lists_of_before_hold_whole_layers() -> None:
    item = Item.model_validate({"id": "a", "design": "d", "revision": 1, "layer": "l", "copies": 3})
    assert not item.parts and not item.pieces and not Picked(tuple(item.parts), tuple(item.pieces))
