"""Areas drawn by lot: discs, bars, wedges, letters and arcs put together and cut from each other; and the awkward zoo."""

import numpy as np
from hypothesis import strategies as st

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.geometry.curves.curves import Curves
from jigger.core.joinery import shapes
from jigger.core.joinery.strokes import stroked
from tests.zoo import ZOO, resolved

TOL = 0.002
_place = st.tuples(*[st.integers(0, 48).map(lambda half: half / 2)] * 2)
_size = st.integers(4, 40).map(lambda half: half / 2)
_turn = st.integers(0, 35).map(lambda tens: 10.0 * tens)


def _disc(width: float, height: float, turn: float) -> Region:
    return shapes.oval("disc", width, height, TOL).mapped(Affine.turn(turn))


def _bar(width: float, height: float, turn: float) -> Region:
    box = np.array([[-width, -height], [width, -height], [width, height], [-width, height]]) / 2
    return Region.polygon("bar", box).mapped(Affine.turn(turn))


def _wedge(width: float, height: float, turn: float) -> Region:
    return Region.polygon("wedge", np.array([[-width / 2, 0], [width / 2, 0], [0, height]])).mapped(Affine.turn(turn))


def _arc(width: float, height: float, turn: float) -> Region:
    arc = Curves.arcs(np.array([[0.0, 0.0, max(width, 6.0) / 2, np.radians(turn), np.radians(60 + 10 * height)]]))
    return stroked("arc", arc, False, 3.0, "flat", "round", TOL)


def _frame(width: float, height: float, turn: float) -> Region:
    return shapes.ring("frame", width + 8, height + 8, 3.0, TOL).mapped(Affine.turn(turn))


_one = st.builds(
    lambda kind, width, height, turn, place: kind(width, height, turn).moved(*place),
    st.sampled_from([_disc, _bar, _wedge, _arc, _frame]), _size, _size, _turn, _place,
)  # fmt: skip


def _put_together(first: Region, more: list[tuple[Region, bool]]) -> Region:
    area = first
    for other, cut in more:
        area = difference(area, other) if cut else union((area, other))
    return area if not area.is_empty else EMPTY


def _seen(area: Region) -> bool:
    """Whether pictures of eight pixels a mm show all of its necks, gaps and tips."""
    return area.is_empty or resolved(area.geometry, 0.25)


DRAWN = st.builds(_put_together, _one, st.lists(st.tuples(_one, st.booleans()), max_size=4)).filter(_seen)
AREAS = st.one_of(st.sampled_from(list(ZOO.values())), DRAWN)
