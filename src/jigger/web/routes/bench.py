"""The bench: one design, edited."""

from collections.abc import Mapping

from fastapi import APIRouter, Request, Response

from jigger.core.checks.report import check
from jigger.core.lettering.lettercase import SHIPPED
from jigger.core.materials.presets import MATERIALS
from jigger.services import type_edits
from jigger.services.designs import Opened
from jigger.web.blade import blade_view
from jigger.web.drawing import drawing_view, fitted_pixel
from jigger.web.forms import read_bridge, read_command, read_pixel, read_point, read_seen
from jigger.web.readout import readout_view
from jigger.web.recipe import recipe_view
from jigger.web.render import Posted, house, render, unit

router = APIRouter(prefix="/designs/{identity}")


@router.get("")
def bench(request: Request, identity: str) -> Response:
    """The whole page, as sharp as the design is when it fills the drawing."""
    opened = house(request).designs.open(identity)
    pixel = fitted_pixel(house(request).workshop, opened.design)
    return _bench(request, opened, "bench.html", {**request.query_params, "pixel": str(pixel)})


@router.get("/recipe")
def recipe(request: Request, identity: str) -> Response:
    """The build sheet with another step chosen, and the drawing with its frame."""
    return _bench(request, house(request).designs.open(identity), "fragments/chosen.html", request.query_params)


@router.get("/readout")
def readout(request: Request, identity: str) -> Response:
    """The exact figures of the present state, and where the tool starts; with `nodes` the outlines node by node."""
    opened = house(request).designs.open(identity)
    built = house(request).workshop.exact(opened.design)
    view = readout_view(check(opened.design, built), built, unit(request))
    blade = blade_view(built, "nodes" in request.query_params)
    return render(request, "fragments/readout_answer.html", opened=opened, readout=view, blade=blade)


@router.post("/edit")
def edit(request: Request, identity: str, form: Posted) -> Response:
    designs, seen = house(request).designs, read_seen(form)
    do = form.get("do")
    if do == "move bridge":
        opened = designs.move_bridge(identity, *read_bridge(form), *read_point(form), seen)
    elif do == "remove part":
        opened = designs.remove_part(identity, form.get("part", ""), seen)
    elif do == "size by":
        opened = type_edits.size_by(designs, identity, form.get("line", ""), form.get("value", ""), seen)
    elif do == "space by":
        opened = type_edits.space_by(designs, identity, form.get("line", ""), form.get("value", ""), seen)
    elif do == "run by":
        opened = type_edits.run_by(designs, identity, form.get("part", ""), form.get("value", ""), seen)
    elif do == "move grip":
        opened = type_edits.move_grip(
            designs, identity, form.get("part", ""), form.get("grip", ""), *read_point(form), seen
        )
    elif do == "place on":
        opened = designs.place_on(identity, form.get("part", ""), form.get("value", "page"), seen)
    else:
        opened = designs.edit(identity, read_command(form, unit(request)), seen)
    if do == "add part":
        form["step"], form["verb"] = _newest(opened, form.get("layer", "")), ""
    return _edited(request, opened, form)


@router.post("/undo")
def undo(request: Request, identity: str, form: Posted) -> Response:
    return _edited(request, house(request).designs.undo(identity), form)


@router.post("/redo")
def redo(request: Request, identity: str, form: Posted) -> Response:
    return _edited(request, house(request).designs.redo(identity), form)


def _edited(request: Request, opened: Opened, form: Mapping[str, str]) -> Response:
    return _bench(request, opened, "fragments/edited.html", form)


def _bench(request: Request, opened: Opened, template: str, chosen: Mapping[str, str]) -> Response:
    design, step = opened.design, chosen.get("step", "")
    built = house(request).workshop.display(design, read_pixel(chosen))
    return render(
        request, template, opened=opened, design=design, recipe=recipe_view(design, built, unit(request), step,
        chosen.get("verb", "")), drawing=drawing_view(design, built, step), fonts=SHIPPED,
        material_choices=[(material.id, material.name) for material in MATERIALS.values()],
    )  # fmt: skip


def _newest(opened: Opened, layer: str) -> str:
    return next((x.parts[-1].id for x in opened.design.layers if x.id == layer and x.parts), "")
