"""The last station: the files, and the way to the machine."""

from collections.abc import Callable
from functools import partial
from urllib.parse import quote

from fastapi import APIRouter, Request, Response

from jigger.core.checks.report import check
from jigger.core.design.document import write_design
from jigger.core.design.model import Design
from jigger.web.blade import blade_view
from jigger.web.drawing import drawing_view
from jigger.web.readout import readout_view
from jigger.web.render import house, render, to, unit

router = APIRouter(prefix="/designs/{identity}")


@router.get("/cut")
def cut(request: Request, identity: str) -> Response:
    opened = house(request).designs.open(identity)
    built = house(request).workshop.exact(opened.design)
    report = check(opened.design, built)
    readout = readout_view(report, built, unit(request))
    return render(
        request,
        "cut.html",
        opened=opened,
        design=opened.design,
        report=report,
        readout=readout,
        built=built,
        drawing=drawing_view(opened.design, built, None),
        blade=blade_view(built, nodes=True),
        machine=house(request).queue.machine_state(),
    )


@router.post("/send")
def send(request: Request, identity: str) -> Response:
    house(request).queue.line_up(identity)
    return to(request, "/queue")


@router.get("/export.{kind}")
def export(request: Request, identity: str, kind: str) -> Response:
    """The design's file: svg, plt or its own json."""
    opened = house(request).designs.open(identity)
    workshop = house(request).workshop
    writers: dict[str, tuple[Callable[[Design], str], str]] = {
        "svg": (partial(workshop.svg, arcs="arcs" in request.query_params), "image/svg+xml"),
        "plt": (workshop.hpgl, "application/vnd.hp-hpgl"),
        "json": (write_design, "application/json"),
    }
    if kind not in writers:
        return render(request, "refused.html", 404, message=f"Jigger writes no .{kind} files.")
    write, media = writers[kind]
    name = quote(f"{opened.design.name}.{kind}".replace("/", "-"))
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}"}
    return Response(write(opened.design), media_type=media, headers=headers)
