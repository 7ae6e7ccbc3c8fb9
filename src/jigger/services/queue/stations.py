"""The machines that are connected: where each is, and which language it reads."""

from dataclasses import dataclass
from typing import Literal

from jigger.core.errors import CommandRefused
from jigger.core.machines.machine import Held, Language, Machine
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.rules import Material
from jigger.services.settings import Settings, address


@dataclass(frozen=True)
class Station:
    """`id` is that of the machine among the shop's. `line` and `front`: where programs and panel orders go. `tools` it
    may hold; the command that begins its stand-in.
    """

    id: str
    words: str
    language: Language
    line: tuple[str, int]
    front: tuple[str, int]
    tools: tuple[Held, Literal["pen"]]
    command: str

    @property
    def holds(self) -> Held:
        """What it cuts with."""
        return self.tools[0]


def stations_of(settings: Settings) -> dict[str, Station]:
    """By their ids, in the order they are shown."""
    found = (
        Station("roll-plotter", "Plotter", "hpgl", address(settings.plotter), address(settings.plotter_panel),
                ("knife", "pen"), "./jigger plotter"),
        Station("plate-table", "Plate table", "gcode", address(settings.table), address(settings.table_panel),
                ("torch", "pen"), "./jigger table"),
    )  # fmt: skip
    return {one.id: one for one in found}


DRAWS = "roll-plotter"  # the machine that draws on paper what none here cuts


def station_for(
    stations: dict[str, Station], tooling: Tooling, material: Material, chosen: str = "", pen: bool = False
) -> Station:
    """The connected machine that cuts a material, the `chosen` one where that does; with a `pen` what none cuts is
    drawn by the plotter. Raises CommandRefused.
    """
    able = [one.id for one in tooling.machines_for(material) if one.id in stations]
    if chosen:
        able = [one for one in able if one == chosen]
    if not able and pen:
        able = [DRAWS]
    if not able:
        words = "no connected machine cuts it; take its file to one that does"
        raise CommandRefused(material.name, words)
    return stations[able[0]]


def machine_of(station: Station, tooling: Tooling) -> Machine:
    """What the machine of a station can. Raises UnknownChoice."""
    return tooling.machine(station.id)
