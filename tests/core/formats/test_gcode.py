"""G-code, read by a simulator of the tests: what a torch leaves of the plate is the design."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.ops import unary_union

from jigger.core.design.edits.commands import UseMaterial
from jigger.core.design.model.design import Design
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.core.machines.presets import MACHINES, SETTINGS
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.core.materials.presets import MATERIALS
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop
from tests.gcode_reader import Read, read_gcode

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
METAL = [name for name, design in DEMO.items() if design.material(design.layers[0].material).process != "knife"]


def read(design: Design, **more: object) -> tuple[Read, shapely.MultiPolygon, float]:
    """The program as read, what is kept from the same origin, which leaves room for kerf and leads, and the kerf."""
    read = read_gcode(WORKSHOP.file(design, "nc", **more).decode())
    page = WORKSHOP.page(design)
    kept = unary_union([layer.kept.geometry for layer in page.layers])
    material = page.layers[0].material
    tooling: Tooling = more.get("tooling", SHIPPED_TOOLING)
    machine = tooling.machine_for(material)
    kerf = tooling.kerf(machine, material)
    room = math.ceil(kerf + tooling.setting(machine, material).lead)
    assert min(move.points.min() for move in read.moves) >= 0, "a table does not go beyond its origin"
    return read, shapely.affinity.translate(kept, room - page.box[0], room - page.box[1]), kerf


def check(design: Design, **more: object) -> Read:
    program, kept, kerf = read(design, **more)
    assert program.ended and not program.left_on
    burnt = unary_union([shapely.LineString(way).buffer(kerf / 2, quad_segs=64) for way in program.cuts()])
    wanted = kept.buffer(kerf / 2, quad_segs=64).buffer(-kerf / 2, quad_segs=64)  # what a kerf that wide can make
    plate = shapely.box(*wanted.buffer(40).bounds)
    pieces = [piece for piece in shapely.get_parts(plate.difference(burnt)) if piece.area > 0.05]
    left = unary_union([piece for piece in pieces if wanted.contains(piece.representative_point())])
    stray = left.symmetric_difference(wanted)
    assert stray.buffer(-0.015).is_empty, stray.buffer(-0.015).bounds
    assert burnt.intersection(kept).buffer(-0.015).is_empty, "nothing is taken from what is kept"
    for x, y in program.pierces:
        assert kept.distance(shapely.Point(x, y)) >= kerf / 2 - 0.005
    return program


@pytest.mark.parametrize("name", METAL)
def test_what_the_torch_leaves_is_the_design(name: str) -> None:
    check(DEMO[name])


@pytest.mark.parametrize("name", METAL)
def test_holes_come_before_outlines_and_arcs_stay_arcs(name: str) -> None:
    program, kept, kerf = read(DEMO[name])
    ways = [shapely.Polygon(way) for way in program.cuts()]
    for place, way in enumerate(ways):
        assert not any(way.buffer(-kerf).contains(later.buffer(-kerf)) for later in ways[place + 1 :]), (
            "from inside out"
        )
    text = WORKSHOP.written(DEMO[name], "nc")
    assert text.count("\nG2 ") + text.count("\nG3 ") > len(ways)
    assert len(program.pierces) == len(ways) == sum(1 + len(piece.interiors) for piece in shapely.get_parts(kept))


@settings(max_examples=12, deadline=None)
@given(
    st.text("ABDEGORSTabdegor0468&@%.", min_size=1, max_size=5),
    st.sampled_from([40.0, 90.0, 260.0]),
    st.sampled_from(["mild-steel", "stainless", "acrylic"]),
    st.sampled_from([0.3, 1.0, 8.0]),
)
def test_any_words_and_leads(text: str, height: float, material: str, lead: float) -> None:
    design = starter("stencil-plate").make({"text": text, "height_mm": height, "material": material})
    machine = SHIPPED_TOOLING.machine_for(MATERIALS[material])
    setting = SETTINGS[machine.id, material].model_copy(update={"lead": lead, "kerf": 0.8})
    check(design, tooling=Tooling(MACHINES, {(machine.id, material): setting}))


def test_leads_lie_in_the_waste_and_shrink_where_there_is_little() -> None:
    design = DEMO["Moorings, steel"]
    sizes = [len(stroke.lead_in) and stroke.lead_in.arc[0, 2] for stroke in WORKSHOP.tool_path(design).strokes]
    assert min(sizes) > 0 and max(sizes) == pytest.approx(4.0)
    for stroke in WORKSHOP.tool_path(design).strokes:
        on, off = (
            stroke.lead_in.heading(np.array([0]), np.array([1.0])),
            stroke.curves.heading(np.array([0]), np.zeros(1)),
        )
        assert np.abs(on - off).max() < 0.02, "along the line where it comes onto it"


def test_a_kerf_that_does_not_get_in_is_named_with_its_place() -> None:
    design = starter("stencil-plate").make({"text": "i.", "height_mm": 60, "material": "mild-steel", "font": "jost"})
    layer = design.layers[0].id
    wide = UseMaterial(layer=layer, rules=MATERIALS["mild-steel"].model_copy(update={"kerf": 16.0})).apply(design)
    notes = WORKSHOP.tool_path(wide).notes
    assert {note.code for note in notes} >= {"kerf-notch"} and all(note.layer == layer for note in notes)
    kept = WORKSHOP.page(wide).layers[0].kept.geometry
    assert not any(kept.contains(shapely.Point(note.at)) for note in notes if note.code == "kerf-notch")
    uncut = [note for note in notes if "would not be cut" in note.message or "would stay" in note.message]
    assert len(uncut) >= 2, "the dot and the point"
    round_one = starter("initial-in-shape").make({"text": "O", "font": "varela-round", "material": "mild-steel"})
    assert not [note for note in WORKSHOP.tool_path(round_one).notes if note.code == "kerf-notch"]


def test_what_a_knife_cuts_has_no_g_code() -> None:
    with pytest.raises(CommandRefused, match="Outdoor vinyl: no machine that cuts it \\(knife\\) reads G-code"):
        WORKSHOP.file(DEMO["Merrow"], "nc")
    with pytest.raises(CommandRefused, match="Laser bed: it does not cut Mild steel"):
        WORKSHOP.file(DEMO["Moorings, steel"], "nc", machine="beam-bed")


@pytest.mark.parametrize("tab", [0.6, 2.0])
@pytest.mark.parametrize("name", METAL)
def test_tabs_hold_every_piece_and_are_as_wide_as_asked(name: str, tab: float) -> None:
    design = DEMO[name]
    changed = {key: one.model_copy(update={"tab": tab, "tab_apart": 120.0}) for key, one in SETTINGS.items()}
    tooling = Tooling(MACHINES, changed)
    program, kept, kerf = read(design, tooling=tooling)
    burnt = unary_union([shapely.LineString(way).buffer(kerf / 2, quad_segs=64) for way in program.cuts()])
    plate = shapely.box(*kept.buffer(60).bounds)
    left = [piece for piece in shapely.get_parts(plate.difference(burnt)) if piece.area > 0.05]
    outside = next(piece for piece in left if piece.covers(shapely.Point(plate.bounds[:2])))
    for piece in shapely.get_parts(kept):
        assert outside.contains(piece.representative_point()), "it comes loose"
    assert burnt.intersection(kept).buffer(-0.015).is_empty
    for piece in shapely.get_parts(kept):
        line = shapely.Polygon(piece.exterior).buffer(kerf / 2, quad_segs=64).exterior
        webs = [web for web in shapely.get_parts(shapely.line_merge(line.difference(burnt))) if web.length > 0.05]
        assert len(webs) >= 2
        assert all(web.length == pytest.approx(tab, abs=0.06) for web in webs)
    assert all(kept.distance(shapely.Point(x, y)) >= kerf / 2 - 0.005 for x, y in program.pierces)


def test_a_piece_too_small_for_tabs_is_named() -> None:
    design = DEMO["Lock cottage, No. 3"]
    changed = {key: one.model_copy(update={"tab": 40.0}) for key, one in SETTINGS.items()}
    small = starter("stencil-plate").make({"text": "I", "height_mm": 8, "material": "mild-steel", "margin_mm": 5})
    path = WORKSHOP.tool_path(small, tooling=Tooling(MACHINES, changed))
    assert any(note.code == "no-tab" and "too small for tabs of 40 mm" in note.message for note in path.notes)
    assert not any(note.code == "no-tab" for note in WORKSHOP.tool_path(design).notes)
