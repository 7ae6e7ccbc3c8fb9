"""Handles on the drawing and lines that pull: what the page says of them, and what comes of their forms."""

import json
import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.model.design import Design, Layer, Shape, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.placing import Place
from jigger.core.lettering.lettercase import LetterCase
from jigger.web.snapping import SnapLine, snap_lines
from tests.web.test_pages import HX, edit, opened


def square(identity: str, x: float, y: float = 0.0, **more) -> Shape:
    return Shape(id=identity, form="rectangle", width=20, height=20, place=Place(x=x, y=y), **more)


@pytest.fixture
def row(client: TestClient) -> str:
    finished = [Outline(id="f", steps=[4.0]), Shade(id="g", hidden=True)]
    layer = Layer(id="layer", material="outdoor-vinyl", parts=[square("a", 0), square("b", 60, finishes=finished)])
    design = check_whole(Design(name="A row", surface=Surface(width=300, height=120), layers=[layer]))
    return client.app.state.house.designs.add(design, "a row")


def test_a_pull_is_shown_tried_and_done_and_typed_in_the_units_of_the_page(client: TestClient, row: str) -> None:
    page = client.get(f"/designs/{row}", params={"step": "b"}).text
    assert re.findall(r'data-pull="([^"]*)"', page) == ["b width", "b height", "f steps.0"]
    assert re.findall(r'data-pull="([^"]*)"', client.get(f"/designs/{row}").text) == ["surface width", "surface height"]
    form = {"do": "pull", "pull": "f steps.0", "part": "b", "right": "-3", "up": "1"}
    tried = client.post(f"/designs/{row}/trial", data={**form, "pixel": "0.3"}, headers=HX)
    assert tried.status_code == 200 and tried.text.startswith("M")
    assert opened(client, row).design.parts()[1].finishes[0].steps == [4.0], "nothing is kept"
    assert edit(client, row, **form).status_code == 200
    assert opened(client, row).design.parts()[1].finishes[0].steps == [7.0]
    for typed, kind, steps in (("1/2 in", "mm", [12.7]), ("2,5", "mm", [2.5])):
        assert edit(client, row, **form, typed=typed, **{"as": kind}).status_code == 200
        assert opened(client, row).design.parts()[1].finishes[0].steps == steps
    before = opened(client, row)
    for bad in (
        {"typed": ".."},
        {"typed": "1;2"},
        {"typed": "-4"},
        {"pull": "gone steps.0"},
        {"pull": "b x"},
        {"right": "nan"},
    ):
        answer = edit(client, row, **{**form, "as": "mm", **bad})
        assert answer.status_code in (409, 422) and "Not done" in answer.text
    assert opened(client, row).seq == before.seq


def test_figures_typed_while_dragging_take_the_place_of_the_hand(client: TestClient, row: str) -> None:
    place = opened(client, row).design.parts()[0].place
    edit(client, row, do="nudge parts", many="a", dx="30", dy="40", far="10")
    moved = opened(client, row).design.parts()[0].place
    assert (moved.x - place.x, moved.y - place.y) == pytest.approx((6, 8), abs=0.002)
    edit(client, row, do="size by hand", many="a", corner="ne", x="900", y="900", times="150")
    assert opened(client, row).design.parts()[0].width == pytest.approx(30)
    edit(client, row, do="turn by hand", many="a", from_x="1", from_y="0", x="0", y="1", angle="-30")
    assert opened(client, row).design.parts()[0].finishes[-1].angle == -30
    turned = opened(client, row).design.parts()[0].place
    edit(client, row, do="nudge parts", many="a", dx="1", dy="0", far="")
    assert opened(client, row).design.parts()[0].place.x == pytest.approx(turned.x + 1, abs=0.002)


def lines_of(*parts: Shape) -> list[SnapLine]:
    layer = Layer(id="layer", material="outdoor-vinyl", parts=list(parts))
    design = check_whole(Design(name="A row", layers=[layer]))
    return snap_lines(design, build(design, LetterCase(), Cache(), 0.02))


def test_a_gap_comes_again_on_both_sides_and_halves_between_neighbours_in_a_row() -> None:
    gaps = [line for line in lines_of(square("a", 0), square("b", 35), square("c", 100, 100)) if line.reach]
    assert [(one.owners, one.axis, one.edge, round(one.at, 3)) for one in gaps] == [
        ("a b", "x", 0, 60.0), ("a b", "x", 2, -25.0), ("a b", "x", 1, 17.5),
    ]  # fmt: skip
    assert gaps[0].reach == pytest.approx((-10, 10))
    assert all(line.reach is None for line in lines_of(square("a", 0), square("b", 10)))
    many = [square(f"p{n}", 40 * n) for n in range(25)]
    assert not [line for line in lines_of(*many) if line.reach], "among many they would only be in the way"
    assert len([line for line in lines_of(*many[:24]) if line.reach]) == 3 * 23


def test_the_page_takes_lines_with_what_they_pull(client: TestClient, row: str) -> None:
    said = json.loads(
        re.search(r"data-snaps='?\"?(\[.*?\])[\"']", client.get(f"/designs/{row}").text.replace("&#34;", '"'))[1]
    )
    assert ["b", "x", 46.0, "left of Rectangle"] in said
    assert ["a b", "x", 110.0, "gap as Rectangle to Rectangle", 0, -14.0, 14.0] in said
