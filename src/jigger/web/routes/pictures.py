"""Pictures brought in: shown, traced with settings on a live preview, laid under a drawing."""

import json
import secrets
from collections.abc import Mapping

from fastapi import APIRouter, Request, Response
from fastapi.responses import PlainTextResponse, RedirectResponse

from jigger.core.art.found import FoundArt
from jigger.core.design.edits.art import ArtPart
from jigger.core.errors import CommandRefused
from jigger.core.formats.paths import curve_path
from jigger.core.geometry.curves.rows import from_rows
from jigger.core.geometry.units import read_length
from jigger.core.materials.printing import FINE
from jigger.services.supplies.art import WORKING, bring_in, print_picture
from jigger.services.supplies.pictures import KeptPicture
from jigger.web.choices import unit
from jigger.web.forms import read_colours, typed_number
from jigger.web.render import Posted, PostedFile, PostedName, house, render, to

router = APIRouter()
MOST = {"despeckle": 10_000.0, "smooth": 10.0, "corner": 170.0, "tolerance": 5.0}
WHOLE, CUT_OUT = "picture", "cut out"  # what of a picture is printed
LEAST = {"despeckle": 0.0, "smooth": 0.0, "corner": 5.0, "tolerance": 0.05}


@router.get("/pictures/working/{token}")
def working(token: str) -> Response:
    """How much is done of what is traced for a page, 0 to 1; nothing where nothing is."""
    share = WORKING.share(token)
    return Response(status_code=204) if share is None else PlainTextResponse(f"{share:.3f}")


@router.post("/pictures/working/{token}/stop")
def stop(token: str) -> Response:
    """Put an end to it."""
    WORKING.end(token)
    return Response(status_code=204)


@router.get("/pictures/{picture}")
def shown(request: Request, picture: str) -> Response:
    """Its bytes, as they came."""
    kept = house(request).pictures.one(picture)
    return Response(kept.data, media_type=kept.media, headers={"Cache-Control": "max-age=31536000, immutable"})


@router.post("/designs/{identity}/pictures")
def keep(request: Request, identity: str, file: PostedFile, name: PostedName) -> Response:
    """Keep a picture for a design, and go on to look at it."""
    house(request).designs.open(identity)
    kept = house(request).pictures.keep(file, name)
    return to(request, f"/designs/{identity}/pictures/{kept.id}")


@router.get("/designs/{identity}/pictures/{picture}")
def picture_page(request: Request, identity: str, picture: str) -> Response:
    """The picture to be traced; asked by htmx, what tracing makes of it as the settings say: outlines and figures."""
    opened, kept = house(request).designs.open(identity), house(request).pictures.one(picture)
    asked = request.query_params
    how, wide, found, printed, refused, asks = {}, None, None, None, "", "hx-request" in request.headers
    token = asked.get("token", "")[:64]
    try:
        how, wide = _tracing(asked), _wide(asked, unit(request))
        if asks and _itself(asked):
            printed = house(request).pictures.printed(picture, how, wide, asked["take"] == CUT_OUT, token)
        elif asks:
            found = house(request).pictures.traced(picture, read_colours(asked), how, wide, token)
    except CommandRefused as error:
        if asks:
            raise
        refused = str(error)
    template = "fragments/traced.html" if asks else "picture.html"
    return render(
        request, template, opened=opened, kept=kept, how=how, found=found, refused=refused,
        paths=_paths(found, kept, wide) if found else [], token=secrets.token_hex(8), colours=read_colours(asked),
        wide=wide or kept.size.wide * kept.size.per_pixel, printed=_printed(printed, kept) if printed else None,
        fine=FINE, take=asked.get("take", ""),
    )  # fmt: skip


@router.post("/designs/{identity}/pictures/{picture}")
def take(request: Request, identity: str, picture: str, form: Posted) -> Response:
    """Bring what was traced into the design, or lay the picture underneath, and go back to the bench."""
    here = house(request)
    wide = _wide(form, unit(request))
    if form.get("as") == "underlay":
        here.designs.edit(identity, here.pictures.laid_under(picture, wide))
    elif _itself(form):
        part = here.pictures.printed(picture, _tracing(form), wide, form["take"] == CUT_OUT)
        here.designs.edit(identity, print_picture(part, here.pictures.one(picture).name))
    else:
        found = here.pictures.traced(picture, read_colours(form), _tracing(form), wide)
        edit = bring_in(found, here.pictures.one(picture).name, printed=form.get("as") == "print")
        here.designs.edit(identity, edit)
    return RedirectResponse(f"/designs/{identity}", 303)


def _itself(asked: Mapping[str, str]) -> bool:
    """Whether the picture itself is to be printed, and not what is traced of it."""
    return asked.get("take") in (WHOLE, CUT_OUT)


def _tracing(asked: Mapping[str, str]) -> dict[str, float]:
    """How to trace where it is typed; elsewhere as suits the picture. Raises CommandRefused."""
    values: dict[str, float] = {}
    for name in MOST:
        text = asked.get(name, "").strip()
        if not text:
            continue
        values[name] = typed_number(text, name)
        if not LEAST[name] <= values[name] <= MOST[name]:
            raise CommandRefused(name.capitalize(), f"from {LEAST[name]:g} to {MOST[name]:g}; {values[name]:g} is not")
    return values


def _wide(asked: Mapping[str, str], here: str) -> float | None:
    text = asked.get("wide", "").strip()
    if not text:
        return None
    length = read_length(text, here)
    if not 1 <= length <= 20_000:
        raise CommandRefused("Wide", "from 1 to 20,000 mm")
    return length


def _printed(part: ArtPart, kept: KeptPicture) -> tuple[str, float]:
    """What is seen of a printed picture, mm from its upper left corner, y down; and its pixels an inch."""
    assert part.picture is not None
    rings = (from_rows(rows).moved(-part.picture.x, -part.picture.y) for rows in json.loads(part.outline))
    top = kept.size.high * part.picture.d
    return "".join(curve_path(ring, 0.0, top, 3) for ring in rings if len(ring)), 25.4 / part.picture.a


def _paths(found: FoundArt, kept: KeptPicture, wide: float | None) -> list[tuple[str, str]]:
    """Colour and outlines of each part, in mm from the upper left corner, y down."""
    per_pixel = wide / kept.size.wide if wide else kept.size.per_pixel
    x, y = found.middle
    paths = []
    for part in found.parts:
        rings = (from_rows(rows).moved(x, y) for rows in json.loads(part.outline))
        top = kept.size.high * per_pixel
        path = "".join(curve_path(ring, 0.0, top, 3) for ring in rings if len(ring))
        paths.append((part.colour, path))
    return paths
