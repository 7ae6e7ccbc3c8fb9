"""The placement map as it is shown: the work with its shares, y down, areas in hundredths of a mm."""

from dataclasses import dataclass

from jigger.core.cut.sheets.placement import PlacementMap, maps_of
from jigger.core.cut.sheets.run import Run
from jigger.core.formats.paths import curve_path, screen_paths
from jigger.core.geometry.area.region import inside_points
from jigger.core.geometry.boxes import Box
from jigger.services.lists.laying import SheetPlan

AROUND = 0.12  # of the work's longer side that is shown round it


@dataclass(frozen=True)
class ShareView:
    number: int
    title: str
    sheet: str
    colour: str
    path: str
    lines: str
    x: float
    y: float
    left: float
    below: float
    from_centre: tuple[float, float]


@dataclass(frozen=True)
class MapView:
    """`frame`: x, y down, width, height of the work."""

    design: str
    title: str
    frame: tuple[float, float, float, float]
    shares: list[ShareView]

    @property
    def box(self) -> list[float]:
        """What is shown: x, y down, width, height."""
        x, y, wide, high = self.frame
        room = AROUND * max(wide, high)
        return [x - room, y - room, wide + 2 * room, high + 2 * room]


def map_of(plan: SheetPlan, run: Run | None) -> PlacementMap | None:
    """The map of a design of a run, the first that has one."""
    designs = {entry.design for entry in run.entries} if run else set()
    return next((one for one in maps_of(plan.runs, plan.names) if one.design in designs), None)


def map_view(one: PlacementMap) -> MapView:
    """See MapView."""
    areas = [share.kept for share in one.shares]
    shares = [
        ShareView(
            share.number, share.title, share.sheet, share.colour, path,
            "".join(curve_path(mark, 0.0, 0.0, 2) for mark in share.seams), x, -y,
            *share.from_edges, share.from_centre,
        )
        for share, path, (x, y) in zip(one.shares, screen_paths(areas), inside_points(areas), strict=True)
    ]  # fmt: skip
    return MapView(one.design, one.title, _down(one.frame), shares)


def _down(box: Box) -> tuple[float, float, float, float]:
    left, bottom, right, top = box
    return left, -top, right - left, top - bottom
