"""Everything a Jigger needs at run time, put together from settings."""

import gc
import threading
from contextlib import suppress
from dataclasses import dataclass

from sqlalchemy.exc import DatabaseError

from jigger.core.design.building.build import COARSER
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Lettering
from jigger.core.patience import Stopped
from jigger.services.beside.aside import Aside
from jigger.services.designs import Designs
from jigger.services.keeping.shelf import ShelfKeeper
from jigger.services.keeping.versions import Versions
from jigger.services.lists.cut_lists import CutLists
from jigger.services.lists.nests import Nests
from jigger.services.lists.stockroom import StockRoom
from jigger.services.queue.queue import Queue
from jigger.services.queue.stations import stations_of
from jigger.services.settings import Settings
from jigger.services.showing.print_house import PrintHouse
from jigger.services.showing.proofs import Proofs
from jigger.services.supplies.case import Case
from jigger.services.supplies.letters import lay_out
from jigger.services.supplies.ornaments import Ornaments
from jigger.services.supplies.pictures import Pictures
from jigger.services.supplies.shop import Shop
from jigger.services.workshop import Workshop
from jigger.store.cut_lists import CutListStore
from jigger.store.database import DATABASE, open_database, read_database
from jigger.store.fonts import FontStore
from jigger.store.history import DesignStore, NoSuchDesign
from jigger.store.jobs import JobStore
from jigger.store.materials import MaterialStore
from jigger.store.pictures import PictureStore
from jigger.store.proofs import ProofStore
from jigger.store.shop import ShopStore


@dataclass(frozen=True)
class House:
    designs: Designs
    queue: Queue
    workshop: Workshop
    aside: Aside
    letter_case: Case
    shop: Shop
    cut_lists: CutLists
    nests: Nests
    ornaments: Ornaments
    pictures: Pictures
    versions: Versions
    shelf: ShelfKeeper
    proofs: Proofs
    print_house: PrintHouse


BREATH = 0.15  # seconds
WARMED = 12  # of the newest designs; one pass of a keystroke each


def warm(house: House) -> None:
    """Build the newest designs before a person opens them, rehearse a keystroke, measure the fonts' strokes.

    Nothing is kept on disk. What stays is then left out of the collection of garbage, whose pauses a person would see.
    """
    breath = threading.Event()
    for listed in house.designs.listed()[:WARMED]:
        breath.wait(BREATH)  # who is at work already comes first
        try:
            design = house.designs.open(listed.id).design
        except NoSuchDesign:  # put away meanwhile
            continue
        with suppress(Stopped):
            house.aside.ask("warm", listed.id, Workshop.report, design)
        house.workshop.exact(design)
        for part in design.parts():
            if isinstance(part, Lettering):
                line = part.lines[0]
                typed = SetText(part=part.id, line=line.id, text=line.text + "B").apply(design)
                for pixel in (0.0, *COARSER):
                    house.workshop.display(typed, 4 * pixel)
    for entry in house.letter_case.listed().values():
        breath.wait(BREATH)
        lay_out(house.workshop, entry)
    gc.collect()
    gc.freeze()


def workshop_at(settings: Settings) -> Workshop:
    """A workshop with the fonts of a data folder, if it is one. It is only read; one of an earlier Jigger is brought up
    to date first.
    """
    if not (settings.data / DATABASE).exists():
        return Workshop()
    engine = read_database(settings.data)
    case = Case(FontStore(engine))
    try:
        case.listed()
    except DatabaseError:
        return open_house(settings).workshop
    return Workshop(case, pictures=PictureStore(engine).data)


def open_house(settings: Settings) -> House:
    """Open the data folder (made where it is not there). The queue is not started yet."""
    engine = open_database(settings.data)
    letter_case = Case(FontStore(engine))
    pictures = PictureStore(engine)
    workshop = Workshop(letter_case, pictures=pictures.data)
    shop = Shop(MaterialStore(engine), ShopStore(engine, "setting"))
    designs = Designs(DesignStore(engine), workshop, shop)
    stock = StockRoom(ShopStore(engine, "stock"))
    cut_lists = CutLists(CutListStore(engine), designs, workshop, stock)
    queue = Queue(JobStore(engine), designs, stations_of(settings), stock)
    return House(
        designs,
        queue,
        workshop,
        Aside(settings, workshop),
        letter_case,
        shop,
        cut_lists,
        Nests(cut_lists),
        Ornaments(ShopStore(engine, "ornament")),
        Pictures(pictures),
        Versions(DesignStore(engine), designs),
        ShelfKeeper(DesignStore(engine), designs),
        Proofs(ProofStore(engine), designs),
        PrintHouse(settings.print_house or settings.data / "print-house", designs),
    )
