"""From designs to the sheet: gathered, laid out, moved by hand, weeded, played, written and sent."""

import io
import zipfile

from playwright.sync_api import expect

from tests.browser.conftest import Bench
from tests.browser.hands import drag, held_back, middle
from tests.zoo import svg_polygons

VINYL = {"text": "HE", "height_mm": "30", "material": "outdoor-vinyl"}


def test_two_by_three_on_a_roll_one_moved_and_cut(bench_alone: Bench) -> None:
    bench, page = bench_alone, bench_alone.page
    design = bench.house.designs.create("gap-line-name", VINYL)
    page.goto(f"{bench.address}/designs/{design}/cut")
    page.get_by_label("Copies on the list").fill("6")
    page.get_by_text("Put on it").click()
    page.wait_for_url("**/cut-lists/*")
    bench.shows(2)
    identity = page.url.split("?")[0].split("/")[-1]

    def runs():
        lists = bench.house.cut_lists
        return lists.laid_out(lists.open(identity).list).runs

    count = len(runs()[0].placed)
    assert count == 6
    page.locator("#o-layout").select_option("rows")
    bench.shows(3)
    page.locator("#o-columns").fill("2")
    page.locator("#o-columns").press("Enter")
    bench.shows(4)
    assert len({round(one.box[0], 2) for one in runs()[0].placed}) == 3
    expect(page.locator(".copy")).to_have_count(6)
    expect(page.locator(".verdict b")).to_have_text("Laid out")

    last = page.locator(".copy").last
    x, y = middle(last.locator(".take"))
    drag(bench, (x, y), (x + 60, y))
    bench.shows(5)
    expect(page.locator(".copy.by-hand")).to_have_count(1)
    page.locator(".copy.by-hand").first.locator(".take").click()
    expect(page.locator("#c-x")).to_be_visible()
    page.locator("#c-x").fill("2 cm")
    page.locator("#c-x").press("Enter")
    bench.shows(6)
    assert [round(one.box[0]) for one in runs()[0].placed if one.held] == [20]
    expect(page.locator("#c-x")).to_have_value("20")  # a field shows what was understood
    page.locator("#let-go").click()
    bench.shows(7)
    late = held_back(page, page.locator(".copy").first.locator(".take").click)
    page.locator("#undo").click()
    bench.shows(8)
    with page.expect_request("**/recipe*"):
        late()  # all of the page as it was before the undo
    bench.shows(8)
    expect(page.locator(".copy.by-hand")).to_have_count(1)
    figures = page.locator("#readout .gauge .figure")
    expect(figures.filter(has_text="…")).to_have_count(0)  # what is asked for by itself, after edits too
    expect(page.locator("#list-checks .figure")).to_have_text("All ready")

    late = held_back(page, lambda: page.locator("#o-box").select_option("items"), "**/edit")
    page.locator("#o-gap").fill("4")
    page.locator("#o-gap").press("Enter")
    late()  # a second choice while the list is laid out for the first
    bench.shows(10)
    options = bench.house.cut_lists.open(identity).list.runs[runs()[0].key]
    assert (options.box, options.gap) == ("items", 4.0)
    page.evaluate("() => document.activeElement.blur()")
    page.keyboard.press("m")  # which measures on the bench, and does nothing here
    page.locator(".views").get_by_text("Weed", exact=True).click()
    expect(page.locator("[data-weed-words]")).to_contain_text("1 of")
    page.get_by_text("Next", exact=True).click()
    expect(page.locator(".waste.pulled")).to_have_count(1)
    page.locator(".views").get_by_text("Path", exact=True).click()
    expect(page.locator("#player output")).to_contain_text("s")
    page.locator("[data-time]").fill("500")
    expect(page.locator("#ways.running #tip")).to_be_visible()
    expect(page.locator("[data-doing]")).to_have_text("cutting")

    with page.expect_download() as download:
        page.get_by_text("The whole job, all runs").click()
    with zipfile.ZipFile(io.BytesIO(download.value.path().read_bytes())) as archive:
        (name,) = [name for name in archive.namelist() if name.endswith(".svg")]
        drawn = svg_polygons(archive.read(name).decode())
    assert drawn.area > 6 * 0.99 * runs()[0].placed[0].entry.kept.area

    stencil = {"text": "A", "height_mm": "30", "material": "stencil-film-019"}
    bench.house.cut_lists.gather(identity, bench.house.designs.create("stencil-plate", stencil), [], 1)
    page.goto(f"{bench.address}/cut-lists/{identity}")
    bench.shows(11)
    page.locator(".run-card .choose").nth(1).click()
    page.wait_for_url("**stencil-film*")
    page.locator("#o-form").select_option(f"with {runs()[0].key}")
    bench.shows(12)
    expect(page.locator(".mat-field")).to_have_count(2)
    page.locator(".mat-field").first.locator("> rect").click()  # the other one's
    page.wait_for_url("**outdoor-vinyl*")
    expect(page.locator("#recipe")).to_have_attribute("data-run", runs()[0].key)
    assert [len(run.placed) for run in runs()] == [6, 1] and all(run.mates for run in runs())
    page.get_by_text("Send to the plotter").click()
    page.wait_for_url("**/queue")
    expect(page.get_by_text("Off the machine")).to_be_visible(timeout=60_000)
