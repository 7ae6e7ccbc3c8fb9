"""The sort tray: every glyph of a font, to look through or to put into a line."""

from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.design.model.find import line_with_part
from jigger.core.lettering.sorts import KINDS
from jigger.services.edits.type_hands import put_glyph
from jigger.services.supplies.tray import TrayWanted, tray
from jigger.web.forms import Number, PostedNumber
from jigger.web.render import house, render
from jigger.web.tray import sort_view

router = APIRouter()


@router.get("/letter-case/{font}/sorts")
def sorts(request: Request, font: str, search: str = "", kind: str = "", begin: Number = 0) -> Response:
    """A font's sorts by themselves."""
    return _tray(request, TrayWanted(font, search, kind, begin), None)


@router.get("/designs/{identity}/sorts")
def sorts_for(
    request: Request, identity: str, line: str, letter: str = "", font: str = "", search: str = "", kind: str = "",
    begin: Number = 0,
) -> Response:  # fmt: skip
    """Sorts for a line of a design, in its font or another; of the letter chosen first."""
    opened = house(request).designs.open(identity)
    part, chosen = line_with_part(opened.design, line)
    character = opened.design.letters().get(letter, "")
    context = {"opened": opened, "part": part, "line": chosen, "letter": letter, "character": character}
    return _tray(request, TrayWanted(font or chosen.font, search, kind, begin, character), context)


@router.post("/designs/{identity}/sorts")
def put(
    request: Request, identity: str, seen: PostedNumber, line: str = Form(), font: str = Form(), glyph: str = Form(),
    letter: str = Form(""), instead: str = Form(""),
) -> Response:  # fmt: skip
    """Put a sort in and go back to the bench, with its letter chosen."""
    designs = house(request).designs
    part, before = line_with_part(designs.open(identity).design, line)
    opened = put_glyph(designs, identity, line, font, glyph, letter, bool(instead), seen)
    new = set(line_with_part(opened.design, line)[1].ids) - set(before.ids)
    chosen = {"step": part.id, "verb": "letter", "letter": next(iter(new), letter)}
    return RedirectResponse(f"/designs/{identity}?{urlencode(chosen)}", 303)


def _tray(request: Request, wanted: TrayWanted, context: dict[str, object] | None) -> Response:
    found = tray(house(request).workshop, wanted)
    views = [sort_view(shown) for shown in found.sorts]
    template = "tray.html"
    if "hx-request" in request.headers:
        template = "fragments/sorts_page.html" if wanted.begin else "fragments/sorts.html"
    case = house(request).letter_case.listed()
    return render(request, template, tray=found, sorts=views, wanted=wanted, kinds=KINDS, context=context, fonts=case)
