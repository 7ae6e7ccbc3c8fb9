"""Parts of every kind under finishes in a row: few nodes, none of them close together, no chords, within what is allowed."""

import pytest
from bench.finishes import CASE, FINISHES, grown, measured, off_the_library, parts, sixty_letters

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.finishing import finished
from jigger.core.design.building.local import EXACT
from jigger.core.geometry.offsets import grown_curves

ROWS = [
    ("gap and line",), ("inlets and corners",), ("twin across",), ("outline", "ring"), ("stretch", "twin"),
    ("corners", "outline"), ("ring", "stretch"), ("inlets", "corners"), ("grid", "outline"), ("outline", "stretch"),
    ("block shade", "ring"), ("inline", "thickening"),
]  # fmt: skip
PARTS = parts()


@pytest.mark.parametrize("name", ["disc", "plate", "line", "circle", "half circle", "bent", "pacifico"])
def test_what_finishes_make_keeps_few_nodes(name: str) -> None:
    found = measured({name: PARTS[name]}, ROWS)
    assert found["over"] == 0, found
    assert found["rows"] == len(ROWS) and found["with_chords"] == found["failed"] == 0


SHARP = [
    ("corners",), ("bands",), ("drop shade",), ("block shade",), ("square outline",), ("square gap and line",),
    ("outline", "twin across"), ("corners", "inline"), ("gap and line", "inline"), ("block shade", "ring"),
]  # fmt: skip


@pytest.mark.parametrize("name", ["alfa-slab-one", "rye", "anton"])
def test_letters_keep_few_nodes_where_edges_meet_at_sharp_angles(name: str) -> None:
    found = measured({name: PARTS[name]}, SHARP)
    assert found["over"] == found["with_chords"] == found["failed"] == 0, found


def test_the_measure_sees_too_many_nodes() -> None:
    found = measured({"line": PARTS["line"]}, [("bend",)])
    assert found["over"] == 1 and "nodes of" in str(found["line: bend"]), "its round ends are level where they were not"


@pytest.mark.parametrize(
    "name, row, distance",
    [("rye", ("corners",), -1.0), ("anton", ("inlets and corners",), 1.5), ("alfa-slab-one", ("gap and line",), -1.0),
     ("rye", ("inlets",), 0.5), ("pacifico", ("ring", "ring"), 1.0), ("rye", ("outline",), 0.5),
     ("plate", ("inline", "drop shade"), 1.0), ("varela-round", ("stretch", "drop shade"), 1.5),
     ("pacifico", ("bands", "block shade"), 0.5)],
)  # fmt: skip
def test_what_has_finishes_grows_as_its_chords_do(name: str, row: tuple[str, ...], distance: float) -> None:
    """Arcs of a rounded corner that meets its sides at a slight angle, hairs, arcs as large as they are shrunk by,
    pieces that overlap so that the library finds them apart, edges that run out and back beside others.
    """
    made = finished(PARTS[name], (name,), [FINISHES[kind][1] for kind in row], "p", "it", Cache(), EXACT).region
    assert off_the_library(made, distance) == 0.0


@pytest.mark.parametrize(
    "font, row",
    [("varela-round", ("block shade", "square gap and line", "inline")),
     ("anton", ("drop shade", "inlets and corners", "bend"))],
)  # fmt: skip
def test_sixty_letters_come_out_with_three_finishes(font: str, row: tuple[str, ...]) -> None:
    """An edge that crosses itself where it shrinks to a line; hundreds of fills that share what they were born of."""
    cache = Cache()
    made = build(sixty_letters(font, row), CASE, cache, EXACT).layers[0].folded
    assert not made.is_empty and made.geometry.is_valid
    before = build(sixty_letters(font, row[:-1]), CASE, cache, EXACT).layers[0].folded
    assert sum(len(trace.points) for trace in before.traces) < 10 * before.vertex_count


def test_rows_by_lot_grow_as_their_chords_do(monkeypatch: pytest.MonkeyPatch) -> None:
    some = {name: PARTS[name] for name in ("disc", "plate", "circle", "rye")}
    assert grown(some, 12, seed=4) == {"rows": 12, "wrong": 0}
    monkeypatch.setattr(grown_curves, "LEAST_LINE", 1e9)
    monkeypatch.setattr(grown_curves, "FIT", 0.5)
    assert grown(some, 12, seed=4)["wrong"], "it sees fits that stray"
