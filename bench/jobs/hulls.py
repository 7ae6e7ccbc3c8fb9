"""Jobs in vinyl: names, badges, contours."""

import shapely

from bench.jobs.hand import Hand
from bench.jobs.table import job, retyped
from jigger.core.design.finishes.outline import Outline
from jigger.core.geometry.area.region import Region, difference, intersection, union

NEAR = 0.5  # mm²: what areas may differ by that were to be the same


def distance_between(one: Region, other: Region) -> float:
    """mm, by a library of others."""
    return float(shapely.distance(one.geometry, other.geometry))


def _moved_to_another_colour(hand: Hand) -> None:
    first, second = hand.made(0), hand.made(1)
    whole = union((first.kept, second.kept))
    assert first.kept.area > 1 and second.kept.area > 1
    assert intersection(first.kept, second.kept).area < NEAR
    # Nothing moved: together they are what they were.
    assert abs(whole.area - (first.kept.area + second.kept.area)) < NEAR


@job(
    "J01",
    "a letter knocked out of a disc that falls into parts, some in a second colour",
    6,
    retyped("N"),
    _moved_to_another_colour,
)
def knocked_out(hand: Hand) -> None:
    hand.begin("initial-in-shape", text="H")
    hand.tap("#piece-form input[type=checkbox]")
    hand.tap("#piece-form button[value=move]")


def _five_rows(hand: Hand) -> None:
    rows = [piece.region.bounds for piece in hand.made().pieces.pieces]
    heights = sorted({round(top - bottom, 1) for _, bottom, _, top in rows})
    assert len(rows) >= 20 and heights[0] < heights[-1] / 2, heights
    assert any(isinstance(one, Outline) and one.row for part in hand.design.parts() for one in part.finishes)


@job(
    "J02",
    "a word stacked five times, the outer rows bands, the middle one a double line",
    6,
    retyped("HERONS"),
    _five_rows,
)
def stacked(hand: Hand) -> None:
    hand.begin("stepped-word", text="HERON", middle="double line")


def _with_a_contour(hand: Hand) -> None:
    name, under = hand.made(1), hand.made(0)
    assert len(hand.built().layers) == 2 and len(under.pieces.pieces) >= 1
    outside = name.kept.area - intersection(name.kept, under.kept).area
    assert outside < NEAR, "the contour goes all round"


@job(
    "J03",
    "a script name with a tail, small words in it, a contour in a second colour",
    7,
    retyped("Merganser"),
    _with_a_contour,
)
def swept(hand: Hand) -> None:
    hand.begin("swept-name", text="Plover", words="WITHY LOCK")
    hand.step(hand.layer().id, "stack")
    hand.tap("text=Lifting sheet under it")


def _fills_the_surface(hand: Hand) -> None:
    left, bottom, right, top = hand.made().kept.bounds
    wide, high = hand.design.surface.width, hand.design.surface.height
    assert left >= 0 and right <= wide and bottom >= 0 and top <= high
    assert right - left > 0.8 * wide or top - bottom > 0.7 * high
    assert len({line.font for line in hand.design.lines()}) == 2


@job(
    "J05",
    "two lines in two fonts, close-set, fitted to a small measured surface",
    6,
    retyped("PARAFFIN"),
    _fills_the_surface,
)
def label(hand: Hand) -> None:
    hand.begin("measured-label", text="LAMP OIL\nWITHY LOCK")
    second = hand.design.lines()[1]
    part = next(one for one in hand.design.parts() if getattr(one, "lines", None) and second in one.lines)
    hand.step(part.id, "words")
    hand.choose(f"#f-{second.id}-font", "anton")


def _on_sheets_of_their_own(hand: Hand) -> None:
    made = hand.built().layers
    assert len(made) == 3 and made[0].wish == "each"
    assert len(made[0].pieces.pieces) == 2, "each line has a sheet of one piece"
    assert any(relation.kind == "apart" for relation in hand.design.sets)


@job(
    "J06",
    "two lines in two colours, each on a one-piece lifting sheet, kept apart",
    8,
    retyped("SWIFT SWAN"),
    _on_sheets_of_their_own,
)
def lifting(hand: Hand) -> None:
    hand.begin("lifting-name", text="QUIET HERON\nWITHY LOCK")
    hand.key("Control+a")
    hand.tap("#verb-hold")
    hand.tap("text=Keep apart")


def _banded(hand: Hand) -> None:
    built = hand.built()
    names = [part for part in hand.design.parts() if part.kind == "lettering"]
    assert len(names) == 3
    initial, name, under = (built.parts[part.id].region.bounds for part in names)
    assert under[3] < name[1], "the small line stands below the name"
    middle = (initial[0] + initial[2]) / 2
    assert abs((name[0] + name[2]) / 2 - middle) < 0.2 * (initial[2] - initial[0])


@job(
    "J10",
    "a large initial split by a band with a name, a small line under it, centred by eye",
    8,
    retyped("Wren", 1),
    _banded,
)
def banded(hand: Hand) -> None:
    hand.begin("banded-initial", text="M", name="MERROW")
    hand.tap(".add-row >> text=Lettering")
    part = hand.lettering(2)
    hand.fill(f"#text-{part.lines[0].id}", "EST. 1911")
    hand.drag(f'.part[data-part="{part.id}"] .take', 0, 150)


def _on_a_ring(hand: Hand) -> None:
    made = hand.made()
    over, under = (hand.built().parts[hand.lettering(n).id].region for n in (0, 1))
    assert intersection(made.kept, over).area > 0.99 * over.area
    assert intersection(made.kept, under).area > 0.99 * under.area


@job(
    "J13",
    "words over and under on a ring, joined to it, the ring cut back at the letters",
    5,
    retyped("WITHY WEIR"),
    _on_a_ring,
)
def ring(hand: Hand) -> None:
    hand.begin("ring-badge", over="WITHY LOCK", under="BOATYARD")


def _shadowed(hand: Hand) -> None:
    shade, word = hand.made(0), hand.made(1)
    assert intersection(shade.kept, word.kept).area < 0.02 * word.kept.area or shade.kept.area > 0.3 * word.kept.area
    assert shade.kept.bounds[1] < word.kept.bounds[1] - 1, "it falls below the word"


@job("J16", "a shadow layer behind a script word, clean closed paths handed on", 5, retyped("Merganser"), _shadowed)
def shadow(hand: Hand) -> None:
    hand.fill("#plain-name", "Merrow")
    hand.tap(".plain-start button")
    hand.step(hand.layer().id, "stack")
    hand.tap("text=Shadow under it")


def _gap_truly_open(hand: Hand) -> None:
    made, name = hand.made(), hand.built().parts[hand.lettering().id]
    letters = union(region for _, region in name.letter_areas())
    line = difference(made.kept, letters)
    assert line.area > 0.1 * letters.area and len(made.pieces.pieces) > len(set(name.letter_boxes())) / 2
    gap = distance_between(line, letters)
    assert abs(gap - 2.5) < 0.05, gap


@job("J18", "capitals with a gap and then a line around, the gap truly open", 4, retyped("BOATHOUSE"), _gap_truly_open)
def gap_and_line(hand: Hand) -> None:
    hand.begin("gap-line-name", text="CHANDLERY", font="anton")


def _welded_with_a_glyph(hand: Hand) -> None:
    made = hand.made()
    whole = union(hand.built().parts[part.id].region for part in hand.design.parts())
    assert abs(made.kept.area - whole.area) < NEAR, "nothing is cut twice"
    assert len(hand.design.parts()) == 2


@job(
    "J20",
    "a script with overlaps welded and a picture beside it, nothing cut twice",
    5,
    retyped("Heron"),
    _welded_with_a_glyph,
)
def glyph(hand: Hand) -> None:
    hand.fill("#plain-name", "Swallow")
    hand.tap(".plain-start button")
    hand.tap(".add-art summary")
    hand.tap("text=An ornament")
    hand.tap("#ornament-shelf button")
