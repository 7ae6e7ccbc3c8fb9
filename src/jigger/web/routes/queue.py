"""The queue and the plotter's front panel."""

from typing import Annotated

from fastapi import APIRouter, Form, Path, Request, Response

from jigger.services.cutting import LINED_UP, OFF, ON, STOPPED
from jigger.web.render import house, render

router = APIRouter(prefix="/queue")
Number = Annotated[int, Path(ge=0, lt=2**53)]


@router.get("")
def queue(request: Request) -> Response:
    return _render(request, "queue.html")


@router.get("/jobs")
def jobs(request: Request) -> Response:
    return _render(request, "fragments/jobs.html")


@router.post("/{job}/again")
def again(request: Request, job: Number) -> Response:
    house(request).queue.again(job)
    return _render(request, "fragments/jobs.html")


@router.post("/{job}/loaded")
def loaded(request: Request, job: Number) -> Response:
    house(request).queue.loaded(job)
    return _render(request, "fragments/jobs.html")


@router.post("/{job}/remove")
def remove(request: Request, job: Number) -> Response:
    house(request).queue.remove(job)
    return _render(request, "fragments/jobs.html")


@router.post("/{job}/stop")
def stop(request: Request, job: Number) -> Response:
    house(request).queue.stop(job)
    return _render(request, "fragments/jobs.html")


@router.post("/plotter")
def order(request: Request, do: str = Form("")) -> Response:
    house(request).queue.order(do)
    return _render(request, "fragments/jobs.html")


@router.get("/{job}/picture.svg")
def picture(request: Request, job: Number) -> Response:
    """What the plotter drew, from the plotter alone."""
    drawn = house(request).queue.picture(job)
    return (
        Response(drawn, media_type="image/svg+xml", headers={"Cache-Control": "no-store"})
        if drawn
        else Response(status_code=404)
    )


def _render(request: Request, template: str) -> Response:
    found = house(request).queue.jobs()
    groups = [
        ("On the machine", [job for job in found if job.state == ON]),
        ("Lined up", [job for job in reversed(found) if job.state == LINED_UP]),
        ("Stopped", [job for job in found if job.state == STOPPED]),
        ("Off the machine", [job for job in found if job.state == OFF]),
    ]
    busy = any(job.state in (ON, LINED_UP) for job in found)
    queue = house(request).queue
    held = queue.waits_for_material()
    return render(request, template, groups=groups, busy=busy, held=held, machine=queue.machine_state())
