"""Bridges by hand in the real browser."""

from playwright.sync_api import expect

from tests.browser.conftest import Bench
from tests.browser.hands import design_of, drag, middle, plate


def test_bridges_are_dragged_deleted_widened_turned_and_drawn(bench: Bench) -> None:
    _a_bridge_is_widened_turned_and_one_is_drawn_across(bench)
    _a_bridge_is_dragged_and_deleted(bench)


def _a_bridge_is_widened_turned_and_one_is_drawn_across(bench: Bench) -> None:
    plate(bench, text="O", height_mm="80", font="jost")
    page = bench.page
    page.locator(".bridge rect").first.click()
    expect(page.locator(".chosen-bridge")).to_contain_text("Bridge on “O”")
    grip = middle(page.locator(".bridge-grip[data-grip=widen] rect"))
    drag(bench, grip, (grip[0] + 12, grip[1]))
    bench.shows(2)
    wide = float(page.locator("#b-width").input_value())
    assert wide > 2.6
    grip = middle(page.locator(".bridge-grip[data-grip=turn] circle"))
    drag(bench, grip, (grip[0] + 14, grip[1]))
    bench.shows(3)
    expect(page.locator(".chosen-bridge")).to_contain_text("by hand")
    assert float(page.locator("#b-width").input_value()) == wide
    page.get_by_role("button", name="Draw one across").click()
    hole = page.locator(".part").last.bounding_box()
    left, high = hole["x"], hole["y"] + hole["height"] / 2
    drag(bench, (left + hole["width"] / 2, high), (left - 10, high + 4))
    bench.shows(4)
    expect(page.locator(".bridge")).to_have_count(3)
    expect(bench.gauge("pieces")).to_have_text("1")
    page.locator(".bridge rect").first.click()
    expect(page.locator(".bridge.chosen")).to_have_count(1)
    bench.choose("Geometric sans")
    expect(page.locator(".bridge.chosen")).to_have_count(0)


def _a_bridge_is_dragged_and_deleted(bench: Bench) -> None:
    identity = plate(bench, text="O", height_mm="80", font="jost")
    page = bench.page
    bench.choose("Geometric sans", "hold")
    expect(page.locator(".bridge")).to_have_count(2)
    counter = bench.house.workshop.exact(design_of(bench, identity)).layers[0].counters[0]
    handle = page.locator(".bridge rect").first
    start = middle(handle)
    hole = page.locator(".part").last.bounding_box()
    drag(bench, start, (hole["x"] + hole["width"] * 0.95, hole["y"] + hole["height"] / 2))
    bench.shows(2)
    (edit,) = design_of(bench, identity).layers[0].bridges.edits
    assert edit.letter == counter.owner and edit.along is not None
    expect(page.locator(".bridge.by-hand")).to_have_count(1)
    expect(bench.gauge("pieces")).to_have_text("1")
    for left in (1, 0):
        page.locator(".bridge").first.locator("rect").click()
        page.keyboard.press("Delete")
        bench.shows(4 - left)
        expect(page.locator(".bridge")).to_have_count(left)
    page.keyboard.press("Delete")
    expect(bench.gauge("loose")).to_have_text("1")
    assert bench.seq() == 4 and len(design_of(bench, identity).parts()) == 2, "Delete took more than the bridge"
    expect(page.locator(".verdict b")).to_have_text("One piece would fall out")
    page.get_by_role("button", name="Fall-out").click()
    expect(page.locator(".hatch")).to_be_visible()
    page.keyboard.press("n")
    expect(page.locator(".finding.here")).to_contain_text("The counter of “O” would fall out")
    page.keyboard.press("Control+z")
    bench.shows(5)
    expect(bench.gauge("loose")).to_have_text("0")
