"""Settings: how lengths and the room are shown, where all is kept, whether all is well, backups, what it is made of."""

import tempfile
from pathlib import Path

from fastapi import APIRouter, Request, Response

from jigger import __version__
from jigger.services.clock import now
from jigger.services.keeping.backup import SUFFIX, back_up, backups_in
from jigger.services.keeping.doctor import examined
from jigger.services.keeping.licences import licences
from jigger.services.settings import Settings
from jigger.web.choices import FRACTIONS, chosen, fraction, who
from jigger.web.render import Posted, download, render

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


@router.post("/choices/{name}")
def choose(name: str, form: Posted) -> Response:
    """Keep a choice of this browser, and go back to where it was made."""
    return chosen(name, form.get(name, ""), form.get("back", "/settings"))


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
