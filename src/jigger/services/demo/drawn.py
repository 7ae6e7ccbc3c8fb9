"""Designs of the boatyard that are drawn by hand: the lock keeper from strokes, and a script over a sketch."""

from pathlib import Path

from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.mirror import Mirror
from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Stroke, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import DrawnPath, Node, NodeKind, Pen, StrokeCourse
from jigger.core.design.starters.base import lettering
from jigger.services.supplies.pictures import Pictures

SKETCH = Path(__file__).parent / "art" / "sketch.png"

Rows = tuple[tuple[float, ...], ...]  # x, y, then the handles to the node before and after, then the width

# What the sketch shows, drawn over it; mm from its lower left corner as it was squared up.
SCRIPT: tuple[Rows, ...] = (
    ((8, 20, 0, 0, 10, 2, 0.45), (31, 58, 6, -16, -3, 9, 0.8), (21, 58, 3, 9, -5, -16, 1.2),
     (22, 17, -3, 8, 2, -6, 1.2),
     (34, 18, -5, -4, 4, 3, 0.5), (46, 34, -4, -8, 5, 10, 0.6), (62, 34, -7, 9, 0, 0, 0.8)),
    ((62, 34, 0, 0, -9, 5, 0.8), (46, 24, 0, 8, 0, -9, 1.2), (58, 13, -8, 0, 9, 0, 0.8), (70, 26, 0, -8, 0, 9, 1.2),
     (60, 36, 7, 0, 5, -3, 0.7), (92, 30, -9, -4, 0, 0, 0.45)),
    ((108, 32, 0, 0, -6, 6, 1.0), (90, 24, 0, 10, 0, -10, 1.25), (104, 13, -9, 0, 8, 0, 0.8),
     (124, 26, -8, -7, 0, 0, 0.45)),
    ((118, 20, 0, 0, 8, 8, 0.45), (140, 58, 6, -16, -3, 8, 0.8),
     (131, 58, 3, 8, -4, -16, 1.2), (125, 12, 2, 12, 0, 0, 1.2)),
    ((126, 24, 0, 0, 8, 10, 0.8), (147, 34, -6, 4, 5, -5, 0.9), (132, 25, 7, -1, 6, 0, 0.6),
     (148, 14, -6, 4, 6, -3, 1.2),
     (166, 24, -7, -8, 0, 0, 0.45)),
)  # fmt: skip


def drawn_designs() -> list[Design]:
    """Those that need no picture."""
    return [lock_keeper()]


def lock_keeper() -> Design:
    """A figure of one stroke width: its limbs are drawn once and mirrored, so that all can be changed at once."""
    design = Design(name="Lock keeper, drawn", surface=Surface(width=160, height=220))

    def stroke(
        name: str, *rows: tuple[float, ...], closed: bool = False, filled: bool = False, twin: bool = False
    ) -> Stroke:
        path = DrawnPath(nodes=[_node(row) for row in rows], closed=closed)
        finishes: list[FinishBase] = (
            [Mirror(id=design.fresh("finish"), side="right", axis="point", at=0.0)] if twin else []
        )
        pen = Pen(width=9.0, filled=filled)
        return Stroke(id=design.fresh("part"), name=name, course=StrokeCourse(kind="path", paths=[path]), pen=pen,
                      place=Place(by="origin"), finishes=finishes)  # fmt: skip

    ball = StrokeCourse(kind="circle", radius=13)
    head = Stroke(id=design.fresh("part"), name="Head", course=ball, pen=Pen(filled=True), place=Place(y=150))
    figure: list[AnyPart] = [
        head,
        stroke(
            "Cap", (-17, 160), (17, 160), (13, 172, 3, -6, -3, 4), (-13, 172, 3, 4, -3, -6), closed=True, filled=True
        ),
        stroke("Neck", (0, 140), (0, 124)),
        stroke("Shoulders", (-26, 112, -4, -10, 4, 10), (0, 126, -10, 0, 10, 0), (26, 112, -4, 10, 4, -10)),
        stroke("Arm", (-26, 112), (-36, 84, 2, 10, -2, -8), (-34, 60), twin=True),
        stroke("Side of the coat", (-17, 118), (-20, 62, 0, 12, 0, 0), twin=True),
        stroke("Hem", (-20, 62), (20, 62)),
        stroke("Leg", (-11, 62), (-12, 20), (-15, 12), (-26, 12), twin=True),
        stroke("Windlass", (-34, 60), (-34, 34), (-50, 34), (-50, 24)),
    ]
    group = Group(id=design.fresh("part"), name="Keeper", parts=figure, place=Place(by="origin", on="page", x=80, y=20))
    words = lettering(design, "LOCK KEEPER", "jost", 11, place=Place(x=80, y=16))
    design.layers = [Layer(id=design.fresh("layer"), material="outdoor-vinyl", parts=[group, words])]
    return check_whole(design)


def over_a_sketch(pictures: Pictures) -> Design:
    """A script drawn over a sketch on paper, which lies underneath."""
    kept = pictures.keep(SKETCH.read_bytes(), SKETCH.name)
    design = Design(name="Lock, drawn over a sketch", surface=Surface(width=220, height=120))
    design = pictures.laid_under(kept.id, 177.4).apply(design)
    assert design.underlay is not None
    design.underlay = design.underlay.mapped(1.0, 2.2, (110.0, 60.0))
    paths = [DrawnPath(nodes=[_node(row, smooth=True) for row in rows]) for rows in SCRIPT]
    script = Stroke(
        id=design.fresh("part"), name="lock", course=StrokeCourse(kind="path", paths=paths), pen=Pen(width=3.2),
        place=Place(by="origin", x=26.0, y=27.5),
    )  # fmt: skip
    design.layers = [Layer(id=design.fresh("layer"), material="outdoor-vinyl", parts=[script])]
    return design


def _node(row: tuple[float, ...], smooth: bool = False) -> Node:
    x, y, in_x, in_y, out_x, out_y, width = (*row, *(0.0, 0.0, 0.0, 0.0, 1.0)[len(row) - 2 :])
    bent = (in_x or in_y) and (out_x or out_y)
    kind: NodeKind = "smooth" if bent and smooth else "corner"
    return Node(x=x, y=y, kind=kind, in_x=in_x, in_y=in_y, out_x=out_x, out_y=out_y, width=width)
