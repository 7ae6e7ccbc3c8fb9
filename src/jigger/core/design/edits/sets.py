"""Edits of the relations between parts: even gaps, held together, kept apart."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_part
from jigger.core.design.model.placing import PartSet
from jigger.core.errors import CommandRefused

SET_WORDS = {"even": "even gaps", "together": "held together", "apart": "kept apart"}


def without(sets: list[PartSet], gone: set[str]) -> list[PartSet]:
    """Sets without some parts; a set of fewer than two is none."""
    left = [one.model_copy(update={"parts": [x for x in one.parts if x not in gone]}) for one in sets]
    return [one for one in left if len(one.parts) > 1]


def find_set(design: Design, identity: str) -> PartSet:
    """The relation of this id. Raises CommandRefused."""
    for one in design.sets:
        if one.id == identity:
            return one
    raise CommandRefused("", "this relation is no longer in the design")


class AddSet(Edit):
    """Relate two parts, or add a part to the relation of the same kind that the other has."""

    do: Literal["add set"] = "add set"
    kind: Literal["even", "together", "apart"]
    part: str
    other: str
    gap: Annotated[float, Field(ge=0)] = 5.0
    across: bool = False

    def _change(self, design: Design) -> None:
        part, other = find_part(design, self.part), find_part(design, self.other)
        if part is other:
            raise CommandRefused(f"“{part.title}”", "a part needs another one for this")
        for one in design.sets:
            if one.kind == self.kind and one.kind != "apart" and other.id in one.parts:
                if part.id in one.parts:
                    raise CommandRefused(f"“{part.title}”", f"it is {SET_WORDS[self.kind]} with that already")
                one.parts = [*one.parts, part.id]
                return
        design.sets = [
            *design.sets,
            PartSet(
                id=design.fresh("set"), kind=self.kind, parts=[other.id, part.id], gap=self.gap, across=self.across
            ),
        ]

    def label(self, design: Design) -> str:
        return f"“{find_part(design, self.part).title}”, {SET_WORDS[self.kind]}"


class RemoveSet(Edit):
    """Let the parts of a relation go; with `part`, only that one."""

    do: Literal["remove set"] = "remove set"
    set: str
    part: str = ""

    def _change(self, design: Design) -> None:
        one = find_set(design, self.set)
        if self.part and len(one.parts) > 2:
            one.parts = [x for x in one.parts if x != self.part]
        else:
            design.sets = [x for x in design.sets if x.id != one.id]

    def label(self, design: Design) -> str:
        return f"end of {SET_WORDS[find_set(design, self.set).kind]}"

    def watched(self, design: Design) -> Any:
        return find_set(design, self.set).model_dump()
