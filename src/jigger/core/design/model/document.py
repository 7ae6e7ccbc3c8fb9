"""Reading and writing the design document: versions, refusals with the place named, one byte form."""

import copy
import json
from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from jigger.core.design.building.references import FIXED_TARGETS, build_order, targets
from jigger.core.design.edits.recut import recut
from jigger.core.design.model.design import VERSION, AnyPart, Design, GroundPart, Lettering, Shape
from jigger.core.errors import DesignRefused, NewerVersion, UnknownChoice, in_words
from jigger.core.lettering.letters import split_letters
from jigger.core.materials.presets import MATERIALS


# From version n to n + 1, on plain data. A step is added with every change of the schema.
# 2: lines say what their height measures, lettering what stands between letters; version 1 knew the defaults only.
# 3: what stands between letters is said of each line; letters have overrides, lettering course, form, frame and tail,
#    parts a fit; sets of parts.
def _spacing_to_lines(data: dict[str, Any]) -> dict[str, Any]:
    """Version 2 said tracking, spacing and gap of a lettering part; from 3 on each line has its own."""
    data = {**copy.deepcopy(data), "jigger": 3}
    for part in (part for layer in data.get("layers", []) for part in layer.get("parts", [])):
        moved = {name: part.pop(name) for name in ("tracking", "spacing", "gap") if name in part}
        for line in part.get("lines", []):
            line.update(moved)
    return data


# 4: a place names edges of what it is placed by.
# 5: all joins, groups, followers, strokes, finishes, relations between layers.
# 6: bridges by hand have a width and a direction; letters may be wished for one by one; findings can be accepted.
# 7: a design keeps the shop rules it was checked under.
# 8: bridges have a form; shipped materials say how stiff they are and which edges cannot be used, and designs that were
#    checked before they did keep them as they were.
def _rules_as_shipped(data: dict[str, Any]) -> dict[str, Any]:
    data = {**copy.deepcopy(data), "jigger": 8}
    kept = data.get("rules", [])
    missing = {layer.get("material") for layer in data.get("layers", [])} - {one.get("id") for one in kept}
    before = [MATERIALS[x].model_copy(update={"span": 0.0, "edge": 0.0}) for x in MATERIALS if x in missing]
    return {**data, "rules": [*kept, *(one.model_dump(mode="json") for one in before)]}


# 9: things of a layer may each be wished for as one piece; rules say whether the face that is cut ends hidden.
def _hidden_faces(data: dict[str, Any]) -> dict[str, Any]:
    """Rules of shipped materials that a design keeps learn what the shipped ones say of their face."""
    faces = {one.id: one.hidden_face for one in MATERIALS.values()}
    rules = [{**one, "hidden_face": faces.get(one.get("id"), False)} for one in data.get("rules", [])]
    return {**data, "jigger": 9, **({"rules": rules} if rules else {})}


# 10: nodes run smoothly by themselves; an outline may be of one row; twins across an axis through the work itself.
# 11: what letters are opened in is the layer's ground; a sheet is only the stock that is cut.
def _grounds(data: dict[str, Any]) -> dict[str, Any]:
    def renamed(layer: dict[str, Any]) -> dict[str, Any]:
        return {"ground" if name == "sheet" else name: value for name, value in layer.items()}

    layers = [renamed(layer) for layer in data.get("layers", [])]
    return {**data, "jigger": 11, **({"layers": layers} if layers else {})}


# 12: rules are of a material alone; speed and force belong to it on a machine.
def _rules_without_settings(data: dict[str, Any]) -> dict[str, Any]:
    rules = [{x: one[x] for x in one if x not in ("speed", "force")} for one in data.get("rules", [])]
    return {**data, "jigger": 12, **({"rules": rules} if rules else {})}


# 14: a course has several paths, and nodes are of a kind.
def _paths_of_nodes(data: dict[str, Any]) -> dict[str, Any]:
    def noded(part: dict[str, Any]) -> dict[str, Any]:
        if "parts" in part:
            part = {**part, "parts": [noded(one) for one in part["parts"]]}
        course = part.get("course")
        if part.get("kind") != "stroke" or not isinstance(course, dict):
            return part
        rest = {name: value for name, value in course.items() if name not in ("nodes", "closed")}
        nodes = [_of_a_kind(node) for node in course.get("nodes", [])]
        if nodes:
            rest["paths"] = [{"nodes": nodes, "closed": course.get("closed", False)}]
        return {**part, "course": rest}

    layers = [{**layer, "parts": [noded(part) for part in layer.get("parts", [])]} for layer in data.get("layers", [])]
    return {**data, "jigger": 14, **({"layers": layers} if layers else {})}


def _of_a_kind(node: dict[str, Any]) -> dict[str, Any]:
    rest = {name: value for name, value in node.items() if name != "smooth"}
    return {**rest, "kind": "flowing"} if node.get("smooth") else rest


UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: lambda data: {**data, "jigger": 2},
    2: _spacing_to_lines,
    3: lambda data: {**data, "jigger": 4},
    4: lambda data: {**data, "jigger": 5},
    5: lambda data: {**data, "jigger": 6},
    6: lambda data: {**data, "jigger": 7},
    7: _rules_as_shipped,
    8: _hidden_faces,
    9: lambda data: {**data, "jigger": 10},
    10: _grounds,
    11: _rules_without_settings,
    12: lambda data: {**data, "jigger": 13},  # 13: artwork is a kind of part
    13: _paths_of_nodes,
    14: lambda data: {**data, "jigger": 15},  # 15: parts can be turned; guides
}

WORDS = {
    "jigger": "version", "lines": "line", "layers": "layer", "parts": "part", "margin_x": "margin across",
    "margin_y": "margin up", "line_spacing": "line spacing", "height": "height", "bridges": "bridges",
}  # fmt: skip


def read_design(text: str | bytes) -> Design:
    """A design from JSON. Raises DesignRefused (NewerVersion, ReferenceLoop) naming the place."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        place = f" (line {error.lineno}, column {error.colno})" if isinstance(error, json.JSONDecodeError) else ""
        raise DesignRefused("", f"this is not a Jigger design: it cannot be read as JSON{place}") from None
    try:
        json.dumps(data, ensure_ascii=False).encode()
    except (UnicodeEncodeError, RecursionError):
        raise DesignRefused("", "this is not a Jigger design: it holds characters that no text has") from None
    return from_data(data)


def from_data(data: Any) -> Design:
    """A design from plain data, upgraded where it is older. Raises DesignRefused."""
    if not isinstance(data, dict) or "jigger" not in data:
        raise DesignRefused("", "this is not a Jigger design: it has no “jigger” version")
    version = data["jigger"]
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DesignRefused("version", f"“{version}” is not a version of a Jigger design")
    if version > VERSION:
        raise NewerVersion(version, VERSION)
    try:
        for step in range(version, VERSION):
            data = UPGRADES[step](data)
    except (TypeError, AttributeError, ValueError):  # it is malformed; the schema says where
        data = {**data, "jigger": VERSION}
    try:
        counted = recut(data)
    except RecursionError:
        raise DesignRefused("", "this design is nested too deeply to be read") from None
    return checked(counted)


def checked(data: Any) -> Design:
    """A design from plain data of the present version. Raises DesignRefused."""
    try:
        design = Design.model_validate(data)
    except (ValidationError, RecursionError) as error:
        if isinstance(error, RecursionError):
            raise DesignRefused("", "this design is nested too deeply to be read") from None
        raise _refusal(error, data) from None
    return check_whole(design)


def checked_anew(changed: Design, before: Design) -> Design:
    """A changed copy of a design that was checked: parts that are as they were are those of `before` themselves, all
    else is checked. Raises DesignRefused.
    """
    parts = {part.id: part for layer in before.layers for part in layer.parts}

    def kept(part: AnyPart) -> Any:
        there = parts.get(part.id)
        same = type(there) is type(part) and there.model_dump_json() == part.model_dump_json()
        return there if same else part.model_dump()

    data = changed.model_dump(exclude={"layers"})
    data["layers"] = [
        {**layer.model_dump(exclude={"parts"}), "parts": [kept(part) for part in layer.parts]}
        for layer in changed.layers
    ]
    return checked(data)


def check_whole(design: Design) -> Design:
    """What the schema cannot say: letters have ids, ids are unique, references lead somewhere, no loops.

    Raises DesignRefused. Returns the same design.
    """
    _number_letters(design)
    seen: set[str] = set()
    for identity in design.ids():
        if identity in seen or identity in FIXED_TARGETS:
            raise DesignRefused("ids", f"the id “{identity}” is used twice")
        seen.add(identity)
    parts = {part.id for part in design.parts()}
    _check_relations(design, parts)
    known = parts | {layer.id for layer in design.layers}
    for part in design.parts():
        for target in targets(part):
            if target not in known:
                raise DesignRefused(f"“{part.title}”", f"it refers to a part “{target}” that is not in the design")
        if "surface" in (part.place.on, part.place.between) and design.surface is None:
            raise DesignRefused(f"“{part.title}”", "it is placed on the surface, but the design has none")
        if part.fit.kind != "none" and part.fit.to == "surface" and design.surface is None:
            raise DesignRefused(f"“{part.title}”", "it is fitted to the surface, but the design has none")
        if isinstance(part, Lettering):
            _check_lettering(part, parts)
    _check_sets(design, parts)
    for layer in design.layers:
        where = f"layer “{layer.title}”"
        try:
            design.material(layer.material)
        except UnknownChoice as error:
            raise DesignRefused(where, str(error)) from None
        if layer.build == "open" and isinstance(layer.ground, GroundPart):
            ground = next((part for part in layer.parts if part.id == layer.ground.part), None)
            if not isinstance(ground, Shape):
                raise DesignRefused(where, "its ground must be a shape in the same layer")
    build_order(design)
    return design


def _check_relations(design: Design, parts: set[str]) -> None:
    layers = {layer.id for layer in design.layers}
    for layer in design.layers:
        for relation in layer.relations:
            where = f"layer “{layer.title}”"
            if relation.lower not in layers or relation.lower == layer.id:
                raise DesignRefused(where, f"its relation needs another layer; “{relation.lower}” is none")
            printed = [
                one.title for one in design.layers if one.build == "print" and one.id in (layer.id, relation.lower)
            ]
            if printed:
                raise DesignRefused(where, f"its relation needs layers that are cut; “{printed[0]}” is printed")
            if relation.figure is not None and relation.figure not in parts:
                raise DesignRefused(where, f"its relation names a part “{relation.figure}” that is not in the design")


def _check_lettering(part: Lettering, parts: set[str]) -> None:
    for line in part.lines:
        strange = [override.letter for override in line.overrides if override.letter not in line.ids]
        if strange:
            raise DesignRefused(f"“{line.text}”", f"it changes a letter “{strange[0]}” that it does not have")
    if part.course.kind == "tail" and part.course.of not in parts:
        raise DesignRefused(f"“{part.title}”", "it runs along a tail, but does not say of which part")
    if part.course.kind == "curve" and len(part.course.points) < 2:
        raise DesignRefused(f"“{part.title}”", "a curve needs at least two points")


def _check_sets(design: Design, parts: set[str]) -> None:
    followers: set[str] = set()
    for one in design.sets:
        if unknown := [identity for identity in one.parts if identity not in parts]:
            raise DesignRefused("sets", f"a set holds a part “{unknown[0]}” that is not in the design")
        if len(set(one.parts)) < len(one.parts):
            raise DesignRefused("sets", "a set holds a part twice")
        following = set(one.parts[1:]) if one.kind == "even" else set()
        if followers & following:
            raise DesignRefused("sets", f"“{(followers & following).pop()}” follows in two sets of even gaps")
        followers |= following


def write_design(design: Design) -> str:
    """The design as JSON; the same design gives the same bytes."""
    return design.model_dump_json(indent=1) + "\n"


def schema() -> dict[str, Any]:
    """The published JSON schema of the document."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Design.model_json_schema()}


def _number_letters(design: Design) -> None:
    for part in design.parts():
        if isinstance(part, Lettering):
            for line in part.lines:
                if line.letters is None:
                    line.letters = [design.fresh("t") for _ in split_letters(line.text)]


def _refusal(error: ValidationError, data: Any) -> DesignRefused:
    first = error.errors(include_url=False, include_input=False)[0]
    return DesignRefused(_where(first["loc"], data), in_words(first))


def _where(location: tuple[int | str, ...], data: Any) -> str:
    """The place of an error in the person's words: the nearest named element, then the field."""
    name, here = "", data
    words: list[str] = []
    for step in location:
        if step in ("lettering", "shape", "part", "margin") and not (isinstance(here, dict) and step in here):
            continue  # the tag of a choice, not a field
        here = _inside(here, step)
        if isinstance(here, dict) and (title := _title(here)):
            name, words = f"“{title}”", []
        elif isinstance(step, str):
            words.append(WORDS.get(step, step.replace("_", " ")))
        else:
            words.append(str(step + 1))
    return ", ".join(filter(None, [name, " ".join(words)]))


def _title(here: dict[str, Any]) -> str | None:
    """What a person calls an element: its name, its words, or at least its id."""
    lines = here.get("lines")
    words = lines[0].get("text") if isinstance(lines, list) and lines and isinstance(lines[0], dict) else None
    return here.get("name") or here.get("text") or words or here.get("id")


def _inside(here: Any, step: int | str) -> Any:
    if isinstance(here, list):
        return here[step] if isinstance(step, int) and step < len(here) else None
    return here.get(step) if isinstance(here, dict) else None
