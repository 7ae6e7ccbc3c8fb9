"""The plotter's reading and drawing, apart from any line."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.machines.hpgl_reader import HpglStream, coordinates
from jigger.machines.plotter import Plotter

PROGRAM = b'IN;PA;CO"a; b";SP1;VS30;PU10,20;PD30,20,30,40,10,20;PU;OA;SP0;'
READ = [("IN", ""), ("PA", ""), ("CO", '"a; b"'), ("SP", "1"), ("VS", "30"), ("PU", "10,20"),
        ("PD", "30,20,30,40,10,20"), ("PU", ""), ("OA", ""), ("SP", "0")]  # fmt: skip


@given(st.lists(st.integers(0, len(PROGRAM)), max_size=8))
def test_a_stream_reads_the_same_however_it_is_cut(cuts: list[int]) -> None:
    stream, found, last = HpglStream(), [], 0
    for cut in [*sorted(cuts), len(PROGRAM)]:
        found += list(stream.feed(PROGRAM[last:cut]))
        last = cut
    assert found == READ


def test_a_device_control_is_answered_at_once() -> None:
    stream = HpglStream()
    assert list(stream.feed(b"PU1,2;\x1b.O")) == [("PU", "1,2"), ("ESC.O", "")]
    assert list(stream.feed(b"\x1b")) == [] and list(stream.feed(b".OPD3,4;")) == [
        ("ESC.O", ""),
        ("PD", "3,4"),
    ]


@pytest.mark.parametrize(
    ("words", "points"),
    [("1,2,3,4", [(1, 2), (3, 4)]), ("1 2", [(1, 2)]), ("", []), ("5", []), ("-1.6,2.4", [(-2, 2)])],
)
def test_coordinates(words: str, points: list) -> None:
    assert coordinates(words) == points


def test_the_panel_tells_the_state() -> None:
    plotter = Plotter()
    states = [
        plotter.order({"do": do})["state"]
        for do in ("status", "pause", "resume", "run out", "load", "take offline", "go online")
    ]
    assert states == ["ready", "paused", "ready", "out of material", "ready", "offline", "ready"]
    assert "error" in plotter.order({"do": "dance"})
    assert plotter.order({"do": "picture", "title": "none"})["picture"] is None
