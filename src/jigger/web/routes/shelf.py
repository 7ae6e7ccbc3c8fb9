"""The shelf: all designs, new ones from starters or files."""

from collections.abc import Mapping, Sequence
from itertools import groupby
from pathlib import PurePath
from typing import Any

from fastapi import APIRouter, Form, Request, Response

from jigger.core.design.model.design import Design
from jigger.core.design.starters import STARTERS, Starter, starter
from jigger.core.design.starters.base import saying
from jigger.core.formats.thumbnail import write_thumbnail
from jigger.services.keeping.bundle import is_bundle, unbundled
from jigger.services.supplies.art import design_of, read_art
from jigger.services.workshop import Workshop
from jigger.web.choices import unit
from jigger.web.drawing import fitted_pixel
from jigger.web.forms import read_colours
from jigger.web.render import Posted, PostedFile, PostedName, house, render, to

router = APIRouter()
MOST_WORDS = 60  # letters that starters are shown with


@router.get("/")
def shelf(request: Request) -> Response:
    return _shelf(request, "shelf.html", request.query_params, groups=_groups())


@router.get("/shelf")
def found(request: Request) -> Response:
    """The designs that are asked for."""
    return _shelf(request, "fragments/shelf_designs.html", request.query_params)


@router.post("/shelf")
def act(request: Request, form: Posted) -> Response:
    """Something done to the ticked designs."""
    ticked = [name[5:] for name in form if name.startswith("tick-")]
    done = house(request).shelf.act(ticked, form.get("act", ""), form.get("with_tag", ""))
    away = form.get("act") == "put away"
    return _shelf(request, "fragments/shelf_designs.html", form, done[0] if away else "", () if away else done)


def _shelf(
    request: Request, template: str, asked: Mapping[str, str], just_away: str = "", ticked: Sequence[str] = (),
    **values: Any,
) -> Response:  # fmt: skip
    """The designs on the shelf that are `asked` for, and those in the drawer at its foot; `just_away` was put there a
    moment ago.
    """
    query, order, tag = (asked.get(name, "") for name in ("query", "order", "tag"))
    shelf = house(request).shelf.shown(query, order or "changed", tag)
    return render(
        request, template, shelf=shelf, designs=shelf.designs, away=shelf.away, just_away=just_away, ticked=ticked,
        query=query, order=order or "changed", tag=tag, **values,
    )  # fmt: skip


def _groups() -> list[tuple[str, list[Starter]]]:
    """Starters by the work they are for."""
    return [(name, list(group)) for name, group in groupby(STARTERS.values(), lambda starter: starter.group)]


@router.get("/starters/{starter_id}.svg")
def starter_picture(request: Request, starter_id: str, words: str = "") -> Response:
    """What a starter builds with the settings it comes with, or saying a person's words."""
    chosen = starter(starter_id)
    design = chosen.make(saying(chosen, words[:MOST_WORDS]))
    drawn = picture(house(request).workshop, design)
    return Response(drawn, media_type="image/svg+xml", headers={"Cache-Control": "private, max-age=3600"})


@router.get("/starters/{starter_id}")
def starter_form(request: Request, starter_id: str, words: str = "") -> Response:
    return render(
        request,
        "starter.html",
        starter=starter(starter_id),
        said=saying(starter(starter_id), words[:MOST_WORDS]),
        words=words[:MOST_WORDS],
        fonts=house(request).letter_case.listed(),
        materials=house(request).shop.listed(),
    )


@router.post("/starters/{starter_id}")
def start(request: Request, starter_id: str, values: Posted) -> Response:
    designs, opens = house(request).designs, starter(starter_id).opens
    identity = designs.create(starter_id, values, unit(request))
    first = f"?step={designs.open(identity).design.layers[0].id}&verb={opens}" if opens else ""
    return to(request, f"/designs/{identity}{first}")


@router.post("/designs")
def start_plain(request: Request, name: str = Form("")) -> Response:
    return _to_bench(request, house(request).designs.create_plain(name))


@router.post("/designs/file")
def read_in(request: Request, file: PostedFile, name: PostedName, form: Posted) -> Response:
    """A design, or a design of the art in a file."""
    here = house(request)
    if is_bundle(file):
        return _to_bench(request, unbundled(here, file))
    if PurePath(name).suffix.lower() in ("", ".json"):
        return _to_bench(request, here.designs.read_in(file))
    found = read_art(file, name, form.get("unit", ""), colours=read_colours(form))
    return _to_bench(request, here.designs.add(design_of(found, name), f"brought in from {name}"[:200]))


@router.post("/designs/{identity}/put-away")
def put_away(request: Request, identity: str) -> Response:
    house(request).designs.put_away(identity)
    return _shelf(request, "fragments/shelf_designs.html", request.query_params, identity)


@router.post("/designs/{identity}/bring-back")
def bring_back(request: Request, identity: str) -> Response:
    house(request).designs.bring_back(identity)
    return _shelf(request, "fragments/shelf_designs.html", request.query_params)


@router.get("/designs/{identity}/thumbnail.svg")
def thumbnail(request: Request, identity: str) -> Response:
    """The design's own picture; its address names the state, so it may be kept for good."""
    design = house(request).designs.open(identity).design
    drawn = picture(house(request).workshop, design)
    return Response(
        drawn, media_type="image/svg+xml", headers={"Cache-Control": "private, max-age=31536000, immutable"}
    )


def picture(workshop: Workshop, design: Design) -> str:
    """A small picture of a design, as SVG."""
    colours = {layer.id: layer.colour for layer in design.layers if layer.colour}
    ground = design.surface.colour if design.surface else "#e4dcc9"
    return write_thumbnail(workshop.display(design, fitted_pixel(workshop, design)), colours, ground, workshop.pictures)


def _to_bench(request: Request, identity: str) -> Response:
    return to(request, f"/designs/{identity}")
