"""Every page for everybody: what an independent judge of accessibility has to say of each."""

import json

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.conftest import Bench
from tests.browser.hands import design_of
from tests.services.supplies.test_pictures import picture


def test_no_page_shuts_anybody_out(bench: Bench) -> None:
    """Shelf, starter, bench in all views with a part chosen, cut, queue, letter case, ornaments, a picture, nodes, materials, report, cut
    lists and sheets, machines, proofs, refusals.
    """
    plate = bench.house.designs.create("stencil-plate", {"text": "Heron"})
    judge, found = Axe(), {}

    def judged(where: str) -> None:
        answer = judge.run(bench.page).response
        found[where] = [(one["id"], [node["html"][:120] for node in one["nodes"][:3]]) for one in answer["violations"]]

    for where in (
        "",
        "/starters/ring-badge",
        "/letter-case",
        "/ornaments",
        "/materials",
        "/queue",
        "/machines/plate-table",
        "/settings",
        "/settings/licences",
        "/nothing-here",
    ):
        bench.page.goto(bench.address + where)
        judged(where or "/")
    bench.open(plate)
    for view in ("Proof", "Blade", "Fall-out"):
        bench.page.get_by_role("button", name=view, exact=True).click()
        judged(view)
    bench.choose("Heron")
    judged("a part chosen")
    badge = bench.house.designs.create("ring-badge", {})
    bench.open(badge)
    for verb in ("settings", "arrange", "hold"):
        bench.page.goto(
            f"{bench.address}/designs/{badge}?many={','.join(part.id for part in design_of(bench, badge).parts()[:3])}&verb={verb}"
        )
        judged(f"several parts chosen, {verb}")
    for page in ("history", "history?at=1"):
        bench.page.goto(f"{bench.address}/designs/{badge}/{page}")
        judged(page)
    for page in ("cut", "report"):
        bench.page.goto(f"{bench.address}/designs/{plate}/{page}")
        judged(page)
    bench.page.goto(f"{bench.address}/designs/{plate}/proof")
    judged("a proof without a link")
    link = bench.house.proofs.give(plate)
    bench.house.proofs.say(link.token, "Ada", "Fine", True, link.revision)
    for page in (f"/designs/{plate}/proof", f"/proof/{link.token}", "/proof/none"):
        bench.page.goto(bench.address + page)
        judged(page)
    kept = bench.house.pictures.keep(picture(specks=2), "plank.png")
    bench.page.goto(f"{bench.address}/designs/{plate}/pictures/{kept.id}")
    judged("a picture traced")
    bench.page.goto(f"{bench.address}/designs/{plate}/pictures/{kept.id}?take=picture")
    expect(bench.page.locator(".traced-figures")).to_contain_text("pixels an inch")
    judged("a picture to be printed")
    figure = bench.house.designs.create("pictogram", {"figure": "heron"})
    bench.open(figure)
    bench.page.locator(".step .choose", has_text="Path").first.click()
    bench.page.locator("#verb-nodes").click()
    bench.page.locator("#path-nodes .node .dot").first.click()
    expect(bench.page.locator("#recipe")).to_have_attribute("data-nodes", "0")
    judged("nodes")
    gathered = bench.house.cut_lists.begin("Plates")
    bench.house.cut_lists.gather(gathered, plate, [], 3)
    bench.house.cut_lists.stock.put_in({"material": "outdoor-vinyl", "form": "roll", "width": 600.0, "length": 900.0})
    for page in ("", f"/{gathered}", f"/{gathered}?view=weed", f"/{gathered}?view=path&step=i1:0"):
        bench.page.goto(f"{bench.address}/cut-lists{page}")
        judged(f"cut lists {page}")
    bench.page.goto(f"{bench.address}/materials")
    judged("materials with stock")
    bench.page.context.add_cookies([{"name": "light", "value": "dark", "url": bench.address}])
    several = ",".join(part.id for part in design_of(bench, badge).parts()[:3])
    for where in ("/", "/machines/roll-plotter", f"/designs/{plate}/proof", f"/designs/{plate}/cut", "/materials", "/settings", f"/cut-lists/{gathered}", f"/designs/{badge}?many={several}",
                  f"/designs/{badge}/history?at=1"):  # fmt: skip
        bench.page.goto(bench.address + where)
        judged(f"{where} in the dark")
    wrong = {where: some for where, some in found.items() if some}
    assert not wrong, json.dumps(wrong, indent=1)
