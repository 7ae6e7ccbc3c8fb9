"""Everything a Jigger needs at run time, put together from settings."""

from dataclasses import dataclass

from jigger.services.cutting import Queue
from jigger.services.designs import Designs
from jigger.services.settings import Settings, address
from jigger.services.workshop import Workshop
from jigger.store.database import open_database
from jigger.store.history import DesignStore
from jigger.store.jobs import JobStore


@dataclass(frozen=True)
class House:
    designs: Designs
    queue: Queue
    workshop: Workshop


def open_house(settings: Settings) -> House:
    """Open the data folder (made where it is not there). The queue is not started yet."""
    engine = open_database(settings.data)
    workshop = Workshop()
    designs = Designs(DesignStore(engine), workshop)
    queue = Queue(JobStore(engine), designs, address(settings.plotter), address(settings.plotter_panel))
    return House(designs, queue, workshop)
