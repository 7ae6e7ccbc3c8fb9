"""The queue, and the machines that it sends to."""

from typing import Annotated

from fastapi import APIRouter, Form, Path, Query, Request, Response

from jigger.core.errors import UnknownChoice
from jigger.core.geometry.units import read_length
from jigger.web.choices import unit
from jigger.web.queue import machine_views, queue_view
from jigger.web.render import house, render

router = APIRouter()
Number = Annotated[int, Path(ge=0, lt=2**53)]
Word = Annotated[str, Query(max_length=40)]
Length = Annotated[str, Form(max_length=40)]
PIECE = "piece:"


@router.get("/queue")
def queue(request: Request, machine: Word = "", day: Word = "") -> Response:
    return _render(request, "queue.html", machine, day)


@router.get("/queue/jobs")
def jobs(request: Request, machine: Word = "", day: Word = "") -> Response:
    return _render(request, "fragments/jobs.html", machine, day)


@router.post("/queue/{job}/again")
def again(request: Request, job: Number) -> Response:
    house(request).queue.again(job)
    return _render(request, "fragments/jobs.html")


@router.post("/queue/{job}/go-on")
def go_on(request: Request, job: Number) -> Response:
    """What the machine has not done of a stopped job."""
    house(request).queue.go_on(job)
    return _render(request, "fragments/jobs.html")


@router.post("/queue/{job}/loaded")
def loaded(request: Request, job: Number) -> Response:
    house(request).queue.loaded(job)
    return _render(request, "fragments/jobs.html")


@router.post("/queue/{job}/move")
def move(request: Request, job: Number, earlier: bool = Form(False)) -> Response:
    house(request).queue.move(job, earlier)
    return _render(request, "fragments/jobs.html")


@router.post("/queue/{job}/remove")
def remove(request: Request, job: Number) -> Response:
    house(request).queue.remove(job)
    return _render(request, "fragments/jobs.html")


@router.post("/queue/{job}/stop")
def stop(request: Request, job: Number) -> Response:
    house(request).queue.stop(job)
    return _render(request, "fragments/jobs.html")


@router.post("/machines/{machine}")
def order(
    request: Request, machine: str, do: str = Form(""), material: str = Form("", max_length=120),
    tool: str = Form("", max_length=20), page: bool = Form(False), x: Length = "", y: Length = "",
) -> Response:  # fmt: skip
    """A front-panel order; `load` says what lies in it, a material or `piece:` and one of the stock, and which tool it
    holds, `set origin` where work begins.
    """
    more = {"material": material, "tool": tool} if do == "load" and (material or tool) else {}
    if do == "set origin":
        more = {axis: f"{read_length(typed, unit(request)):.4f}" for axis, typed in (("x", x), ("y", y))}
    if do == "load" and material.startswith(PIECE):
        house(request).queue.load(machine, material.removeprefix(PIECE), tool)
    else:
        house(request).queue.order(do, machine, **more)
    return machine_page(request, machine, "fragments/machine.html") if page else _render(request, "fragments/jobs.html")


@router.get("/machines/{machine}")
def machine_page(request: Request, machine: str, template: str = "machine.html") -> Response:
    """A machine by itself: what it can, what lies in it, where it stands, and what it drew last."""
    here = house(request)
    if machine not in here.queue.stations:
        raise UnknownChoice("machine", machine, here.queue.stations)
    (view,) = machine_views(here, machine)
    return render(request, template, machine=view, materials=view.materials)


@router.get("/machines/{machine}/now")
def machine_now(request: Request, machine: str) -> Response:
    return machine_page(request, machine, "fragments/machine.html")


@router.get("/queue/{job}/picture.svg")
def picture(request: Request, job: Number) -> Response:
    """What the machine drew, from the machine alone."""
    drawn = house(request).queue.picture(job)
    return (
        Response(drawn, media_type="image/svg+xml", headers={"Cache-Control": "no-store"})
        if drawn
        else Response(status_code=404)
    )


def _render(request: Request, template: str, machine: str = "", day: str = "") -> Response:
    here = house(request)
    view = queue_view(here, machine, day)
    return render(request, template, view=view, machines=machine_views(here))
