"""Parts of every kind under finishes in a row: few nodes, none of them close together, no chords, within what is allowed."""

import pytest
from bench.finishes import measured, parts

ROWS = [
    ("gap and line",), ("inlets and corners",), ("twin across",), ("outline", "ring"), ("stretch", "twin"),
    ("corners", "outline"), ("ring", "stretch"), ("inlets", "corners"), ("grid", "outline"), ("outline", "stretch"),
]  # fmt: skip
PARTS = parts()


@pytest.mark.parametrize("name", ["disc", "plate", "line", "circle", "half circle", "bent", "pacifico"])
def test_what_finishes_make_keeps_few_nodes(name: str) -> None:
    found = measured({name: PARTS[name]}, ROWS)
    assert found["over"] == 0, found
    assert found["rows"] == len(ROWS) and found["with_chords"] == found["failed"] == 0


SHARP = [
    ("corners",), ("bands",), ("drop shade",), ("block shade",), ("square outline",), ("square gap and line",),
    ("outline", "twin across"),
]  # fmt: skip


@pytest.mark.parametrize("name", ["alfa-slab-one", "rye", "anton"])
def test_letters_keep_few_nodes_where_edges_meet_at_sharp_angles(name: str) -> None:
    found = measured({name: PARTS[name]}, SHARP)
    assert found["over"] == found["with_chords"] == found["failed"] == 0, found


def test_the_measure_sees_too_many_nodes() -> None:
    found = measured({"line": PARTS["line"]}, [("bend",)])
    assert found["over"] == 1 and "nodes of" in str(found["line: bend"]), "its round ends are level where they were not"
