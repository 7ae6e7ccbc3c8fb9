"""Settings: how lengths and the room are shown, where all is kept, whether all is well, backups, what it is made of."""

import tempfile
from pathlib import Path

from fastapi import APIRouter, Form, Request, Response

from jigger import __version__
from jigger.services.backup import SUFFIX, back_up, backups_in
from jigger.services.clock import now
from jigger.services.doctor import examined
from jigger.services.licences import licences
from jigger.services.settings import Settings
from jigger.web.choices import FRACTIONS, chosen, fraction, who
from jigger.web.render import download, render

router = APIRouter()
VENDOR = Path(__file__).parents[1] / "static" / "vendor"


@router.get("/settings")
def settings(request: Request) -> Response:
    given: Settings = request.app.state.settings
    backups = [(one.name, one.stat().st_size / 1024**2) for one in backups_in(given.data)[:12]]
    return render(
        request, "settings.html", settings=given, folder=given.data.absolute(), looked=examined(given), backups=backups,
        release=__version__, fractions=FRACTIONS, fraction=fraction(request), who=who(request),
    )  # fmt: skip


@router.post("/unit")
def choose_unit(unit: str = Form("mm"), back: str = Form("/")) -> Response:
    """Show lengths in mm or inches from now on."""
    return chosen("unit", unit, back)


@router.post("/inch")
def choose_fraction(inch: str = Form(""), back: str = Form("/settings")) -> Response:
    """Show lengths in fractions of an inch as fine as this."""
    return chosen("inch", inch, back)


@router.post("/light")
def choose_light(light: str = Form("auto"), back: str = Form("/settings")) -> Response:
    """Have the room light, dark, or as the system has it, from now on."""
    return chosen("light", light, back)


@router.post("/who")
def choose_name(who: str = Form(""), back: str = Form("/settings")) -> Response:
    """Say who changes designs at this browser."""
    return chosen("who", who, back)


@router.get("/settings/backup")
def backup(request: Request) -> Response:
    """All that is kept, as one file to put away elsewhere."""
    given: Settings = request.app.state.settings
    with tempfile.TemporaryDirectory() as place:
        made = back_up(given.data, Path(place) / "backup")
        data = made.file.read_bytes()
    return download(data, f"jigger-{now()[:16].replace(':', '')}{SUFFIX}", "application/zip")


@router.get("/settings/licences")
def terms(request: Request) -> Response:
    """What Jigger is made of, and under which terms."""
    return render(request, "licences.html", rows=licences(VENDOR))
