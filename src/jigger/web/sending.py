"""What a page says before something is sent: to which machine, and what is right and what is not."""

from dataclasses import dataclass

from jigger.core.checks.findings import Report
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.errors import CommandRefused
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.rules import Material
from jigger.services.house import House
from jigger.services.queue.preflight import Asked, Said, looked_at
from jigger.services.queue.stations import Station, station_for


@dataclass(frozen=True)
class SendView:
    """`station` None: no connected machine cuts it, for the reason `why`."""

    station: Station | None
    said: list[Said]
    why: str = ""


def send_view(
    house: House, tooling: Tooling, material: Material | None, colour: str, path: ToolPath | None, mirrored: bool,
    report: Report | None, machine: str = "", moved_on: bool = False, approved: tuple[str, bool] | None = None,
    stock: str = "",
) -> SendView | None:  # fmt: skip
    """None where there is nothing to send by itself. `stock`: the piece that it is laid out on."""
    if material is None or path is None or not path.strokes:
        return None
    try:
        station = station_for(house.queue.stations, tooling, material, machine)
    except CommandRefused as refused:
        return SendView(None, [], str(refused))
    state, said = house.queue.machine_state(station.id), house.queue.machine_says(station.id)
    asked = Asked(
        station, tooling.machine(station.id), state, said, material, colour, path, mirrored, report, moved_on,
        approved, house.queue.piece_in(station.id), house.cut_lists.stock.find(stock),
    )  # fmt: skip
    return SendView(station, looked_at(asked))
