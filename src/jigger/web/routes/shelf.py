"""The shelf: all designs, new ones from starters or files."""

from itertools import groupby
from pathlib import PurePath
from typing import Any

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.design.model.design import Design
from jigger.core.design.starters import STARTERS, Starter, starter
from jigger.core.formats.thumbnail import write_thumbnail
from jigger.services.art import design_of, read_art
from jigger.services.workshop import Workshop
from jigger.web.drawing import fitted_pixel
from jigger.web.forms import read_colours
from jigger.web.render import Posted, PostedFile, PostedName, house, render, to, unit

router = APIRouter()


@router.get("/")
def shelf(request: Request) -> Response:
    return _shelf(request, "shelf.html", groups=_groups())


def _shelf(request: Request, template: str, just_away: str = "", **values: Any) -> Response:
    """The designs on the shelf and in the drawer at its foot; `just_away` was put there a moment ago."""
    designs = house(request).designs
    return render(
        request, template, designs=designs.listed(), away=designs.put_away_ones(), just_away=just_away, **values
    )


def _groups() -> list[tuple[str, list[Starter]]]:
    """Starters by the work they are for."""
    return [(name, list(group)) for name, group in groupby(STARTERS.values(), lambda starter: starter.group)]


@router.get("/starters/{starter_id}.svg")
def starterpicture(request: Request, starter_id: str) -> Response:
    """What a starter builds with the settings it comes with."""
    design = starter(starter_id).make({})
    drawn = picture(house(request).workshop, design)
    return Response(drawn, media_type="image/svg+xml", headers={"Cache-Control": "private, max-age=3600"})


@router.get("/starters/{starter_id}")
def starter_form(request: Request, starter_id: str) -> Response:
    return render(
        request,
        "starter.html",
        starter=starter(starter_id),
        fonts=house(request).letter_case.listed(),
        materials=house(request).shop.listed(),
    )


@router.post("/starters/{starter_id}")
def start(request: Request, starter_id: str, values: Posted) -> Response:
    return _to_bench(request, house(request).designs.create(starter_id, values, unit(request)))


@router.post("/designs")
def start_plain(request: Request, name: str = Form("")) -> Response:
    return _to_bench(request, house(request).designs.create_plain(name))


@router.post("/designs/file")
def read_in(request: Request, file: PostedFile, name: PostedName, form: Posted) -> Response:
    """A design, or a design of the art in a file."""
    here = house(request)
    if PurePath(name).suffix.lower() in ("", ".json"):
        return _to_bench(request, here.designs.read_in(file))
    found = read_art(file, name, form.get("unit", ""), colours=read_colours(form))
    return _to_bench(request, here.designs.add(design_of(found, name), f"brought in from {name}"[:200]))


@router.post("/designs/{identity}/put-away")
def put_away(request: Request, identity: str) -> Response:
    house(request).designs.put_away(identity)
    return _shelf(request, "fragments/shelf_designs.html", identity)


@router.post("/designs/{identity}/bring-back")
def bring_back(request: Request, identity: str) -> Response:
    house(request).designs.bring_back(identity)
    return _shelf(request, "fragments/shelf_designs.html")


@router.get("/designs/{identity}/thumbnail.svg")
def thumbnail(request: Request, identity: str) -> Response:
    """The design's own picture; its address names the state, so it may be kept for good."""
    design = house(request).designs.open(identity).design
    drawn = picture(house(request).workshop, design)
    return Response(
        drawn, media_type="image/svg+xml", headers={"Cache-Control": "private, max-age=31536000, immutable"}
    )


@router.post("/unit")
def choose_unit(request: Request, unit: str = Form("mm"), back: str = Form("/")) -> Response:
    """Show lengths in mm or inches from now on."""
    answer = RedirectResponse(back if back.startswith("/") and not back.startswith("//") else "/", 303)
    answer.set_cookie("unit", "in" if unit == "in" else "mm", max_age=31536000, samesite="strict")
    return answer


def picture(workshop: Workshop, design: Design) -> str:
    """A small picture of a design, as SVG."""
    colours = {layer.id: layer.colour for layer in design.layers if layer.colour}
    ground = design.surface.colour if design.surface else "#e4dcc9"
    return write_thumbnail(workshop.display(design, fitted_pixel(workshop, design)), colours, ground)


def _to_bench(request: Request, identity: str) -> Response:
    return to(request, f"/designs/{identity}")
