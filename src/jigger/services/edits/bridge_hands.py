"""Bridges by hand: turned, widened, split, drawn across, held where they are, the same on equal letters.

Each needs to know where things are; the exact build is at hand soon after each readout.
"""

import math
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from jigger.core.design.building.built import BuiltLayer
from jigger.core.design.edits.bridges import EditBridges, bridge_edit
from jigger.core.design.model.design import BridgeEdit
from jigger.core.design.model.find import find_layer
from jigger.core.errors import CommandRefused
from jigger.core.joinery.bridges.along import share_nearest
from jigger.core.joinery.bridges.bridging import TIES, Bridge, Counter
from jigger.services.designs import Designs, Opened

EQUAL = 0.01  # mm by which the outlines of equal counters may differ
APART = 1.6  # widths between the middles of the two that a bridge is split into
LEAST = 0.1  # mm: no bridge is made narrower by hand


class WhichBridge(NamedTuple):
    """Which bridge: its layer, letter (or part), counter and number."""

    layer: str
    letter: str
    counter: int
    number: int


@dataclass(frozen=True)
class _Found:
    """A bridge with its counter, as they are built."""

    layer: BuiltLayer
    bridge: Bridge
    counter: Counter | None

    def edit(self, **changed: float | str | None) -> BridgeEdit:
        """Where it is now, said by hand, but for what is changed."""
        bridge = self.bridge
        values: dict[str, Any] = {
            "along": round(bridge.along, 5), "width": round(bridge.width, 4), "turn": round(bridge.strip.direction, 2)
        }  # fmt: skip
        return bridge_edit(letter=bridge.owner, counter=bridge.counter, number=bridge.number, **{**values, **changed})


def _found(designs: Designs, identity: str, key: WhichBridge) -> _Found:
    layer = _layer(designs, identity, key.layer)
    bridge = next((b for b in layer.bridges if (b.owner, b.counter, b.number) == key[1:]), None)
    if bridge is None:
        raise CommandRefused("", "this bridge is no longer there")
    counter = next((c for c in layer.counters if (c.owner, c.number) == key[1:3]), None)
    return _Found(layer, bridge, counter)


def _layer(designs: Designs, identity: str, layer: str) -> BuiltLayer:
    built = designs.workshop.exact(designs.open(identity).design)
    found = next((one for one in built.layers if one.id == layer), None)
    if found is None:
        raise CommandRefused("", "this layer is no longer there, or hidden")
    return found


def _keep(designs: Designs, identity: str, layer: str, edits: list[BridgeEdit], words: str, seen: int | None) -> Opened:
    return designs.edit(identity, EditBridges(layer=layer, edits=edits, words=words), seen)


def turn(designs: Designs, identity: str, key: WhichBridge, x: float, y: float, seen: int | None) -> Opened:
    """Let a bridge run from where it leaves its counter towards a point, mm."""
    found = _found(designs, identity, key)
    (x0, y0) = found.bridge.strip.start
    if math.hypot(x - x0, y - y0) < LEAST:
        raise CommandRefused("", "drag further from where the bridge begins")
    angle = round(math.degrees(math.atan2(y - y0, x - x0)), 1)
    return _keep(designs, identity, key.layer, [found.edit(turn=angle)], "bridge turned", seen)


def widen(designs: Designs, identity: str, key: WhichBridge, x: float, y: float, seen: int | None) -> Opened:
    """Make a bridge so wide that its side runs through a point, mm."""
    found = _found(designs, identity, key)
    (x0, y0), along = found.bridge.strip.start, math.radians(found.bridge.strip.direction)
    side = abs((x - x0) * math.sin(along) - (y - y0) * math.cos(along))
    return set_width(designs, identity, key, max(LEAST, round(2 * side, 1)), seen)


def set_width(designs: Designs, identity: str, key: WhichBridge, width: float | None, seen: int | None) -> Opened:
    """A width of its own, mm; None for the layer's."""
    found = _found(designs, identity, key)
    return _keep(designs, identity, key.layer, [found.edit(width=width)], "width of a bridge", seen)


def set_turn(designs: Designs, identity: str, key: WhichBridge, angle: float | None, seen: int | None) -> Opened:
    """A direction of its own, degrees; None for the straightest there."""
    found = _found(designs, identity, key)
    return _keep(designs, identity, key.layer, [found.edit(turn=angle)], "direction of a bridge", seen)


def set_form(designs: Designs, identity: str, key: WhichBridge, form: str | None, seen: int | None) -> Opened:
    """A form of its own; None for the layer's."""
    found = _found(designs, identity, key)
    return _keep(designs, identity, key.layer, [found.edit(form=form)], "form of a bridge", seen)


def pin(designs: Designs, identity: str, key: WhichBridge, seen: int | None) -> Opened:
    """Hold a bridge where it is, as it is, whatever else changes."""
    return _keep(designs, identity, key.layer, [_found(designs, identity, key).edit()], "bridge held in place", seen)


def release(designs: Designs, identity: str, key: WhichBridge, seen: int | None) -> Opened:
    """Forget what was done to a bridge by hand."""
    command = EditBridges(layer=key.layer, forget=[_blank(key)], words="bridge by itself again")
    return designs.edit(identity, command, seen)


def _blank(key: WhichBridge) -> BridgeEdit:
    return BridgeEdit(letter=key.letter, counter=key.counter, number=key.number)


def split(designs: Designs, identity: str, key: WhichBridge, seen: int | None) -> Opened:
    """Two bridges of the same width beside each other, where one was."""
    found = _found(designs, identity, key)
    if found.counter is None:
        raise CommandRefused("", "only bridges of counters are split; a tie stands alone")
    length = float(np.hypot(*np.diff(found.counter.outline, axis=0).T).sum())
    step = APART * found.bridge.width / 2 / length
    if 2 * step > 0.5:
        raise CommandRefused("", "the counter is too small for two bridges of this width")
    along = found.bridge.along
    number = 1 + max(b.number for b in found.layer.bridges if (b.owner, b.counter) == key[1:3])
    first = found.edit(along=round((along - step) % 1, 5))
    second = found.edit(along=round((along + step) % 1, 5)).model_copy(update={"number": number})
    return _keep(designs, identity, key.layer, [first, second], "bridge split in two", seen)


def equal(designs: Designs, identity: str, key: WhichBridge, seen: int | None) -> Opened:
    """What was done to the bridges of a counter, done on every counter of the same shape."""
    found = _found(designs, identity, key)
    said = find_layer(designs.open(identity).design, key.layer).bridges.edits
    done = [x for x in said if (x.letter, x.counter) == key[1:3]]
    twins = [c for c in found.layer.counters if found.counter and c is not found.counter and _alike(c, found.counter)]
    if not done or not twins:
        words = "no other counter has this shape" if done else "nothing was done to this bridge by hand yet"
        raise CommandRefused("", words)
    edits = [x.model_copy(update={"letter": twin.owner, "counter": twin.number}) for twin in twins for x in done]
    return _keep(designs, identity, key.layer, edits, "bridges of equal letters", seen)


def _alike(a: Counter, b: Counter) -> bool:
    mine, other = a.outline - a.outline[0], b.outline - b.outline[0]
    return mine.shape == other.shape and bool(np.abs(mine - other).max() < EQUAL)


def draw(
    designs: Designs, identity: str, layer: str, start: tuple[float, float], end: tuple[float, float], seen: int | None
) -> Opened:
    """A bridge along a line drawn across an opening, mm: from the counter that it begins or ends in."""
    built = _layer(designs, identity, layer)
    for here, there in ((start, end), (end, start)):
        counter = next((c for c in built.counters if c.number < TIES and c.region.contains_point(*here)), None)
        if counter is not None and not counter.region.contains_point(*there):
            break
    else:
        raise CommandRefused("", "begin inside a counter and draw across the opening to the material around it")
    leaves = _leaving(counter, here, there)
    numbers = [b.number for b in built.bridges if (b.owner, b.counter) == (counter.owner, counter.number)]
    edit = BridgeEdit(
        letter=counter.owner, counter=counter.number, number=1 + max(numbers, default=-1),
        along=round(share_nearest(counter.outline, *leaves), 5),
        turn=round(math.degrees(math.atan2(there[1] - here[1], there[0] - here[0])), 1),
    )  # fmt: skip
    return _keep(designs, identity, layer, [edit], "bridge drawn across", seen)


def _leaving(counter: Counter, here: tuple[float, float], there: tuple[float, float]) -> tuple[float, float]:
    """Where the line drawn leaves a counter for the last time."""
    shares = np.linspace(0, 1, 400)[:, None]
    points = np.array(here) + shares * (np.array(there) - np.array(here))
    inside = np.flatnonzero(counter.region.contains(points[:, 0], points[:, 1]))
    x, y = points[inside[-1]].tolist()
    return x, y
