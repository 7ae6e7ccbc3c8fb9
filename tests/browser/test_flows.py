"""The job from a typed name to the finished cut, by hand in a real browser."""

import json

import numpy as np
from playwright.sync_api import expect

from tests.browser.conftest import Bench
from tests.browser.hands import design_of, drag, held_back, middle, plate
from tests.zoo import count_raster, raster

# Rules of style sheets by which anything that is put into the page has all of it styled anew.
GENERAL = """
() => [...document.styleSheets].flatMap((sheet) => [...sheet.cssRules]).map((rule) => rule.selectorText ?? "")
  .filter((selector) => /[+~] \\*/.test(selector))
"""


def test_from_a_name_to_the_finished_cut(bench_alone: Bench) -> None:
    """New from a starter, typed on, bridged, exported, sent, drawn."""
    bench = bench_alone
    page = bench.page
    page.goto(bench.address)
    page.get_by_text("Stencil plate").click()
    page.get_by_label("Words", exact=True).fill("WEIR")
    page.get_by_text("Build it").click()
    page.wait_for_url("**/designs/*")
    bench.shows(1)
    bench.choose("WEIR")
    typed = page.locator("input.words")
    typed.press("End")
    typed.press_sequentially(" B8", delay=30)
    expect(page.locator(".step .title").nth(1)).to_have_text("WEIR B8")
    bench.typed(page.url.split("?")[0].split("/")[-1], "WEIR B8")
    expect(bench.gauge("pieces")).to_have_text("1")
    expect(bench.gauge("loose")).to_have_text("0")
    expect(page.locator(".verdict b")).to_have_text("6 things to look at")
    page.locator("#gauge-strip").click()
    expect(page.locator(".finding.here")).to_contain_text("A strip between “B” and “8”")
    page.locator(".make-ready").click()
    expect(page.locator("#plan label")).to_have_count(2)
    page.get_by_role("button", name="Do these").click()
    expect(page.locator(".verdict b")).to_have_text("Ready to cut")

    expect(page.locator("#design-name")).to_have_value("WEIR B8")
    expect(page).to_have_title("WEIR B8 · Jigger")
    expect(page.locator("h1")).to_have_text("WEIR B8")
    page.get_by_text("Next: cut it").click()
    with page.expect_download() as download:
        page.get_by_text("SVG at true size").click()
    svg = download.value.path().read_text(encoding="utf-8")
    assert download.value.suggested_filename == "WEIR B8.svg", "a design bears its first words until it is named"
    assert count_raster(raster(svg, 10))[0] == 1

    page.get_by_text("Send to the plotter").click()
    page.wait_for_url("**/queue")
    expect(page.get_by_text("On the machine")).to_be_visible()
    expect(page.locator(".share")).to_contain_text(" of 2.")
    expect(page.get_by_text("Off the machine")).to_be_visible(timeout=60_000)
    expect(page.get_by_alt_text("Drawn by the machine: WEIR")).to_be_visible()


def test_parts_are_listed_and_settings_change_the_drawing(bench: Bench) -> None:
    _an_initial_in_a_disc_lists_its_parts(bench)
    _settings_change_the_drawing(bench)


def _an_initial_in_a_disc_lists_its_parts(bench: Bench) -> None:
    page = bench.page
    page.goto(f"{bench.address}/starters/initial-in-shape")
    page.get_by_label("Letter", exact=True).fill("I")
    page.get_by_label("Height of capitals").fill("5 1/2 in")
    page.get_by_text("Build it").click()
    page.wait_for_url("**/designs/*")
    bench.shows(1)
    expect(bench.gauge("pieces")).to_have_text("2")
    expect(page.locator(".pieces li")).to_have_count(2)  # its pieces are what the work goes on with
    page.get_by_role("button", name="Fall-out").click()
    expect(page.locator(".numbers text")).to_have_text(["1", "2"])


def _settings_change_the_drawing(bench: Bench) -> None:
    identity = plate(bench, text="QUIET HERON")
    bench.choose("QUIET HERON")
    bench.set("font", "pirata-one")
    bench.set("height", "2 in")
    expect(bench.page.locator('.settings [id$="-height"]')).to_have_value("50.8")
    bench.page.get_by_text("Add a line").click()
    bench.shows(4)
    bench.verb("spacing")
    bench.set(f"{design_of(bench, identity).parts()[1].lines[1].id}-tracking", "60")
    bench.set("line_spacing", "2.2")
    bench.set("align", "left")
    words = design_of(bench, identity).parts()[1]
    assert (words.lines[1].tracking, words.line_spacing, words.align, words.lines[0].font) == (
        60,
        2.2,
        "left",
        "pirata-one",
    )
    assert len(words.lines) == 2 and words.lines[0].height == 50.8


def test_a_finding_is_walked_to_its_repair_looked_at_made_and_undone(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Mer⚓ow")
    bench.open(identity)
    page = bench.page
    expect(page.locator(".verdict b")).to_have_text("Not ready to cut")
    page.locator("#walk").click()
    repair = page.locator(".finding.here [data-repair]")
    expect(repair).to_have_text("Set ⚓ in Noto Emoji")
    page.goto(f"{page.url}&step={design_of(bench, identity).layers[0].id}&verb=pieces")
    expect(repair).to_be_visible()
    page.locator("#piece-form input[type=checkbox]").first.check()
    page.reload()
    expect(page.locator(".piece.picked")).to_have_count(1)
    expect(page.locator("#piece-form input[type=checkbox]").first).to_be_checked()
    repair.hover()
    expect(page.locator("#preview path")).to_have_count(1)
    assert bench.seq() == 1, "looking changes nothing"
    repair.click()
    bench.shows(2)
    expect(page.locator(".verdict b")).to_have_text("Ready to cut")
    expect(page.locator("#preview path")).to_have_count(0)
    assert [x.font for x in design_of(bench, identity).parts()[0].lines[0].overrides] == ["noto-emoji"]
    page.keyboard.press("Control+z")
    bench.shows(3)
    expect(page.locator(".verdict b")).to_have_text("Not ready to cut")
    for _ in range(12):
        page.locator("[data-zoom=out]").click()
    lozenge, piece = page.locator(".mark path:not(.stem)").bounding_box(), page.locator(".piece").first.bounding_box()
    assert lozenge["y"] + lozenge["height"] <= piece["y"] + 1, (
        "it stands above letters that are hardly larger than itself"
    )


def test_a_part_moves_by_hand_by_keys_and_by_numbers(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Heron")
    bench.open(identity)
    part = bench.page.locator(".part")
    bench.page.keyboard.down("Alt")  # no snapping
    drag(bench, middle(part), (middle(part)[0] + 90, middle(part)[1] - 40))
    bench.page.keyboard.up("Alt")
    bench.shows(2)
    moved = design_of(bench, identity).parts()[0].place
    assert moved.x > 10 and moved.y > 5 and abs(moved.x / moved.y - 90 / 40) < 0.05
    bench.verb("place")
    expect(bench.page.locator("#recipe")).to_have_attribute("data-verb", "place")
    bench.page.locator("#canvas").focus()
    bench.page.keyboard.press("Shift+ArrowRight")
    bench.shows(3)
    bench.page.keyboard.press("ArrowUp")
    bench.shows(4)
    nudged = design_of(bench, identity).parts()[0].place
    assert (round(nudged.x - moved.x, 4), round(nudged.y - moved.y, 4)) == (1.0, 0.1)
    bench.set("place\\.x", "12+0.5")
    expect(bench.page.locator('.settings [id$="-place.x"]')).to_have_value("12.5")
    bench.page.get_by_text("Centre across").click()
    bench.shows(6)
    assert design_of(bench, identity).parts()[0].place.x == 0


def test_parts_are_added_joined_reordered_hidden_and_removed(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Heron")
    bench.open(identity)
    page = bench.page
    page.locator(".add-shape summary", has_text="Shape").click()
    page.get_by_role("button", name="Disc").click()
    bench.shows(2)
    expect(page.locator("#recipe")).to_have_attribute("data-verb", "form")
    bench.set("width", "260")
    bench.verb("join")
    bench.set("join\\.kind", "knock out")
    bench.set("join\\.gap", "2")
    expect(bench.page.locator(".chip").nth(1)).to_have_text("knock out")
    grips = page.locator(".grip")
    grips.nth(1).drag_to(page.locator(".step").first)
    bench.shows(6)
    assert [part.kind for part in design_of(bench, identity).parts()] == ["shape", "lettering"]
    page.get_by_role("button", name="Do not cut").click()
    bench.shows(7)
    expect(page.locator(".hidden-part")).to_have_count(1)
    page.get_by_role("button", name="Remove", exact=True).click()
    bench.shows(8)
    expect(page.locator(".step")).to_have_count(1)


def test_undo_and_redo_go_all_the_way_and_a_burst_of_typing_is_one_step(bench: Bench) -> None:
    _undo_and_redo_go_all_the_way_and_survive_a_reload(bench)
    _fast_typing_ends_with_the_latest_text_and_one_undo(bench)
    _a_key_styles_the_page_a_few_times_and_never_all_of_it(bench)


def _undo_and_redo_go_all_the_way_and_survive_a_reload(bench: Bench) -> None:
    identity = plate(bench)
    bench.choose("BOAT", "spacing")
    for number, value in enumerate(("10", "20", "30")):
        bench.set("tracking", value)
        assert bench.seq() == number + 2
    bench.open(identity)
    undo = bench.page.locator("#undo")
    for seq in (5, 6, 7):
        expect(undo).to_have_attribute("title", "Undo: tracking of “BOAT”")
        undo.click()
        bench.shows(seq)
    expect(undo).to_be_disabled()
    assert design_of(bench, identity).parts()[1].lines[0].tracking == 0
    bench.page.keyboard.press("Control+y")
    bench.shows(8)
    assert design_of(bench, identity).parts()[1].lines[0].tracking == 10


def _fast_typing_ends_with_the_latest_text_and_one_undo(bench: Bench) -> None:
    identity = plate(bench)
    bench.choose("BOAT")
    typed = bench.page.locator("input.words")
    typed.fill("")
    typed.press_sequentially("PLOVER’S REST", delay=5)
    expect(bench.page.locator(".step .title").nth(1)).to_have_text("PLOVER’S REST")
    expect(typed).to_have_value("PLOVER’S REST")
    assert design_of(bench, identity).parts()[1].text == "PLOVER’S REST"
    typed.press("Control+z")
    expect(typed).to_have_value("BOAT")
    assert design_of(bench, identity).parts()[1].text == "BOAT"


def _a_key_styles_the_page_a_few_times_and_never_all_of_it(bench: Bench) -> None:
    """The drawing and the figures that follow it; counted, since how long that takes is the machine's affair."""
    plate(bench)
    bench.choose("BOAT")
    typed, browser = bench.page.locator("input.words"), bench.page.context.new_cdp_session(bench.page)
    browser.send("Performance.enable")
    counts = []
    for number, key in enumerate("SAILS"):
        typed.press(key)
        bench.shows(2 + number)
        found = {one["name"]: one["value"] for one in browser.send("Performance.getMetrics")["metrics"]}
        counts.append(found["RecalcStyleCount"])
    # Of all keys together: where the machine is busy, what one brought is at times counted to the next.
    assert np.diff(counts).mean() <= 16, counts
    assert bench.page.evaluate(GENERAL) == []


def test_what_is_refused_is_said_and_the_field_keeps_its_text(bench: Bench) -> None:
    identity = plate(bench)
    before = design_of(bench, identity)
    bench.choose("BOAT")
    height = bench.page.locator('.settings [id$="-height"]')
    height.fill("tall")
    height.press("Enter")
    expect(bench.page.locator("#notice")).to_contain_text("“tall” is not a length")
    expect(height).to_have_value("tall")
    expect(height).to_have_class("form-control is-invalid")
    height.fill("1 km")
    height.press("Enter")
    expect(bench.page.locator("#notice")).to_contain_text("km")
    assert design_of(bench, identity) == before


def test_someone_elses_edit_is_not_written_over(bench: Bench) -> None:
    identity = plate(bench)
    bench.choose("BOAT")
    part = design_of(bench, identity).parts()[1]
    from jigger.core.design.edits.commands import SetText

    seq = bench.house.designs.edit(identity, SetText(part=part.id, line=part.lines[0].id, text="LOCK")).seq
    typed = bench.page.locator("input.words")
    typed.press("End")
    typed.press("S")
    expect(bench.page.locator("#notice")).to_contain_text("came from another window meanwhile")
    typed.blur()
    bench.shows(seq)
    expect(bench.page.locator("#readout")).to_have_attribute("data-rev", str(seq))
    expect(bench.page.locator(".step .title").nth(1)).to_have_text("LOCK")
    expect(typed).to_have_value("BOATS")
    expect(typed).to_have_class("form-control words is-invalid")
    assert design_of(bench, identity).parts()[1].text == "LOCK"
    typed.press("End")
    typed.press("!")
    expect(bench.page.locator(".step .title").nth(1)).to_have_text("BOATS!")
    held = held_back(bench.page, lambda: typed.press_sequentially("?"), "**/edit")
    typed.press("&")  # waits for the answer to the one before
    typed.blur()  # and is left before any comes
    held()
    expect(bench.page.locator(".step .title").nth(1)).to_have_text("BOATS!?&")
    bench.page.unroute_all()
    expect(bench.page.locator("#readout")).to_have_attribute("data-rev", str(bench.seq()))
    expect(typed).to_have_value("BOATS!?&")
    typed.press("End")
    typed.press("1")
    bench.typed(identity, "BOATS!?&1")


def test_views_keys_and_a_design_file_out_and_in(bench: Bench) -> None:
    _views_zoom_and_keys(bench)
    _a_design_file_goes_out_and_comes_back(bench)


def _views_zoom_and_keys(bench: Bench) -> None:
    plate(bench)
    page = bench.page
    for key, view in (("b", "blade"), ("f", "fallout"), ("p", "proof")):
        page.keyboard.press(key)
        expect(page.locator("#drawing")).to_have_attribute("data-view", view)
    before = page.locator("#zoom-figure").inner_text()
    page.keyboard.press("+")
    expect(page.locator("#zoom-figure")).not_to_have_text(before)
    page.keyboard.press("0")
    expect(page.locator("#zoom-figure")).to_have_text(before)
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("#keys")).to_be_hidden()


def _a_design_file_goes_out_and_comes_back(bench: Bench) -> None:
    identity = plate(bench)
    page = bench.page
    page.goto(f"{bench.address}/designs/{identity}/cut")
    with page.expect_download() as download:
        page.get_by_text("The design itself").click()
    before = len(bench.house.designs.listed())
    page.goto(bench.address)
    page.locator("#file").set_input_files(download.value.path())
    page.wait_for_url("**/designs/*")
    bench.shows(1)
    page.goto(bench.address)
    expect(page.locator(".designs li")).to_have_count(before + 1)
    page.locator("#file").set_input_files(
        {"name": "x.json", "mimeType": "application/json", "buffer": json.dumps([1]).encode()}
    )
    expect(page.locator("#notice")).to_contain_text("not a Jigger design")


def test_a_font_is_chosen_by_its_own_words_in_the_letter_case(bench: Bench) -> None:
    identity = plate(bench)
    page = bench.page
    bench.choose("BOAT")
    page.get_by_role("link", name="see them all").click()
    expect(page.locator(".specimen")).to_have_count(26)
    expect(page.locator(".specimen.now b")).to_have_text("Alfa Slab One")
    page.locator(".kinds").get_by_text("script", exact=True).click()
    expect(page.locator(".specimen")).to_have_count(9)
    page.get_by_label("Search").fill("brush")
    expect(page.locator(".specimen")).to_have_count(2)
    page.locator("#specimen-leckerli-one .words-shown").click()
    page.wait_for_url("**step=*")
    bench.shows(2)
    assert design_of(bench, identity).layers[0].parts[1].lines[0].font == "leckerli-one"
    page.locator("#undo").click()
    bench.shows(3)
    assert design_of(bench, identity).layers[0].parts[1].lines[0].font == "alfa-slab-one"


def test_letters_are_spaced_by_gaps_and_sized_by_their_ink(bench: Bench) -> None:
    identity = plate(bench)
    page = bench.page
    bench.choose("BOAT", "spacing")
    bench.set("spacing", "even")
    bench.set("gap", "6 mm")
    bench.verb("face")
    bench.set("size", "ink width")
    words = design_of(bench, identity).layers[0].parts[1]
    assert (words.lines[0].spacing, words.lines[0].gap, words.lines[0].size) == ("even", 6.0, "ink width")
    box = bench.house.workshop.exact(design_of(bench, identity)).parts[words.id].region.bounds
    assert abs(box[2] - box[0] - words.lines[0].height) < 0.02, "it keeps its size and now says its width"
    bench.verb("words")
    expect(page.get_by_text("Ink width")).to_be_visible()
    bench.set("height", "300")
    box = bench.house.workshop.exact(design_of(bench, identity)).parts[words.id].region.bounds
    assert abs(box[2] - box[0] - 300) < 0.02
    expect(bench.gauge("pieces")).to_have_text("1")


def test_nodes_are_shown_where_they_are_asked_for_and_follow_an_edit(bench: Bench) -> None:
    identity = plate(bench)
    page = bench.page
    nodes = page.locator("#blade .nodes")
    page.keyboard.press("b")
    pieces = bench.house.workshop.exact(design_of(bench, identity)).layers[0].pieces
    contours = len(pieces.pieces) + pieces.holes
    expect(page.locator("#blade .starts path")).to_have_count(contours)
    expect(nodes).to_have_count(0)
    page.get_by_role("button", name="Nodes").click()
    expect(nodes).to_have_count(1)
    drawn = [nodes.locator(kind).get_attribute("d") or "" for kind in (".corners", ".smooth.rim")]
    dots = "".join(drawn).count("h0")
    assert str(dots) == bench.gauge("nodes").inner_text()
    assert float(bench.gauge("fit").inner_text()) <= 0.013
    bench.choose("BOAT")
    page.locator("input.words").press("End")
    page.locator("input.words").press_sequentially("S")
    bench.shows(2)
    expect(nodes).to_have_count(1)
    expect(bench.gauge("nodes")).not_to_have_text(str(dots))
    page.get_by_role("button", name="Proof").click()
    expect(nodes).to_be_hidden()


def test_a_ring_badge_is_built_on_and_stays_live(bench: Bench) -> None:
    """From a starter: a finish, a group, another join and layer, then the words change and all of it follows."""
    page = bench.page
    page.goto(bench.address)
    page.get_by_text("Ring badge").click()
    page.get_by_label("Words over").fill("QUIET HERON")
    page.get_by_text("Build it").click()
    page.wait_for_url("**/designs/*")
    bench.shows(1)
    expect(page.locator(".step .chip", has_text="cut back")).to_have_count(2)
    bench.choose("WL", "finish")
    page.locator(".add-finish").get_by_text("Outline").click()
    bench.shows(2)
    bench.set("style", "gap and line")
    bench.set("steps", "1.5 2")
    bench.verb("join")
    page.get_by_text("Group with the step before").click()
    bench.shows(5)
    expect(page.locator(".step.within")).to_have_count(2)
    pieces = bench.gauge("pieces").inner_text()

    page.locator(".layer-head .choose").click()
    bench.verb("stack")
    page.get_by_text("Lifting sheet under it").click()
    bench.shows(6)
    expect(page.locator(".card-layer")).to_have_count(2)
    assert int(bench.gauge("pieces").inner_text()) > int(pieces)

    bench.choose("QUIET HERON", "words")
    field = page.locator(".settings input.words")
    field.fill("MERROW")
    expect(page.locator(".step .title", has_text="MERROW")).to_have_count(1)
    bench.typed(page.url.split("?")[0].split("/")[-1], "MERROW")
    expect(page.locator("#walk")).to_have_class("verdict warn")
    design = design_of(bench, page.url.split("?")[0].split("/")[-1])
    assert design.layers[0].parts[0].of == design.layers[1].id
