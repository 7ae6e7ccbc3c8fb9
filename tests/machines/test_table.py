"""The plate table's reading and drawing, apart from any line; and its line, when machines misbehave."""

import math
import socket
import threading
from collections.abc import Iterator

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.machines.drawing import Drawing
from jigger.machines.gcode_line import send_gcode
from jigger.machines.gcode_reader import Reader, Refused
from jigger.machines.line import MachineGone
from jigger.machines.table import PlateTable
from tests.conftest import eventually

BEGIN = "G21 G90 G17 G40"


def read(*lines: str) -> list[tuple[float, float]]:
    reader = Reader(3000, 1500)
    reader.read(BEGIN)
    return [point for line in lines for point in reader.read(line).points]


def test_motion_is_modal_and_comments_and_case_of_spaces_say_nothing() -> None:
    assert read("G0 X10 Y20 (there)", "G1X30 F600", "Y40", "%", "", "G0 X0 Y0") == [
        (10, 20),
        (30, 20),
        (30, 40),
        (0, 0),
    ]


@given(st.floats(0.05, 400), st.floats(0, 2 * math.pi), st.floats(0.01, 2 * math.pi), st.booleans())
def test_an_arc_keeps_its_radius_and_ends_where_it_is_to(radius: float, begun: float, turn: float, left: bool) -> None:
    x, y = 1000 + radius * math.cos(begun), 700 + radius * math.sin(begun)
    way = 1 if left else -1
    end = 1000 + radius * math.cos(begun + way * turn), 700 + radius * math.sin(begun + way * turn)
    points = np.array(read(f"G0 X{x:.6f} Y{y:.6f}", f"G{3 if left else 2} X{end[0]:.6f} Y{end[1]:.6f} "
                           f"I{1000 - x:.6f} J{700 - y:.6f} F600"))  # fmt: skip
    away = np.hypot(points[:, 0] - 1000, points[:, 1] - 700)
    assert np.abs(away - radius).max() < 1e-4 and points[-1] == pytest.approx(end, abs=1e-5)
    middles = (points[:-1] + points[1:]) / 2
    assert np.abs(np.hypot(middles[:, 0] - 1000, middles[:, 1] - 700) - radius).max() < 0.006
    long = np.hypot(*np.diff(points, axis=0).T).sum()
    assert long == pytest.approx(radius * turn, rel=0.01, abs=0.02)


@pytest.mark.parametrize(("lines", "words"), [
    (["G1 X10 Y10"], "no feed"), (["X10"], "not said how"), (["G5 X1"], "G5 is not known"), (["M8"], "M8 is not known"),
    (["G0 X10", "G2 X20 Y0 F60"], "needs its middle"), (["G0 X10", "G2 X20 Y0 I4 J0 F60"], "from its middle"),
    (["G0 X4000"], "beyond the bed"), (["M3 S40", "G0 X10"], "torch lit"), (["G0 X1 X2"], "twice"), (["hello"], "no line"),
    (["G1 X1 F60 ;", "G0 X-5"], "no line"),
])  # fmt: skip
def test_what_cannot_be_done_is_refused_in_words(lines: list[str], words: str) -> None:
    with pytest.raises(Refused, match=words):
        read(*lines)
    with pytest.raises(Refused, match="G21 and G90"):
        Reader(100, 100).read("G0 X1 Y1")


@pytest.fixture
def wired() -> Iterator[tuple[PlateTable, tuple[str, int]]]:
    """A table at the end of a line, in this process."""
    table, door = PlateTable(0.0), socket.create_server(("127.0.0.1", 0))

    def serve() -> None:
        while True:
            try:
                client, _ = door.accept()
            except OSError:
                return
            with client:
                table.serve(client)

    threading.Thread(target=serve, daemon=True).start()
    yield table, ("127.0.0.1", door.getsockname()[1])
    door.close()


SQUARE = "G0 X0 Y0\nM3 S40\nG4 P0.5\nG1 X20 Y0 F600\nX20 Y20\nX0 Y20\nX0 Y0\nM5"


def test_a_program_is_drawn_and_every_part_is_said_when_it_is_done(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    said: list[int] = []
    send_gcode(
        address, "job 1", [BEGIN, SQUARE, SQUARE.replace("X20", "X40"), "G0 X0 Y0\nM2"], lambda n, _: said.append(n)
    )
    assert said[-1] == 4 and said == sorted(said)
    (drawing,) = table.drawings
    assert (drawing.title, drawing.lifted) == ("job 1", 2) and [len(points) for _, points in drawing.strokes] == [5, 5]
    assert table.order({"do": "reached", "title": "job 1"})["reached"] == 2


def test_a_line_that_cannot_be_done_ends_the_job_with_the_torch_out(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    with pytest.raises(MachineGone, match=r"The machine stopped: X9000 Y0 lies beyond the bed"):
        send_gcode(address, "job 2", [BEGIN, SQUARE, SQUARE.replace("X20 Y20", "X9000")], lambda *_: None)
    eventually(lambda: table.state == "ready")
    assert table.drawings[-1].lifted == 1


@pytest.mark.parametrize(("fault", "words"), [("garbage", "none does"), ("silence", "went away")])
def test_garbage_and_silence_on_the_line_are_said(
    wired: tuple[PlateTable, tuple[str, int]], fault: str, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    table, address = wired
    monkeypatch.setattr("jigger.machines.gcode_line.ANSWER_SECONDS", 0.5)
    table.order({"do": "fault", "kind": fault})
    before = threading.active_count()
    with pytest.raises(MachineGone, match=words):
        send_gcode(address, "job 3", [BEGIN, *[SQUARE] * 20], lambda *_: None)
    eventually(lambda: threading.active_count() <= before, 10)  # no thread stays behind


def test_a_table_that_is_paused_takes_no_more_than_its_buffer(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    table.order({"do": "pause"})
    waits: list[str] = []

    def progress(done: int, waiting: str) -> None:
        waits.append(waiting)
        if waiting:
            assert done == 0
            table.order({"do": "resume"})

    send_gcode(address, "job 4", [BEGIN, *[SQUARE] * 30], progress)
    assert "paused at the machine" in waits and table.drawings[-1].lifted == 30


def test_a_pause_longer_than_its_patience_ends_no_job(
    wired: tuple[PlateTable, tuple[str, int]], monkeypatch: pytest.MonkeyPatch
) -> None:
    """With its buffer full it still says that it is paused, and how far it is."""
    table, address = wired
    monkeypatch.setattr("jigger.machines.gcode_line.ANSWER_SECONDS", 0.3)
    table.order({"do": "fault", "kind": "stick"})
    waits: list[int] = []

    def progress(done: int, waiting: str) -> None:
        waits.extend([done] * bool(waiting))
        if len(waits) == 12:
            table.order({"do": "resume"})

    send_gcode(address, "job 5", [BEGIN, *[SQUARE] * 60], progress)
    assert len(waits) >= 12 and set(waits[2:]) == {3} and table.drawings[-1].lifted == 60


def test_nothing_stays_behind_of_a_long_job_that_is_refused(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    before = threading.active_count()
    for _ in range(3):
        with pytest.raises(MachineGone, match="lies beyond the bed"):
            send_gcode(address, "job 8", [BEGIN, "G0 X9000 Y0", *[SQUARE] * 50], lambda *_: None)
        eventually(lambda: table.state == "ready")
    eventually(lambda: threading.active_count() <= before, 10)


def test_a_sender_that_does_not_wait_is_cut_off(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    table.order({"do": "pause"})
    with socket.create_connection(address) as line:
        line.sendall(b"G21\n" * 4000)
        eventually(lambda: table.state == "paused")
    table.order({"do": "resume"})
    eventually(lambda: table.state == "ready")


def test_a_bed_ends_sooner_from_an_origin_further_in(wired: tuple[PlateTable, tuple[str, int]]) -> None:
    table, address = wired
    table.order({"do": "set origin", "x": "2985", "y": "0"})
    with pytest.raises(MachineGone, match="X20 Y0 lies beyond the bed of 15 × 1500 mm"):
        send_gcode(address, "job 6", [BEGIN, SQUARE], lambda *_: None)
    eventually(lambda: table.state == "ready")
    table.order({"do": "set origin", "x": "2970", "y": "1400"})
    send_gcode(address, "job 7", [BEGIN, SQUARE], lambda *_: None)
    said = table.order({"do": "status"})
    assert (said["x"], said["y"]) == (2970 + table.at[0], 1400 + table.at[1]) and table.drawings[-1].lifted == 1


def test_a_slip_moves_what_comes_after_it() -> None:
    table = PlateTable(0.0)
    table.order({"do": "fault", "kind": "slip"})
    drawing = Drawing(lifted=1)
    assert table.slipped(drawing, (1.0, 1.0)) == (1.0, 1.0)
    drawing.lifted = 2
    assert table.slipped(drawing, (1.0, 1.0)) == pytest.approx((2.3, 0.3))
