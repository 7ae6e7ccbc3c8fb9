"""The history of a design: looked back in, two versions beside each other, gone back to, parts brought back."""

from dataclasses import asdict
from typing import Any

from fastapi import APIRouter, Form, Request, Response

from jigger.services.keeping.versions import compared
from jigger.web.choices import unit
from jigger.web.forms import Number, PostedNumber
from jigger.web.history import change_words, figure_rows, step_rows
from jigger.web.render import house, render, to
from jigger.web.routes.shelf import picture

router = APIRouter(prefix="/designs/{identity}")
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


@router.get("/history")
def history(request: Request, identity: str, at: Number = 0, beside: Number = 0, named: bool = False) -> Response:
    """All steps, and the version `at` by itself, or with what is another in the version `beside` it, the present one at
    first.
    """
    here = house(request)
    opened, steps = here.designs.open(identity), here.versions.steps(identity)
    rows, more = step_rows(steps, named)
    chosen = next((step for step in steps if step.number == at), None)
    other = next((step for step in steps if step.number == beside), None)
    both = (chosen, other or next(step for step in steps if step.way == "now")) if chosen else None
    found = None
    if both and both[0].number != both[1].number:
        designs = [here.versions.design_at(identity, step.number) for step in both]
        found = here.aside.ask("compared", identity, compared, designs[0], designs[1])
    template = "fragments/history.html" if "hx-request" in request.headers else "history.html"
    return render(
        request, template, opened=opened, rows=rows, more=more, at=chosen, beside=both[1] if both else None,
        named=named, found=found, figures=figure_rows(found.figures, unit(request)) if found else [],
        changed=[(one, change_words(one, unit(request))) for one in found.changes] if found else [],
    )  # fmt: skip


@router.get("/at/{number}.svg")
def picture_at(request: Request, identity: str, number: Number) -> Response:
    """The picture of a design at a revision, which never becomes another."""
    here = house(request)
    here.designs.open(identity)
    drawn = picture(here.workshop, here.versions.design_at(identity, number))
    return Response(drawn, media_type="image/svg+xml", headers=FOREVER)


@router.post("/history/go")
def go(request: Request, identity: str, number: PostedNumber) -> Response:
    """Show a version again, on the bench."""
    house(request).versions.go_to(identity, number)
    return to(request, f"/designs/{identity}")


@router.post("/history/name")
def name(request: Request, identity: str, number: PostedNumber, name: str = Form("")) -> Response:
    """Call a version by a name."""
    house(request).versions.name(identity, number, name)
    return history(request, identity, at=number)


@router.post("/history/part")
def bring_back(request: Request, identity: str, number: PostedNumber, part: str = Form()) -> Response:
    """Put a part of a version into the present one, and look at it on the bench."""
    house(request).versions.bring_back(identity, number, part)
    return to(request, f"/designs/{identity}?step={part}")


@router.get("/last")
def last(request: Request, identity: str) -> dict[str, Any]:
    """What was done to a design last, for windows that show an earlier state."""
    return asdict(house(request).designs.last_edit(identity))
