"""A join, a finish or a kind of part is one module and one line in a table: made-up ones, put into the tables as that
line would, are read from a document, built, checked and written like any other.
"""

import json
import subprocess
import sys
from typing import get_args

import pytest

from jigger.cli import main
from jigger.core.cache import Cache
from jigger.core.checks.catalogue import FINDINGS, FindingKind
from jigger.core.checks.findings import Finding
from jigger.core.checks.report import check
from jigger.core.design.building.build import build
from jigger.core.design.building.part_kinds import PARTS
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.model.design import AnyPart, Design, Finish
from jigger.core.design.model.document import read_design
from jigger.core.design.starters import STARTERS, Setting, Starter, plain_lettering, starter
from jigger.core.errors import DesignRefused, UnknownChoice
from jigger.core.geometry.area.region import difference
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met
from jigger.core.joinery.joins.table import JOINS
from jigger.core.lettering.lettercase import LetterCase
from jigger.web.readout import figures


def design(*parts: dict) -> str:
    return json.dumps(
        {"jigger": 10, "name": "K", "layers": [{"id": "L", "material": "outdoor-vinyl", "parts": list(parts)}]}
    )


DISC = {"kind": "shape", "id": "a", "form": "disc", "width": 40, "height": 40}
SMALL = {"kind": "shape", "id": "b", "form": "rectangle", "width": 30, "height": 10, "join": {"kind": "leave outside"}}


def leave_outside(m: Meeting) -> Met:
    return Met(difference(m.part, m.built))


def test_a_join_made_up_joins_and_is_unknown_without_its_line() -> None:
    """What is left is what the rectangle has outside the disc: nothing, as it lies inside."""
    with JOINS.with_one_more(
        JoinKind("leave outside", "leave outside", "Only what is outside.", "takes", leave_outside)
    ):
        read = read_design(design(DISC, {**SMALL, "width": 60}))
        built = build(read, LetterCase(), Cache())
        assert len(built.layers[0].pieces.pieces) == 2 and check(read, built, Cache()).layers[0].pieces == 2
    with pytest.raises(DesignRefused, match=r"must be 'weld', 'weld over', .* or 'counterchange'"):
        read_design(design(DISC, SMALL))


MADE_UP = '''
"""A process with a finish and a kind of part more."""
import json
from typing import Literal
from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind
from jigger.core.design.finishes.table import FINISHES

class Halve(FinishBase):
    kind: Literal["halve"] = "halve"
    size: float = 0.5

def halved(finish, doing):
    from jigger.core.geometry.affine import Affine
    return doing.region.mapped(Affine.scale(finish.size, finish.size)), 0

with FINISHES.with_one_more(FinishKind("halve", Halve, halved)):
    from jigger.core.cache import Cache
    from jigger.core.checks.report import check
    from jigger.core.design.building.build import build
    from jigger.core.design.model.document import read_design, write_design
    from jigger.core.design.edits.finishes import AddFinish
    from jigger.core.cut.page import page_of
    from jigger.core.formats.format import Work
    from jigger.core.formats.table import FORMATS
    from jigger.core.lettering.lettercase import LetterCase
    text = json.dumps({"jigger": 10, "name": "K", "layers": [{"id": "L", "material": "outdoor-vinyl", "parts": [
        {"kind": "shape", "id": "a", "form": "disc", "width": 40, "height": 40, "finishes": [{"kind": "halve", "id": "f"}]}]}]})
    design = read_design(text)
    assert read_design(write_design(design)) == design
    twice = AddFinish(target="a", kind="halve", values={"size": 0.25}).apply(design)
    areas = []
    for one in (design, twice):
        built = build(one, LetterCase(), Cache())
        assert FORMATS["svg"].written(Work(lambda: page_of(built), one), frozenset())
        areas.append(round(check(one, built, Cache()).layers[0].area, 1))
    print(areas)
'''


def test_a_finish_made_up_is_read_done_added_and_written() -> None:
    done = subprocess.run([sys.executable, "-c", MADE_UP], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout) == [314.1, 19.6]  # of discs of 20 and 5 mm
    with pytest.raises(DesignRefused, match="must be one of"):
        read_design(design({**DISC, "finishes": [{"kind": "halve", "id": "f"}]}))


def test_the_document_knows_the_kinds_that_can_be_built_and_no_others() -> None:
    assert {kind.model for kind in PARTS.values()} == set(get_args(AnyPart))
    assert {kind.model for kind in FINISHES.values()} == set(get_args(get_args(Finish)[0]))
    for kind in (*PARTS.values(), *FINISHES.values()):
        assert kind.model.model_fields["kind"].default == kind.id


def test_a_starter_made_up_is_listed_and_makes_a_design(capsys: pytest.CaptureFixture[str]) -> None:
    def made(values: dict) -> Design:
        return plain_lettering(values["text"], [(values["text"], "anton", values["height_mm"])], (300.0, 100.0))

    settings = (Setting("text", "Words", "text", "TALLY"), Setting("height_mm", "Height", "length", 20.0))
    with STARTERS.with_one_more(Starter("tally-tag", "Tally tag", "badge", "A word.", settings, made)):
        assert main(["starters"]) == 0 and "tally-tag: A word." in capsys.readouterr().out
        assert starter("tally-tag").make({"text": "HERON"}).name == "HERON"
    with pytest.raises(UnknownChoice, match="no starter called “tally-tag”"):
        starter("tally-tag")


def test_a_finding_made_up_weighs_as_its_kind_says() -> None:
    kind = FindingKind("too-blue", "a blue layer", "share", frozenset({"warn"}), "warns")
    with FINDINGS.with_one_more(kind):
        found = Finding("too-blue", "warn", (0.0, 0.0), "this is blue", 0.5, 0.25)
        assert found.kind.unit == "share" and figures(found, "mm") == "50 / 25 %"
        with pytest.raises(ValueError, match="too-blue is no stop"):
            Finding("too-blue", "stop", (0.0, 0.0), "this is blue")
