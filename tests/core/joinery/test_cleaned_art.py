"""Art cleaned up: specks go, nodes go, edges stay where they were, nothing comes to cross."""

import json

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as some

from jigger.core.design.edits.art import CleanArt, find_art
from jigger.core.design.model.design import Artwork, Design, Layer
from jigger.core.errors import CommandRefused
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.rows import from_rows, to_rows
from jigger.core.joinery import cleaned_art
from jigger.core.joinery.cleaned_art import cleaned_up


def ring(points: np.ndarray) -> Curves:
    return Curves.lines(points, np.roll(points, -1, axis=0))


def round_one(x: float, y: float, radius: float, count: int = 360, noise: float = 0.0, hole: bool = False) -> Curves:
    chance = np.random.default_rng(3)
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False) * (-1 if hole else 1)
    far = radius + noise * chance.uniform(-1, 1, count)
    return ring(np.column_stack([x + far * np.cos(angle), y + far * np.sin(angle)]))


def outline(*rings: Curves) -> str:
    return json.dumps([to_rows(one) for one in rings])


def area(text: str) -> shapely.Geometry:
    """The same by another library's even-odd."""
    found = shapely.Polygon()
    for one in json.loads(text):
        points = from_rows(one).flattened(0.001)[0]
        found = found.symmetric_difference(shapely.Polygon(points))
    return found


def test_chords_become_curves_and_edges_stay_where_they_were() -> None:
    rough = outline(round_one(0, 0, 30, noise=0.02), round_one(0, 0, 12, noise=0.02, hole=True))
    found = cleaned_up(rough, 0.0, 0.2)
    assert found.before.nodes == 720 and found.after.nodes < 60
    assert (found.before.pieces, found.before.openings) == (found.after.pieces, found.after.openings) == (1, 1)
    gap = shapely.hausdorff_distance(area(rough).boundary, area(found.outline).boundary, densify=0.05)
    assert gap <= 0.2 and found.moved == pytest.approx(gap, abs=0.02)
    assert area(found.outline).area == pytest.approx(area(rough).area, rel=2e-3)


def test_specks_go_and_what_lies_in_them() -> None:
    art = outline(
        round_one(0, 0, 30), round_one(0, 0, 20, hole=True), round_one(0, 0, 1), round_one(5, 0, 0.3),
        round_one(25, 0, 0.4, hole=True), round_one(60, 0, 3), round_one(60, 0, 0.2, hole=True),
    )  # fmt: skip
    found = cleaned_up(art, 1.0, 0.0)
    assert (found.before.pieces, found.before.openings) == (4, 3)
    assert (found.after.pieces, found.after.openings) == (3, 1) and found.moved == 0.0
    gone = cleaned_up(art, 29.0, 0.0)
    assert (gone.after.pieces, gone.after.openings) == (1, 1), "the disc with its opening, and the one in the middle"


def test_contours_that_would_cross_stay_as_they_were() -> None:
    """Two wavy edges closer to each other than they may be moved."""
    x = np.linspace(0, 60, 240)
    wave = 0.15 * np.sin(x * 2)
    low = np.vstack([np.column_stack([x, wave]), [[60.0, -20.0], [0.0, -20.0]]])[::-1]
    high = np.vstack([np.column_stack([x, wave + 0.02]), [[60.0, 20.0], [0.0, 20.0]]])
    art = outline(ring(low), ring(high))
    found = cleaned_up(art, 0.0, 0.5)
    assert found.after.pieces == 2 and area(found.outline).is_valid
    lower, upper = (shapely.LinearRing(from_rows(one).flattened(0.001)[0]) for one in json.loads(found.outline))
    assert not lower.crosses(upper) and lower.is_simple and upper.is_simple


@settings(max_examples=12, deadline=None)
@given(
    some.lists(some.tuples(some.floats(0, 90), some.floats(0, 90), some.floats(0.3, 9)), min_size=1, max_size=7),
    some.floats(0, 30), some.floats(0, 0.5), some.integers(6, 90),
)  # fmt: skip
def test_pieces_that_stay_are_where_they_were(
    discs: list[tuple[float, float, float]], specks: float, within: float, count: int
) -> None:
    whole = shapely.union_all([shapely.Point(x, y).buffer(r, quad_segs=max(2, count // 4)) for x, y, r in discs])
    pieces = [shapely.geometry.polygon.orient(part) for part in shapely.get_parts(whole)]
    edges = [edge for piece in pieces for edge in (piece.exterior, *piece.interiors)]
    art = outline(*(ring(np.array(edge.coords)[:-1]) for edge in edges))
    found = cleaned_up(art, specks, within)
    assert found.after.nodes <= found.before.nodes and found.moved <= within + 0.01
    assert found.after.pieces <= found.before.pieces


def with_art(text: str, scale: float = 1.0) -> Design:
    art = Artwork(id="art", outline=text, file="splash", scale=scale)
    return Design(name="Art", layers=[Layer(id="layer", material="outdoor-vinyl", parts=[art])])


def test_it_is_an_edit_in_the_mm_of_the_drawing(monkeypatch: pytest.MonkeyPatch) -> None:
    design = with_art(outline(round_one(0, 0, 30, noise=0.01), round_one(50, 0, 0.5)), 4.0)
    twelve = CleanArt(part="art", specks=12.0, within=0.2)  # the speck is of 12.6 mm² on the drawing
    assert twelve.cleaned(find_art(design, "art")).after.pieces == 2
    after = CleanArt(part="art", specks=13.0, within=0.2).apply(design)
    rows = json.loads(find_art(after, "art").outline)
    assert len(rows) == 1 and len(rows[0]) < 60
    assert CleanArt(part="art").label(design) == "“splash” cleaned up"
    with pytest.raises(CommandRefused, match="nothing would be left"):
        CleanArt(part="art", specks=1e6).apply(design)
    design.layers[0].locked = True
    with pytest.raises(CommandRefused, match="locked"):
        CleanArt(part="art").apply(design)
    monkeypatch.setattr("jigger.core.design.edits.art.SECONDS", 0.0)
    with pytest.raises(CommandRefused, match="too long"):
        CleanArt(part="art").cleaned(find_art(design, "art"))


def test_crossing_contours_are_given_back(monkeypatch: pytest.MonkeyPatch) -> None:
    spoiled = ring(np.array([[0.0, 0], [10, 10], [10, 0], [0, 10]]))
    monkeypatch.setattr(cleaned_art, "_fewer", lambda ring, within: spoiled)
    art = outline(round_one(0, 0, 30), round_one(80, 0, 5))
    assert cleaned_up(art, 0.0, 0.1).outline == cleaned_up(art, 0.0, 0.0).outline
