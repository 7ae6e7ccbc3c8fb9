"""What the build sheet says of several chosen parts, and which parts are chosen by what was asked."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jigger.core.design.building.built import Built
from jigger.core.design.many.alike import alike
from jigger.core.design.many.common import Found, common, outermost
from jigger.core.design.many.lining import LINES, Alignment
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.model.find import layer_of
from jigger.core.geometry.units import show_length
from jigger.core.joinery.joins.table import JOINS

VERBS = ("settings", "arrange", "hold")
OF_LINES = {  # fields of all lines, by the verb of a lettering that shows them
    "words": ("font", "size"), "spacing": ("spacing", "tracking", "gap"), "face": ("case", "size", "letter-width"),
}  # fmt: skip


@dataclass(frozen=True)
class FieldView:
    """A field of several parts as it is shown: `value` is empty where they differ. `offers` of a choice."""

    id: str
    words: str
    kind: str
    value: str
    differs: bool
    offers: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class ManyView:
    """Several chosen parts, in the order they were chosen; `copied`: what they are copies of, if just made."""

    ids: tuple[str, ...]
    title: str
    first: str
    fields: list[FieldView]
    groups: tuple[str, ...]
    layer: str
    copied: str
    hidden: bool
    sets: tuple[str, ...]

    @property
    def key(self) -> str:
        return ",".join(self.ids)

    @property
    def alignments(self) -> list[list[Alignment]]:
        """The lines that parts are lined up by, across and up."""
        return [[line for line in LINES.values() if line.axis == axis] for axis in (0, 1)]


def chosen(design: Design, built: Built, asked: Mapping[str, str]) -> tuple[str, tuple[str, ...]]:
    """The step and the several parts that are chosen: one of these is empty. `many` names parts; `like` asks for all
    that are like those or the step in a trait, `all` for all, `box` for those inside it (left, bottom, right and
    top, mm), with `more` beside those that are chosen.
    """
    known = {part.id: part for part in design.parts()}
    many = [one for one in dict.fromkeys(asked.get("many", "").split(",")) if one in known]
    step = asked.get("step", "")
    base = many or ([step] if step in known else [])
    if asked.get("like"):
        base = [*base, *(one for one in alike(design, base, asked["like"]) if one not in base)]
    elif asked.get("all"):
        base = [part.id for part in outermost(design, [one for one in known if _can_be_taken(design, one)])]
    elif asked.get("box"):
        inside = _inside(design, built, asked["box"])
        base = [*base, *(one for one in inside if one not in base)] if asked.get("more") else inside
    elif len(many) < 2:
        return (many[0] if many else step), ()
    if len(base) < 2:
        return (base[0] if base else ""), ()
    return "", tuple(base)


def _can_be_taken(design: Design, part: str) -> bool:
    return part not in design.hidden_parts() and not layer_of(design, part).locked


def _inside(design: Design, built: Built, box: str) -> list[str]:
    """Parts whose ink lies in a box, those of a group not beside it; none of what is no box."""
    try:
        left, bottom, right, top = map(float, box.split())
    except ValueError:
        return []
    found = []
    for part in design.parts():
        ink = built.parts[part.id].region.bounds
        within = ink and left <= ink[0] and bottom <= ink[1] and ink[2] <= right and ink[3] <= top
        if within and _can_be_taken(design, part.id):
            found.append(part.id)
    return [part.id for part in outermost(design, found)]


def many_view(
    design: Design, many: Sequence[str], unit: str, copied: str, fonts: Sequence[tuple[str, str]]
) -> ManyView | None:
    """The view of several parts; None of fewer than two."""
    if len(many) < 2:
        return None
    parts = {part.id: part for part in design.parts()}
    fields = [_field(found, unit, fonts) for found in common(design, many) if found.shared.kind != "flag"]
    layers = {layer_of(design, one).id for one in many}
    held = [one.id for one in design.sets if set(one.parts) & set(many)]
    return ManyView(
        tuple(many), f"{len(many)} parts", parts[many[0]].title, fields,
        tuple(one for one in many if parts[one].kind == "group"), layers.pop() if len(layers) == 1 else "",
        copied, all(parts[one].hidden for one in many), tuple(held),
    )  # fmt: skip


def line_fields(design: Design, step: str, verb: str, unit: str, fonts: Sequence[tuple[str, str]]) -> list[FieldView]:
    """What all lines of a lettering have, as one of its verbs shows it; nothing of one that has a single line."""
    part = next((one for one in design.parts() if one.id == step), None)
    if verb not in OF_LINES or not isinstance(part, Lettering) or len(part.lines) < 2:
        return []
    return [_field(found, unit, fonts) for found in common(design, [step]) if found.shared.id in OF_LINES[verb]]


def _field(found: Found, unit: str, fonts: Sequence[tuple[str, str]]) -> FieldView:
    shared, value = found.shared, found.value
    if shared.kind in ("length", "optional"):
        shown = "" if value is None else show_length(value, unit, 2)
    elif shared.kind == "number":
        shown = f"{value:g}"
    else:
        shown = str(value)
    joins = tuple((one.id, one.title) for one in JOINS.values())
    offers = {"font": tuple(fonts), "join": joins}.get(shared.kind, shared.offers)
    differs = found.differs and shared.kind != "colour"
    return FieldView(shared.id, shared.words, shared.kind, "" if differs else shown, found.differs, offers)
