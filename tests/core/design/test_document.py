"""Reading designs: what is refused and how it is named, and what an old file still gives."""

import json
from pathlib import Path

import pytest

from jigger.core.design.model import document
from jigger.core.design.model.design import VERSION, Design
from jigger.core.design.model.document import from_data, read_design, schema, write_design
from jigger.core.design.starters import starter
from jigger.core.errors import DesignRefused, NewerVersion, ReferenceLoop
from jigger.services.workshop import Workshop

HOME = Path(__file__).resolve().parents[3]
FROZEN = HOME / "tests" / "fixtures"


def plate() -> dict:
    return json.loads(write_design(starter("stencil-plate").make({"text": "Heron"})))


def test_writing_and_reading_gives_the_same_design_and_bytes() -> None:
    design = from_data(plate())
    text = write_design(design)
    assert read_design(text) == design and write_design(read_design(text)) == text


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda d: d.update(jigger=99), "newer Jigger"),
        (lambda d: d.update(jigger="one"), "version"),
        (lambda d: d.pop("jigger"), "not a Jigger design"),
        (lambda d: d.update(zap=1), "zap: this field is not known"),
        (lambda d: d.pop("name"), "name: this is missing"),
        (
            lambda d: d["layers"][0]["parts"][1]["lines"][0].update(height=0),
            "“Heron”, height: must be more than 0",
        ),
        (lambda d: d["layers"][0]["parts"][1]["lines"][0].update(height=1e6), "at most 20000"),
        (lambda d: d["layers"][0]["parts"][1].update(line_spacing="wide"), "“Heron”, line spacing: must be a number"),
        (lambda d: d["layers"][0]["parts"][0].update(form="blob"), "“Plate”, form: must be 'disc'"),
        (lambda d: d["layers"][0]["parts"][0].update(kind="sculpture"), "must be one of"),
        (lambda d: d["layers"][0].update(material="cheese"), "there is no material called “cheese”"),
        (
            lambda d: d["layers"][0]["parts"][0].update(around="nobody"),
            "“Plate”: it refers to a part “nobody”",
        ),
        (lambda d: d["layers"][0]["parts"][0]["place"].update(on="surface"), "the design has none"),
        (lambda d: d["layers"][0]["ground"].update(part=d["layers"][0]["parts"][1]["id"]), "must be a shape"),
        (lambda d: d["layers"][0]["parts"][1].update(id="part3"), "used twice"),
        (
            lambda d: d["layers"][0]["parts"][1]["lines"][0].update(letters=["a"]),
            "5 letters but 1 letter ids",
        ),
        (
            lambda d: d["layers"][0]["parts"][1]["lines"][0].update(text="a\tb", letters=None),
            "control characters",
        ),
        (
            lambda d: d["layers"][0]["parts"][1]["lines"][0].update(text="a" * 2001, letters=None),
            "2000 is the most",
        ),
    ],
)
def test_what_is_malformed_is_refused_with_its_place(change, words: str) -> None:
    data = plate()
    change(data)
    with pytest.raises(DesignRefused) as refused:
        from_data(data)
    assert words in str(refused.value)


def test_a_loop_of_references_is_refused_by_name() -> None:
    data = plate()
    shape, words = data["layers"][0]["parts"]
    words["place"]["on"] = shape["id"]
    with pytest.raises(ReferenceLoop, match=r"“Plate” → “Heron” → “Plate”|“Heron” → “Plate” → “Heron”"):
        from_data(data)


@pytest.mark.parametrize("text", ["", "{", "[]", "null", '"words"', "[" * 100_000, b"\xff\xfe\x00", '{"jigger": NaN}'])
def test_what_is_no_design_at_all_is_refused(text: str | bytes) -> None:
    with pytest.raises(DesignRefused):
        read_design(text)


def test_a_newer_version_says_which() -> None:
    with pytest.raises(NewerVersion) as refused:
        from_data({"jigger": VERSION + 1})
    assert (refused.value.found, refused.value.known) == (VERSION + 1, VERSION)


def test_an_older_design_is_taken_up_step_by_step(monkeypatch: pytest.MonkeyPatch) -> None:
    """The next version, played: what a step changes is there, and the design still reads."""
    monkeypatch.setitem(document.UPGRADES, 1, lambda data: {**data, "jigger": 2, "name": data["name"] + " taken up"})
    assert from_data({**plate(), "jigger": 1}).name == "Heron taken up"
    assert from_data(plate()).name == "Heron", "a present one is left as it is"


def test_designs_from_before_shipped_materials_were_stiff_keep_what_they_were_checked_under() -> None:
    old = {**plate(), "jigger": 7}
    design = from_data(old)
    before = design.material(design.layers[0].material)
    assert (before.span, before.edge) == (0.0, 0.0) and from_data(plate()).rules == []
    own = before.model_copy(update={"span": 3.0, "edge": 1.0}).model_dump(mode="json")
    assert from_data({**old, "rules": [own]}).material(before.id).span == 3.0


@pytest.mark.parametrize("version", range(1, VERSION + 1))
@pytest.mark.parametrize(
    "broken",
    [
        {"layers": None}, {"layers": 3}, {"layers": [1]}, {"layers": [{"material": []}]}, {"layers": [{"parts": [4]}]},
        {"rules": 7}, {"rules": [[]]}, {"rules": [{"id": []}]},
    ],
    ids=str,
)  # fmt: skip
def test_malformed_designs_of_any_version_are_refused_in_words(version: int, broken: dict) -> None:
    with pytest.raises(DesignRefused) as refused:
        from_data({**plate(), "jigger": version, **broken})
    assert not isinstance(refused.value, NewerVersion) and str(refused.value)


def test_letters_without_ids_get_lasting_ones() -> None:
    data = plate()
    data["layers"][0]["parts"][1]["lines"][0]["letters"] = None
    design = from_data(data)
    assert len(set(design.ids())) == len(design.ids()) and len(design.letters()) == 5


def test_the_published_schema_is_the_present_one() -> None:
    published = json.loads((HOME / "docs" / "design.schema.json").read_text(encoding="utf-8"))
    assert published == schema()


@pytest.mark.parametrize("path", sorted(FROZEN.glob("design-v*.json")), ids=lambda path: path.stem)
def test_a_frozen_design_still_builds_to_the_same_area(path: Path, workshop: Workshop) -> None:
    """Beside each frozen design lie the figures it gave when it was frozen."""
    figures = json.loads(path.with_suffix(".figures").read_text())
    design = read_design(path.read_bytes())
    assert design.jigger == Design.model_fields["jigger"].default
    report = workshop.report(design)
    assert [layer.pieces for layer in report.layers] == figures["pieces"]
    assert [layer.holes for layer in report.layers] == figures["holes"]
    assert [layer.area for layer in report.layers] == pytest.approx(figures["area_mm2"], rel=1e-5)
