"""The application factory: routes, errors mapped once, and the doors kept shut."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import FastAPI, Request, Response
from fastapi.middleware.trustedhost import TrustedHostMiddleware
from fastapi.responses import PlainTextResponse
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jigger.core.errors import JiggerError
from jigger.services.aside import Superseded
from jigger.services.case import LARGEST_FONT
from jigger.services.designs import LateEdit
from jigger.services.house import collect_rarely, open_house, warm
from jigger.services.settings import Settings
from jigger.store.history import NoSuchDesign
from jigger.web.render import render_missing, render_refusal
from jigger.web.routes import bench, cut, letters, materials, queue, shelf, tray

STATIC = Path(__file__).parent / "static"
POLICY = "default-src 'self'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
LARGEST_BODY = 4 * 1024 * 1024
LARGEST_FILE = LARGEST_FONT + 64 * 1024


def create_app(settings: Settings) -> FastAPI:
    """Jigger on a data folder; its queue sends while the application runs."""
    house = open_house(settings)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        collect_rarely()
        house.queue.start()
        house.aside.start()
        threading.Thread(target=warm, args=(house,), name="warm", daemon=True).start()
        yield
        house.aside.close()
        house.queue.close()

    app = FastAPI(title="Jigger", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.house = house
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for routes in (shelf, letters, tray, materials, bench, cut, queue):
        app.include_router(routes.router)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", settings.host, "testserver"])
    app.add_middleware(_Guard)
    app.exception_handler(JiggerError)(_refused)
    app.exception_handler(NoSuchDesign)(_missing)
    app.exception_handler(Superseded)(_nothing_new)
    return app


class _Guard:
    """Posts only from our own pages and not too large; nothing loaded from elsewhere."""

    def __init__(self, app: ASGIApp):
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        refusal = _turned_away(Request(scope)) if scope["method"] == "POST" else None

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = POLICY
                headers["X-Content-Type-Options"] = "nosniff"
            await send(message)

        await (refusal or self._app)(scope, receive, guarded)


def _turned_away(request: Request) -> Response | None:
    origin = request.headers.get("origin")
    if origin and urlsplit(origin).netloc != request.headers.get("host"):
        return PlainTextResponse("This came from another site and was not taken.", 403)
    length = request.headers.get("content-length", "")
    most = LARGEST_FILE if request.url.path == "/letter-case/fonts" else LARGEST_BODY
    if not length.isdecimal() or int(length) > most:
        return PlainTextResponse("This is larger than Jigger takes (4 MB).", 413)
    return None


def _refused(request: Request, error: Exception) -> Response:
    late = error.opened if isinstance(error, LateEdit) else None
    return render_refusal(request, str(error), late)


def _nothing_new(_: Request, __: Exception) -> Response:
    """Nobody waits for this answer; the page shows a newer state."""
    return Response(status_code=204)


def _missing(request: Request, _: Exception) -> Response:
    return render_missing(request)
