"""Jobs in sheet and stencil: plates, metal names, figures."""

from bench.jobs.hand import Hand
from bench.jobs.table import job, retyped
from jigger.core.design.model.design import Stroke


def _one_piece(hand: Hand) -> None:
    made = hand.made()
    assert len(made.pieces.pieces) == 1, f"{len(made.pieces.pieces)} pieces"
    assert not made.lost, "every counter is held"


@job(
    "J08",
    "a name cut through a steel initial: counters tied, gaps even, webs that stand the heat",
    6,
    retyped("WREN", 1),
    _one_piece,
)
def steel_initial(hand: Hand) -> None:
    hand.begin("counterchanged-plate", text="B", name="BARGE")
    hand.key("Control+a")
    hand.choose("#many-spacing", "even")


@job(
    "J14",
    "a name counterchanged across an initial in a steel plate; what falls is seen",
    6,
    retyped("HERON", 1),
    _one_piece,
)
def counterchanged(hand: Hand) -> None:
    hand.begin("counterchanged-plate", text="P", name="PLOVER")
    hand.tap('[data-view="fallout"]')


def _all_strokes_as_wide(hand: Hand) -> None:
    widths = {part.pen.width for part in hand.design.parts() if isinstance(part, Stroke) and not part.pen.filled}
    assert widths == {10.0}, widths
    assert len(hand.made().pieces.pieces) >= 1


@job(
    "J15",
    "a line figure from strokes, welded clean; all widths changed at once afterwards",
    20,
    retyped("HERONS"),
    _all_strokes_as_wide,
)
def figure(hand: Hand) -> None:
    hand.begin("pictogram", text="ROWERS", figure="rower")
    hand.key("Control+a")
    hand.fill("#many-pen", "10")


def _shows_the_surface(hand: Hand) -> None:
    _one_piece(hand)
    made = hand.made()
    words = hand.built().parts[hand.lettering().id].region
    assert made.kept.area < made.ground.area - 0.8 * words.area, "the letters are open"
    assert hand.design.surface is not None


@job(
    "J17",
    "a plate with words that show the surface through: right on the proof, one piece in the cut",
    5,
    retyped("DRY DOCK"),
    _shows_the_surface,
)
def window_plate(hand: Hand) -> None:
    hand.begin("stencil-plate", text="MOORINGS")
    hand.tap("#surface-set summary")
    hand.choose("#f-surface-form", "rectangle")


def _equal_letters_alike(hand: Hand) -> None:
    _one_piece(hand)
    edits = hand.layer().bridges.edits
    assert len(edits) >= 2, "its equals have it too"
    box = hand.made().kept.bounds
    assert abs(box[2] - box[0] - 400.0) < 0.01, box


@job(
    "J19",
    "a three-line phrase stencil fitted to a plate of a size; one bridge moved for all its equals",
    8,
    retyped("BOAT ROOM", 0, 1),
    _equal_letters_alike,
)
def phrase(hand: Hand) -> None:
    hand.begin("stencil-plate", text="NO BOATS\nBOAT HOOK\nTO DOOR", plate_width_mm="400", plate_height_mm="300")
    bridge = hand.page.locator('.bridge[aria-label*="O"] rect').first
    hand.tap(bridge)
    hand.drag(bridge, 14, 30)
    hand.tap("text=Equal letters too")


def _readable(hand: Hand) -> None:
    made = hand.made()
    assert len(made.pieces.pieces) >= 1
    stops = [one.message for one in hand.house.workshop.report(hand.design).stops]
    assert not stops, stops


@job(
    "J21", "a swash under a word whose descenders it crosses: loose dots found and held", 6, retyped("jetty"), _readable
)
def swash(hand: Hand) -> None:
    hand.begin("swept-name", text="Piggy Jig", words="")
