"""The screens: which routes each has, and which are places one goes to from everywhere."""

from dataclasses import dataclass

from fastapi import APIRouter

from jigger.core.table import Table
from jigger.web.routes import (
    api,
    bench,
    cut,
    history,
    letters,
    materials,
    ornaments,
    pictures,
    proofs,
    queue,
    settings,
    sheets,
    shelf,
    tray,
)


@dataclass(frozen=True)
class Screen:
    """`place`: its address and name among the places; None where it belongs to a design or another screen."""

    id: str
    router: APIRouter
    place: tuple[str, str] | None = None


SCREENS: Table[Screen] = Table(
    "screen",
    Screen("shelf", shelf.router, ("/", "Shelf")),
    Screen("letter-case", letters.router, ("/letter-case", "Letter case")),
    Screen("sort-tray", tray.router),
    Screen("picture", pictures.router),
    Screen("ornaments", ornaments.router, ("/ornaments", "Ornaments")),
    Screen("materials", materials.router, ("/materials", "Materials")),
    Screen("bench", bench.router),
    Screen("history", history.router),
    Screen("cut", cut.router),
    Screen("sheet", sheets.router, ("/cut-lists", "Cut lists")),
    Screen("proof", proofs.router),
    Screen("queue", queue.router, ("/queue", "Queue")),
    Screen("api", api.router),
    Screen("settings", settings.router, ("/settings", "Settings")),
)
