"""The chosen bridge: its figures for the build sheet, and its grips for the drawing."""

from dataclasses import dataclass

from jigger.core.design.building.built import Built
from jigger.core.design.edits.bridges import said_of
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_layer
from jigger.core.joinery.bridges.bridging import TIES, Bridge


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
            side = one.side
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
