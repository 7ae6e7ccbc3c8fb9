"""Shop rules: changed, duplicated, written and read in; designs keep the rules they were checked under."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.design.edits.commands import UseMaterial
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design, write_design
from jigger.core.errors import CommandRefused, DesignRefused, JiggerError, UnknownChoice
from jigger.core.machines.presets import MACHINES
from jigger.core.machines.shop_file import read_shop, write_shop
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.core.materials.presets import MATERIALS
from jigger.core.materials.rules import Material, read_rules
from jigger.services.edits.part_hands import use_material
from jigger.services.house import House
from tests.core.test_checks import PLATE

STEEL = MATERIALS["mild-steel"]
PLATE_VALUES = {"text": "BOAT", "material": "mild-steel", "height_mm": "120"}


def thin(house: House, identity: str) -> set[str]:
    return {x.code for x in house.workshop.report(house.designs.open(identity).design).all_findings}


@pytest.mark.parametrize("name", ["least_strip", "least_opening", "least_piece", "bridge", "kerf", "sheet"])
def test_limits_of_nothing_or_less_are_refused_in_words(house: House, name: str) -> None:
    for wrong in (-1.0, float("nan"), float("inf"), *(() if name == "kerf" else (0.0,))):
        value = (wrong, wrong) if name == "sheet" else wrong
        with pytest.raises(CommandRefused, match="Mild steel 2 mm, plasma"):
            house.shop.change("mild-steel", {name: value})
    assert house.shop.rules("mild-steel") == STEEL


def test_bridges_hold_as_much_as_strips(house: House) -> None:
    with pytest.raises(CommandRefused, match="bridges of 4 mm would be thinner than the strip of 5 mm"):
        house.shop.change("mild-steel", {"least_strip": 5.0})
    assert house.shop.change("mild-steel", {"least_strip": 5.0, "bridge": 6.0}).bridge == 6.0


def test_a_design_keeps_its_rules_until_it_takes_the_new_ones(house: House) -> None:
    identity = house.designs.create("stencil-plate", PLATE_VALUES)
    before = thin(house, identity)
    changed = house.shop.change("mild-steel", {"bridge": 3.5, "least_opening": 60.0})
    assert thin(house, identity) == before and house.designs.open(identity).design.rules == []
    layer = house.designs.open(identity).design.layers[0].id
    use_material(house.designs, identity, layer, "mild-steel")
    design = house.designs.open(identity).design
    assert design.rules == [changed] and "narrow-opening" in thin(house, identity) and "narrow-opening" not in before
    assert all(x.width == pytest.approx(3.5) for x in house.workshop.exact(design).layers[0].bridges)
    house.shop.remove("mild-steel")
    use_material(house.designs, identity, layer, "mild-steel")
    assert house.designs.open(identity).design.rules == [] and thin(house, identity) == before


def test_own_materials_start_designs_and_go_along_in_their_files(house: House) -> None:
    own = house.shop.change(house.shop.duplicate("mild-steel").id, {"name": "Old plate", "bridge": 7.0})
    identity = house.designs.create("stencil-plate", {**PLATE_VALUES, "material": own.id})
    house.shop.remove(own.id)
    design = read_design(write_design(house.designs.open(identity).design))
    assert design.layers[0].material == own.id and design.material(own.id) == own
    assert house.workshop.report(design).layers[0].material == own.id
    with pytest.raises(UnknownChoice):
        house.shop.rules(own.id)
    lacking = design.model_dump()
    lacking["rules"] = []
    with pytest.raises(DesignRefused, match=own.id):
        read_design(json.dumps(lacking))


def test_names_and_ids_stay_apart(house: House) -> None:
    first, second = house.shop.duplicate("acrylic"), house.shop.duplicate("acrylic")
    assert len({first.id, second.id, "acrylic"}) == 3 and first.name != second.name
    with pytest.raises(CommandRefused, match="another material has this name"):
        house.shop.change(second.id, {"name": first.name})


def test_a_written_file_is_read_in_again(house: House) -> None:
    house.shop.change("acrylic", {"kerf": 0.3})
    text = house.shop.written()
    house.shop.remove("acrylic")
    assert house.shop.rules("acrylic").kerf == 0.2
    house.shop.read_in(text.encode())
    assert house.shop.rules("acrylic").kerf == 0.3 and house.shop.written() == text


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("no JSON", "cannot be read as JSON"),
        ("[]", "no list"),
        ('{"shop_rules": []}', "from 1 to"),
        ('{"shop_rules": [{"id": "x"}]}', "name: this is missing"),
        (write_shop([STEEL, STEEL]), "twice"),
        (write_shop([STEEL]).replace('"least_strip": 3.0', '"least_strip": "wide"'), "least strip: must be a number"),
        (write_shop([STEEL]).replace('"kerf"', '"curf"'), "this is missing"),
    ],
)
def test_bad_files_are_refused_whole(house: House, text: str, words: str) -> None:
    good = STEEL.model_copy(update={"id": "good", "name": "Good"})
    with pytest.raises(CommandRefused, match=words):
        house.shop.read_in(text.encode())
    mixed = json.loads(write_shop([good]))
    mixed["shop_rules"].append({"id": "bad"})
    with pytest.raises(CommandRefused):
        house.shop.read_in(json.dumps(mixed).encode())
    assert list(house.shop.listed()) == list(MATERIALS)


@given(
    st.recursive(
        st.none() | st.floats() | st.text(max_size=5), lambda x: st.lists(x) | st.dictionaries(st.text(max_size=5), x)
    )
)
def test_no_rules_break_anything(data: object) -> None:
    for make in (read_rules, lambda x: read_shop(json.dumps(x).encode())):
        try:
            assert isinstance(make(data), Material | tuple)
        except JiggerError as refused:
            assert str(refused)


def test_rules_are_part_of_what_an_edit_is_late_for() -> None:
    layer = PLATE.layers[0].id
    edit = UseMaterial(layer=layer, rules=STEEL)
    other: Design = UseMaterial(layer=layer, rules=STEEL.model_copy(update={"kerf": 2.0})).apply(PLATE)
    assert edit.watched(PLATE) != edit.watched(other) == edit.watched(other.model_copy(deep=True))


def test_what_a_material_needs_on_a_machine_is_set_kept_and_put_back(house: House) -> None:
    shop = house.shop
    changed = shop.set("plate-table", "mild-steel", {"speed": 45.0, "kerf": 1.5})
    assert (changed.speed, changed.kerf, changed.pierce) == (45.0, 1.5, 0.5)
    tooling = shop.tooling()
    assert tooling.kerf(tooling.machine_for(STEEL), STEEL) == 1.5
    assert shop.rules("mild-steel").kerf == 1.2, "the limit of the material is another thing"
    copy = shop.duplicate("mild-steel")
    assert shop.settings()["plate-table", copy.id].speed == 45.0
    shop.remove("mild-steel")
    assert shop.settings()["plate-table", "mild-steel"].speed == 60.0
    shop.remove(copy.id)
    assert ("plate-table", copy.id) not in shop.settings()


@pytest.mark.parametrize(
    ("machine", "material", "values", "words"),
    [
        ("plate-table", "mild-steel", {"speed": 0.0}, "Mild steel 2 mm, plasma: speed: must be more than 0"),
        ("plate-table", "mild-steel", {"speed": 500.0}, "at most 120 mm/s"),
        ("plate-table", "mild-steel", {"passes": 1.5}, "passes"),
        ("plate-table", "mild-steel", {"lead": float("nan")}, "lead"),
        ("roll-plotter", "mild-steel", {"speed": 50.0}, "Roll plotter: it does not cut Mild steel"),
        ("flat-cutter", "outdoor-vinyl", {"speed": 50.0}, "from a roll"),
        ("none", "mild-steel", {"speed": 50.0}, "no machine called"),
    ],
)
def test_settings_that_cannot_be_are_refused_in_words(
    house: House, machine: str, material: str, values: dict[str, float], words: str
) -> None:
    before = house.shop.settings()
    with pytest.raises(JiggerError, match=words):
        house.shop.set(machine, material, values)
    assert house.shop.settings() == before


def test_files_of_before_machines_had_settings_are_taken_over(house: House) -> None:
    data = json.loads(write_shop([STEEL, MATERIALS["outdoor-vinyl"]]))
    del data["settings"]
    data["shop_rules"][0] |= {"speed": 33.0, "force": 7}
    data["shop_rules"][1] |= {"speed": 210.0, "force": 111}
    house.shop.read_in(json.dumps(data).encode())
    settings = house.shop.settings()
    assert (settings["plate-table", "mild-steel"].speed, settings["roll-plotter", "outdoor-vinyl"].force) == (33.0, 111)
    assert house.shop.listed() == dict(MATERIALS), "the rules themselves are the shipped ones"
    strange = json.loads(house.shop.written())
    strange["settings"][0]["machine"] = "nowhere"
    with pytest.raises(CommandRefused, match="nowhere"):
        house.shop.read_in(json.dumps(strange).encode())


def test_a_material_nothing_is_set_of_is_cut_carefully() -> None:
    tooling = Tooling(MACHINES, {})
    for rules in MATERIALS.values():
        machine = tooling.machine_for(rules)
        assert tooling.setting(machine, rules).speed == pytest.approx(machine.speed / 10)
    assert SHIPPED_TOOLING.machines_for(MATERIALS["stencil-film-019"])[0].id == "roll-plotter"
    assert all(SHIPPED_TOOLING.settings[key].speed <= MACHINES[key[0]].speed for key in SHIPPED_TOOLING.settings)
