"""What hangs on what, against rings inside rings whose answer is plain, and on a bridged plate."""

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.joinery.bridges.bridging import hold
from jigger.core.joinery.bridges.strips import BridgeRules
from jigger.core.joinery.pieces.connectivity import knots
from jigger.core.joinery.pieces.pieces import count_pieces
from tests.core.joinery.test_bridging import opened
from tests.zoo import square


def centred(size: float, owner: str) -> Region:
    return square(-size / 2, -size / 2, size, owner)


def target() -> Region:
    """A frame, a ring in its opening, a disc in the ring's, and a block outside all of it."""
    frame = difference(centred(100.0, "frame"), centred(80.0, "frame"))
    ring = difference(centred(60.0, "ring"), centred(40.0, "ring"))
    return union([frame, ring, centred(20.0, "core"), square(60.0, 0.0, 5.0, "block")])


def test_islands_lie_below_what_surrounds_them() -> None:
    found = knots(count_pieces(target()), (), ())
    assert [(x.owners, x.depth, x.openings, x.gap) for x in found] == [
        (("frame",), 0, 1, 10.0), (("ring",), 1, 1, 10.0), (("core",), 2, 0, 10.0), (("block",), 0, 0, 10.0)
    ]  # fmt: skip
    assert [x.number for x in found] == [1, 2, 3, 4] and not any(x.held for x in found)


def test_counters_hang_on_the_piece_that_their_bridges_join_them_to() -> None:
    kept = opened("BO", "alfa-slab-one", 60.0)
    result = hold(kept, BridgeRules(2.0), {("t1", 0, 0): None, ("t1", 0, 1): None}, Cache())
    found = knots(result.pieces, result.counters, result.bridges)
    sheet, *below = found
    assert sheet.depth == 0 and sheet.number == 1 and sheet.owners[0] in ("sheet", "t0", "t1")
    held = [x for x in below if x.number is None]
    assert {x.owners for x in held} == {("t0",)} and len(held) == 2 and all(x.depth == 1 for x in held)
    assert sum(len(x.held) for x in held) == len(result.bridges)
    (loose,) = [x for x in below if x.number]
    assert loose.owners == ("t1",) and loose.depth == 1 and not loose.held
    assert loose.gap == loose.region.geometry.distance(sheet.region.geometry) > 5.0
