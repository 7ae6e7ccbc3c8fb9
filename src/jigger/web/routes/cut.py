"""The last station: the files, and the way to the machine."""

from datetime import datetime
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response

from jigger.core.checks.findings import Report
from jigger.core.cut.picking import Picked
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format
from jigger.core.formats.table import FORMATS
from jigger.core.geometry.units import read_length
from jigger.core.machines.tooling import Tooling
from jigger.services.file_names import file_name
from jigger.services.keeping.bundle import SUFFIX, bundled
from jigger.services.lists.playing import PlayView, play_view
from jigger.services.showing.blade import blade_view
from jigger.services.showing.reporting import reported
from jigger.services.workshop import Workshop
from jigger.web.choices import unit
from jigger.web.drawing import drawing_view
from jigger.web.picking import as_values, pick_view, read_picked
from jigger.web.readout import readout_view
from jigger.web.render import download, house, render, to
from jigger.web.report import report_view
from jigger.web.sending import SendView, send_view

router = APIRouter(prefix="/designs/{identity}")


@router.get("/cut")
def cut(
    request: Request, identity: str, layer: str = "", cropped: bool = False, parts: str = "", pieces: str = ""
) -> Response:
    """The lines of all layers, or of one, which is `cropped` or keeps the page of all, or of some pieces of it."""
    picked = read_picked(parts, pieces)
    opened = house(request).designs.open(identity)
    whole = house(request).workshop.exact(opened.design)
    built = picked.built(whole.only(layer, cropped), opened.design, cropped)
    values = {name: value for name, value in (("layer", layer), ("cropped", cropped and "1")) if value}
    report = house(request).aside.ask("report", identity, Workshop.report, opened.design)
    readout, tooling = readout_view(report, unit(request)), house(request).shop.tooling()
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
        chosen=urlencode({**values, **as_values(picked)}),
        picked=as_values(picked),
        pick=pick_view(opened.design, whole, layer, picked, values),
        formats=[kind for kind in FORMATS.values() if suits(kind, built, tooling)],
        play=_played(request, opened.design, layer, picked),
        hidden_face=any(one.material.hidden_face for one in built.layers),
        colours={one.id: one.colour for one in opened.design.layers},
        bridge=None,
        drawing=drawing_view(opened.design, built, None),
        blade=blade_view(built, nodes=True, tooling=tooling),
        sending=_sending(request, identity, opened.design, built, layer, picked, report),
        lists=house(request).cut_lists.listed(),
    )


@router.post("/send")
def send(
    request: Request, identity: str, layer: str = Form(""), mirrored: bool = Form(False), pen: bool = Form(False),
    parts: str = Form(""), pieces: str = Form(""), machine: str = Form(""), copies: str = Form("1"),
    name: str = Form(""), advance: str = Form(""),
) -> Response:  # fmt: skip
    """What is shown onto the queue, to be cut, or drawn with a `pen` first."""
    far = read_length(advance, unit(request)) if advance.strip() else 0.0
    many = int(copies) if copies.strip().isdecimal() and len(copies) < 4 else 0
    picked = read_picked(parts, pieces)
    house(request).queue.line_up(identity, layer, mirrored, pen, picked, machine, many, name, far)
    return to(request, "/queue")


@router.get("/bundle")
def bundle(request: Request, identity: str) -> Response:
    """The design with its own fonts and the picture it lies over, to take to another house."""
    here = house(request)
    name = file_name([here.designs.open(identity).design.name], SUFFIX)
    return download(bundled(here, identity), name, "application/zip")


@router.get("/export.{kind}")
def export(
    request: Request, identity: str, kind: str, layer: str = "", cropped: bool = False, machine: str = "",
    parts: str = "", pieces: str = "",
) -> Response:  # fmt: skip
    """The design's file in a format, of one layer or of all; an option of it is any value given under its name."""
    design = house(request).designs.open(identity).design
    if kind not in FORMATS:
        return render(request, "refused.html", 404, message=f"Jigger writes no .{kind} files.")
    chosen = [option for option in FORMATS[kind].options if option.id in request.query_params]
    data = house(request).workshop.file(
        design, kind, *(option.id for option in chosen), layer=layer, cropped=cropped,
        tooling=house(request).shop.tooling(), machine=machine, picked=read_picked(parts, pieces),
    )  # fmt: skip
    words = [design.name, *_named(design, layer), *(option.id for option in chosen if option.when == "hidden face")]
    return download(data, file_name(words, FORMATS[kind].suffix), FORMATS[kind].media)


@router.get("/report")
def report(request: Request, identity: str) -> Response:
    """All checks, figures and accepted findings on one page."""
    design = house(request).designs.open(identity).design
    page = house(request).aside.ask("report", identity, reported, design)
    return render(request, "report.html", view=report_view(page, unit(request), datetime.now()))


def suits(kind: Format, built: Built, tooling: Tooling) -> bool:
    """Whether a file of a format is of use: lines for a plotter are, as a pattern, of anything."""
    if "print" in kind.holds:
        return bool(built.printed)
    if kind.language in (None, "hpgl"):
        return True
    return all(
        any(kind.language in one.languages for one in tooling.machines_for(layer.material)) for layer in built.layers
    )


def _played(request: Request, design: Design, layer: str, picked: Picked) -> PlayView | None:
    """The way of the tool round one layer on the machine that cuts it; None of several or nothing."""
    try:
        workshop, tooling = house(request).workshop, house(request).shop.tooling()
        page = workshop.page(design, layer, picked=picked)
        (one,) = page.layers
        return play_view(
            workshop.tool_path(design, layer, tooling=tooling, picked=picked), tooling.machine_for(one.material)
        )
    except (CommandRefused, ValueError):
        return None


def _sending(
    request: Request, identity: str, design: Design, built: Built, layer: str, picked: Picked, report: Report
) -> SendView | None:
    """To which machine a layer would go, and what is right of that and what is not."""
    if len(built.layers) != 1:
        return None
    here, (cut_,) = house(request), built.layers
    tooling, of = here.shop.tooling(), next(one for one in design.layers if one.id == cut_.id)
    try:
        path = here.workshop.tool_path(design, layer, cut_.material.hidden_face, tooling, picked=picked)
    except CommandRefused:
        return None
    colour = of.colour or cut_.material.colour
    found = here.proofs.approval(identity)
    approved = (found[0].name, found[1]) if found else None
    return send_view(here, tooling, cut_.material, colour, path, cut_.material.hidden_face, report, approved=approved)


def _named(design: Design, layer: str) -> list[str]:
    """A layer's own words and its material."""
    one = next((one for one in design.layers if one.id == layer), None)
    if one is None:
        return []
    return [design.layer_title(one), design.material(one.material).name]


def _title(design: Design, layer: str) -> str:
    return next((design.layer_title(one) for one in design.layers if one.id == layer), "layer")
