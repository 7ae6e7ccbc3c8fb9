"""Looking back, in a real browser and in two windows."""

from playwright.sync_api import expect

from tests.browser.conftest import Bench
from tests.browser.hands import design_of
from tests.services.edits.test_arranging import yard


def test_a_part_is_brought_back_a_version_named_and_two_windows_agree(bench: Bench) -> None:
    identity = bench.house.designs.add(yard(), "a yard")
    bench.open(identity)
    page = bench.page
    page.locator('.step[data-part="disc"] .choose').click()
    expect(page.locator("#recipe")).to_have_attribute("data-step", "disc")
    page.locator("#canvas").focus()
    page.keyboard.press("Delete")
    bench.shows(2)
    page.locator("a.kept").click()
    expect(page.locator(".steps-back li")).to_have_count(2)
    page.locator("#back-1 .choose").click()
    expect(page.locator(".changed li", has_text="Disc")).to_contain_text("taken out since")
    page.get_by_label("Name of this version").fill("With its disc")
    page.get_by_role("button", name="Keep the name").click()
    expect(page.locator("#back-1 b")).to_have_text("With its disc")
    page.locator(".changed li", has_text="Disc").get_by_role("button", name="Bring it back").click()
    page.wait_for_url("**/designs/*?step=disc")
    bench.shows(3)
    assert "disc" in design_of(bench, identity).ids()

    other = page.context.browser.new_page()
    other.goto(f"{bench.address}/designs/{identity}?step=disc")
    expect(other.locator("#readout")).to_have_attribute("data-rev", "3")
    other.locator("#canvas").focus()
    other.keyboard.press("ArrowRight")
    expect(other.locator("#art")).to_have_attribute("data-rev", "4")
    page.bring_to_front()
    page.evaluate("window.dispatchEvent(new Event('focus'))")
    bench.shows(4)
    expect(page.locator("#said")).to_have_text("Done in another window: move of “Disc”")
    expect(page.locator("#recipe")).to_have_attribute("data-step", "disc")
    other.keyboard.press("Control+z")  # back to what this window made, and yet not by it
    expect(other.locator("#art")).to_have_attribute("data-rev", "5")
    page.evaluate("window.dispatchEvent(new Event('focus'))")
    bench.shows(5)
    expect(page.locator("#said")).to_have_text("Done in another window: undo of move of “Disc”")
    other.keyboard.press("Shift+ArrowRight")
    expect(other.locator("#art")).to_have_attribute("data-rev", "6")
    page.locator(
        "#step-disc .choose"
    ).click()  # before this window has looked: all of it follows, not the drawing alone
    bench.shows(6)
    expect(page.locator("#readout")).to_have_attribute("data-rev", "6")
    other.close()
