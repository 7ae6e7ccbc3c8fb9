"""Drawing by hand in the browser: pen, nodes, handles, cuts; and a picture traced, laid underneath and squared up."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from jigger.core.design.model.design import Artwork, Design, Layer, Stroke, Surface
from tests.browser.conftest import Bench
from tests.browser.hands import design_of, drag, middle
from tests.services.supplies.test_pictures import picture

EMPTY = Design(name="By hand", layers=[Layer(id="a", material="outdoor-vinyl")], surface=Surface(width=300, height=200))
Point = tuple[float, float]


def at(bench: Bench, x: float, y: float) -> Point:
    """Where a point of the drawing's 300 × 200 surface is on the screen."""
    box = bench.page.locator(".surface").bounding_box()
    assert box
    return box["x"] + box["width"] * x / 300, box["y"] + box["height"] * (1 - y / 200)


def tap(bench: Bench, x: float, y: float, *keys: str) -> None:
    for key in keys:
        bench.page.keyboard.down(key)
    bench.page.mouse.move(*at(bench, x, y))
    bench.page.mouse.down()
    bench.page.mouse.up()
    for key in keys:
        bench.page.keyboard.up(key)


def stroke(bench: Bench, identity: str) -> Stroke:
    part = design_of(bench, identity).parts()[-1]
    assert isinstance(part, Stroke)
    return part


def test_a_line_is_drawn_bent_by_its_nodes_and_cut_in_two(bench: Bench) -> None:
    page = bench.page
    identity = bench.house.designs.add(EMPTY, "made")
    bench.open(identity)
    seq = bench.seq()
    page.keyboard.press("d")
    tap(bench, 40, 40)
    tap(bench, 41, 120)  # pulled upright over the node before
    drag(bench, at(bench, 120, 160), at(bench, 150, 160))
    tap(bench, 200, 150, "Shift")
    tap(bench, 240, 60)
    page.keyboard.press("Enter")
    bench.shows(seq + 1)
    nodes = stroke(bench, identity).course.nodes
    assert len(nodes) == 4 and nodes[0].x == nodes[1].x and nodes[2].kind == "symmetric" and nodes[2].bulge < 0
    expect(page.locator("#path-nodes .node")).to_have_count(4)
    page.keyboard.press("Escape")
    expect(page.locator("#pen-strip")).to_be_hidden()

    page.locator("#node-2 .dot").click()
    expect(page.locator("#recipe")).to_have_attribute("data-nodes", "2")
    handle = page.locator("#handle-2-in rect")
    start = middle(handle)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] - 30, start[1] + 20)
    expect(page.locator("#path-nodes .trial")).to_have_attribute("d", re.compile("^M"))
    page.mouse.up()
    bench.shows(seq + 2)
    bent = stroke(bench, identity).course.nodes[2]
    assert bent.in_x < nodes[2].in_x and bent.in_y < 0 and bent.out_y == pytest.approx(-bent.in_y, abs=1e-3)
    drag(bench, middle(page.locator("#node-0 .dot")), at(bench, 60, 30))
    bench.shows(seq + 3)
    assert stroke(bench, identity).course.nodes[0].x == pytest.approx(60, abs=1)
    page.keyboard.press("Control+z")
    bench.shows(seq + 4)
    assert stroke(bench, identity).course.nodes[0] == nodes[0]
    page.keyboard.press("Escape")
    page.mouse.dblclick(*at(bench, 40, 80))
    bench.shows(seq + 5)
    assert len(stroke(bench, identity).course.nodes) == 5

    page.locator(".settings .act", has_text="Cut in two").click()
    tap(bench, 100, 190)
    tap(bench, 100, 10)
    page.keyboard.press("Enter")
    bench.shows(seq + 6)
    shown = [part.title for part in design_of(bench, identity).parts() if not part.hidden]
    assert shown == ["Path, 1", "Path, 2"]
    expect(bench.gauge("pieces")).to_have_text("1")  # both halves touch along the cut: one piece of the layer


def test_a_picture_is_traced_on_its_preview_and_laid_underneath(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    (tmp_path / "plank.png").write_bytes(picture(specks=6))
    identity = bench.house.designs.add(EMPTY, "made")
    bench.open(identity)
    page.locator(".add-art summary").click()
    page.locator("#picture-file").set_input_files(tmp_path / "plank.png")
    page.wait_for_url("**/pictures/*")
    expect(page.locator(".traced-figures")).to_contain_text("1 piece,")  # edges in hard steps are evened
    page.locator("#p-smooth").fill("0.6")
    expect(page.locator(".traced-figures")).to_contain_text("7 pieces")
    page.locator("#p-despeckle").fill("40")
    expect(page.locator(".traced-figures")).to_contain_text("1 piece,")
    page.locator("#p-wide").fill("80")
    expect(page.locator(".traced-figures")).to_contain_text("16.0")
    page.get_by_text("Bring the areas in").click()
    page.wait_for_url("**/designs/*")
    bench.shows(bench.house.designs.open(identity).seq)
    art = design_of(bench, identity).parts()[-1]
    assert isinstance(art, Artwork)
    page.go_back()
    page.locator("#p-take").select_option(label="the picture itself, without its ground")
    expect(page.locator(".traced-figures")).to_contain_text("pixels an inch")
    expect(page.get_by_text("Bring the areas in")).not_to_be_visible()
    page.get_by_text("Print the picture").click()
    page.wait_for_url("**/designs/*")
    bench.shows(bench.house.designs.open(identity).seq)
    printed = next(one for one in design_of(bench, identity).layers if one.build == "print").parts[0]
    assert isinstance(printed, Artwork) and printed.picture
    image = page.locator(".printed image").bounding_box()
    edge = page.locator(f'.part[data-part="{printed.id}"] .take').bounding_box()
    assert image and edge and edge["width"] == pytest.approx(image["width"] / 2, rel=0.03), "its square is half of it"
    page.go_back()
    page.get_by_text("Lay the picture underneath").click()
    page.wait_for_url("**/designs/*")
    seq = bench.house.designs.open(identity).seq
    bench.shows(seq)
    expect(page.locator(".underlay image")).to_have_count(1)
    page.locator("#underlay-set summary").click()
    page.locator("#underlay-length").fill("50")
    page.get_by_text("Draw that line").click()
    drag(bench, at(bench, 100, 100), at(bench, 200, 100))
    bench.shows(seq + 1)
    under = design_of(bench, identity).underlay
    assert under and under.scale * under.wide == pytest.approx(400 * 25.4 / 200 / 2, rel=0.03)
