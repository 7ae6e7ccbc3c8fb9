"""Every edit that a page, the API or a test can post, by what it says it does."""

from typing import TYPE_CHECKING, Annotated, Any, Union, get_args

from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.commands import Command
from jigger.core.errors import CommandRefused
from jigger.services.designs import Opened
from jigger.services.edits import arranging, copying, drawing_hands, duplicating, letter_hands, placed, pulling
from jigger.services.edits.placed import PlacedEdit
from jigger.services.house import House

PLACED: tuple[type[PlacedEdit], ...] = (
    placed.TakePartsOut, placed.PlaceOn, placed.FitBy, placed.CutFrom, placed.TakePieces,
    placed.MoveGrip,
    placed.SizeBy, placed.SizeFreely, placed.SpaceBy, placed.RunBy, placed.MendFinding, placed.DoRepairs,
    placed.MoveBridge, placed.TurnBridge, placed.WidenBridge, placed.BridgeWidth, placed.BridgeTurn, placed.BridgeEnds,
    placed.SplitBridge, placed.HoldBridge, placed.ReleaseBridge, placed.EqualBridges, placed.DrawBridge,
    *drawing_hands.PLACED, *letter_hands.PLACED,
    *copying.PLACED, *arranging.PLACED, *duplicating.PLACED, *pulling.PLACED,
)  # fmt: skip


def _does(kind: type[BaseModel]) -> str:
    return str(kind.model_fields["do"].default)


# Where the document has an edit of the same name, the one that knows where things are is what can be asked for.
EDITS: dict[str, type[BaseModel]] = {_does(kind): kind for kind in (*get_args(get_args(Command)[0]), *PLACED)}
assert len({_does(kind) for kind in PLACED}) == len(PLACED), "two placed edits of one name"

if TYPE_CHECKING:
    AnyEdit = Edit | PlacedEdit
else:
    AnyEdit = Annotated[Union[tuple(EDITS.values())], Field(discriminator="do")]  # noqa: UP007
_EDITS: TypeAdapter[AnyEdit] = TypeAdapter(AnyEdit)


def read_edit(data: dict[str, Any]) -> AnyEdit:
    """The edit that some data say. Raises CommandRefused where they say none."""
    try:
        return _EDITS.validate_python(data)
    except ValidationError as error:
        raise CommandRefused("", f"this edit was not understood ({error.errors()[0]['msg']})") from None


def edits_schema() -> dict[str, Any]:
    """The JSON schema of every edit that can be asked for."""
    return _EDITS.json_schema()


def edited(house: House, identity: str, edit: AnyEdit, seen: int | None) -> Opened:
    """The design after an edit. `seen`: the state that the person edited. Raises JiggerError."""
    if isinstance(edit, PlacedEdit):
        return edit.done(house, identity, seen)
    return house.designs.edit(identity, edit, seen)  # type: ignore[arg-type]
