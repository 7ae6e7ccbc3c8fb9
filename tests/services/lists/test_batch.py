"""What is made of a whole list in another process: the same as here, of what is on the list and nothing newer."""

import io
import zipfile
from collections.abc import Iterator

import pytest
from pypdf import PdfReader

from jigger.core.errors import CommandRefused
from jigger.services.beside.aside import Aside
from jigger.services.house import House
from jigger.services.lists.batch import guides, job_archive, proofs, unready
from jigger.services.lists.runs import run_files
from jigger.services.lists.tickets import papers_of
from jigger.services.settings import Settings
from tests.services.lists.test_cut_lists import PLATE, retext


@pytest.fixture
def aside(settings_for: Settings, house: House) -> Iterator[Aside]:
    found = Aside(settings_for, house.workshop)
    found.start()
    yield found
    found.close()


def test_a_job_from_another_process_is_the_one_made_here(house: House, aside: Aside) -> None:
    lists, tooling = house.cut_lists, house.shop.tooling()
    plate = house.designs.create("stencil-plate", PLATE)
    one = lists.begin("Job")
    lists.gather(one, plate, [], 2)
    lists.gather(one, house.designs.create("stencil-plate", {**PLATE, "text": "OAR", "material": "mild-steel"}), [])
    retext(house, plate, "BARGE")
    data = lists.open(one).list
    whole = lists.whole(data, "today")
    made = aside.ask("job", one, job_archive, whole, tooling)
    laid = lists.laid_out(data)
    here = run_files("Job", laid, tooling, papers_of("Job", "today", laid, tooling))
    with zipfile.ZipFile(io.BytesIO(made)) as far, zipfile.ZipFile(io.BytesIO(here)) as near:
        assert far.namelist() == near.namelist() and len(far.namelist()) >= 8
        for name in far.namelist():
            if not name.endswith(".pdf"):  # papers say when they were printed
                assert far.read(name) == near.read(name), name
    assert whole.laid_out(house.workshop).items == laid.items, "of moved designs the newer revision is told, not taken"
    with pytest.raises(CommandRefused, match="nothing on it"):
        aside.ask("job", one, job_archive, lists.whole(data.model_copy(update={"items": []})), tooling)


def test_papers_and_readiness_of_all_designs(house: House, aside: Aside) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    for text, height in (("BOAT", "60"), ("OAR", "3")):
        lists.gather(one, house.designs.create("stencil-plate", {**PLATE, "text": text, "height_mm": height}), [])
    asked = lists.designs_of(lists.open(one).list)
    names = {design.name: house.workshop.report(design).ready for design, _ in asked}
    stopped = aside.ask("listed", one, unready, [design for design, _ in asked])
    assert stopped == [name for name, ready in names.items() if not ready] != []
    assert len(PdfReader(io.BytesIO(aside.ask("job", one, proofs, asked, "mm"))).pages) >= 2
    assert len(PdfReader(io.BytesIO(aside.ask("job", one, guides, asked, True, "mm"))).pages) == 2
