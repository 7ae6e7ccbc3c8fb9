"""The plotter's reading and drawing; and its line, while it is paused."""

import socketserver
import threading

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.machines.hpgl_line import send_hpgl
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
    plotter.at = (5.0, 7.0)
    assert [plotter.order({"do": "set origin", "x": "20", "y": "10"})[name] for name in ("origin_x", "y")] == [20, 10]
    for x, y in (("-1", "0"), ("0", "631"), ("nan", "0"), ("wide", "0"), ("", "")):
        assert "error" in plotter.order({"do": "set origin", "x": x, "y": y})
    plotter.drawing_now = True
    assert "while it cuts" in plotter.order({"do": "set origin", "x": "0", "y": "0"})["error"]
    assert plotter.origin == (20.0, 10.0)
    plotter.drawing_now = False
    assert plotter.order({"do": "picture", "title": "none"})["picture"] is None


def test_a_pause_longer_than_its_patience_ends_no_job(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("jigger.machines.hpgl_line.ANSWER_SECONDS", 0.6)
    plotter, waits = Plotter(0.0), list[str]()
    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), _taking(plotter)) as server:
        server.daemon_threads = True
        threading.Thread(target=server.serve_forever, daemon=True).start()
        plotter.order({"do": "fault", "kind": "stick"})

        def progress(done: int, waiting: str) -> None:
            waits.extend([waiting] * bool(waiting))
            if len(waits) == 4:  # one each half second
                plotter.order({"do": "resume"})

        stroke = "PU0,0;PD400,0,400,400,0,0;PU;"
        send_hpgl(server.server_address, "job 1", ["IN;SP1;", *[stroke] * 90, "PU;"], progress)
        server.shutdown()
    assert set(waits) == {"paused at the machine"} and plotter.drawings[-1].lifted == 90


def _taking(plotter: Plotter) -> type[socketserver.BaseRequestHandler]:
    class Line(socketserver.BaseRequestHandler):
        def handle(self) -> None:
            plotter.serve(self.request)

    return Line
