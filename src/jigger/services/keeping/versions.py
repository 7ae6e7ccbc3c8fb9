"""The history of a design to look back in: its steps, names of versions, two of them beside each other, and what is
brought back.
"""

from dataclasses import dataclass

from jigger.core.checks.findings import Report
from jigger.core.design.building.built import Built
from jigger.core.design.many.several import Several
from jigger.core.design.model.design import Design, flat
from jigger.core.design.model.find import find_part, home_of, layer_of
from jigger.core.design.past.bringing_back import BringBack
from jigger.core.design.past.changes import PartChange, changes
from jigger.core.errors import CommandRefused
from jigger.core.formats.paths import screen_path
from jigger.core.formats.pictures import ScreenPicture, screen_pictures
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.geometry.boxes import Box, around
from jigger.core.words import one_line
from jigger.services.clock import now
from jigger.services.designs import Designs, Opened
from jigger.services.edits.reaching import released
from jigger.services.workshop import Workshop
from jigger.store.history import DesignStore
from jigger.store.history import PastStep as PastStep

MOST_NAME = 120
LEAST = 0.02  # mm2: what is smaller is the grid's


@dataclass(frozen=True)
class Figures:
    """What a state comes to: the box of what is kept, mm; pieces, openings, cut length, mm, and findings that stop."""

    width: float
    height: float
    pieces: int
    holes: int
    cut: float
    stops: int


@dataclass(frozen=True)
class LayerDrawn:
    """What a layer keeps or prints: its colour, path (hundredths of a mm, y down), and the pictures in it. `line`: what
    is printed is cut along it.
    """

    colour: str
    path: str
    pictures: tuple[ScreenPicture, ...] = ()
    line: bool = False


@dataclass(frozen=True)
class StateDrawn:
    """A state as it is drawn beside another: its layers, and the path of what the other has not, mm2 in all."""

    layers: tuple[LayerDrawn, ...]
    surface: str
    only: str
    area: float


@dataclass(frozen=True)
class Compared:
    """Two states beside each other: both drawn in one `box` (screen mm), their figures, and what changed."""

    before: StateDrawn
    after: StateDrawn
    box: tuple[float, float, float, float]
    figures: tuple[Figures, Figures]
    changes: list[PartChange]


class Versions:
    def __init__(self, store: DesignStore, designs: Designs):
        self._store, self._designs = store, designs

    def steps(self, identity: str) -> list[PastStep]:
        """All steps of a design, the newest first. Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return history.steps()

    def design_at(self, identity: str, number: int) -> Design:
        """The design as it was at a revision. Raises CommandRefused where there is none."""
        found = self._designs.at(identity, number)
        if found is None:
            raise CommandRefused("Version", f"there is no version {number} of this design")
        return found

    def go_to(self, identity: str, number: int) -> Opened:
        """Show a revision again; what was made after it stays to be found. Raises CommandRefused, NoSuchDesign."""
        self.design_at(identity, number)
        return self._designs.go_to(identity, number)

    def name(self, identity: str, number: int, name: str) -> None:
        """Call a revision by a name, or no longer where it is empty. Raises CommandRefused, NoSuchDesign."""
        self.design_at(identity, number)
        words = one_line(name)
        if len(words) > MOST_NAME:
            raise CommandRefused("Name", f"it has {len(words)} letters; {MOST_NAME} is the most")
        with self._store.writing(identity) as history:
            history.name_version(number, words, now())

    def bring_back(self, identity: str, number: int, part: str, seen: int | None = None) -> Opened:
        """Put a part into the design as it was at a revision; what it referred to and is no longer there, it is settled
        from, where it lay. Raises CommandRefused, LateEdit, NoSuchDesign.
        """
        old, present = self.design_at(identity, number), self._designs.open(identity).design
        gone = set(old.ids()) - set(present.ids()) - {one.id for one in flat([find_part(old, part)])}
        settled = self._free_of(old, part, gone)
        found, home = find_part(settled, part), home_of(settled, part)
        own = {
            x for one in flat([found]) for x in (one.id, *(i for line in getattr(one, "lines", []) for i in line.ids))
        }
        layer = layer_of(settled, part)
        bridges = [edit for edit in layer.bridges.edits if edit.letter in own]
        back = BringBack(
            part=found, home=home.id, index=[one.id for one in home.parts].index(part), bridges=bridges, layer=layer.id
        )
        return self._designs.edit(identity, back, seen)

    def _free_of(self, design: Design, part: str, gone: set[str]) -> Design:
        """A design whose part, with what it holds, refers to nothing that is gone, but lies where it lay."""
        parts = [one.id for one in flat([find_part(design, part)])]
        steps = released(
            self._designs.workshop, design, parts,
            lambda one: one.place.on in gone or one.place.between in gone,
            lambda one: one.fit.kind != "none" and one.fit.to in gone,
        )  # fmt: skip
        return Several(words="settled", edits=steps).apply(design) if steps else design


def compared(workshop: Workshop, before: Design, after: Design) -> Compared:
    """Two designs beside each other."""
    pair = [workshop.exact(before), workshop.exact(after)]
    reports = [workshop.report(before), workshop.report(after)]
    only = [_only(pair[0], pair[1]), _only(pair[1], pair[0])]
    drawn = [_drawn(design, built, region) for design, built, region in zip((before, after), pair, only, strict=True)]
    box = around(built.extent for built in pair) or (0.0, 0.0, 100.0, 60.0)
    figures = [_figures(built, report) for built, report in zip(pair, reports, strict=True)]
    return Compared(
        drawn[0], drawn[1], (box[0], -box[3], box[2] - box[0], box[3] - box[1]), (figures[0], figures[1]),
        changes(before, after),
    )  # fmt: skip


def _only(one: Built, other: Built) -> Region:
    """What one state keeps, or prints, and the other does not, layer by layer."""
    theirs = {layer.id: layer.kept for layer in other.layers} | {layer.id: layer.area for layer in other.printed}
    mine = {layer.id: layer.kept for layer in one.layers} | {layer.id: layer.area for layer in one.printed}
    found = [difference(region, theirs.get(identity, EMPTY)) for identity, region in mine.items()]
    pieces = [piece for region in found for piece in region.polygons() if piece.area >= LEAST]
    return union(pieces)


def _drawn(design: Design, built: Built, only: Region) -> StateDrawn:
    colours = {layer.id: layer.colour for layer in design.layers}
    printed = [
        LayerDrawn(colours[one.id] or one.material.colour, screen_path(one.area), screen_pictures(one.pictures))
        for one in built.printed
    ]
    cut = [
        LayerDrawn(colours[one.id] or one.material.colour, screen_path(one.kept), line=bool(printed))
        for one in built.layers
    ]
    surface = screen_path(built.surface) if built.surface else ""
    return StateDrawn((*printed, *cut), surface, "" if only.is_empty else screen_path(only), only.area)


def _figures(built: Built, report: Report) -> Figures:
    left, bottom, right, top = built.box or _nothing()
    cut = sum(layer.outline for layer in report.layers)
    pieces, holes = sum(layer.pieces for layer in report.layers), sum(layer.holes for layer in report.layers)
    stops = sum(finding.open for finding in report.all_findings)
    return Figures(right - left, top - bottom, pieces, holes, cut, stops)


def _nothing() -> Box:
    return 0.0, 0.0, 0.0, 0.0
