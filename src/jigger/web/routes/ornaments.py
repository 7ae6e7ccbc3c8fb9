"""The ornaments: a shelf of drawn shapes, looked through by itself or for a layer of a design."""

from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.design.model.find import find_layer, homes
from jigger.core.design.ornaments.ornament import Ornament
from jigger.core.formats.paths import curve_path
from jigger.core.geometry.units import read_length
from jigger.services.designs import Opened
from jigger.services.supplies.ornaments import OWN
from jigger.web.choices import unit
from jigger.web.render import house, render, to

router = APIRouter()
USUAL = 60.0  # mm, the longer side


@router.get("/ornaments")
def ornaments(request: Request, search: str = "", size: str = "") -> Response:
    """To look round in, and to take one's own away."""
    return _page(request, search, size, None, "")


@router.get("/designs/{identity}/ornaments")
def ornaments_for(request: Request, identity: str, layer: str, search: str = "", size: str = "") -> Response:
    """For a layer of a design; a click puts one in."""
    opened = house(request).designs.open(identity)
    find_layer(opened.design, layer)
    return _page(request, search, size, opened, layer)


@router.post("/designs/{identity}/ornaments")
def put(
    request: Request, identity: str, layer: str = Form(), ornament: str = Form(), size: str = Form("")
) -> Response:  # fmt: skip
    """Put one into a layer and go back to the bench, with it chosen."""
    here = house(request)
    edit = here.ornaments.put(ornament, layer, read_length(size, unit(request)) if size.strip() else None)
    opened = here.designs.edit(identity, edit)
    part = next(home.parts[-1].id for home in homes(opened.design) if home.id == layer)
    return RedirectResponse(f"/designs/{identity}?{urlencode({'step': part, 'verb': 'place'})}", 303)


@router.post("/designs/{identity}/keep-ornament")
def keep(
    request: Request, identity: str, part: str = Form(), title: str = Form(""), tags: str = Form("")
) -> Response:  # fmt: skip
    """Keep a drawn part among one's own."""
    here = house(request)
    kept = here.ornaments.keep(here.designs.open(identity).design, part, title, tags)
    return to(request, f"/ornaments?{urlencode({'search': kept.title})}")


@router.post("/ornaments/{ornament}/remove")
def remove(request: Request, ornament: str) -> Response:
    house(request).ornaments.remove(ornament)
    return RedirectResponse("/ornaments", 303)


def _path(one: Ornament) -> str:
    return "".join(curve_path(run.curves, 0.0, 0.0, 2, run.closed) for run in one.runs)


def _page(request: Request, search: str, size: str, opened: Opened | None, layer: str) -> Response:
    here = house(request).ornaments
    shown = [(one, _path(one), one.box) for one in here.listed(search)]
    template = "fragments/ornament_shelf.html" if "hx-request" in request.headers else "ornaments.html"
    length = read_length(size, unit(request)) if size.strip() else USUAL
    return render(
        request, template, shown=shown, search=search, size=length, tags=here.tags(), opened=opened, layer=layer,
        own=OWN,
    )  # fmt: skip
