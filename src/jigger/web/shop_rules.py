"""The materials screen: shop rules as fields, and typed fields back to rules."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from jigger.core.geometry.units import show_area, show_length
from jigger.core.machines.machine import Machine
from jigger.core.machines.setting import SETTING_NAMES
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.presets import shipped
from jigger.core.materials.rules import FIELD_NAMES, Material
from jigger.web.forms import typed_area, typed_length, typed_number

LENGTHS = ("least_strip", "least_opening", "bridge", "kerf", "span", "edge")
AREAS, NUMBERS = ("least_piece",), {"price": "a m²"}
WIDE, HIGH = "sheet_width", "sheet_height"
HELP = {
    "least_strip": "Kept material thinner than this does not hold",
    "least_opening": "Openings narrower than this cannot be cut and cleared",
    "least_piece": "Smaller pieces cannot be weeded or held",
    "bridge": "Of bridges and ties, unless a layer says otherwise",
    "kerf": "What the tool takes away",
    "span": "Islands longer than this are held at both ends; 0: four bridge widths",
    "price": "Of a square metre, in your money; 0 where it is not known",
    "edge": "Along each side of the stock, for clamps and rollers",
    "stops_below": "Of the least strip: thinner ones stop the cut, others are looked at",
}
SETTINGS_OF = {
    "knife": ("speed", "force", "passes", "knife_offset", "overcut"),
    "torch": ("speed", "force", "kerf", "pierce", "lead", "tab", "tab_apart"),
    "beam": ("speed", "force", "passes", "kerf", "pierce", "lead", "tab", "tab_apart"),
}
SETTING_LENGTHS = ("kerf", "knife_offset", "overcut", "lead", "tab", "tab_apart")
POWER = {"torch": "current", "beam": "power"}
SETTING_HELP = {
    "speed": "Of the tool on the line",
    "force": "As the machine counts it",
    "passes": "How often each line is followed",
    "kerf": "Empty: as the material says",
    "knife_offset": "How far the tip trails the middle of its holder",
    "overcut": "On past where it began, so that the cut closes",
    "pierce": "Standing still before it moves",
    "lead": "Radius of the way onto the line, in the waste",
    "tab": "Left of a piece’s outline, so that it stays in its plate; 0: none",
    "tab_apart": "From one tab to the next, about",
}
PROCESSES = {"knife": "Knife", "laser": "Laser", "plasma": "Plasma"}
WISHES = {"any": "any number of pieces, taped", "one": "one piece", "each": "one piece for each part",
          "named": "one piece a letter"}  # fmt: skip
STOCKS = ("roll", "mat", "plate")


@dataclass(frozen=True)
class RuleField:
    name: str
    label: str
    value: str
    suffix: str
    help: str


@dataclass(frozen=True)
class MachineView:
    """What the material needs on a machine that cuts it; `set`: whether anything is set, or careful values stand in."""

    machine: Machine
    set: bool
    fields: list[RuleField]


@dataclass(frozen=True)
class RulesView:
    """`standing`: shipped, changed (from what is shipped), or own."""

    rules: Material
    standing: str
    limits: list[RuleField]
    stock: list[RuleField]
    machines: list[MachineView]


def rules_view(rules: Material, unit: str, tooling: Tooling) -> RulesView:
    known = shipped(rules.id)
    standing = "own" if known is None else "shipped" if known == rules else "changed"
    share = RuleField("stops_below", "Stops below", f"{100 * rules.stops_below:g}", "%", HELP["stops_below"])
    limits = [_field(rules, name, unit) for name in ("least_strip", "least_opening", "least_piece", "bridge", "span")]
    sizes = ((WIDE, "Stock width", rules.sheet[0]), (HIGH, "Stock height", rules.sheet[1]))
    sheet = [RuleField(name, label, show_length(size, unit, 2), unit, "As it comes") for name, label, size in sizes]
    machines = [_on(machine, rules, tooling, unit) for machine in tooling.machines_for(rules)]
    kerf = [_field(rules, "kerf", unit)] if rules.process != "knife" else []
    return RulesView(
        rules,
        standing,
        [*limits, share, *kerf],
        [*sheet, _field(rules, "edge", unit), _field(rules, "price", unit)],
        machines,
    )


def _on(machine: Machine, rules: Material, tooling: Tooling, unit: str) -> MachineView:
    given = tooling.setting(machine, rules)
    names = [name for name in SETTINGS_OF[machine.holds] if not (machine.swivels and name == "knife_offset")]
    fields = []
    for name in names:
        value = getattr(given, name)
        suffix = {"speed": "mm/s", "force": machine.force_unit, "passes": "×", "pierce": "s"}.get(name, unit)
        long = name in SETTING_LENGTHS
        shown = "" if value is None else show_length(value, unit, 2) if long else f"{value:g}"
        words = POWER.get(machine.holds, "force") if name == "force" else SETTING_NAMES[name]
        fields.append(RuleField(name, words.capitalize(), shown, suffix, SETTING_HELP[name]))
    return MachineView(machine, (machine.id, rules.id) in tooling.settings, fields)


def read_setting_fields(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """Typed fields as values of a setting, those that are given. Raises CommandRefused naming the field."""
    found: dict[str, Any] = {}
    for name in form.keys() & SETTING_NAMES.keys():
        if name == "kerf" and not form[name].strip():
            found[name] = None
        elif name in SETTING_LENGTHS:
            found[name] = typed_length(form[name], unit, SETTING_NAMES[name])
        else:
            found[name] = typed_number(form[name], SETTING_NAMES[name])
    return found


def _field(rules: Material, name: str, unit: str) -> RuleField:
    value, label = getattr(rules, name), FIELD_NAMES[name].capitalize()
    if name in LENGTHS:
        return RuleField(name, label, show_length(value, unit, 2), unit, HELP[name])
    if name in AREAS:
        return RuleField(name, label, show_area(value, unit), f"{unit}²", HELP[name])
    return RuleField(name, label, f"{value:g}", NUMBERS[name], HELP[name])


def grouped(materials: Mapping[str, Material]) -> list[tuple[str, list[Material]]]:
    return [(words, [x for x in materials.values() if x.process == key]) for key, words in PROCESSES.items()]


def read_rule_fields(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """Typed fields as values of rules, those that are given. Raises CommandRefused naming the field."""
    found: dict[str, Any] = {x: form[x] for x in ("name", "process", "colour", "wish", "stock") if x in form}
    found |= {x: typed_length(form[x], unit, FIELD_NAMES[x]) for x in LENGTHS if x in form}
    found |= {x: typed_area(form[x], unit, FIELD_NAMES[x]) for x in AREAS if x in form}
    found |= {x: typed_number(form[x], FIELD_NAMES[x]) for x in NUMBERS if x in form}
    if "stops_below" in form:
        found["stops_below"] = typed_number(form["stops_below"], FIELD_NAMES["stops_below"]) / 100
    if WIDE in form and HIGH in form:
        found["sheet"] = tuple(typed_length(form[x], unit, "stock size") for x in (WIDE, HIGH))
    return found


def read_stock_fields(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """Typed fields as values of a piece of stock, those that are given. Raises CommandRefused naming the field."""
    found: dict[str, Any] = {x: typed_length(form[x], unit, x) for x in ("width", "length") if x in form}
    if "count" in form:
        found["count"] = int(typed_number(form["count"] or "1", "how many"))
    if "low" in form:
        found["low"] = typed_length(form["low"] or "0", unit if form.get("form") == "roll" else "mm", "note below")
    return found
