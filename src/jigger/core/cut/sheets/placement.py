"""Where everything of a design goes on the finished work: which sheet carries what, measured from edges and centre."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.run import Run
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, middle
from jigger.core.geometry.curves.curves import Curves


@dataclass(frozen=True, eq=False)
class PlacedShare:
    """What is put on as one: its `number` on the map, what it is, on which sheet it lies (empty where there is no room
    for it), what is kept of it where it goes, and the marks at its seams; mm.
    """

    number: int
    title: str
    sheet: str
    colour: str
    kept: Region
    seams: tuple[Curves, ...]
    frame: Box

    @property
    def box(self) -> Box:
        return self.kept.bounds or self.frame

    @property
    def from_edges(self) -> tuple[float, float]:
        """Its left and lower edge from those of the frame, mm."""
        return self.box[0] - self.frame[0], self.box[1] - self.frame[1]

    @property
    def from_centre(self) -> tuple[float, float]:
        """Its middle from that of the frame, mm to the right and up."""
        (x, y), (x0, y0) = middle(self.box), middle(self.frame)
        return x - x0, y - y0


@dataclass(frozen=True, eq=False)
class PlacementMap:
    """One design as it goes on. `frame`: its surface, or the box of all of it."""

    design: str
    title: str
    frame: Box
    shares: tuple[PlacedShare, ...]


def maps_of(runs: Iterable[Run], titles: dict[str, str] | None = None) -> list[PlacementMap]:
    """A map of each design that goes on in more than one piece of material, numbered in the order of the runs. `titles`
    of designs by `Entry.design`.
    """
    found: dict[str, list[tuple[Entry, Run]]] = {}
    for run in runs:
        for entry in run.entries:
            found.setdefault(entry.design or entry.item, []).append((entry, run))
    maps = []
    for design, some in found.items():
        if len(some) > 1:
            frame = some[0][0].frame or some[0][0].page
            shares = tuple(_share(number, *pair, frame) for number, pair in enumerate(some, start=1))
            maps.append(PlacementMap(design, (titles or {}).get(design, some[0][0].title), frame, shares))
    return maps


def _share(number: int, entry: Entry, run: Run, frame: Box) -> PlacedShare:
    sheets = sorted({one.sheet + 1 for one in run.placed if one.entry.item == entry.item})
    words = f"{run.stock.form} {', '.join(map(str, sheets))}" if run.stock.form != "roll" else run.stock.form
    sheet = f"{run.material.name}, {words}" if sheets else ""
    return PlacedShare(number, entry.title, sheet, entry.colour, entry.kept, entry.seams, frame)
