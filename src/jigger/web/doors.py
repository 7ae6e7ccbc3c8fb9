"""The doors of the application: what is let in, and how every refusal and failure is said, in one place.

Whatever goes wrong behind them comes out as words with a status of its own; nothing else answers.
"""

import logging
import time
from urllib.parse import urlsplit

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import PlainTextResponse
from pydantic import ValidationError
from sqlalchemy.exc import DatabaseError
from starlette.datastructures import MutableHeaders
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jigger.core.errors import CommandRefused, JiggerError, in_words
from jigger.core.geometry.units import said_in
from jigger.core.timing import listening
from jigger.services.beside.lane import Superseded
from jigger.services.designs import HAND, Hand, LateEdit, NoSuchDesign
from jigger.services.keeping.logs import answered
from jigger.services.lists.cut_lists import LateListEdit, NoSuchList
from jigger.services.showing.proofs import NoSuchProof
from jigger.services.supplies.case import LARGEST_FONT
from jigger.web.choices import unit, who
from jigger.web.render import render_bare, render_failure, render_missing, render_refusal

POLICY = "default-src 'self'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
MEGABYTE = 1024 * 1024
LONGEST_WINDOW = 40
LARGEST_BODY = 4 * MEGABYTE
LARGEST_FILE = LARGEST_FONT + 64 * 1024
FULL = "The disk is full or cannot be written; nothing of this was kept. Make room, then try again."
FAILED = "This could not be done: Jigger met something it does not know. What was kept before is still there."
_log = logging.getLogger("jigger")


def shut(app: FastAPI) -> None:
    """Put the doors on an application."""
    app.add_middleware(_Guard)
    app.exception_handler(JiggerError)(_refused)
    app.exception_handler(NoSuchDesign)(lambda request, _: render_missing(request))
    app.exception_handler(NoSuchList)(lambda request, _: render_missing(request, "cut list among those kept"))
    app.exception_handler(NoSuchProof)(lambda request, error: render_bare(request, str(error)))
    app.exception_handler(Superseded)(_nothing_new)
    app.exception_handler(ValidationError)(_misunderstood)
    app.exception_handler(RequestValidationError)(_misunderstood)
    app.exception_handler(HTTPException)(_unknown)
    app.exception_handler(DatabaseError)(_unkept)
    app.exception_handler(OSError)(_unkept)


class _Guard:
    """Posts only from our own pages and not too large; nothing loaded from elsewhere; failures in words."""

    def __init__(self, app: ASGIApp):
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun_at, status = time.perf_counter(), 500
        bare = scope["method"] == "HEAD"
        if bare:
            scope = {**scope, "method": "GET"}
        begun = False

        async def guarded(message: Message) -> None:
            nonlocal begun, status
            if message["type"] == "http.response.start":
                begun, status = True, message["status"]
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = POLICY
                headers["X-Content-Type-Options"] = "nosniff"
            elif bare and message["type"] == "http.response.body":
                message = {**message, "body": b""}
            await send(message)

        request = Request(scope)
        HAND.set(Hand(request.headers.get("x-window", "")[:LONGEST_WINDOW], who(request)))
        refusal = _turned_away(request) if scope["method"] == "POST" else None
        with listening() as stages:
            try:
                await (refusal or self._app)(scope, receive, guarded)
            except Exception:
                _log.exception("%s %s failed", scope["method"], scope["path"])
                if begun:
                    raise
                await render_failure(request, FAILED, 500)(scope, receive, guarded)
        route = getattr(scope.get("route"), "path", "none of ours")
        answered(scope["method"], route, status, time.perf_counter() - begun_at, stages)


def _turned_away(request: Request) -> Response | None:
    if not _from_here(request):
        return PlainTextResponse("This came from another site and was not taken.", 403)
    length = request.headers.get("content-length", "")
    path = request.url.path
    font = path == "/letter-case/fonts"
    art = path == "/designs/file" or (path.startswith("/designs/") and path.endswith(("/art", "/pictures")))
    most = LARGEST_FILE if font or art else LARGEST_BODY
    if not length.isdecimal() or len(length) > 12 or int(length) > most:
        what = "a font" if font else "a file of art" if art else "a design or an edit"
        return PlainTextResponse(f"This is larger than Jigger takes: {what} may have {most // MEGABYTE} MB.", 413)
    return None


def _from_here(request: Request) -> bool:
    """Whether a post comes from a page of ours, as far as the browser says."""
    if request.headers.get("sec-fetch-site") == "cross-site":
        return False
    said = request.headers.get("origin") or request.headers.get("referer")
    try:
        return not said or urlsplit(said).netloc == request.headers.get("host")
    except ValueError:
        return False


def _refused(request: Request, error: Exception) -> Response:
    late = error.opened if isinstance(error, LateEdit) else None
    words = str(error)
    if isinstance(error, CommandRefused):  # what it is of is a name, which stays as it is
        words = words.removesuffix(error.problem) + said_in(error.problem, unit(request))
    return render_refusal(request, words, late, 409 if late or isinstance(error, LateListEdit) else 422)


def _nothing_new(_: Request, __: Exception) -> Response:
    """Nobody waits for this answer; the page shows a newer state."""
    return Response(status_code=204)


def _misunderstood(request: Request, error: Exception) -> Response:
    assert isinstance(error, (ValidationError, RequestValidationError))
    first = error.errors()[0]
    field = next((str(word) for word in reversed(first["loc"]) if isinstance(word, str)), "")
    return render_refusal(request, f"{field}: {in_words(first)}" if field else in_words(first), None)


def _unknown(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    words = {404: "There is nothing at this address.", 405: "This address does not take that."}
    return render_failure(request, words.get(error.status_code, str(error.detail)), error.status_code)


def _unkept(request: Request, error: Exception) -> Response:
    _log.error("%s %s could not be kept: %s", request.method, request.url.path, error)
    return render_failure(request, FULL, 507)
