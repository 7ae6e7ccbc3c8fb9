"""Posted forms to commands: the one place where typed words become values."""

import re
from collections.abc import Mapping
from functools import cache
from typing import Any

from pydantic import ValidationError

from jigger.core.design.edits.commands import COMMANDS, Command
from jigger.core.design.edits.mends import Mend
from jigger.core.errors import BadLength, CommandRefused
from jigger.core.geometry.units import read_length

NUMBERS = {"index": int, "counter": int, "number": int, "dx": float, "dy": float, "value": float}
DIGITS = 15  # of a number that is counted with: more than any list or measure has
EMPTIED = ("value",)  # numbers that may be taken away


def read_command(form: Mapping[str, str], unit: str) -> Command:
    """The command a form asks for. Raises CommandRefused in the person's words."""
    if form.get("do") == "adjust":
        data: dict[str, Any] = {"do": "adjust", "target": form.get("target", ""), "values": {}}
        data["values"][form.get("field", "")] = read_value(form.get("as", "text"), form.get("value", ""), unit)
    elif form.get("do") == "change letter":
        value = read_value(form.get("as", "text"), form.get("value", ""), unit)
        data = {"do": "change letter", "letter": form.get("letter", ""), "values": {form.get("field", ""): value}}
    elif form.get("do") == "add set":
        relation, _, across = form.get("kind", "").partition(" ")
        data = {name: form.get(name, "") for name in ("do", "part", "other")}
        data |= {"kind": relation, "across": bool(across)}
    else:
        data = {name: value for name, value in form.items() if name in _fields(form.get("do", ""))}
        for name, kind in NUMBERS.items():
            if name in data:
                typed = data[name].replace(",", ".").strip()
                data[name] = _number(typed, kind) if typed or name not in EMPTIED else None
    try:
        return COMMANDS.validate_python(data)
    except ValidationError as error:
        raise CommandRefused("", f"this edit was not understood ({error.errors()[0]['msg']})") from None


def read_seen(form: Mapping[str, str]) -> int | None:
    """The state of the design that the form was filled on."""
    seen = form.get("seen", "")
    return int(seen) if seen.isdecimal() and len(seen) <= DIGITS else None


def read_pixel(form: Mapping[str, str]) -> float:
    """How many mm a pixel of the person's view shows; 0 where it is not said."""
    try:
        return float(form.get("pixel", "0"))
    except ValueError:
        return 0.0


def read_bridge(form: Mapping[str, str]) -> tuple[str, str, int, int]:
    """The layer, letter, counter and number of a bridge. Raises CommandRefused."""
    counter, number = (int(_number(form.get(name, ""), int)) for name in ("counter", "number"))
    return form.get("layer", ""), form.get("letter", ""), counter, number


def read_repair(form: Mapping[str, str]) -> tuple[str, int, int]:
    """A finding's code and its place among all, and the number of its repair. Raises CommandRefused."""
    finding, number = (int(_number(form.get(name, ""), int)) for name in ("finding", "repair"))
    return form.get("code", ""), finding, number


def read_mends(form: Mapping[str, str]) -> list[Mend]:
    """The ticked steps of a plan, in its order. Raises CommandRefused."""
    numbers = sorted(int(name[5:]) for name in form if re.fullmatch(r"step-[0-9]{1,4}", name))
    try:
        return [Mend.model_validate_json(form[f"step-{number}"]) for number in numbers]
    except ValidationError:
        raise CommandRefused("", "these repairs were not understood; look for them once more") from None


def read_point(form: Mapping[str, str]) -> tuple[float, float]:
    return float(_number(form.get("x", ""), float)), float(_number(form.get("y", ""), float))


def read_points(form: Mapping[str, str], prefix: str) -> list[tuple[float, float]]:
    """The points, mm, of all fields whose names begin so."""
    found = []
    for name, value in form.items():
        if name.startswith(prefix):
            x, _, y = value.partition(" ")
            found.append((float(_number(x, float)), float(_number(y, float))))
    return found


def _fields(do: str) -> set[str]:
    return _fields_by_kind().get(do, {"do"})


@cache
def _fields_by_kind() -> dict[str, set[str]]:
    return {model.model_fields["do"].default: set(model.model_fields) for model in _models()}


def _models() -> list[Any]:
    return list(Command.__args__[0].__args__)  # type: ignore[attr-defined]


def _number(text: str, number: type[int] | type[float]) -> int | float:
    try:
        found = number(text)
    except ValueError:
        raise CommandRefused("", f"“{text[:40]}” is not a number") from None
    if not abs(found) < 10**DIGITS:
        raise CommandRefused("", f"“{text[:40]}” is too large")
    return found


def _lengths(text: str, unit: str) -> list[float]:
    """Several lengths, typed with spaces, semicolons or dashes between them."""
    words = text.replace(";", " ").replace("–", " ").replace(" - ", " ").replace("-", " ").split()
    try:
        return [read_length(word, unit) for word in words]
    except BadLength as error:
        raise CommandRefused("", str(error)) from None


def read_value(kind: str, text: str, unit: str) -> str | float | bool | list[float] | None:
    """A field's value: `length` in mm, `optional` likewise or nothing, `number`, `flag` or `text`."""
    if kind == "flag":
        return text in ("on", "true", "1")
    if kind in ("length", "optional"):
        if kind == "optional" and not text.strip():
            return None
        try:
            return read_length(text, unit)
        except BadLength as error:
            raise CommandRefused("", str(error)) from None
    if kind == "lengths":
        return _lengths(text, unit)
    if kind == "strips":  # shares are shown as percents
        return [value / 100 for value in _lengths(text.replace("%", " "), "mm")]
    if kind == "optional number" and not text.strip():
        return None
    if kind in ("number", "optional number"):
        return float(_number(text.replace(",", ".").replace("−", "-").rstrip(" %°×"), float))
    return text or None if kind == "choice" else text
