"""The same services for programs, as JSON: designs, their edits, their reports; `docs/api.md` shows it.

Files of a design are at the address that pages have for them, `/designs/{id}/export.{format}`.
"""

import json
from typing import Any

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field

from jigger.core.design.model.document import schema
from jigger.core.formats.table import FORMATS
from jigger.services.designs import Opened
from jigger.services.edits.table import edited, edits_schema, read_edit
from jigger.services.showing.reporting import report_data
from jigger.web.forms import Number
from jigger.web.render import API, house

router = APIRouter(prefix=API)


class PostedEdit(BaseModel):
    """`edit`: one of those at `/api/edits`; `seen`: the `seq` of the state that it was made on, where that matters."""

    model_config = ConfigDict(extra="forbid")

    edit: dict[str, Any]
    seen: Number | None = Field(None, ge=0)


@router.get("/formats")
def formats() -> list[dict[str, Any]]:
    """The kinds of file that are written."""
    return [kind.described() for kind in FORMATS.values()]


@router.get("/schema")
def design_schema() -> dict[str, Any]:
    """The JSON schema of a design."""
    return schema()


@router.get("/edits")
def edits() -> dict[str, Any]:
    """The JSON schema of all edits there are."""
    return edits_schema()


@router.get("/designs")
def designs(request: Request) -> list[dict[str, Any]]:
    """All designs on the shelf, the newest first."""
    return [
        {"id": one.id, "name": one.name, "seq": one.seq, "changed": one.changed}
        for one in house(request).designs.listed()
    ]


@router.post("/designs", status_code=201)
def put_on_shelf(request: Request, document: dict[str, Any]) -> dict[str, Any]:
    """A new design from a document."""
    here = house(request).designs
    return _state(here.open(here.read_in(json.dumps(document).encode())))


@router.get("/designs/{identity}")
def design(request: Request, identity: str) -> dict[str, Any]:
    """A design as it is now."""
    opened = house(request).designs.open(identity)
    return {**_state(opened), "design": opened.design.model_dump(mode="json")}


@router.post("/designs/{identity}/edits")
def edit(request: Request, identity: str, posted: PostedEdit) -> dict[str, Any]:
    """Make an edit; it is on disk when this is answered."""
    return _state(edited(house(request), identity, read_edit(posted.edit), posted.seen))


@router.post("/designs/{identity}/undo")
def undo(request: Request, identity: str) -> dict[str, Any]:
    """One step back."""
    return _state(house(request).designs.undo(identity))


@router.post("/designs/{identity}/redo")
def redo(request: Request, identity: str) -> dict[str, Any]:
    """One step on again."""
    return _state(house(request).designs.redo(identity))


@router.get("/designs/{identity}/report")
def report(request: Request, identity: str) -> dict[str, Any]:
    """All figures and findings of a design."""
    here = house(request)
    return here.aside.ask("report", identity, report_data, here.designs.open(identity).design)


def _state(opened: Opened) -> dict[str, Any]:
    return {
        "id": opened.id, "name": opened.design.name, "seq": opened.seq, "version": opened.number,
        "undo": opened.undo, "redo": opened.redo,
    }  # fmt: skip
