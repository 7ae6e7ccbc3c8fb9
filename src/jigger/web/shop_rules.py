"""The materials screen: shop rules as fields, and typed fields back to rules."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from jigger.core.errors import BadLength, CommandRefused
from jigger.core.geometry.units import read_length, show_length
from jigger.core.materials.presets import MATERIALS
from jigger.core.materials.rules import FIELD_NAMES, Material

LENGTHS = ("least_strip", "least_opening", "bridge", "kerf", "span", "edge")
NUMBERS = {"least_piece": "mm²", "speed": "mm/s", "force": "g"}
WIDE, HIGH = "sheet_width", "sheet_height"
HELP = {
    "least_strip": "Kept material thinner than this does not hold",
    "least_opening": "Openings narrower than this cannot be cut and cleared",
    "least_piece": "Smaller pieces cannot be weeded or held",
    "bridge": "Of bridges and ties, unless a layer says otherwise",
    "kerf": "What the tool takes away; 0 for a knife",
    "span": "Islands longer than this are held at both ends; 0: four bridge widths",
    "edge": "Along each side of the stock, for clamps and rollers",
    "stops_below": "Of the least strip: thinner ones stop the cut, others are looked at",
    "speed": "Of the tool",
    "force": "Of the knife; 0 where there is none",
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
class RulesView:
    """`standing`: shipped, changed (from what is shipped), or own."""

    rules: Material
    standing: str
    limits: list[RuleField]
    tool: list[RuleField]


def rules_view(rules: Material, unit: str) -> RulesView:
    shipped = MATERIALS.get(rules.id)
    standing = "own" if shipped is None else "shipped" if shipped == rules else "changed"
    share = RuleField("stops_below", "Stops below", f"{100 * rules.stops_below:g}", "%", HELP["stops_below"])
    limits = [_field(rules, name, unit) for name in ("least_strip", "least_opening", "least_piece", "bridge", "span")]
    sizes = ((WIDE, "Stock width", rules.sheet[0]), (HIGH, "Stock height", rules.sheet[1]))
    sheet = [RuleField(name, label, show_length(size, unit, 2), unit, "As it comes") for name, label, size in sizes]
    tool = [_field(rules, name, unit) for name in ("kerf", "speed", "force")]
    return RulesView(rules, standing, [*limits, share], [*tool, *sheet, _field(rules, "edge", unit)])


def _field(rules: Material, name: str, unit: str) -> RuleField:
    value, label = getattr(rules, name), FIELD_NAMES[name].capitalize()
    if name in LENGTHS:
        return RuleField(name, label, show_length(value, unit, 2), unit, HELP[name])
    return RuleField(name, label, f"{value:g}", NUMBERS[name], HELP[name])


def grouped(materials: Mapping[str, Material]) -> list[tuple[str, list[Material]]]:
    return [(words, [x for x in materials.values() if x.process == key]) for key, words in PROCESSES.items()]


def read_rule_fields(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """Typed fields as values of rules, those that are given. Raises CommandRefused naming the field."""
    found: dict[str, Any] = {x: form[x] for x in ("name", "process", "colour", "wish", "stock") if x in form}
    found |= {x: _length(form[x], unit, FIELD_NAMES[x]) for x in LENGTHS if x in form}
    found |= {x: _number(form[x], FIELD_NAMES[x]) for x in NUMBERS if x in form}
    if "stops_below" in form:
        found["stops_below"] = _number(form["stops_below"], FIELD_NAMES["stops_below"]) / 100
    if WIDE in form and HIGH in form:
        found["sheet"] = tuple(_length(form[x], unit, "stock size") for x in (WIDE, HIGH))
    return found


def _length(text: str, unit: str, name: str) -> float:
    try:
        return round(read_length(text, unit), 4)
    except BadLength as error:
        raise CommandRefused(name.capitalize(), str(error)) from None


def _number(text: str, name: str) -> float:
    try:
        return float(text.replace(",", ".").strip(" %"))
    except ValueError:
        raise CommandRefused(name.capitalize(), f"“{text}” is not a number") from None
