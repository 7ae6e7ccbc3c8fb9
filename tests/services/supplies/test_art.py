"""Art brought in: as designs and as parts, replaced later; hostile files end in their own process, in words."""

import gzip
import json
import random
import resource
import time
from pathlib import Path

import pytest
import shapely

import jigger.services.supplies.art as service
from jigger.cli import main
from jigger.core.art.found import found_art
from jigger.core.art.intake import MEMORY, SECONDS
from jigger.core.art.painted import ArtRefused
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.design import VERSION, Artwork
from jigger.core.design.model.document import read_design, write_design
from jigger.core.errors import CommandRefused
from jigger.services.demo.boatyard import demo_designs
from jigger.services.house import House
from jigger.services.supplies.art import bring_in, design_of, read_art, replace_art
from jigger.services.workshop import Workshop
from tests.core.art.cases import CASES, page

WORKSHOP = Workshop()
LOGO = page('<g id="disc"><circle cx="60" cy="40" r="36" fill="#0f4a44"/></g><path d="M30 50C40 20 80 20 90 50Z" fill="#d8a12a"/>'
            "<text>Hi</text>").encode()  # fmt: skip


def test_colours_are_layers_and_groups_are_parts() -> None:
    design = design_of(read_art(LOGO, "Heron logo.svg"), "Heron logo.svg")
    assert design.name == "Heron logo" and "live text “Hi”" in design.note
    assert [layer.colour for layer in design.layers] == ["#0f4a44", "#d8a12a"]
    assert [part.name for part in design.parts()] == ["Heron logo · disc", "Heron logo"]
    assert read_design(write_design(design)) == design
    built = WORKSHOP.exact(design)
    assert not any(part.problems for part in built.parts.values())
    report = WORKSHOP.report(design)
    assert report.nodes == 4 + 2 + 2, "arcs and curves are what they were"


@pytest.mark.parametrize(
    "name", ["Quiet Heron", "Yard badge, ring", "Plover plate", "Bow name, two colours", "Merganser, swept"]
)
@pytest.mark.parametrize("arcs", [False, True])
def test_what_jigger_writes_comes_back_as_it_was(name: str, arcs: bool) -> None:
    design = next(one for one in demo_designs() if one.name == name)
    found = found_art(WORKSHOP.file(design, "svg", *(["arcs"] if arcs else [])), "svg", under=True)
    again = design_of(found, f"{name}.svg")
    areas = {}
    for one in (design, again):
        kept = [layer.kept for layer in WORKSHOP.exact(one).layers]
        areas[one.name, one is again] = shapely.union_all([area.geometry for area in kept])
    first, second = areas.values()
    assert second.area == pytest.approx(first.area, rel=1e-4)
    dx, dy = (a - b for a, b in zip(first.bounds[:2], second.bounds[:2], strict=True))
    assert shapely.affinity.translate(second, dx, dy).hausdorff_distance(first) < 0.05
    assert sum(one.nodes for one in found.parts) <= 1.02 * WORKSHOP.report(design).nodes + 8


def test_art_joins_a_design_and_is_replaced_with_its_choices_kept(house: House) -> None:
    identity = house.designs.create("gap-line-name", {"text": "MERROW", "height_mm": "60"})
    before = house.designs.open(identity).design
    opened = house.designs.edit(identity, bring_in(read_art(LOGO, "logo.svg"), "logo.svg"))
    art = [part for part in opened.design.parts() if isinstance(part, Artwork)]
    assert len(art) == 2 and len(opened.design.parts()) == len(before.parts()) + 2
    house.designs.edit(
        identity, Adjust(target=art[0].id, values={"scale": 0.5, "place.x": 40.0, "join.kind": "knock out"})
    )
    other = read_art(page('<rect width="50" height="20" fill="#0f4a44"/>').encode(), "other.svg")
    design = house.designs.open(identity).design
    after = house.designs.edit(identity, replace_art(design, art[0].id, other, "other.svg")).design
    (new,) = [part for part in after.parts() if part.id == art[0].id]
    assert (new.scale, new.place.x, new.join.kind, new.file) == (0.5, 40.0, "knock out", "other")
    box = WORKSHOP.exact(after).parts[new.id].region.bounds
    assert box[2] - box[0] == pytest.approx(25.0, abs=1e-3)
    two = read_art(
        page('<rect width="9" height="9" fill="#a00"/><rect x="20" width="9" height="9" fill="#00a"/>').encode(),
        "two.svg",
    )
    with pytest.raises(CommandRefused, match="nothing in it is #0f4a44"):
        replace_art(after, art[0].id, two, "two.svg")
    with pytest.raises(CommandRefused, match="not artwork"):
        replace_art(after, before.parts()[0].id, other, "other.svg")
    house.designs.undo(identity)
    assert house.designs.open(identity).design == design


def test_outlines_that_are_damaged_are_a_finding_and_not_a_crash() -> None:
    design = design_of(read_art(LOGO, "logo.svg"), "logo.svg")
    for wrong in ("", "[", "[[1]]", "[[[0,0],[1]]]", '[[["a"]]]', "[[[0,0],[9,9]]]", "[]", "[[[0,0],[1e400,0],[0,1]]]"):
        damaged = design.model_copy(deep=True)
        damaged.parts()[0].outline = wrong
        report = WORKSHOP.report(damaged)
        assert not report.ready, wrong


HOSTILE = {
    "a million lines": page('<path fill="none" stroke="#000" d="M0 0' + "l1 1-1 1" * 400_000 + '"/>').encode(),
    "stars on stars": page("".join(f'<path d="M60 5L{n} 75 15 30 105 {n % 70} 35 75Z"/>' for n in range(6000))).encode(),
    "packed zeros": gzip.compress(b"<svg xmlns='http://www.w3.org/2000/svg'>" + b" " * 300_000_000),
    "deep": b"<svg xmlns='http://www.w3.org/2000/svg'>" + b"<g>" * 200_000,
    "attributes": page('<rect width="9" height="9" ' + " ".join(f'a{n}="1"' for n in range(200_000)) + "/>").encode(),
    "selectors": page("<style>" + "".join(f".a{n} .b{n} > rect{{fill:red}}" for n in range(60_000)) + "</style>" + "<g>" * 90 + '<rect width="9" height="9"/>' + "</g>" * 90).encode(),
}  # fmt: skip


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_files_end_soon_and_in_words(name: str) -> None:
    begun, others = time.process_time(), resource.getrusage(resource.RUSAGE_CHILDREN).ru_utime
    try:
        found = read_art(HOSTILE[name], "bad.svg")
        assert found.parts, "it was harmless after all"
    except CommandRefused as error:
        assert "bad.svg" in str(error) and "damaged" not in str(error)
    assert time.process_time() - begun < 1.0, "nothing of it is worked out here"
    assert resource.getrusage(resource.RUSAGE_CHILDREN).ru_utime - others < SECONDS + 3.0, (
        "its time ends in libraries too"
    )
    assert SECONDS <= 3.0 and MEMORY <= 512 << 20


@pytest.mark.parametrize(("sign", "words"), [("SEGV", "too large"), ("ABRT", "too large"), ("PROF", "too long")])
def test_a_library_that_breaks_off_is_a_refusal_in_words(
    monkeypatch: pytest.MonkeyPatch, sign: str, words: str
) -> None:
    program = f"import os, signal; os.kill(os.getpid(), signal.SIG{sign})"
    real = service.WORKING.run
    monkeypatch.setattr(service.WORKING, "run", lambda _, *more: real([service.sys.executable, "-c", program], *more))
    with pytest.raises(CommandRefused, match=words):
        read_art(LOGO, "logo.svg")


def test_changed_bytes_never_break_anything() -> None:
    chance = random.Random(7)
    whole = list(CASES.values())
    for _ in range(150):
        data = bytearray(chance.choice(whole).encode())
        for _ in range(chance.randint(1, 6)):
            at = chance.randrange(len(data))
            data[at : at + chance.randint(0, 3)] = bytes(
                chance.choice([b"9", b"e", b"-", b"%", b"<", b"\x00", b"1e9", b"url(#"])
            )
        try:
            found_art(bytes(data), "svg")
        except ArtRefused as error:
            assert str(error)


@pytest.mark.parametrize(
    ("data", "name", "unit", "words"),
    [
        (b"x", "logo.cdr", "px", "brings in .svg"), (b"x", "logo", "px", "without a suffix"), (b"", "logo.svg", "px", "is empty"),
        (LOGO, "logo.svg", "ell", "none of px"), (b"junk", "logo.svg", "px", "cannot be read"),
    ],
)  # fmt: skip
def test_what_cannot_be_brought_in_is_said(data: bytes, name: str, unit: str, words: str) -> None:
    with pytest.raises(CommandRefused, match=words):
        read_art(data, name, unit)


def test_the_command_line_brings_art_in(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "logo.svg").write_bytes(LOGO)
    assert main(["import", str(tmp_path / "logo.svg"), "-o", str(tmp_path / "d.json"), "--report"]) == 0
    said = capsys.readouterr()
    assert "#0f4a44 of “disc”: 1 piece," in said.out and "live text" in said.out and "72.00 × 72.00 mm" in said.err
    assert json.loads((tmp_path / "d.json").read_text())["jigger"] == VERSION
    assert main(["check", str(tmp_path / "d.json")]) == 0
    assert main(["import", str(tmp_path / "none.svg"), "-o", str(tmp_path / "e.json")]) == 2
    (tmp_path / "bad.svg").write_bytes(b"<svg")
    assert main(["import", str(tmp_path / "bad.svg"), "-o", str(tmp_path / "e.json")]) == 2
    assert not (tmp_path / "e.json").exists()
