"""Several parts in one move, by hand and by key."""

from playwright.sync_api import expect

from jigger.core.design.many.lining import lie_of
from jigger.core.design.model.design import Shape
from tests.browser.conftest import Bench
from tests.browser.hands import design_of, drag, middle
from tests.services.edits.test_arranging import yard


def _by_hand_by_guide_and_by_words(bench: Bench) -> None:
    """A corner dragged, a guide out of the ruler and out again, a length measured, a command found by its words; undone."""
    page = bench.page
    corner = middle(page.locator(".size-grip.se"))
    drag(bench, corner, (corner[0] + 30, corner[1] + 30))
    bench.shows(4)
    expect(page.locator("#undo")).to_have_attribute("title", "Undo: size of 2 parts")
    ruler, canvas = page.locator("#ruler-x").bounding_box(), page.locator("#canvas").bounding_box()
    start = ruler["x"] + 20, ruler["y"] + 8
    drag(bench, start, (canvas["x"] + 20, canvas["y"] + 40))
    bench.shows(5)
    expect(page.locator(".guide")).to_have_count(1)
    drag(bench, (canvas["x"] + 20, canvas["y"] + 40), (canvas["x"] + 20, canvas["y"] - 15))
    bench.shows(6)
    expect(page.locator(".guide")).to_have_count(0)
    page.locator("#canvas").focus()
    page.keyboard.press("m")
    drag(
        bench,
        middle(page.locator('.part[data-part="disc"] .take')),
        middle(page.locator('.part[data-part="name"] .take')),
    )
    expect(page.locator("#measured text").first).to_contain_text("mm across")
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.get_by_label("What do you want to do?").fill("even across")
    expect(page.locator("#ask-list li").first).to_contain_text("Even across")
    page.keyboard.press("Escape")
    for seq in (7, 8, 9):
        page.keyboard.press("Control+z")
        bench.shows(seq)


def test_many_are_chosen_moved_lined_up_and_copied_into_another_design(bench: Bench) -> None:
    identity = bench.house.designs.add(yard(), "a yard")
    bench.open(identity)
    page, recipe = bench.page, bench.page.locator("#recipe")
    canvas = page.locator("#canvas").bounding_box()
    corner = canvas["x"] + 6, canvas["y"] + 6
    drag(bench, corner, (canvas["x"] + canvas["width"] - 6, canvas["y"] + canvas["height"] - 60))
    expect(recipe).to_have_attribute("data-many", "disc,name,under,plate,rope,pair,crest,again")
    with page.expect_response("**/recipe*"):  # it is drawn more finely from close by
        for _ in range(8):
            page.locator("[data-zoom=in]").click()
    expect(page.locator("#art")).to_have_attribute("data-tolerance", "0.02")
    expect(recipe).to_have_attribute("data-many", "disc,name,under,plate,rope,pair,crest,again")
    page.locator("[data-zoom=all]").click()
    page.keyboard.press("Escape")
    expect(recipe).to_have_attribute("data-many", "")

    page.locator('.part[data-part="disc"] .take').click()
    expect(recipe).to_have_attribute("data-step", "disc")
    page.locator('.part[data-part="rope"] .take').click(modifiers=["Shift"], position={"x": 4, "y": 4})
    expect(recipe).to_have_attribute("data-many", "disc,rope")
    before = design_of(bench, identity)
    page.keyboard.down("Shift")  # straight
    start = middle(page.locator('.part[data-part="disc"] .take'))
    page.keyboard.up("Shift")
    page.mouse.move(*start)
    page.mouse.down()
    page.keyboard.down("Shift")
    page.keyboard.down("Alt")
    page.mouse.move(start[0] + 30, start[1] + 4)
    page.mouse.move(start[0] + 60, start[1] + 9)
    expect(page.locator('.part[data-part="rope"]')).to_have_attribute(
        "transform", page.locator('.part[data-part="disc"]').get_attribute("transform") or "none"
    )
    page.mouse.up()
    page.keyboard.up("Shift")
    page.keyboard.up("Alt")
    bench.shows(2)
    after = design_of(bench, identity)
    moves = {
        (round(b.place.x - a.place.x, 3), b.place.y - a.place.y)
        for a, b in zip(before.parts(), after.parts(), strict=True)
        if a.place != b.place
    }
    assert len(moves) == 1 and moves.pop()[1] == 0, "both by the same, straight across"

    page.locator("#verb-arrange").click()
    page.get_by_role("button", name="Foot").click()
    bench.shows(3)
    _by_hand_by_guide_and_by_words(bench)
    built = bench.house.workshop.placed(design_of(bench, identity))
    assert abs(lie_of(built["disc"]).ink[1] - lie_of(built["rope"]).ink[1]) < 0.002
    page.locator("#canvas").focus()
    page.keyboard.press("Control+d")
    bench.shows(10)
    copies = recipe.get_attribute("data-many").split(",")
    assert len(copies) == 2 and recipe.get_attribute("data-copied") == "disc,rope"
    page.keyboard.press("Shift+ArrowRight")
    bench.shows(11)
    expect(recipe).to_have_attribute("data-many", ",".join(copies))
    page.keyboard.press("Control+d")
    bench.shows(12)
    page.keyboard.press("Control+z")
    bench.shows(13)
    page.locator(f'.step[data-part="{copies[0]}"] .choose').click()
    page.locator('.step[data-part="under"] .choose').click(modifiers=["Control"])
    expect(recipe).to_have_attribute("data-many", f"{copies[0]},under")
    page.keyboard.press("Control+c")
    expect(page.locator("#said")).to_have_text("2 parts copied; paste with Ctrl V")

    other = bench.house.designs.create_plain("Elsewhere")
    bench.open(other)
    page.locator("#canvas").focus()
    page.keyboard.press("Control+Shift+V")
    bench.shows(2)
    assert [part.title for part in design_of(bench, other).parts()] == ["Elsewhere", "boat", "Disc"]
    page.keyboard.press("Control+g")
    bench.shows(3)
    page.keyboard.press("Delete")
    bench.shows(4)
    assert [part.title for part in design_of(bench, other).parts()] == ["Elsewhere"]
    page.keyboard.press("Control+z")
    bench.shows(5)
    _pulled_and_typed(bench, other)


def _pulled_and_typed(bench: Bench, identity: str) -> None:
    """A figure typed while a handle is dragged is what it comes to; Escape lets it be."""
    page = bench.page
    disc = next(part for part in design_of(bench, identity).parts() if isinstance(part, Shape))
    page.locator(f'.step[data-part="{disc.id}"] .choose').click()
    grip = page.locator(f'[data-pull="{disc.id} width"] .sized path')

    def taken(by: int) -> None:
        x, y = middle(grip)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + by / 2, y)
        page.mouse.move(x + by, y)

    taken(-30)
    expect(page.locator("#said")).to_contain_text("Width")
    page.keyboard.type("1/2 in")
    expect(page.locator("#said")).to_contain_text("1/2 in")
    page.keyboard.press("Escape")
    page.mouse.up()
    taken(-30)
    page.keyboard.type("44")
    page.mouse.up()
    bench.shows(6)
    assert next(part for part in design_of(bench, identity).parts() if part.id == disc.id).width == 44
