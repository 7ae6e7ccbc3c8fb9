"""Lettering by hand in a real browser: letters, sorts, circles, snapping, own fonts, fits."""

from pathlib import Path

from playwright.sync_api import expect

from jigger.core.design.edits.commands import AddPart
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.strokes import Node
from tests.browser.conftest import Bench
from tests.browser.hands import design_of, drag, middle
from tests.services.supplies.test_case import font_file


def test_a_letter_is_chosen_on_the_drawing_and_given_another_glyph(bench: Bench) -> None:
    """Chosen by a click, swashed from its alternates, dragged by itself; its outline worked on, typing goes on."""
    identity = bench.house.designs.create_plain("Merrow", "playball")
    bench.open(identity)
    page = bench.page
    bench.choose("Merrow")
    letter = design_of(bench, identity).parts()[0].lines[0].ids[0]
    page.mouse.click(*middle(page.locator(f'.letter[data-letter="{letter}"]')))
    expect(page.locator("#recipe")).to_have_attribute("data-letter", letter)
    page.get_by_title("capital M swash").click()
    bench.shows(2)
    assert design_of(bench, identity).parts()[0].lines[0].override(letter).glyph == "M.swsh"
    start = middle(page.locator(f'.letter[data-letter="{letter}"]'))
    drag(bench, start, (start[0] - 30, start[1] + 12))
    bench.shows(3)
    override = design_of(bench, identity).parts()[0].lines[0].override(letter)
    assert override.dx < -5 and override.dy < -1 and override.glyph == "M.swsh"
    page.keyboard.press("ArrowUp")
    bench.shows(4)
    assert design_of(bench, identity).parts()[0].lines[0].override(letter).dy > override.dy

    def course() -> list[Node]:
        outline = design_of(bench, identity).parts()[0].lines[0].override(letter).outline
        return outline.course.nodes if outline else []

    page.locator(".settings .act", has_text="Work on its outline").click()
    bench.shows(5)
    taken = course()
    expect(page.locator("#path-nodes .node")).to_have_count(len(taken))
    node = middle(page.locator("#node-0 .dot"))
    drag(bench, node, (node[0] + 25, node[1] - 10))
    bench.shows(6)
    (moved,) = [(was, now) for was, now in zip(taken, course(), strict=True) if was != now]
    assert moved[1].x > moved[0].x and moved[1].y > moved[0].y
    expect(page.locator("#recipe")).to_have_attribute("data-letter", letter)
    page.keyboard.press("Delete")
    bench.shows(7)
    assert len(course()) == len(taken) - 1
    worked = course()
    bench.verb("words")
    field = page.locator("input.words")
    field.press("Home")
    field.press_sequentially("O ")
    bench.typed(identity, "O Merrow")
    assert design_of(bench, identity).parts()[0].lines[0].override(letter).glyph == "M.swsh", "it stays with its letter"
    assert course() == worked and bench.house.workshop.exact(design_of(bench, identity)).parts["part1"].aside == ()


def test_a_sort_comes_from_the_tray_into_the_line(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Chandlery", "kaushan-script")
    bench.open(identity)
    page = bench.page
    bench.choose("Chandlery")
    page.get_by_label("Sort tray for line 1").click()
    page.get_by_label("Font", exact=True).select_option("noto-emoji")
    page.get_by_label("Search").fill("anchor")
    expect(page.locator(".sort")).to_have_count(1)
    page.locator(".sort").click()
    page.wait_for_url("**/designs/*step=*")
    bench.shows(2)
    assert design_of(bench, identity).parts()[0].lines[0].text == "Chandlery⚓"
    expect(page.locator("#recipe")).to_have_attribute("data-verb", "letter")
    expect(page.locator(".verdict b")).to_have_text("Ready to cut")


def test_words_go_round_a_circle_and_their_grip_turns_them(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("LOCK", "jost")
    bench.open(identity)
    page = bench.page
    bench.choose("LOCK", "course")
    bench.set("course", "circle")
    grip = middle(page.locator(".grip-end circle").first)
    radius = design_of(bench, identity).parts()[0].course.radius
    drag(bench, grip, (grip[0] + 60, grip[1] + 40))
    bench.shows(3)
    course = design_of(bench, identity).parts()[0].course
    assert course.angle > 5 and course.radius != radius
    after = middle(page.locator(".grip-end circle").first)
    assert abs(after[0] - grip[0] - 60) < 3 and abs(after[1] - grip[1] - 40) < 3, "the grip is where the hand left it"


def test_a_dragged_part_is_pulled_onto_lines_that_say_what_they_found(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Plover", "jost")
    part = design_of(bench, identity).parts()[0].id
    bench.house.designs.edit(identity, MoveParts(by={part: (70.0, 40.0)}))
    bench.open(identity)
    bench.choose("Plover")
    page = bench.page
    here, pixel = middle(page.locator(".part .take")), page.evaluate("View.perPixel()")
    mouse = page.mouse
    mouse.move(*here)
    mouse.down()
    mouse.move(here[0] - 20, here[1] + 10)
    mouse.move(here[0] - 70 / pixel + 3, here[1] + 40 / pixel - 3)
    expect(page.locator("#snaps text").first).to_have_text("middle of surface")
    mouse.up()
    bench.shows(3)
    place = design_of(bench, identity).parts()[0].place
    assert abs(place.x) < 0.01 and abs(place.y) < 0.01
    expect(page.locator("#snaps path")).to_have_count(0)


def test_an_own_font_is_added_and_set_from_the_case(bench_alone: Bench, tmp_path: Path) -> None:
    bench = bench_alone
    (tmp_path / "keeper.ttf").write_bytes(font_file(letters="MEROW"))
    identity = bench.house.designs.create_plain("MERROW", "jost")
    page = bench.page
    page.goto(f"{bench.address}/letter-case")
    page.get_by_label("Font file").set_input_files(tmp_path / "keeper.ttf")
    page.get_by_text("Add it to the case").click()
    page.wait_for_url("**/letter-case?search=*")
    expect(page.locator(".specimen b")).to_have_text("Lock Keeper")
    page.get_by_label("Favourite").click()
    expect(page.get_by_label("Favourite")).to_have_attribute("aria-pressed", "true")
    bench.open(identity)
    bench.choose("MERROW")
    page.get_by_text("see them all").click()
    page.get_by_title("Set the line in Lock Keeper").click()
    page.wait_for_url("**/designs/*step=*")
    bench.shows(2)
    expect(bench.gauge("pieces")).to_have_text("6")


def test_a_part_is_fitted_and_related_to_another(bench: Bench) -> None:
    identity = bench.house.designs.create_plain("Heron", "jost")
    layer = design_of(bench, identity).layers[0].id
    bench.house.designs.edit(identity, AddPart(layer=layer, kind="lettering"))
    bench.open(identity)
    page = bench.page
    bench.choose("Heron", "place")
    bench.set("fit", "inside")
    bench.set("fit.margin", "20")
    box = (
        bench.house.workshop.exact(design_of(bench, identity))
        .parts[design_of(bench, identity).parts()[0].id]
        .region.bounds
    )
    assert max(box[2] - box[0] - 560, box[3] - box[1] - 260) < 0.05 < box[2] - box[0]
    bench.choose("New words", "place")
    page.get_by_label("Relation").select_option("even")
    page.get_by_text("Relate").click()
    bench.shows(5)
    bench.set("gap", "9")
    first, second = (
        bench.house.workshop.exact(design_of(bench, identity)).parts[x.id].region.bounds
        for x in design_of(bench, identity).parts()
    )
    assert abs(first[1] - second[3] - 9.0) < 0.01
