"""The drawing's view: a built design as path strings and markers, y down; paths in hundredths of a mm."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.checks.report import loose_pieces
from jigger.core.design.building.built import Built, BuiltLayer, PrintedLayer
from jigger.core.design.building.references import moved_along
from jigger.core.design.many.lining import balance_of, lie_of
from jigger.core.design.model.design import Design
from jigger.core.formats.paths import screen_path, screen_paths
from jigger.core.formats.pictures import ScreenPicture, screen_pictures, svg_transform
from jigger.core.geometry.area.region import inside_points
from jigger.core.geometry.boxes import around
from jigger.core.joinery.bridges.bridging import Bridge
from jigger.services.showing.blade import MOST_NUMBERED
from jigger.services.workshop import Workshop
from jigger.web.guides import CourseView, LetterBox, course_view, letter_boxes
from jigger.web.snapping import snap_lines

COARSEST = 1.0  # mm a pixel, to learn how large a design is
TONES = 3  # in which Fall-out tells pieces from each other


@dataclass(frozen=True)
class PieceView:
    number: int
    path: str
    loose: bool
    numbered: bool
    x: float
    y: float
    tone: int


@dataclass(frozen=True)
class BridgeView:
    layer: str
    letter: str
    counter: int
    number: int
    name: str
    path: str
    x: float
    y: float
    turn: float
    by_hand: bool

    @property
    def key(self) -> str:
        return f"{self.layer} {self.letter} {self.counter} {self.number}"


@dataclass(frozen=True)
class PartView:
    """A part's box to take it by, with the parts that move along."""

    id: str
    title: str
    x: float
    y: float
    width: float
    height: float
    along: str

    @property
    def brackets(self) -> str:
        """Corner marks of the box, as long as a twelfth of its shorter side but no longer than 8 mm."""
        arm = min(8.0, max(self.width, self.height) / 12)
        left, top, right, bottom = self.x, self.y, self.x + self.width, self.y + self.height
        return " ".join(
            f"M{x:.3f} {y + sy * arm:.3f}V{y:.3f}H{x + sx * arm:.3f}"
            for x, y, sx, sy in (
                (left, top, 1, 1),
                (right, top, -1, 1),
                (right, bottom, -1, -1),
                (left, bottom, 1, -1),
            )
        )


@dataclass(frozen=True)
class HandlesView:
    """Corners to size what is chosen by, and where it turns about: its common box and balance, screen mm; `parts` are
    its ids.
    """

    parts: str
    x: float
    y: float
    width: float
    height: float
    turn_x: float
    turn_y: float

    @property
    def corners(self) -> list[tuple[str, float, float]]:
        """Each corner's name and place."""
        right, foot = self.x + self.width, self.y + self.height
        return [("nw", self.x, self.y), ("ne", right, self.y), ("se", right, foot), ("sw", self.x, foot)]


def handles_view(design: Design, built: Built, chosen: Sequence[str]) -> HandlesView | None:
    """The handles of chosen parts; None where none of them is to be seen."""
    hidden = design.hidden_parts()
    found = [lie_of(built.parts[one]) for one in chosen if one in built.parts and one not in hidden]
    found = [one for one in found if one.area > 0]
    box = around(one.ink for one in found)
    if box is None:
        return None
    x, y = balance_of(found)
    size = box[0], -box[3], box[2] - box[0], box[3] - box[1]
    return HandlesView(",".join(chosen), *(round(value, 3) for value in (*size, x, -y)))


@dataclass(frozen=True)
class LayerView:
    id: str
    colour: str
    pieces: list[PieceView]
    bridges: list[BridgeView]


@dataclass(frozen=True)
class PrintedView:
    """A layer that is printed and not cut: its id, colour, path, and the pictures in it."""

    id: str
    colour: str
    path: str
    pictures: tuple[ScreenPicture, ...]


def _printed(layer: PrintedLayer, colour: str | None) -> PrintedView:
    pictures = screen_pictures(layer.pictures)
    return PrintedView(layer.id, colour or layer.material.colour, screen_path(layer.area), pictures)


@dataclass(frozen=True)
class UnderlayView:
    """The picture under the drawing: its address, pixels, and SVG's transform to screen mm; how much of it shows."""

    href: str
    wide: int
    high: int
    transform: str
    shown: float


def _underlay(design: Design) -> UnderlayView | None:
    one = design.underlay
    if one is None or one.hidden:
        return None
    transform = svg_transform(one.place, one.high)
    return UnderlayView(f"/pictures/{one.picture}", one.wide, one.high, transform, round(1 - one.dim, 3))


@dataclass(frozen=True)
class DrawingView:
    """`box`: x, y, width, height of all there is
    to see, in screen mm; `tolerance` of the curves shown. `guides`: id, axis and place, screen mm.
    """

    surface: str | None
    surface_colour: str
    underlay: UnderlayView | None
    printed: list[PrintedView]
    layers: list[LayerView]
    parts: list[PartView]
    box: tuple[float, float, float, float]
    tolerance: float
    letters: list[LetterBox]
    course: CourseView | None
    guides: list[tuple[str, str, float]]
    snaps: list[list[object]]


def drawing_view(design: Design, built: Built, chosen: str | None, letter: str = "") -> DrawingView:
    colours = {layer.id: layer.colour for layer in design.layers}
    letters = design.letters()
    layers = [_layer(layer, colours[layer.id] or layer.material.colour, letters) for layer in built.layers]
    return DrawingView(
        surface=screen_path(built.surface) if built.surface else None,
        surface_colour=design.surface.colour if design.surface else "none",
        underlay=_underlay(design),
        printed=[_printed(one, colours[one.id]) for one in built.printed],
        layers=layers,
        parts=_parts(design, built),
        box=_box(built),
        tolerance=built.tolerance,
        letters=letter_boxes(built, chosen or "", letter),
        course=course_view(design, built, chosen or ""),
        guides=[(one.id, one.axis, round(one.at if one.axis == "x" else -one.at, 3)) for one in design.guides],
        snaps=[line.row() for line in snap_lines(design, built)],
    )


def fitted_pixel(workshop: Workshop, design: Design) -> float:
    """About how many mm a pixel shows when the design fills the drawing of a 1280 × 800 screen."""
    _, _, width, height = _box(workshop.display(design, COARSEST))
    return max(width / 740, height / 510)


def _layer(layer: BuiltLayer, colour: str, letters: dict[str, str]) -> LayerView:
    loose = {piece.number for piece in loose_pieces(layer)}
    few = layer.wish == "any" and len(layer.pieces.pieces) <= MOST_NUMBERED
    pieces = []
    paths = screen_paths([piece.region for piece in layer.pieces.pieces])
    across = sorted(layer.pieces.pieces, key=lambda piece: piece.region.bounds or (0.0,))
    tones = {piece.number: place % TONES for place, piece in enumerate(across)}  # neighbours in a row differ
    numbered = [piece for piece in layer.pieces.pieces if few or piece.number in loose]
    inside = inside_points([piece.region for piece in numbered])
    places = {piece.number: place for piece, place in zip(numbered, inside, strict=True)}
    for piece, path in zip(layer.pieces.pieces, paths, strict=True):
        number, (x, y) = piece.number, places.get(piece.number, (0.0, 0.0))
        pieces.append(PieceView(number, path, number in loose, number in places, x, -y, tones[number]))
    bridges = [_bridge(layer.id, bridge, letters) for bridge in layer.bridges]
    return LayerView(layer.id, colour, pieces, bridges)


def _bridge(layer: str, bridge: Bridge, letters: dict[str, str]) -> BridgeView:
    (x1, y1), (x2, y2) = bridge.strip.start, bridge.strip.end
    corners = " ".join(f"{x:.3f},{-y:.3f}" for x, y in bridge.strip.corners)
    turn = float(np.degrees(np.arctan2(-(y2 - y1), x2 - x1)))
    name = letters.get(bridge.owner, "shape")
    middle = round((x1 + x2) / 2, 3), round(-(y1 + y2) / 2, 3)
    return BridgeView(
        layer,
        bridge.owner,
        bridge.counter,
        bridge.number,
        name,
        f"M{corners}Z",
        *middle,
        round(turn, 1),
        bridge.by_hand,
    )


def _parts(design: Design, built: Built) -> list[PartView]:
    """Larger boxes first, so that a small part in front of a large one can be taken."""
    hidden = design.hidden_parts()
    views = []
    along = moved_along(design)
    for part in design.parts():
        box = built.parts[part.id].region.bounds
        if box is None or part.id in hidden:
            continue
        left, bottom, right, top = (round(value, 3) for value in box)
        views.append(
            PartView(part.id, part.title, left, -top, right - left, top - bottom, " ".join(sorted(along[part.id])))
        )
    return sorted(views, key=lambda view: -view.width * view.height)


def _box(built: Built) -> tuple[float, float, float, float]:
    left, bottom, right, top = built.extent or (0.0, 0.0, 200.0, 100.0)
    return round(left, 3), round(-top, 3), round(right - left, 3), round(top - bottom, 3)
