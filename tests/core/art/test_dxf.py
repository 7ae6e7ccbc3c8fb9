"""DXF files made by another library: known areas, arcs that stay arcs, and what is said of the rest."""

import io
import json
import math
from collections.abc import Callable

import ezdxf
import numpy as np
import pytest
from ezdxf.layouts import Modelspace
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.art import dxf
from jigger.core.art.chaining import chained, reversed_chain
from jigger.core.art.found import FoundArt, found_art
from jigger.core.art.painted import ArtRefused
from jigger.core.geometry.curves.curves import ARC, Curves
from jigger.core.geometry.curves.rows import from_rows, to_rows
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
SLOT = 60 * 20 + math.pi * 100


def made(draw: Callable[[Modelspace], object], units: int = 4, version: str = "R2010") -> bytes:
    drawing = ezdxf.new(version)
    if version != "R12":
        drawing.header["$INSUNITS"] = units
    draw(drawing.modelspace())
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode()


def area(found: FoundArt) -> float:
    return sum(one.area for one in found.parts)


def kinds(found: FoundArt) -> list[int]:
    return [kind for one in found.parts for rows in json.loads(one.outline) for kind in from_rows(rows).kind.tolist()]


def slot(space: Modelspace) -> None:
    space.add_line((0, 0), (60, 0))
    space.add_arc((60, 10), 10, -90, 90)
    space.add_line((0, 20), (60, 20))  # the other way round
    space.add_arc((0, 10), 10, 90, 270)


def block(space: Modelspace, **place: float) -> None:
    part = space.doc.blocks.new("part")
    part.add_lwpolyline([(0, 0), (10, 0), (10, 10), (0, 10)], close=True)
    part.add_circle((20, 5), 5)
    space.add_blockref("part", (100, 50), dxfattribs=place)


CASES: dict[str, tuple[Callable[[Modelspace], object], float | None, set[int] | None]] = {
    "slot of lines and arcs": (slot, SLOT, {0, ARC}),
    "circle": (lambda s: s.add_circle((5, 5), 30), math.pi * 900, {ARC}),
    "ring": (lambda s: [s.add_circle((5, 5), r) for r in (30, 20)], math.pi * 500, {ARC}),
    "bulges": (lambda s: s.add_lwpolyline([(0, 0, 0), (60, 0, 1), (60, 20, 0), (0, 20, 1)], format="xyb", close=True), SLOT, {0, ARC}),
    "old polyline": (lambda s: s.add_polyline2d([(0, 0, 0), (60, 0, 1), (60, 20, 0), (0, 20, 1)], format="xyb", close=True), SLOT, {0, ARC}),
    "ellipse": (lambda s: s.add_ellipse((0, 0), (40, 0), 0.4), math.pi * 40 * 16, None),
    "turned block": (lambda s: block(s, rotation=33), 100 + math.pi * 25, None),
    "scaled block": (lambda s: block(s, xscale=3, yscale=3), 9 * (100 + math.pi * 25), None),
    "skewly scaled block": (lambda s: block(s, xscale=3, yscale=0.5), 1.5 * (100 + math.pi * 25), None),
    "mirrored block": (lambda s: block(s, xscale=-1), 100 + math.pi * 25, None),
    "mirrored arcs": (lambda s: [s.add_arc((0, 0), 20, 0, 180, dxfattribs={"extrusion": (0, 0, -1)}), s.add_line((-20, 0), (20, 0))], math.pi * 200, {0, ARC}),
    "hatch": (lambda s: s.add_hatch().paths.add_polyline_path([(0, 0), (30, 0), (30, 20), (0, 20)], is_closed=True), 600, {0}),
    "solid": (lambda s: s.add_solid([(0, 0), (30, 0), (0, 20), (30, 20)]), 600, {0}),
    "wide polyline": (lambda s: s.add_lwpolyline([(0, 0), (50, 0)], dxfattribs={"const_width": 4}), 200, {0}),
    "closed spline": (lambda s: s.add_spline([(0, 0), (20, 0), (20, 20), (0, 20), (0, 0)]), None, None),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_areas_are_as_known_and_arcs_stay_arcs(name: str) -> None:
    draw, expected, curves = CASES[name]
    found = found_art(made(draw), "dxf")
    assert found.unit_said
    if expected is not None:
        assert area(found) == pytest.approx(expected, rel=1e-3)
    if curves is not None:
        assert set(kinds(found)) <= curves and (ARC in kinds(found)) == (ARC in curves)


def test_units_are_the_files_or_a_persons() -> None:
    for code, scale in ((1, 25.4), (4, 1.0), (5, 10.0), (6, 1000.0)):
        found = found_art(made(lambda s: s.add_circle((0, 0), 2), code), "dxf")
        assert found.unit_said and found.width == pytest.approx(4 * scale, rel=1e-4)
    for code, version in ((0, "R2010"), (0, "R12")):
        data = made(lambda s: s.add_circle((0, 0), 2), code, version)
        assert found_art(data, "dxf").width == pytest.approx(4.0, rel=1e-4), "mm where nobody says"
        found = found_art(data, "dxf", "in")
        assert found.width == pytest.approx(101.6, rel=1e-4) and not found.unit_said


def test_ends_that_nearly_meet_are_joined_doubled_lines_go_and_open_ones_are_said() -> None:
    def draw(space: Modelspace) -> None:
        for a, b in [((0, 0), (30, 0)), ((30, 0.03), (30, 20)), ((30, 20), (0, 20.02)), ((0, 20), (0, 0))]:
            space.add_line(a, b)
        space.add_line((30, 0), (0, 0))
        space.add_line((100, 0), (140, 9))

    found = found_art(made(draw), "dxf")
    assert area(found) == pytest.approx(600, rel=2e-3)
    words = "\n".join(found.notes)
    assert "there twice" in words and "did not quite meet" in words and "open line" in words and "40.0 mm" in words


def test_layers_are_parts_colours_are_layers_and_what_is_off_is_left() -> None:
    def draw(space: Modelspace) -> None:
        space.doc.layers.add("Cut", color=1)
        space.doc.layers.add("Fold", color=5)
        space.doc.layers.add("Away", color=3).off()
        space.add_circle((0, 0), 10, dxfattribs={"layer": "Cut"})
        space.add_circle((40, 0), 10, dxfattribs={"layer": "Fold"})
        space.add_circle((80, 0), 10, dxfattribs={"layer": "Away"})
        space.add_circle((120, 0), 10, dxfattribs={"layer": "Cut", "true_color": ezdxf.rgb2int((16, 32, 48))})
        space.add_text("Hull 4", dxfattribs={"layer": "Cut"})

    found = found_art(made(draw), "dxf")
    assert {(one.colour, one.group) for one in found.parts} == {
        ("#ff0000", "Cut"),
        ("#0000ff", "Fold"),
        ("#102030", "Cut"),
    }
    assert any("“Away”" in words for words in found.notes) and any(
        "live text “Hull 4”" in words for words in found.notes
    )


@pytest.mark.parametrize("name", ["Quiet Heron", "Plover plate"])
@pytest.mark.parametrize("options", [[], ["splines"], ["polylines"], ["r12"]])
def test_what_jigger_writes_comes_back(name: str, options: list[str]) -> None:
    design = next(one for one in demo_designs() if one.name == name)
    found = found_art(WORKSHOP.file(design, "dxf", *options), "dxf")
    kept = sum(layer.kept.area for layer in WORKSHOP.exact(design).layers)
    assert area(found) == pytest.approx(kept, rel=1e-4)
    assert sum(one.pieces for one in found.parts) == sum(
        layer.kept.piece_count for layer in WORKSHOP.exact(design).layers
    )


@given(
    st.lists(st.tuples(st.floats(5, 40), st.floats(0, 6.28)), min_size=3, max_size=12),
    st.randoms(use_true_random=False),
)
@settings(max_examples=60)
def test_any_polygon_in_any_order_and_direction_is_closed(points: list[tuple[float, float]], chance: object) -> None:
    angles = sorted({round(angle, 2) for _, angle in points})
    corners = [
        (radius * math.cos(angle), radius * math.sin(angle)) for (radius, _), angle in zip(points, angles, strict=False)
    ]
    if len(corners) < 3:
        return
    lines = [
        Curves.lines(np.array([a]), np.array([b])) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)
    ]
    mixed = [reversed_chain(one) if chance.random() < 0.5 else one for one in lines]
    chance.shuffle(mixed)
    found = chained([*mixed, mixed[0]], 0.01)
    assert len(found.closed) == 1 and not found.open and found.doubled == 1 and not found.bridged
    assert len(found.closed[0]) == len(lines)


def test_a_chain_run_back_and_written_out_is_the_same_way() -> None:
    chain = Curves.joined(
        [
            Curves.lines(np.array([[0.0, 0]]), np.array([[10.0, 0]])),
            Curves.arcs(np.array([[10.0, 5, 5, -np.pi / 2, np.pi]])),
        ]
    )
    back = reversed_chain(chain)
    assert np.allclose(back.starts[0], chain.ends[-1]) and np.allclose(back.ends[-1], chain.starts[0])
    assert np.allclose(back.flattened(0.01)[0].mean(axis=0), chain.flattened(0.01)[0].mean(axis=0), atol=1.0)
    assert np.allclose(from_rows(to_rows(back)).controls, back.controls, atol=1e-5)


def bomb() -> bytes:
    def draw(space: Modelspace) -> None:
        blocks = space.doc.blocks
        blocks.new("b0").add_circle((0, 0), 1)
        for level in range(1, 12):
            one = blocks.new(f"b{level}")
            for n in range(10):
                one.add_blockref(f"b{level - 1}", (n, level))
        space.add_blockref("b11", (0, 0))

    return made(draw)


def ring() -> bytes:
    def draw(space: Modelspace) -> None:
        one, two = space.doc.blocks.new("one"), space.doc.blocks.new("two")
        one.add_blockref("two", (0, 0))
        two.add_blockref("one", (0, 0))
        space.add_blockref("one", (0, 0))

    return made(draw)


@pytest.mark.parametrize(
    ("data", "words"),
    [(b"", "."), (b"junk\n" * 50, "."), (made(slot)[:3000], "."), (ring(), "holds itself|nothing in it"),
     (made(lambda s: s.add_text("Hull")), "nothing in it is an area"), (made(lambda s: s.add_line((0, 0), (9, 9))), "open line")],
)  # fmt: skip
def test_what_cannot_be_taken_is_refused_in_words(data: bytes, words: str) -> None:
    with pytest.raises(ArtRefused, match=words):
        found_art(data, "dxf")


def test_blocks_of_blocks_are_counted_as_they_come(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(dxf, "MOST_PAINTED", 200)
    with pytest.raises(ArtRefused, match="more than 1,000 things"):
        found_art(bomb(), "dxf")
