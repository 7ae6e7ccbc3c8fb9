"""What a person relies on, in a real browser: failures are said where they look, and keys do what they seem to."""

from playwright.sync_api import Route, expect

from tests.browser.conftest import Bench
from tests.browser.hands import design_of, held_back, middle


def test_an_edit_that_is_not_kept_says_so_and_the_field_keeps_what_was_typed(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Merrow")
    bench.open(identity)
    page = bench.page
    bench.choose("Merrow")

    def too_large(route: Route) -> None:
        route.fulfill(status=413, content_type="text/plain", body="This is larger than Jigger takes.")

    page.route("**/edit", too_large)
    field = page.locator("input.words")
    field.fill("Merrow of Withy")
    expect(page.locator("#notice")).to_contain_text("larger than Jigger takes")
    expect(page.locator("#tools .kept")).to_have_text("The last edit is not kept")
    expect(field).to_have_value("Merrow of Withy")
    assert design_of(bench, identity).parts()[0].text == "Merrow"
    page.unroute("**/edit", too_large)
    field.fill("Merrow of Withy Lock")
    bench.shows(2)
    expect(page.locator("#tools .kept")).to_contain_text("Kept")
    assert design_of(bench, identity).parts()[0].text == "Merrow of Withy Lock"
    _an_answer_that_comes_late_does_not_stay(bench)


def _an_answer_that_comes_late_does_not_stay(bench: Bench) -> None:
    """A drawing of the state before an undo, answered after it: the one that is there now is asked for."""
    late = held_back(bench.page, bench.page.locator(".step .choose").first.click)
    bench.page.locator("#undo").click()
    bench.shows(3)
    with bench.page.expect_request("**/recipe*"):
        late()
    bench.shows(3)
    bench.page.unroute_all()
    _an_answer_whose_button_is_gone_is_shown_all_the_same(bench)


def _an_answer_whose_button_is_gone_is_shown_all_the_same(bench: Bench) -> None:
    """An edit by a button in a step that is let go before the answer comes: state and figures follow, and so does the
    next edit.
    """
    page = bench.page
    bench.choose("Merrow")
    late = held_back(page, page.get_by_role("button", name="Add a line").click, "**/edit")
    figures = page.locator("#readout")
    expect(figures).to_have_attribute("aria-busy", "false")
    measured = held_back(page, lambda: page.locator("#canvas").click(position={"x": 6, "y": 6}), "**/readout*")
    expect(page.locator("#recipe")).to_have_attribute("data-step", "")
    late()
    expect(figures).to_have_attribute("aria-busy", "true")
    expect(figures.locator(".verdict em")).to_have_css("opacity", "1")
    measured()
    bench.shows(4)
    expect(figures).to_have_attribute("aria-busy", "false")
    expect(figures.locator(".verdict em")).to_have_css("opacity", "0")
    page.locator("#undo").click()
    bench.shows(5)


def test_delete_takes_the_chosen_letter_and_keys_live_on_after_a_list(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Bell", "anton")
    bench.open(identity)
    page = bench.page
    bench.choose("Bell")
    second = design_of(bench, identity).parts()[0].lines[0].ids[2]
    page.mouse.click(*middle(page.locator(f'.letter[data-letter="{second}"]')))
    expect(page.locator("#recipe")).to_have_attribute("data-letter", second)
    page.locator(f"#l-{second}-role").select_option("over")
    bench.shows(2)
    page.keyboard.press("b")
    expect(page.locator("#drawing")).to_have_attribute("data-view", "blade")
    page.keyboard.press("Delete")
    bench.shows(3)
    line = design_of(bench, identity).parts()[0].lines[0]
    assert line.text == "Bel" and second not in line.ids
