"""The chosen bridge: its figures for the build sheet, its grips for the drawing, and what is posted about it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from jigger.core.design.building.built import Built
from jigger.core.design.edits.bridges import said_of
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_layer
from jigger.core.joinery.bridges.bridging import TIES, Bridge
from jigger.services import bridge_hands
from jigger.services.bridge_hands import Key
from jigger.services.designs import Opened
from jigger.services.house import House
from jigger.web.forms import read_bridge, read_point, read_seen, read_value

Form = Mapping[str, str]
Edit = Callable[[House, str, Form], Opened]


@dataclass(frozen=True)
class BridgeCard:
    """The chosen bridge. Lengths mm; `turn` degrees it runs in. `end` and `side`: where its grips stand, screen mm.
    `post`: what names it in a form.
    """

    key: str
    layer: str
    title: str
    is_tie: bool
    by_hand: bool
    width: float
    turn: float
    length: float
    form: str
    reason: str
    end: tuple[float, float]
    side: tuple[float, float]
    post: dict[str, str | int]


def bridge_card(built: Built, design: Design, chosen: str) -> BridgeCard | None:
    """The bridge of a key "layer letter counter number"; None where there is none."""
    for layer in built.layers:
        for one in layer.bridges:
            post: dict[str, str | int] = {
                "layer": layer.id, "letter": one.owner, "counter": one.counter, "number": one.number
            }  # fmt: skip
            if " ".join(map(str, post.values())) != chosen:
                continue
            letter, is_tie = design.letters().get(one.owner), one.counter >= TIES
            title = f"{'Tie' if is_tie else 'Bridge'} on {f'“{letter}”' if letter else 'a shape'}"
            x, y = one.strip.end
            middle, along = np.mean([one.strip.start, one.strip.end], axis=0), np.radians(one.strip.direction)
            side = (middle + one.width / 2 * np.array([np.sin(along), -np.cos(along)])).tolist()
            return BridgeCard(
                chosen, layer.id, title, is_tie, one.by_hand, one.width, one.strip.direction, one.length,
                _form(design, layer.id, one), one.strip.reason,
                (round(x, 3), round(-y, 3)), (round(side[0], 3), round(-side[1], 3)), post,
            )  # fmt: skip
    return None


def _form(design: Design, layer: str, bridge: Bridge) -> str:
    bridges = find_layer(design, layer).bridges
    said = said_of(bridges, (bridge.owner, bridge.counter, bridge.number))
    return said.form if said and said.form else bridges.form


def _at_point(service: Callable[..., Opened]) -> Edit:
    def edit(house: House, identity: str, form: Form) -> Opened:
        return service(house.designs, identity, Key(*read_bridge(form)), *read_point(form), read_seen(form))

    return edit


def _by_itself(service: Callable[..., Opened]) -> Edit:
    def edit(house: House, identity: str, form: Form) -> Opened:
        return service(house.designs, identity, Key(*read_bridge(form)), read_seen(form))

    return edit


def _valued(service: Callable[..., Opened], kind: str) -> Edit:
    def edit(house: House, identity: str, form: Form) -> Opened:
        value = read_value(kind, form.get("value", ""), form.get("unit", "mm"))
        return service(house.designs, identity, Key(*read_bridge(form)), value, read_seen(form))

    return edit


def _draw(house: House, identity: str, form: Form) -> Opened:
    start = read_point({"x": form.get("x0", ""), "y": form.get("y0", "")})
    return bridge_hands.draw(house.designs, identity, form.get("layer", ""), start, read_point(form), read_seen(form))


BRIDGE_EDITS: dict[str, Edit] = {
    "turn bridge": _at_point(bridge_hands.turn),
    "widen bridge": _at_point(bridge_hands.widen),
    "bridge width": _valued(bridge_hands.set_width, "optional"),
    "bridge turn": _valued(bridge_hands.set_turn, "optional number"),
    "bridge form": _valued(bridge_hands.set_form, "choice"),
    "split bridge": _by_itself(bridge_hands.split),
    "hold bridge": _by_itself(bridge_hands.pin),
    "release bridge": _by_itself(bridge_hands.release),
    "equal bridges": _by_itself(bridge_hands.equal),
    "draw bridge": _draw,
}
