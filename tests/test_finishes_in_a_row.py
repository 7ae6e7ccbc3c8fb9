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


def test_the_measure_sees_too_many_nodes() -> None:
    found = measured({"plate": PARTS["plate"]}, [("bend",)])
    assert found["over"] == 1 and "nodes of" in str(found["plate: bend"]), "straight edges that are bent need more"
