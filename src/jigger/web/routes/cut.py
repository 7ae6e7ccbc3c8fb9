"""The last station: the files, and the way to the machine."""

from datetime import datetime
from urllib.parse import quote, urlencode

from fastapi import APIRouter, Form, Request, Response

from jigger.core.design.model.design import Design
from jigger.core.formats.table import FORMATS
from jigger.services.blade import blade_view
from jigger.services.reporting import reported
from jigger.services.workshop import Workshop
from jigger.web.drawing import drawing_view
from jigger.web.readout import readout_view
from jigger.web.render import house, render, to, unit
from jigger.web.report import report_view

router = APIRouter(prefix="/designs/{identity}")


@router.get("/cut")
def cut(request: Request, identity: str, layer: str = "", cropped: bool = False) -> Response:
    """The lines of all layers, or of one, which is `cropped` or keeps the page of all."""
    opened = house(request).designs.open(identity)
    whole = house(request).workshop.exact(opened.design)
    built = whole.only(layer, cropped)
    report = house(request).aside.ask("report", identity, Workshop.report, opened.design)
    readout = readout_view(report, unit(request))
    return render(
        request,
        "cut.html",
        opened=opened,
        design=opened.design,
        report=report,
        readout=readout,
        built=built,
        layers=[(one, _title(opened.design, one.id)) for one in whole.layers],
        only=layer,
        cropped=cropped,
        chosen=urlencode({name: value for name, value in (("layer", layer), ("cropped", cropped and "1")) if value}),
        formats=FORMATS,
        hidden_face=any(one.material.hidden_face for one in built.layers),
        colours={one.id: one.colour for one in opened.design.layers},
        bridge=None,
        drawing=drawing_view(opened.design, built, None),
        blade=blade_view(built, nodes=True),
        machine=house(request).queue.machine_state(),
    )


@router.post("/send")
def send(request: Request, identity: str, layer: str = Form(""), mirrored: bool = Form(False)) -> Response:
    house(request).queue.line_up(identity, layer, mirrored)
    return to(request, "/queue")


@router.get("/export.{kind}")
def export(request: Request, identity: str, kind: str, layer: str = "", cropped: bool = False) -> Response:
    """The design's file in a format, of one layer or of all; an option of it is any value given under its name."""
    design = house(request).designs.open(identity).design
    if kind not in FORMATS:
        return render(request, "refused.html", 404, message=f"Jigger writes no .{kind} files.")
    chosen = [option for option in FORMATS[kind].options if option.id in request.query_params]
    text = house(request).workshop.written(
        design, kind, *(option.id for option in chosen), layer=layer, cropped=cropped
    )
    words = [design.name, *_named(design, layer), *(option.id for option in chosen if option.when != "always")]
    stem = ", ".join(words).replace("/", "-").rstrip(" .")  # words may end in a point, file names had better not
    name = quote(f"{stem or 'design'}.{kind}")
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}"}
    return Response(text, media_type=FORMATS[kind].media, headers=headers)


@router.get("/report")
def report(request: Request, identity: str) -> Response:
    """All checks, figures and accepted findings on one page."""
    design = house(request).designs.open(identity).design
    page = house(request).aside.ask("report", identity, reported, design)
    return render(request, "report.html", view=report_view(page, unit(request), datetime.now()))


def _named(design: Design, layer: str) -> list[str]:
    """A layer's own words and its material, once where they are the same."""
    one = next((one for one in design.layers if one.id == layer), None)
    if one is None:
        return []
    return list(dict.fromkeys([design.layer_title(one), design.material(one.material).name]))


def _title(design: Design, layer: str) -> str:
    return next((design.layer_title(one) for one in design.layers if one.id == layer), "layer")
