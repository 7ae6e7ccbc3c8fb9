"""Each finding has a case in which it fires and one in which it must not."""

import json
import re
from typing import Literal

import pytest

from jigger.core.checks.findings import Report
from jigger.core.checks.repairs import repairs
from jigger.core.design.edits.commands import AddLiftingSheet, AddPart, AddSet, Adjust, EditBridge, SetText, UseMaterial
from jigger.core.design.edits.letters import DrawLetter
from jigger.core.design.model.design import Design, Layer, Lettering, Shape, Stroke
from jigger.core.design.model.document import check_whole, read_design
from jigger.core.design.model.lettering import LetterOutline
from jigger.core.design.model.strokes import DrawnPath, Node, StrokeCourse
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused
from jigger.core.materials.rules import read_rules
from jigger.services.workshop import Workshop
from jigger.web.readout import Mark, figures, readout_view

PLAIN = plain_lettering("Merrow", [("Merrow", "pacifico", 40.0)], (400.0, 200.0))
PLATE = starter("stencil-plate").make({"text": "BOAT"})
DISC = starter("initial-in-shape").make({"text": "R"})


def part(design: Design, kind: str):
    return next(found for found in design.parts() if (found.kind == "lettering") == (kind == "lettering"))


def adjust(design: Design, target: str, **values) -> Design:
    ids = {"layer": design.layers[0].id, "words": part(design, "lettering").id}
    if target == "line":
        ids["line"] = part(design, "lettering").lines[0].id
    if target == "shape":
        ids["shape"] = part(design, "shape").id
    return Adjust(target=ids.get(target, target), values={k.replace("__", "."): v for k, v in values.items()}).apply(
        design
    )


def typed(design: Design, text: str) -> Design:
    words = part(design, "lettering")
    assert isinstance(words, Lettering)
    return SetText(part=words.id, line=words.lines[0].id, text=text).apply(design)


def lost_bridge(design: Design) -> Design:
    """A bridge moved by hand on the O, which then becomes an I."""
    letter = part(design, "lettering").lines[0].ids[1]
    moved = EditBridge(layer=design.layers[0].id, letter=letter, counter=0, number=0, along=0.5).apply(design)
    return typed(moved, "BIAT")


def drawn_over(glyph: str) -> Design:
    """A letter drawn by hand over this glyph."""
    letter = part(PLAIN, "lettering").lines[0].ids[0]
    course = StrokeCourse(kind="path", paths=[DrawnPath(nodes=[Node(x=x, y=y) for x, y in SQUARE], closed=True)])
    return DrawLetter(letter=letter, outline=LetterOutline(course=course, capitals=40.0, over=glyph)).apply(PLAIN)


def ringed(radius: float, **more) -> Design:
    return adjust(PLAIN, "words", course__kind="circle", course__radius=radius, place__by="course", **more)


def framed(gap: float) -> Design:
    return adjust(typed(PLAIN, "WML"), "words", frame__form="shield", frame__gap=gap)


def spaced(text: str, spacing: str, gap: float) -> Design:
    return adjust(typed(PLAIN, text), "line", font="alfa-slab-one", spacing=spacing, gap=gap)


def two_parts() -> tuple[Design, str, str]:
    design = AddPart(layer=PLAIN.layers[0].id, kind="lettering").apply(PLAIN)
    first, second = design.parts()
    return design, first.id, second.id


def kept_apart(gap: float) -> Design:
    design, first, second = two_parts()
    return AddSet(kind="apart", part=second, other=first, gap=gap).apply(design)


def in_a_tail(grown: bool) -> Design:
    design, first, second = two_parts()
    design = Adjust(target=first, values={"tail.on": grown}).apply(design)
    return Adjust(target=second, values={"course.kind": "tail", "course.of": first}).apply(design)


def welded_onto(join: str) -> Design:
    """Words on a disc that is larger than they are."""
    design = AddPart(layer=PLAIN.layers[0].id, kind="shape").apply(PLAIN)
    words, disc = design.parts()
    design.layers[0].parts = [disc, words]
    return Adjust(
        target=disc.id, values={"width": 300.0, "height": 300.0}
    ).apply(Adjust(target=words.id, values={"join.kind": join}).apply(design))  # fmt: skip


def lifted(beyond: float) -> Design:
    """Words on a lifting sheet, and a bar in their layer that begins on them and reaches so far to the right."""
    design = AddLiftingSheet(layer=PLAIN.layers[0].id).apply(PLAIN)
    sheet, top = design.layers
    words = top.parts[0].id
    design = Adjust(target=sheet.parts[0].id, values={"of": words}).apply(design)
    design = AddPart(layer=top.id, kind="shape", form="rectangle").apply(design)
    values = {"width": 20.0, "height": 5.0, "place.on": words, "place.x": beyond}
    return Adjust(target=design.layers[1].parts[-1].id, values=values).apply(design)


def drawn(nodes: list[tuple[float, float]], closed: bool = True, filled: bool = True) -> Design:
    design = AddPart(layer=PLAIN.layers[0].id, kind="stroke", form="path").apply(PLAIN)
    stroke = design.layers[0].parts[-1]
    assert isinstance(stroke, Stroke)
    stroke.course.paths = [DrawnPath(nodes=[Node(x=x, y=y) for x, y in nodes], closed=closed)]
    stroke.pen.filled = filled
    return design


SQUARE = [(0.0, 0.0), (60.0, 0.0), (60.0, 60.0), (0.0, 60.0)]
BOW = [SQUARE[0], SQUARE[2], SQUARE[1], SQUARE[3]]
NEEDLE = [(0.0, 0.0), (60.0, 1.0), (0.0, 2.0)]

FIRING = {
    "swallowed": ("warn", welded_onto("weld"), welded_onto("knock out")),
    "sticks-out": ("warn", lifted(90.0), lifted(0.0)),
    "open-ends": ("warn", drawn(SQUARE, closed=False), drawn(SQUARE)),
    "crosses-itself": ("warn", drawn(BOW), drawn(BOW, filled=False)),
    "drawn-twice": ("warn", drawn([*SQUARE, (60.0, 60.0), (0.0, 60.0)]), drawn(SQUARE)),
    "spikes": ("note", drawn(NEEDLE), drawn(SQUARE)),
    "short-segments": (
        "note",
        drawn([*SQUARE[:2], (60.0, 30.0), (60.04, 30.0), (60.04, 60.0), SQUARE[3]]),
        drawn(SQUARE),
    ),
    "missing-glyph": ("stop", typed(PLAIN, "Mer☃ow"), typed(PLAIN, "Merrow!")),
    "drawn-over-other": ("warn", drawn_over("another"), drawn_over("")),
    "joins-parted": ("warn", adjust(PLAIN, "line", tracking=120.0), adjust(PLATE, "line", tracking=120.0)),
    "cannot-touch": (
        "warn",
        adjust(typed(PLAIN, "_'"), "line", spacing="touching"),
        adjust(typed(PLAIN, "Merrow"), "line", spacing="touching"),
    ),
    "overfull": (
        "warn",
        adjust(PLAIN, "words", align="justified", measure=60.0),
        adjust(PLAIN, "words", align="justified", measure=600.0),
    ),
    "crowded": ("stop", ringed(24.0), ringed(200.0)),
    "small-circle": ("stop", ringed(30.0, course__heads="in", course__side="under"), ringed(200.0)),
    "bent-less": ("warn", adjust(PLAIN, "words", form__bend=-360.0), adjust(PLAIN, "words", form__bend=60.0)),
    "no-room": ("stop", framed(50.0), framed(4.0)),
    "framed-strokes": ("note", framed(2.0), PLAIN),
    "thin-strokes": (
        "warn",
        adjust(typed(PLAIN, "Merrow"), "line", font="great-vibes", height=9.0),
        adjust(PLAIN, "line", font="great-vibes", height=90.0),
    ),
    "nearly-touch": ("warn", spaced("HIH", "even", 0.1), spaced("HIH", "even", 2.0)),
    "barely-joined": ("warn", spaced("OO", "touching", 0.001), spaced("OO", "touching", 1.0)),
    "lie-on-each-other": (
        "warn",
        adjust(typed(PLAIN, "HIH"), "line", font="alfa-slab-one", tracking=-140.0),
        spaced("HIH", "touching", 1.0),
    ),
    "too-near": ("warn", kept_apart(500.0), kept_apart(1.0)),
    "no-tail": ("stop", in_a_tail(False), in_a_tail(True)),
    "unknown-font": ("stop", None, PLAIN),
    "empty-text": ("stop", typed(PLAIN, "  "), PLAIN),
    "would-fall-out": ("stop", adjust(PLATE, "layer", bridges__on=False), PLATE),
    "nothing-left": ("stop", adjust(DISC, "words", join__gap=90.0), adjust(DISC, "words", join__gap=1.0)),
    "nothing-to-cut": ("stop", adjust(PLAIN, "words", hidden=True), PLAIN),
    "over-the-edge": ("warn", adjust(PLATE, "shape", around=None, width=60.0, height=60.0), PLATE),
    "small-waste": ("warn", adjust(typed(PLAIN, "O"), "line", font="jost", height=3.0), PLAIN),
    "small-piece": ("warn", adjust(PLAIN, "line", height=1.0), PLAIN),
    "thin-bridge": (
        "stop",
        adjust(PLATE, "layer", bridges__width=0.5),
        adjust(PLATE, "layer", bridges__width=2.0),
    ),
    "bridge-lost": ("warn", lost_bridge(PLATE), PLATE),
    "larger-than-stock": ("warn", adjust(PLATE, "line", height=700.0), PLATE),
    "off-surface": ("warn", adjust(PLAIN, "words", place__x=180.0), adjust(PLAIN, "words", place__x=20.0)),
    "no-opening": (
        "stop",
        adjust(DISC, "shape", form="ring", band=70.0),
        adjust(DISC, "shape", form="ring", band=7.0),
    ),
    "nothing-inside": ("stop", typed(PLATE, ""), PLATE),
}
unknown = PLAIN.model_copy(deep=True)
unknown.layers[0].parts[0].lines[0].font = "no-such-font"
FIRING["unknown-font"] = ("stop", unknown, PLAIN)


@pytest.mark.parametrize("code", FIRING)
def test_a_finding_fires_where_it_must_and_only_there(code: str, workshop: Workshop) -> None:
    severity, wrong, right = FIRING[code]
    found = {finding.code: finding for finding in workshop.report(wrong).all_findings}
    assert code in found and found[code].severity == severity and found[code].message
    assert code not in {finding.code for finding in workshop.report(right).all_findings}


def test_a_design_is_ready_when_nothing_stops(workshop: Workshop) -> None:
    assert workshop.report(PLATE).ready and workshop.report(PLAIN).ready and workshop.report(DISC).ready
    assert not workshop.report(FIRING["would-fall-out"][1]).ready
    assert workshop.report(FIRING["off-surface"][1]).ready, "a warning does not stop"


def test_a_fall_out_names_its_letter_its_place_and_its_size(workshop: Workshop) -> None:
    report = workshop.report(adjust(PLATE, "layer", bridges__on=False))
    finding = next(f for f in report.all_findings if "“O”" in f.message)
    loose = next(c for c in workshop.exact(PLATE).layers[0].counters if PLATE.letters()[c.owner] == "O")
    assert loose.region.contains_point(*finding.at) and finding.measured == pytest.approx(loose.region.area, rel=1e-3)


def test_a_missing_letter_names_fonts_that_have_it(workshop: Workshop) -> None:
    def said(text: str) -> str:
        return next(f.message for f in workshop.report(typed(PLAIN, text)).all_findings if f.code == "missing-glyph")

    assert said("Mer⚓").endswith("Noto Emoji would have it")
    assert said("Mer\U00013000").endswith("No font of the letter case has it")


def test_a_design_without_layers_has_nothing_to_cut(workshop: Workshop) -> None:
    report: Report = workshop.report(Design(name="Bare"))
    assert [finding.code for finding in report.all_findings] == ["nothing-to-cut"]


def test_edges_of_the_stock_that_cannot_be_used_count_as_none(workshop: Workshop) -> None:
    box = workshop.exact(PLATE).layers[0].kept.bounds
    width, height = box[2] - box[0], box[3] - box[1]
    stuff = PLATE.material(PLATE.layers[0].material)

    def codes(edge: float) -> set[str]:
        rules = stuff.model_copy(update={"sheet": (width + 10.0, height + 10.0), "edge": edge})
        design = UseMaterial(layer=PLATE.layers[0].id, rules=rules).apply(PLATE)
        return {finding.code for finding in workshop.report(design).all_findings}

    assert "larger-than-stock" not in codes(4.9) and "larger-than-stock" in codes(5.1)
    with pytest.raises(CommandRefused, match="leave nothing of the stock"):
        read_rules({**stuff.model_dump(), "edge": 400.0})


def test_a_stiffer_sheet_holds_larger_counters_at_one_end(workshop: Workshop) -> None:
    stuff = PLATE.material(PLATE.layers[0].material)

    def bridges(span: float) -> int:
        design = UseMaterial(layer=PLATE.layers[0].id, rules=stuff.model_copy(update={"span": span})).apply(PLATE)
        (layer,) = workshop.exact(design).layers
        assert len(layer.pieces.pieces) == 1
        return len(layer.bridges)

    assert bridges(500.0) < bridges(5.0)


def test_what_is_drawn_badly_is_lit_where_it_is(workshop: Workshop) -> None:
    def mark(points: list[tuple[float, float]], code: str) -> Mark:
        design = drawn(points)
        report = workshop.report(design)
        marks = readout_view(report, "mm").marks
        return next(one for one in marks if one.finding.code == code)

    crossing = mark(BOW, "crosses-itself")
    assert crossing.lit.startswith(f"M{crossing.x:.3f} {crossing.y:.3f}L") and crossing.lit.count("L") == 1
    twice = mark([*SQUARE, (60.0, 60.0), (0.0, 60.0)], "drawn-twice")
    xs = [float(x) for x in re.findall(r"[ML](-?[\d.]+)", twice.lit)]
    assert max(xs) - min(xs) == pytest.approx(60.0)


def of_words(text: str, font: str, height: float = 40.0, tail: dict | None = None, **line: object) -> Design:
    one = {"id": "line", "text": text, "font": font, "height": height, **line}
    part = {"kind": "lettering", "id": "part", "lines": [one], "tail": tail or {}}
    layer = {"id": "layer", "material": "outdoor-vinyl", "parts": [part]}
    return read_design(json.dumps({"jigger": 9, "name": "Words", "layers": [layer], "serial": 9}))


def swallowed(design: Design, workshop: Workshop) -> list[str]:
    letters = design.letters()
    found = [x for x in workshop.report(design).all_findings if x.code in ("swallowed", "mark-joined")]
    return ["".join(sorted(letters[letter] for letter in finding.letters)) for finding in found]


@pytest.mark.parametrize(
    ("font", "figure"),
    [
        ("eb-garamond", "0 / 0.4 mm"),
        ("inter", "0 / 0.4 mm"),
        ("alfa-slab-one", "51.25 / 50 %"),
    ],  # that one by its share
)
def test_a_point_that_touches_both_neighbours_is_lost(font: str, figure: str, workshop: Workshop) -> None:
    lost = of_words("1.5 LITRE", font, spacing="touching")
    assert swallowed(lost, workshop) == ["."]
    (finding,) = [x for x in workshop.report(lost).all_findings if x.code in ("swallowed", "mark-joined")]
    assert figures(finding, "mm") == figure
    assert swallowed(repairs(lost, workshop.exact(lost), finding)[0].mend().apply(lost), workshop) == []
    assert swallowed(of_words("1.5 LITRE", font), workshop) == []
    assert swallowed(of_words("AeA", font, spacing="touching"), workshop) == [], "a small letter is no mark"
    assert swallowed(of_words("H-K", font, spacing="touching"), workshop) == []


def test_descenders_under_a_tail_are_lost(workshop: Workshop) -> None:
    tail = {"on": True, "sag": 4, "thickness": 16}
    (lost,) = swallowed(of_words("gypsy jug", "lobster", tail=tail), workshop)
    assert lost == "jyy"
    assert swallowed(of_words("gypsy jug", "lobster", tail={**tail, "sag": 45}), workshop) == []
    assert swallowed(of_words("Merrow", "lobster", tail={"on": True}), workshop) == []


@pytest.mark.parametrize("tail", [{}, {"on": True, "length": 1.4}, {"on": True, "grows": "first", "hook": 30.0}])
def test_placed_by_its_body_letters_stand_where_they_would_without_a_tail(tail: dict, workshop: Workshop) -> None:
    def left(design: Design) -> float:
        return min(box[0] for box in workshop.exact(design).parts["part"].letter_boxes().values())

    by_body = adjust(of_words("Merrow", "lobster", tail=tail), "part", place__by="body")
    assert left(by_body) == pytest.approx(
        left(adjust(of_words("Merrow", "lobster"), "part", place__by="body")), abs=0.01
    )


@pytest.mark.parametrize(
    ("beyond", "found"), [(-6.0, False), (0.0, True), (1.5, True), (2.2, True), (3.0, False), (9.0, False)]
)
@pytest.mark.parametrize("form", ["rectangle", "disc"])
def test_print_that_reaches_the_cut_goes_on_beyond_it(
    workshop: Workshop, form: Literal["rectangle", "disc"], beyond: float, found: bool
) -> None:
    """Art well inside the cut line needs no bleed; a margin of the sheet shows all round it."""

    def layer(identity: str, more: float, build: Literal["keep", "print"], material: str = "outdoor-vinyl") -> Layer:
        part = Shape(id=f"part{identity}", form=form, width=80 + 2 * more, height=80 + 2 * more)
        return Layer(id=identity, material=material, build=build, parts=[part])

    design = check_whole(Design(name="D", layers=[layer("print", beyond, "print"), layer("cut", 0.0, "keep")]))
    assert any(one.code == "no-bleed" for one in workshop.report(design).all_findings) is found
    over = [layer("print", beyond, "print"), layer("cut", 0.0, "keep", "removable-vinyl")]
    other = check_whole(Design(name="D", layers=over))
    assert not any(one.code == "no-bleed" for one in workshop.report(other).all_findings), "it lies on the print"
    alone = check_whole(Design(name="D", layers=[layer("cut", 0.0, "keep")]))
    assert not any(one.code == "no-bleed" for one in workshop.report(alone).all_findings)
