"""The catalogue of findings: each kind has a case in which it fires and one in which it must not, here, in `test_checks`
or, where a computation has to fail for it, in a test that says so.
"""

import ast
import json
import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from jigger.core.checks.catalogue import FINDINGS
from jigger.core.checks.drawn import outline_findings
from jigger.core.checks.findings import Finding
from jigger.core.checks.layer_repairs import LAYER_REPAIRS
from jigger.core.checks.repairs import REPAIRS
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design
from jigger.core.errors import UnknownChoice
from jigger.core.geometry.curves.outline import outlines
from jigger.services.workshop import Workshop
from tests.core.test_checks import FIRING, of_words

HERE = Path(__file__).parent
SOURCE = Path(__file__).parents[2] / "src" / "jigger"


def of(*parts: dict, **layer: object) -> dict:
    return {"id": "L", "material": "outdoor-vinyl", "parts": list(parts), **layer}


def design(*layers: dict, **more: object) -> Design:
    return read_design(json.dumps({"jigger": 10, "name": "D", "layers": list(layers), **more}))


def shape(identity: str, width: float, height: float, x: float = 0.0, **more: object) -> dict:
    place = {"on": "page", "x": x}
    return {
        "kind": "shape",
        "id": identity,
        "form": "rectangle",
        "width": width,
        "height": height,
        "place": place,
        **more,
    }


def words(text: str, font: str = "anton", height: float = 40.0, **more: object) -> dict:
    line = {"id": "line", "text": text, "font": font, "height": height}
    return {"kind": "lettering", "id": "w", "lines": [line], **more}


BAR = shape("a", 60, 20)
FOLLOWS = {"kind": "follower", "id": "f", "of": "a"}
NECK = [shape("a", 40, 40), shape("b", 60, 2, x=40.0), shape("c", 40, 40, x=80.0)]


def repeated(rows: int) -> dict:
    outline = {"kind": "outline", "id": "o", "row": 2, "steps": [1.0]}
    return {**BAR, "finishes": [outline, {"kind": "repeat", "id": "r", "rows": rows, "columns": 1}]}


def ring(letter: str) -> dict:
    band = {"kind": "shape", "id": "r", "form": "ring", "width": 120, "height": 120, "band": 4, "place": {"on": "page"}}
    return of(band, words(letter, "alfa-slab-one", 30.0, join={"kind": "cut back"}, place={"on": "page", "y": 58.0}))


def stroke(*nodes: float) -> dict:
    course = {"kind": "path", "paths": [{"nodes": [{"x": x, "y": 0} for x in nodes]}]}
    return {"kind": "stroke", "id": "s", "course": course, "pen": {"width": 3}}


def needle(**more: object) -> dict:
    nodes = [{"x": 0, "y": -3}, {"x": 50, "y": 0}, {"x": 0, "y": 3}]
    course = {"kind": "path", "paths": [{"closed": True, "nodes": nodes}]}
    return {"kind": "stroke", "id": "s", "course": course, "pen": {"filled": True}, "place": {"on": "page"}, **more}


def window(beyond: float) -> list[dict]:
    figure = {"id": "x", "kind": "window", "lower": "low", "figure": "b", "measure": 5.0}
    upper = of(shape("t", 100, 60), {**shape("b", 40, 20), "join": {"kind": "weld"}}, relations=[figure])
    return [of(shape("u", 40 + beyond, 20 + beyond), id="low"), upper]


def neck(width: float) -> Design:
    return design(of(NECK[0], shape("b", 60, width, x=40.0), NECK[2], material="mild-steel", wish="one"))


def slot(width: float) -> Design:
    return design(of(shape("a", 80, 60), shape("b", 40, width, join={"kind": "knock out"}), material="mild-steel"))


def picture(scale: float, **more: object) -> dict:
    outline = json.dumps([[[0, 0], [60, 0], [60, 20], [0, 20], [0, 0]]])
    shown = {"picture": "0" * 64, "wide": 600, "high": 200, "a": 0.1, "d": 0.1}
    art = {"kind": "artwork", "id": "p", "outline": outline, "picture": shown, "scale": scale, "place": {"on": "page"}}
    return of({**art, **more}, id="P", build="print")


BENT = {"kind": "bend", "id": "n", "form": {"bend": 30}}
CASES: dict[str, tuple[Design, Design]] = {
    "picture-left": (design(of(BAR), picture(1.0, finishes=[BENT])), design(of(BAR), picture(1.0))),
    "coarse-picture": (design(of(BAR), picture(2.0)), design(of(BAR), picture(1.0))),
    "no-course": (design(of(stroke(5.0), BAR)), design(of(stroke(0.0, 30.0), BAR))),
    "empty-group": (
        design(of({"kind": "group", "id": "g", "parts": []}, BAR)),
        design(of({"kind": "group", "id": "g", "parts": [BAR]})),
    ),
    "source-gone": (design(of(BAR, {**FOLLOWS, "of": "nobody"})), design(of(BAR, FOLLOWS))),
    "follows-nothing": (
        design(of({**words(" "), "id": "a"}, {**FOLLOWS}, shape("b", 20, 20))),
        design(of(BAR, FOLLOWS)),
    ),
    "no-such-row": (design(of(repeated(1))), design(of(repeated(2)))),
    "window-bare": (design(*window(0.0)), design(*window(30.0))),
    "layers-overlap": (design(of(BAR), of(shape("b", 30, 10), id="M")), design(of(BAR), of(shape("b", 30, 10, x=80.0), id="M"))),
    "no-bleed": (
        design(of(BAR), of(shape("p", 60, 20), id="P", build="print")),
        design(of(BAR), of(shape("p", 66, 26), id="P", build="print"), of(shape("q", 30, 8), id="Q", build="print")),
    ),
    "not-mirrored": (design(of(BAR, material="heat-film")), design(of(BAR))),
    "thin-strip": (neck(1.0), neck(8.0)),
    "narrow-opening": (slot(1.0), slot(12.0)),
    "stays-to-hold": (design(ring("X")), design(ring("S"))),
    "thin-tips": (design(of(needle())), design(of(BAR))),
    "blunt-inlets": (
        design(of(shape("b", 80, 60), needle(join={"kind": "knock out"}), material="mild-steel")),
        design(of(shape("b", 80, 60), {**BAR, "join": {"kind": "knock out"}}, material="mild-steel")),
    ),
    "mark-joined": (of_words("1.5 LITRE", "inter", spacing="touching"), of_words("1.5 LITRE", "inter")),
}  # fmt: skip

ELSEWHERE = {  # by the test that makes a computation fail for it, or plants it
    "cannot-build": "core/design/test_guard.py",
    "out-of-time": "core/design/test_guard.py",
    "too-large": "core/design/test_guard.py",
    "not-checked": "core/design/test_guard.py",
    "not-measured": "core/test_patience.py",
    "piece-lost": "core/design/test_live_build.py",
    "bridges-close": "services/edits/test_bridge_hands.py",
    "specks": "core/test_layer_repairs.py",
}


@pytest.mark.parametrize("code", CASES)
def test_a_kind_fires_where_it_must_and_only_there(code: str, workshop: Workshop) -> None:
    wrong, right = CASES[code]
    (found, *_) = [x for x in workshop.report(wrong).all_findings if x.code == code]
    assert found.severity in found.kind.severities and found.message
    assert code not in {x.code for x in workshop.report(right).all_findings}


def test_outlines_that_are_chords_in_part_are_said(workshop: Workshop) -> None:
    """No part of the zoo comes to any; so some are taken for chords."""
    outline = outlines(workshop.exact(CASES["no-course"][1]).layers[0].kept)
    assert "chords" not in {x.code for x in outline_findings(outline)}
    some = replace(outline, chorded=1, chords=np.full(len(outline.hole), 5.0))
    (found,) = [x for x in outline_findings(some) if x.code == "chords"]
    assert found.measured == pytest.approx(some.chord_share) and "% of the outlines" in found.message


def test_every_kind_has_its_cases() -> None:
    assert set(FINDINGS) == set(FIRING) | set(CASES) | set(ELSEWHERE) | {"chords"}
    for code, file in ELSEWHERE.items():
        assert f'"{code}"' in (HERE.parent / file).read_text(), f"{file} is to plant {code}"


def test_every_code_in_the_sources_is_listed_and_none_is_listed_for_nothing() -> None:
    said = set()
    for path in (SOURCE / "core").rglob("*.py"):
        if path.name != "catalogue.py":
            strings = [x.value for x in ast.walk(ast.parse(path.read_text())) if isinstance(x, ast.Constant)]
            said |= {
                x
                for x in strings
                if isinstance(x, str)
                and re.fullmatch(r"[a-z]+(-[a-z]+)+|crowded|overfull|swallowed|specks|spikes|chords", x)
            }
    assert set(FINDINGS) <= said
    assert set(REPAIRS) | set(LAYER_REPAIRS) <= set(FINDINGS)


def test_what_is_not_listed_is_no_finding() -> None:
    with pytest.raises(UnknownChoice, match="no finding called"):
        Finding("made-up", "warn", (0.0, 0.0), "made up")
    with pytest.raises(ValueError, match="spikes is no stop"):
        Finding("spikes", "stop", (0.0, 0.0), "a needle")
