"""Edits of finishes: added, put in another order, removed. Their measures are set as any other field is."""

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit, Scalar
from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.model.design import Design
from jigger.core.design.model.fields import one_of
from jigger.core.design.model.find import Carrier, find_carrier, layer_of
from jigger.core.errors import CommandRefused


class AddFinish(Edit):
    """Give a part, group or layer another finish, done after those it has."""

    do: Literal["add finish"] = "add finish"
    target: str
    kind: Annotated[str, one_of(FINISHES)]
    values: Mapping[str, Scalar | list[float]] = {}

    def _change(self, design: Design) -> None:
        kind = FINISHES[self.kind]
        if not kind.offered:
            raise CommandRefused(f"“{self.kind}”", "this finish is not added by itself")
        finish = kind.model(id=design.fresh("finish"), kind=kind.id)
        kind.begun(finish, design.material(layer_of(design, self.target).material).least_opening)
        for name, value in self.values.items():
            if name not in type(finish).model_fields or name in ("id", "kind"):
                raise CommandRefused(f"“{name}”", f"a finish of the kind “{self.kind}” has no such measure")
            setattr(finish, name, value)
        find_carrier(design, self.target).finishes.append(finish)

    def label(self, design: Design) -> str:
        return f"{self.kind} of “{find_carrier(design, self.target).title}”"


class RemoveFinish(Edit):
    do: Literal["remove finish"] = "remove finish"
    finish: str

    def _change(self, design: Design) -> None:
        carrier, finish = carrier_of(design, self.finish)
        carrier.finishes = [one for one in carrier.finishes if one.id != finish.id]

    def label(self, design: Design) -> str:
        carrier, finish = carrier_of(design, self.finish)
        return f"removal of {getattr(finish, 'kind', 'finish')} of “{carrier.title}”"

    def watched(self, design: Design) -> Any:
        return carrier_of(design, self.finish)[1].model_dump()


class MoveFinish(Edit):
    """Do a finish earlier or later among those of what carries it."""

    do: Literal["move finish"] = "move finish"
    finish: str
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        carrier, finish = carrier_of(design, self.finish)
        rest = [one for one in carrier.finishes if one.id != finish.id]
        carrier.finishes = [*rest[: self.index], finish, *rest[self.index :]]

    def label(self, design: Design) -> str:
        return f"order of finishes of “{carrier_of(design, self.finish)[0].title}”"

    def watched(self, design: Design) -> Any:
        return [one.id for one in carrier_of(design, self.finish)[0].finishes]


def carrier_of(design: Design, identity: str) -> tuple[Carrier, FinishBase]:
    """What carries a finish, and the finish. Raises CommandRefused where it is gone."""
    for carrier in (*design.layers, *design.parts()):
        for finish in carrier.finishes:
            if finish.id == identity:
                return carrier, finish
    raise CommandRefused("", "this finish is no longer in the design")
