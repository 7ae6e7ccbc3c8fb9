"""A customer's file brought in, words beside it, another in its place; then over two mats with its map."""

from pathlib import Path

from playwright.sync_api import expect

from jigger.core.design.model.design import Artwork
from tests.browser.conftest import Bench
from tests.core.art.cases import page as svg

LOGO = svg(
    '<circle cx="60" cy="40" r="36" fill="#0f4a44"/><rect x="50" y="30" width="20" height="20" fill="#d8a12a"/><text>Hi</text>'
)
BAR = svg('<rect width="100" height="24" rx="12" fill="#0f4a44"/>')


def test_a_logo_in_two_colours_a_name_beside_it_and_two_mats(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    (tmp_path / "logo.svg").write_text(LOGO)
    (tmp_path / "bar.svg").write_text(BAR)
    page.goto(bench.address)
    page.locator("#file").set_input_files(tmp_path / "logo.svg")
    page.wait_for_url("**/designs/*")
    identity = page.url.split("?")[0].split("/")[-1]
    bench.shows(bench.house.designs.open(identity).seq)
    expect(page.locator(".card-layer")).to_have_count(2)
    page.locator("summary", has_text="Notes").click()
    expect(page.locator(".design-note")).to_contain_text("live text “Hi”")
    expect(bench.gauge("pieces")).to_have_text("2")

    page.locator(".step .choose").first.click()
    expect(page.locator("#recipe")).to_have_attribute("data-verb", "art")
    before = bench.seq()
    page.locator("#other-art").set_input_files(tmp_path / "bar.svg")
    bench.shows(before + 1)
    expect(page.locator("#notice")).to_contain_text("bar.svg: 100 × 24 mm")
    bench.set("scale", "4")
    art = [part for part in bench.house.designs.open(identity).design.parts() if isinstance(part, Artwork)]
    assert (art[0].file, art[0].scale) == ("bar", 4.0)
    page.locator("#undo").click()
    bench.shows(before + 3)
    page.locator("#redo").click()
    bench.shows(before + 4)

    page.locator(".next").click()
    page.wait_for_url("**/cut")
    page.locator(".card-layer .choose").first.click()
    page.wait_for_url("**/cut?layer=*")
    page.get_by_text("Put on it").click()
    page.wait_for_url("**/cut-lists/*")
    bench.shows(2)
    page.locator("#o-form").select_option("mat")
    bench.shows(3)
    page.get_by_text("divide what is too large").click()
    bench.shows(4)
    expect(page.locator(".verdict b")).to_have_text("Laid out")
    page.locator(".views").get_by_text("Map", exact=True).click()
    expect(page.locator(".map-table tbody tr")).to_have_count(2)
    expect(page.locator(".placement .share")).to_have_count(2)
    with page.expect_download() as download:
        page.get_by_text("Placement map", exact=True).click()
    assert download.value.path().read_bytes()[:5] == b"%PDF-"
