"""Posted forms to commands: the one place where typed words become values."""

import json
import re
from collections.abc import Callable, Mapping
from typing import Annotated, Any, get_args, get_origin

from fastapi import Form as FormField
from pydantic import Field, ValidationError
from pydantic.fields import FieldInfo

from jigger.core.design.drawn.nodes import bowed
from jigger.core.design.edits.mends import Mend
from jigger.core.design.many.common import SHARED
from jigger.core.errors import BadLength, CommandRefused
from jigger.core.geometry.units import read_area, read_length
from jigger.services.edits.table import EDITS, AnyEdit, read_edit

Form = Mapping[str, str]
Reader = Callable[[Form, str], dict[str, Any]]

DIGITS = 15  # of a number that is counted with: more than any list or measure has
Number = Annotated[int, Field(gt=-(10**DIGITS), lt=10**DIGITS)]  # of a revision, a sheet, a place in a list
PostedNumber = Annotated[Number, FormField()]


def read_edit_of(form: Form, unit: str) -> AnyEdit:
    """The edit a form asks for. Raises CommandRefused in the person's words."""
    do = form.get("do", "")
    reader = READERS.get(do)
    given = reader(form, unit) if reader else {}
    data = {
        name: _typed(field, form[name]) for name, field in _fields(do).items() if name in form and name not in given
    }
    return read_edit({"do": do, **data, **given})


def _adjusted(form: Form, unit: str) -> dict[str, Any]:
    value = read_value(form.get("as", "text"), form.get("value", ""), unit)
    return {"target": form.get("target", ""), "values": {form.get("field", ""): value}}


def _letter_changed(form: Form, unit: str) -> dict[str, Any]:
    value = read_value(form.get("as", "text"), form.get("value", ""), unit)
    return {"letter": form.get("letter", ""), "values": {form.get("field", ""): value}}


def _related(form: Form, unit: str) -> dict[str, Any]:
    relation, _, across = form.get("kind", "").partition(" ")
    return {"kind": relation, "across": bool(across)}


def _valued(field: str, kind: str) -> Reader:
    return lambda form, unit: {field: read_value(kind, form.get("value", ""), unit)}


READERS: dict[str, Reader] = {  # what a form says otherwise than in fields of the same names
    "adjust": _adjusted,
    "change letter": _letter_changed,
    "add set": _related,
    "size freely": _valued("height", "length"),
    "bridge width": _valued("width", "optional"),
    "bridge turn": _valued("turn", "optional number"),
    "bridge form": _valued("form", "choice"),
    "choose pieces": lambda form, unit: {
        "points": read_points(form, "piece-"), "under": read_value("optional", form.get("under", ""), unit) or 0.0
    },
    "make ready": lambda form, _: {"steps": read_mends(form)},
    "draw path": lambda form, _: {"paths": _drawn(form, "paths")},
    "cut in two": lambda form, _: {"drawn": _drawn(form, "drawn")},
    "draw figure": lambda form, unit: {
        name: read_value("length", form.get(name) or "60 mm", unit) for name in ("width", "height")
    },
    "extend path": lambda form, _: {"drawn": _drawn(form, "drawn")},
    "put node": lambda form, unit: {form.get("axis", "x"): read_value("length", form.get("value", ""), unit)},
    "set nodes": lambda form, unit: _node_figure(form, unit),
    "set handle": lambda form, unit: _node_figure(form, unit),
    "clean up art": lambda form, unit: _cleaning(form, unit),
    "simplify path": lambda form, unit: {"tolerance": read_value("length", form.get("value", ""), unit)},
    "round corners": _valued("radius", "length"),
    "scale underlay": _valued("length", "length"),
    "set all": lambda form, unit: _shared(form, unit),
    "space out": lambda form, unit: {"gap": read_value("optional", form.get("gap", ""), unit)},
    "pull": lambda form, unit: {"typed": _figures(form.get("typed", ""), form.get("as", ""), unit)},
    "nudge parts": lambda form, unit: {"far": read_value("optional", form.get("far", ""), unit)},
    "size by hand": lambda form, _: {"times": _per_cent(form.get("times", ""))},
    "turn about": _valued("angle", "number"),
    "scale about": lambda form, unit: {"times": _share(form, unit)},
    "draw bridge": lambda form, _: {
        "start": read_point({"x": form.get("x0", ""), "y": form.get("y0", "")}), "end": read_point(form)
    },
}  # fmt: skip


def _shared(form: Form, unit: str) -> dict[str, Any]:
    """A field of several parts: the kind says what it is read as."""
    kind = SHARED[form.get("field", "")].kind
    kind = {"font": "text", "colour": "text", "join": "choice"}.get(kind, kind)
    return {"value": read_value(kind, form.get("value", ""), unit)}


def _cleaning(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """A square of so much mm stands for an area; what is left empty is nothing. Raises CommandRefused."""
    side, within = (float(str(read_value("length", form.get(name) or "0", unit))) for name in ("specks", "within"))
    return {"specks": side**2, "within": within}


def _figures(text: str, kind: str, unit: str) -> list[Any]:
    """Figures typed with semicolons between them: lengths, or degrees, per cent or shares by their `kind`."""
    if kind == "mm":
        return [read_value("length", word, unit) for word in text.replace("−", "-").split(";") if word.strip()]
    times = 0.01 if kind == "share" else 1.0
    return [float(read_value("number", word, unit)) * times for word in text.split(";") if word.strip()]  # type: ignore[arg-type]


def _per_cent(text: str) -> float | None:
    value = read_value("optional number", text, "mm")
    return value / 100 if isinstance(value, float) else None


def _share(form: Form, unit: str) -> float:
    """Per cent as a factor."""
    value = read_value("number", form.get("value", ""), unit)
    return float(value) / 100 if isinstance(value, float) else 1.0


def _node_figure(form: Form, unit: str) -> dict[str, Any]:
    """One figure of nodes or handles; a width is said in per cent of the pen's."""
    name, text = form.get("field", ""), form.get("value", "")
    if name in ("width", "angle"):
        value = read_value("number", text, unit)
        return {name: float(value) / 100 if name == "width" else value}  # type: ignore[arg-type]
    return {name: read_value("length", text, unit)}


def _drawn(form: Form, name: str) -> Any:
    """Nodes, or paths of nodes, as the pen says them. Raises CommandRefused."""
    try:
        said = json.loads(form.get(name, ""))
        return bowed(said) if name == "drawn" else [{**path, "nodes": bowed(path["nodes"])} for path in said]
    except (ValueError, RecursionError, TypeError, KeyError, AttributeError):
        raise CommandRefused("", "what was drawn was not understood; draw it once more") from None


def typed_length(text: str, unit: str, name: str) -> float:
    """A typed length, mm. Raises CommandRefused after the name of its field."""
    try:
        return round(read_length(text, unit), 4)
    except BadLength as error:
        raise CommandRefused(name.capitalize(), str(error)) from None


def typed_area(text: str, unit: str, name: str) -> float:
    """A typed area, mm². Raises CommandRefused after the name of its field."""
    try:
        return read_area(text, unit)
    except BadLength as error:
        raise CommandRefused(name.capitalize(), str(error)) from None


def typed_number(text: str, name: str) -> float:
    """A typed number, its sign for per cent, degrees or times left out. Raises CommandRefused after the name of its
    field.
    """
    return float(_number(text.replace(",", ".").replace("−", "-").rstrip(" %°×"), float, name.capitalize()))


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


def _fields(do: str) -> dict[str, FieldInfo]:
    return EDITS[do].model_fields if do in EDITS else {}


def _typed(field: FieldInfo, text: str) -> Any:
    """A field's words as what it holds: a number where it is one, nothing where it may be left empty."""
    if field.annotation == list[int]:
        return [int(_number(one, int)) for one in text.split(",") if one.strip()]
    if field.annotation == list[str]:
        return [one.strip() for one in text.split(",") if one.strip()]
    kinds = _kinds(field.annotation)
    for number in (int, float):
        if number in kinds:
            typed = text.replace(",", ".").strip()
            return _number(typed, number) if typed or type(None) not in kinds else None
    return text


def _kinds(annotation: Any) -> set[Any]:
    """The types that an annotation is made of; of a list none, which no field of a form is."""
    if get_origin(annotation) in (list, dict, tuple):
        return set()
    return {annotation}.union(*map(_kinds, get_args(annotation)))


def _number(text: str, number: type[int] | type[float], name: str = "") -> int | float:
    try:
        found = number(text)
    except ValueError:
        raise CommandRefused(name, f"“{text[:40]}” is not a number") from None
    if not abs(found) < 10**DIGITS:
        raise CommandRefused(name, f"“{text[:40]}” is too large")
    return found


def _lengths(text: str, unit: str) -> list[float]:
    """Several lengths, typed with spaces, semicolons or dashes between them."""
    words = text.replace(";", " ").replace("–", " ").replace(" - ", " ").replace("-", " ").split()
    try:
        return [read_length(word, unit) for word in words]
    except BadLength as error:
        raise CommandRefused("", str(error)) from None


def read_value(kind: str, text: str, unit: str) -> str | float | bool | list[float] | None:
    """A field's value: `length` in mm, `optional` likewise or nothing, `area` in mm², `number`, `flag` or `text`."""
    if kind == "flag":
        return text in ("on", "true", "1")
    if kind in ("length", "optional"):
        if kind == "optional" and not text.strip():
            return None
        try:
            return read_length(text, unit)
        except BadLength as error:
            raise CommandRefused("", str(error)) from None
    if kind == "area":
        return typed_area(text, unit, "")
    if kind == "lengths":
        return _lengths(text, unit)
    if kind == "strips":  # shares are shown as percents
        return [value / 100 for value in _lengths(text.replace("%", " "), "mm")]
    if kind == "optional number" and not text.strip():
        return None
    if kind in ("number", "optional number"):
        return typed_number(text, "")
    return text or None if kind == "choice" else text


def read_colours(form: Mapping[str, str]) -> int:
    """In how many colours a picture is to be traced; 1 where nothing is said. Raises CommandRefused."""
    said = form.get("colours", "1")
    if said not in ("1", "2", "3", "4", "5", "6"):
        raise CommandRefused("Colours", f"“{said[:20]}” is none of 1 to 6")
    return int(said)
