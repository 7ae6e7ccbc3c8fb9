"""The application factory: its routes behind their doors."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.middleware.trustedhost import TrustedHostMiddleware
from fastapi.staticfiles import StaticFiles

from jigger.services.beside.memory import collect_rarely, keep_level
from jigger.services.house import open_house, warm
from jigger.services.settings import Settings
from jigger.web import doors
from jigger.web.screens import SCREENS

STATIC = Path(__file__).parent / "static"


def create_app(settings: Settings) -> FastAPI:
    """Jigger on a data folder; its queue sends while the application runs."""
    house = open_house(settings)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        collect_rarely()
        keep_level()
        house.queue.start()
        house.aside.start()
        threading.Thread(target=warm, args=(house,), name="warm", daemon=True).start()
        yield
        house.nests.close()
        house.aside.close()
        house.queue.close()

    app = FastAPI(title="Jigger", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.house, app.state.settings = house, settings
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for screen in SCREENS.values():
        app.include_router(screen.router)
    app.state.places = [screen.place for screen in SCREENS.values() if screen.place]
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", settings.host])
    doors.shut(app)
    return app
