"""The job ticket, read back by two libraries: what is said of every sheet, in any letters, and its pages."""

import io

import pikepdf
import pypdf
import pytest

from jigger.core.cut.lists.cutlist import CutList
from jigger.core.errors import CommandRefused
from jigger.services.demo.boatyard import demo_designs
from jigger.services.demo.jobs import JOBS, STOCK, load_jobs
from jigger.services.house import House
from jigger.services.lists.tickets import applied, job_ticket


def texts(data: bytes) -> list[str]:
    with pikepdf.open(io.BytesIO(data)) as document:
        sizes = {tuple(round(float(x)) for x in page.mediabox) for page in document.pages}
    assert sizes == {(0, 0, 595, 842)}
    return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(data)).pages]


def test_every_job_of_the_boatyard_has_its_ticket(house: House) -> None:
    known = {design.name: design for design in demo_designs()}
    for name in {wanted for _, some, _ in JOBS for wanted, _ in some}:
        house.designs.add(known[name], "demo")
    assert load_jobs(house.cut_lists, house.designs) == len(JOBS)
    assert len(house.cut_lists.stock.listed()) == len(STOCK)
    tooling = house.shop.tooling()
    for opened in house.cut_lists.listed():
        laid = house.cut_lists.laid_out(opened.list)
        assert not any(run.left_over or run.clashes for run in laid.runs), opened.list.name
        data = job_ticket(opened.list.name, "kept today", laid, tooling)
        assert data == job_ticket(opened.list.name, "kept today", laid, tooling)
        pages = texts(data)
        sheets = [(run, sheet) for run in laid.runs if run.leads for sheet in range(run.sheets)]
        assert len(pages) == 2 * len(sheets), opened.list.name
        for (run, sheet), face, places in zip(sheets, pages[::2], pages[1::2], strict=True):
            assert opened.list.name in face and run.material.name in face and "Cut by" in face
            for one in (copy for mate in run.cut_together for copy in mate.on(sheet)):
                assert one.entry.title in face
                assert f"{one.box[0]:.1f} mm" in places and f"{one.box[1]:.1f} mm" in places
            assert ("kerf 1.2 mm" in face) == (run.material.id == "mild-steel")


def test_layers_go_on_in_order_and_behind_glass_the_other_way_round(house: House) -> None:
    design = {one.name: one for one in demo_designs()}["Bow name, two colours"]
    lists = house.cut_lists
    one = lists.begin("Bows")
    lists.gather(one, house.designs.add(design, "demo"), [])
    names = [design.layer_title(layer) for layer in design.layers]
    (order,) = applied(lists.laid_out(lists.open(one).list))
    assert [order.index(f"“{name}”") for name in names] == sorted(order.index(f"“{name}”") for name in names)
    behind = design.model_copy(deep=True)
    for layer in behind.layers:
        layer.material = "window-film"
    other = lists.begin("Window")
    lists.gather(other, house.designs.add(behind, "demo"), [])
    laid = lists.laid_out(lists.open(other).list)
    (order,) = applied(laid)
    places = [order.index(f"“{behind.layer_title(layer)}”") for layer in behind.layers]
    assert places == sorted(places, reverse=True) and "through the glass" in order
    pages = texts(job_ticket("Window", "", laid, house.shop.tooling()))
    assert all("cut mirrored" in page for page in pages[::2])


def test_odd_names_and_many_copies_fit_their_pages(house: House) -> None:
    lists = house.cut_lists
    one = lists.begin("Ångström & Søn " + "w" * 60)
    for text in ("Ærø", "B8&@g.", "ŁÓDŹ"):
        lists.gather(one, house.designs.create("gap-line-name", {"text": text, "height_mm": "25"}), [], 18)
    laid = lists.laid_out(lists.open(one).list)
    pages = texts(job_ticket(lists.open(one).list.name, "", laid, house.shop.tooling()))
    rows = "\n".join(pages[1:])
    assert rows.count("°") == 54 and "Ærø" in pages[0] and "ŁÓDŹ" in pages[0]
    with pytest.raises(CommandRefused, match="nothing on it"):
        job_ticket("x", "", lists.laid_out(CutList(name="x")), house.shop.tooling())
