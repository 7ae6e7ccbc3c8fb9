"""Drawing by hand: what a node in the hand and one let go cost, and how many nodes welded strokes come to.

The raw library's figure is its buffer of the same lines at the same tolerance, all welded.
"""

import tempfile
import time
from pathlib import Path

import numpy as np
import shapely

from bench.figures import milliseconds, summary
from jigger.core.design.drawn.course import drawn_path
from jigger.core.design.edits.strokes import DrawPath
from jigger.core.design.model.design import Design, Group, Layer
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.geometry.curves.outline import outlines
from jigger.services.demo.drawn import lock_keeper
from jigger.services.edits.drawing_hands import DragNodes, drawn_so
from jigger.services.house import House, open_house
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop
from jigger.web.guides import ghost

STROKES, NODES, WIDTH, PIXEL = 12, 12, 4.0, 0.3


def run(quick: bool = False) -> dict[str, object]:
    with tempfile.TemporaryDirectory() as folder:
        house = open_house(Settings(data=Path(folder)))
        times = 4 if quick else 60
        return {
            f"{STROKES} strokes of {NODES} nodes, ms": {
                "in the hand: the outline of the stroke": dragged(house, times),
                "let go: kept, all built for the screen": let_go(house, times),
                "raw buffer of the same lines": milliseconds(raw, times),
            },
            "the lock keeper": welded(),
        }


def path(number: int) -> DrawnPath:
    """A wave, a little further on for each."""
    nodes = [
        Node(x=9.0 * number + 8 * k, y=(20.0, 60.0)[k % 2], kind="symmetric", in_x=-4, out_x=4) for k in range(NODES)
    ]
    return DrawnPath(nodes=nodes)


def drawing(house: House) -> tuple[str, str]:
    design = Design(name="Waves", layers=[Layer(id="a", material="outdoor-vinyl")])
    identity = house.designs.add(design, "bench")
    for number in range(STROKES):
        house.designs.edit(identity, DrawPath(layer="a", paths=[path(number)], width=WIDTH, filled=False))
    return identity, house.designs.open(identity).design.parts()[3].id


def dragged(house: House, times: int) -> dict[str, float]:
    identity, part = drawing(house)
    taken = []
    for step in range(times):
        edit = DragNodes(part=part, nodes=[4], dx=0.37 * (step + 1), dy=0.21)
        start = time.perf_counter()
        ghost(house.workshop.display(drawn_so(house, identity, edit), PIXEL), part)
        taken.append((time.perf_counter() - start) * 1000)
    return summary(taken)


def let_go(house: House, times: int) -> dict[str, float]:
    identity, part = drawing(house)

    def once() -> None:
        opened = DragNodes(part=part, nodes=[4], dx=0.37, dy=0.21).done(house, identity, None)
        house.workshop.display(opened.design, PIXEL)

    return milliseconds(once, times)


def raw() -> None:
    lines = []
    for number in range(STROKES):
        curves = drawn_path(path(number)).curves
        lines.append(shapely.LineString(np.vstack([curves.flattened(0.05)[0], curves.ends[-1:]])))
    shapely.union_all([line.buffer(WIDTH / 2) for line in lines])


def welded() -> dict[str, object]:
    design = lock_keeper()
    built = Workshop().exact(design)
    figure = next(part for part in design.parts() if isinstance(part, Group))
    own = sum(outlines(built.parts[part.id].region).nodes for part in figure.parts)
    whole = outlines(built.parts[figure.id].region)
    return {
        "strokes": len(figure.parts),
        "their nodes": own,
        "welded": whole.nodes,
        "true to, mm": round(whole.deviation, 4),
    }
