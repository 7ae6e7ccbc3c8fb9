"""Templates to responses: a page, a fragment of it, or fragments out of band after an edit."""

import hashlib
from collections.abc import Sequence
from datetime import datetime
from functools import cache, lru_cache
from pathlib import Path
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import Depends, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse, PlainTextResponse, RedirectResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined, Template
from markupsafe import Markup
from starlette.datastructures import UploadFile

from jigger import __version__
from jigger.core.checks import spoiling
from jigger.core.design.drawn.figures import FIGURES
from jigger.core.design.finishes.base import Strip
from jigger.core.design.finishes.table import FINISHES
from jigger.core.geometry.units import said_in, show_area, show_length, show_long
from jigger.core.joinery.joins.table import JOINS
from jigger.core.timing import stage
from jigger.core.words import counting
from jigger.services.designs import Opened
from jigger.services.house import House
from jigger.services.lists.playing import in_time
from jigger.services.queue.sending import material_in
from jigger.services.supplies.art import SUFFIXES
from jigger.web.choices import light, unit
from jigger.web.keys import KEYS, ON
from jigger.web.readout import EXPLAINED, LABELS

HERE = Path(__file__).parent
_environment = Environment(
    loader=FileSystemLoader(HERE / "templates"),
    autoescape=True,
    undefined=StrictUndefined,
    auto_reload=False,
    trim_blocks=True,
    lstrip_blocks=True,
)


@cache
def _static(path: str) -> str:
    """The address of a static file, changed whenever the file is."""
    digest = hashlib.sha256((HERE / "static" / path).read_bytes()).hexdigest()[:10]
    return f"/static/{path}?v={digest}"


def _clock(moment: str) -> str:
    return datetime.fromisoformat(moment).astimezone().strftime("%H:%M")


def _day(moment: str) -> str:
    return datetime.fromisoformat(moment).astimezone().strftime("%-d %B, %H:%M")


@lru_cache(maxsize=256)
def _options(choices: tuple[tuple[str, str], ...], chosen: str) -> Markup:
    """The options of a long list of choices, which every answer repeats."""
    marked = ((key, words, Markup(" selected") if key == chosen else "") for key, words in choices)
    option = Markup('<option value="{}"{}>{}</option>')
    return Markup("").join(option.format(key, on, words) for key, words, on in marked)


def _long(mm: float, unit: str) -> str:
    return " ".join(show_long(mm, unit))


def _lengths(values: Sequence[float], unit: str) -> str:
    return " ".join(show_length(value, unit, 2) for value in values)


def _strips(strips: Sequence[Strip], by: str, unit: str) -> str:
    """Strips as they are typed: shares in percents, or lengths."""

    def show(value: float) -> str:
        return f"{100 * value:g}" if by == "share" else show_length(value, unit, 2)

    return "; ".join(f"{show(strip.low)} – {show(strip.high)}" for strip in strips)


_environment.filters["loaded"] = material_in
_environment.filters["begun"] = lambda words: words[:1].lower() + words[1:].rstrip(".")
_environment.filters["combined"] = lambda values, do: {**values, "do": do}
_environment.filters["without"] = lambda values, name: {key: value for key, value in values.items() if key != name}
_environment.globals["options"] = _options
_environment.globals["static"] = _static
_environment.globals["version"] = __version__
_environment.globals.update(keys=KEYS, keys_on=ON)
_environment.globals["joins"] = JOINS
_environment.globals["finishes"] = FINISHES
_environment.globals["named"] = lambda table: [(one.id, one.title) for one in table.values()]
_environment.globals["spoiling"] = spoiling.words
_environment.globals.update(gauge_labels=LABELS, gauges_explained=EXPLAINED)
_environment.globals["art_suffixes"] = SUFFIXES
_environment.globals["figures"] = list(FIGURES.values())
_environment.filters["in_time"] = in_time
_environment.filters.update(shown=show_length, said=said_in, lengths=_lengths, counting=counting, long=_long)
_environment.filters.update(areas=show_area)
_environment.filters.update(strips=_strips, clock=_clock, day=_day)


async def _posted(request: Request) -> dict[str, str]:
    return {name: str(value) for name, value in (await request.form()).items()}


Posted = Annotated[dict[str, str], Depends(_posted)]  # the fields of a posted form, as typed


async def _posted_file(request: Request) -> bytes:
    """What the file field of a form holds; nothing where there is none."""
    file = (await request.form()).get("file")
    return await file.read() if isinstance(file, UploadFile) else b""


async def _posted_name(request: Request) -> str:
    """What the file in the file field of a form is called."""
    file = (await request.form()).get("file")
    return (file.filename or "") if isinstance(file, UploadFile) else ""


PostedName = Annotated[str, Depends(_posted_name)]
PostedFile = Annotated[bytes, Depends(_posted_file)]


def house(request: Request) -> House:
    found: House = request.app.state.house
    return found


def template(name: str) -> Template:
    return _environment.get_template(name)


def render(request: Request, name: str, status: int = 200, **values: Any) -> HTMLResponse:
    """A page or fragment; every template knows the unit."""
    with stage("page"):
        text = template(name).render(
            unit=unit(request), light=light(request), path=request.url.path, places=request.app.state.places, **values
        )
    return HTMLResponse(text, status)


def to(request: Request, address: str) -> Response:
    """On to another page, asked by htmx or by a plain form."""
    if "hx-request" in request.headers:
        return Response(headers={"HX-Redirect": address})
    return RedirectResponse(address, 303)


def download(data: bytes, name: str, media: str) -> Response:
    """A file to keep, under a name of any letters."""
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(data, media_type=media, headers=headers)


API = "/api"  # programs ask there, and hear of what goes wrong as JSON too


def _programs(request: Request) -> bool:
    return request.url.path.startswith(f"{API}/")


def render_refusal(request: Request, message: str, late: Opened | None, status: int = 422) -> Response:
    """What was refused and why: a notice beside the form, which keeps its text; a page without htmx."""
    if _programs(request):
        return JSONResponse({"refused": message, **({"seq": late.seq} if late else {})}, status)
    if "hx-request" in request.headers:
        return render(request, "fragments/refused.html", status, message=message, opened=late)
    return render(request, "refused.html", status, message=message)


def render_failure(request: Request, message: str, status: int) -> Response:
    """What failed, in words alone for a page that asked by htmx, which shows them; a page of the house otherwise."""
    if _programs(request):
        return JSONResponse({"refused": message}, status)
    if "hx-request" in request.headers:
        return PlainTextResponse(message, status)
    return render(request, "refused.html", status, message=message)


def render_bare(request: Request, message: str) -> Response:
    """What is said to someone who has nothing but a link, which shows nothing: no way leads on from there."""
    return render(request, "proof_gone.html", 404, message=message)


def render_missing(request: Request, what: str = "design on the shelf") -> Response:
    message = f"There is no such {what}."
    if _programs(request):
        return JSONResponse({"refused": message}, 404)
    return render(request, "refused.html", 404, message=message)
