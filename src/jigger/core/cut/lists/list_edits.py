"""What a person can do with a cut list: one typed edit for each; lists come out of them anew."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Union, get_args

from pydantic import Field, TypeAdapter, ValidationError

from jigger.core.cut.lists.cutlist import (
    MOST_COPIES,
    PATCH,
    CutList,
    Identity,
    Item,
    Nest,
    Place,
    PutCopy,
    RunOptions,
    Strict,
    item_of,
    valid,
)
from jigger.core.errors import CommandRefused, in_words

MOST_TOGETHER = 2000  # copies on one list


class ListEdit(Strict):
    """`do`: what is asked for."""

    do: str

    def apply(self, before: CutList) -> CutList:
        """The list after it. Raises CommandRefused; `before` stays as it was."""
        after = before.model_copy(deep=True)
        self._change(after)
        if sum(one.copies for one in after.items) > MOST_TOGETHER:
            raise CommandRefused("Copies", f"a list holds at most {MOST_TOGETHER:,} in all; make a second list")
        return valid(after.model_dump(by_alias=True))

    def _change(self, one: CutList) -> None:
        raise NotImplementedError

    def label(self, before: CutList) -> str:
        """What undo calls it."""
        raise NotImplementedError


class PutOnList(ListEdit):
    """Copies of layers of a design as it is at a revision; layers that are on the list as they are get more copies."""

    do: Literal["put on list"] = "put on list"
    design: Identity
    revision: Annotated[int, Field(ge=1)]
    layers: Annotated[list[Identity], Field(min_length=1, max_length=60)]
    copies: Annotated[int, Field(ge=1, le=MOST_COPIES)] = 1
    parts: Annotated[list[Identity], Field(max_length=500)] = []
    pieces: Annotated[list[tuple[Place, Place]], Field(max_length=500)] = []

    def _change(self, one: CutList) -> None:
        for layer in self.layers:
            item = Item(
                id=one.fresh(), design=self.design, revision=self.revision, layer=layer, copies=self.copies,
                parts=self.parts, pieces=self.pieces,
            )  # fmt: skip
            if there := next((x for x in one.items if _same(x, item)), None):
                there.copies = min(there.copies + self.copies, MOST_COPIES)
            else:
                one.items.append(item)

    def label(self, before: CutList) -> str:
        return "put on the list"


def _same(one: Item, other: Item) -> bool:
    apart = {"id", "copies"}
    return one.model_dump(exclude=apart) == other.model_dump(exclude=apart)


class SetCopies(ListEdit):
    do: Literal["copies"] = "copies"
    item: Identity
    copies: Annotated[int, Field(ge=1, le=MOST_COPIES)]

    def _change(self, one: CutList) -> None:
        one.item(self.item).copies = self.copies
        one.by_hand = [x for x in one.by_hand if item_of(x.item) != self.item or x.copy_ < self.copies]

    def label(self, before: CutList) -> str:
        return "copies"


class TakeOff(ListEdit):
    do: Literal["take off list"] = "take off list"
    item: Identity

    def _change(self, one: CutList) -> None:
        gone = one.item(self.item)
        one.items = [x for x in one.items if x is not gone]
        one.by_hand = [x for x in one.by_hand if item_of(x.item) != self.item]

    def label(self, before: CutList) -> str:
        return "take off the list"


class TakeNewer(ListEdit):
    """An item, as its design is now."""

    do: Literal["take newer"] = "take newer"
    item: Identity
    revision: Annotated[int, Field(ge=1)]

    def _change(self, one: CutList) -> None:
        one.item(self.item).revision = self.revision

    def label(self, before: CutList) -> str:
        return "take the newer one"


class RenameList(ListEdit):
    do: Literal["rename list"] = "rename list"
    name: str

    def _change(self, one: CutList) -> None:
        one.name = " ".join(self.name.split())

    def label(self, before: CutList) -> str:
        return "name"


class LayOut(ListEdit):
    """Options of a run; those not given stay as they are."""

    do: Literal["lay out"] = "lay out"
    run: Identity
    values: dict[str, Any]

    def _change(self, one: CutList) -> None:
        before = one.runs.get(self.run, RunOptions()).model_dump()
        one.runs[self.run] = valid({"name": "x", "runs": {"x": {**before, **self.values}}}).runs["x"]
        if self.values.get("form") == "":  # off its mat, which others lay on
            for other in one.runs.values():
                other.mat = "" if other.mat == self.run else other.mat
        if one.runs[self.run].mat == self.run:
            raise CommandRefused("Cut on", "this is the mat that it lies on already")

    def label(self, before: CutList) -> str:
        return "lay out"


class PutByHand(ListEdit):
    """A copy somewhere on a sheet; it stays there when the rest is laid out again."""

    do: Literal["put by hand"] = "put by hand"
    place: PutCopy

    def _change(self, one: CutList) -> None:
        if self.place.item != PATCH and self.place.copy_ >= one.item(item_of(self.place.item)).copies:
            raise CommandRefused("Cut list", "there are not so many copies of this item any more")
        key = (self.place.item, self.place.copy_)
        one.by_hand = [*(x for x in one.by_hand if (x.item, x.copy_) != key), self.place]

    def label(self, before: CutList) -> str:
        return "move a copy"


class KeepNest(ListEdit):
    """Lay a run out as it was found true to shape."""

    do: Literal["keep nest"] = "keep nest"
    run: Identity
    nest: Nest

    def _change(self, one: CutList) -> None:
        one.nests[self.run] = self.nest
        one.runs[self.run] = one.runs.get(self.run, RunOptions()).model_copy(update={"layout": "nested"})

    def label(self, before: CutList) -> str:
        return "lay out true to shape"


class LetGo(ListEdit):
    """A copy, or every copy of these items, goes where the layout puts it."""

    do: Literal["let go"] = "let go"
    items: list[Identity]
    copy_: Annotated[int | None, Field(alias="copy")] = None

    def _change(self, one: CutList) -> None:
        one.by_hand = [
            x for x in one.by_hand if x.item not in self.items or (self.copy_ is not None and x.copy_ != self.copy_)
        ]

    def label(self, before: CutList) -> str:
        return "lay out again"


AnyListEdit = Annotated[
    Union[PutOnList, SetCopies, TakeOff, TakeNewer, RenameList, LayOut, PutByHand, KeepNest, LetGo],  # noqa: UP007 - read below
    Field(discriminator="do"),
]
LIST_EDITS = {kind.model_fields["do"].default: kind for kind in get_args(get_args(AnyListEdit)[0])}
_reader: TypeAdapter[Any] = TypeAdapter(AnyListEdit)


def read_list_edit(data: Any) -> ListEdit:
    """Raises CommandRefused in the person's words."""
    try:
        found: ListEdit = _reader.validate_python(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        field = next((str(step) for step in reversed(first["loc"]) if isinstance(step, str)), "")
        words = {"copies": "copies", "x": "place", "y": "place", "name": "name"}.get(field, "")
        raise CommandRefused("Cut list", f"{words}: {in_words(first)}" if words else in_words(first)) from None
    return found
