"""A dragged knife, simulated: the tip trails the holder that the file moves. Nothing of it knows how the way was made."""

import re

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.paths.knife import middle_path
from jigger.core.design.starters import starter
from jigger.core.machines.presets import MACHINES, SETTINGS
from jigger.core.machines.tooling import Tooling
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
FLAT = SETTINGS["flat-cutter", "stencil-film-019"]


def trailed(ways: list[np.ndarray], offset: float, heading: float, step: float = 0.02) -> list[np.ndarray]:
    """Where the tip goes while the holder goes these ways, knife down; it turns only by being dragged."""
    tips, pointing = [], np.array([np.cos(heading), np.sin(heading)])
    for way in ways:
        lengths = np.r_[0, np.cumsum(np.hypot(*np.diff(way, axis=0).T))]
        along = np.linspace(0, lengths[-1], max(2, int(lengths[-1] / step)))
        middle = np.column_stack([np.interp(along, lengths, way[:, axis]) for axis in (0, 1)])
        tip = middle[0] - offset * pointing
        rows = [tip]
        for place in middle[1:]:
            pull = place - tip
            tip = place - offset * pull / np.hypot(*pull)
            rows.append(tip)
        pointing = (middle[-1] - tip) / offset
        tips.append(np.array(rows))
    return tips


def ways_of(text: str) -> list[np.ndarray]:
    """Each way with the knife down, mm, of an HPGL program."""
    ways: list[list[tuple[float, float]]] = []
    here = (0.0, 0.0)
    for order, numbers in re.findall(r"(PU|PD)([-\d,]*);", text):
        values = [int(value) / 40 for value in numbers.split(",") if value]
        for place in zip(values[::2], values[1::2], strict=True):
            if order == "PD":
                if not ways or ways[-1][-1] != here:
                    ways.append([here])
                ways[-1].append(place)
            here = place
    return [np.array(way) for way in ways]


def check(design, heading: float, offset: float = 0.25, overcut: float = 0.5, told: bool = False) -> None:
    material = design.layers[0].material
    setting = FLAT.model_copy(update={"knife_offset": offset, "overcut": overcut, "material": material})
    tooling = Tooling(MACHINES, {("flat-cutter", material): setting})
    path = WORKSHOP.tool_path(design, tooling=tooling, machine="flat-cutter", language="hpgl")
    text = WORKSHOP.file(design, "plt", tooling=tooling, machine="flat-cutter").decode()
    ways = ways_of(text)
    assert len(ways) == len(path.strokes)
    corner = np.array(path.page[:2])
    if told and path.notes:
        return  # it is said that the knife cannot be drawn straight first
    assert not path.notes
    for number, (tip, stroke) in enumerate(zip(trailed(ways, offset, heading), path.strokes, strict=True)):
        contour = shapely.LineString(stroke.flattened(0.001) - corner)
        after = tip
        if number == 0 and len(stroke.lead_in):  # on its way through the waste it is drawn straight
            lead = stroke.lead_in.arc[0, 2] * np.pi / 2
            went = np.r_[0, np.cumsum(np.hypot(*np.diff(tip, axis=0).T))]
            after = tip[went > lead]
        assert shapely.distance(shapely.points(after), contour).max() < 0.05, f"contour {number}"
        closed = shapely.LineString(np.vstack([stroke.curves.flattened(0.001)[0], stroke.curves.starts[:1]]) - corner)
        assert shapely.distance(shapely.points(closed.coords), shapely.LineString(after)).max() < 0.06, (
            "all of it is cut"
        )


@pytest.mark.parametrize("heading", [0.0, 2.0, np.pi])
def test_the_tip_follows_the_contours_wherever_it_points_at_first(heading: float) -> None:
    check(DEMO["Index number WL 8064"], heading)


@settings(max_examples=6, deadline=None)
@given(
    st.text("ABGORSadegk08&@", min_size=1, max_size=2),
    st.floats(0, 6.28),
    st.sampled_from([0.1, 0.25, 0.5]),
    st.sampled_from(["jost", "pacifico", "rye", "graduate"]),
)
def test_any_letters(text: str, heading: float, offset: float, font: str) -> None:
    design = starter("stencil-plate").make(
        {"text": text, "height_mm": "45", "material": "stencil-film-019", "font": font}
    )
    check(design, heading, offset, told=True)


def test_a_corner_is_swung_round_in_place_and_smooth_ways_are_not() -> None:
    points = np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)])
    way, heading = middle_path(points, 0.5)
    assert heading == pytest.approx((0, 1))
    swing = way[(np.hypot(*(way - (10, 0)).T) < 0.5001) & (way[:, 1] > -1e-9)]
    assert len(swing) >= 10 and np.abs(np.hypot(*(swing - (10, 0)).T) - 0.5).max() < 1e-9
    turning = np.array([(np.cos(a), np.sin(a)) for a in np.linspace(0, 1, 40)]) * 50
    way, _ = middle_path(turning, 0.5, np.array([0.0, 1.0]))
    assert len(way) == len(turning)


def test_a_knife_that_has_no_room_to_be_drawn_straight_says_so() -> None:
    design = starter("stencil-plate").make({"text": "i", "height_mm": "9", "material": "stencil-film-019"})
    setting = FLAT.model_copy(update={"knife_offset": 2.0})
    tooling = Tooling(MACHINES, {("flat-cutter", "stencil-film-019"): setting})
    notes = WORKSHOP.tool_path(design, tooling=tooling, machine="flat-cutter").notes
    assert [note.code for note in notes] == ["no-lead"]


def test_a_machine_that_swivels_is_sent_the_line_itself() -> None:
    design = DEMO["Index number WL 8064"]
    path = WORKSHOP.tool_path(design, machine="roll-plotter", language="hpgl")
    assert {tool.knife_offset for tool in path.tools} == {0.0} and not any(len(one.lead_in) for one in path.strokes)
