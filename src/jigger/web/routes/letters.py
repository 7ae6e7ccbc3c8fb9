"""The letter case: every font in the words a person is working on."""

from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.design.commands import Adjust
from jigger.core.design.find import line_with_part
from jigger.core.geometry.units import read_length
from jigger.core.lettering.lettercase import SHIPPED, licence_text
from jigger.services.letters import KINDS, Wanted, specimens
from jigger.web.render import house, render, unit
from jigger.web.specimens import specimen_view

router = APIRouter()


@router.get("/letter-case")
def letter_case(request: Request, text: str = "", height: str = "60 mm", search: str = "", kind: str = "") -> Response:
    """The case on its own, to look round in."""
    wanted = Wanted(text or "Withy Lock", read_length(height, unit(request)), search, kind)
    return _case(request, wanted, None)


@router.get("/designs/{identity}/letter-case")
def letter_case_for(request: Request, identity: str, line: str, search: str = "", kind: str = "") -> Response:
    """The case for one line of a design: its words at its size; a click sets its font."""
    opened = house(request).designs.open(identity)
    part, chosen = line_with_part(opened.design, line)
    context = {"opened": opened, "part": part, "line": chosen}
    return _case(request, Wanted(chosen.text, chosen.height, search, kind), context)


@router.post("/designs/{identity}/letter-case")
def choose(request: Request, identity: str, line: str = Form(), font: str = Form(), seen: int = Form()) -> Response:
    """Set the line in a font and go back to the bench, with its part chosen."""
    designs = house(request).designs
    part, _ = line_with_part(designs.open(identity).design, line)
    designs.edit(identity, Adjust(target=line, values={"font": font}), seen)
    return RedirectResponse(f"/designs/{identity}?{urlencode({'step': part.id, 'verb': 'words'})}", 303)


@router.get("/letter-case/{font}/licence")
def licence(request: Request, font: str) -> Response:
    if font not in SHIPPED:
        return render(request, "refused.html", 404, message="There is no such font in the letter case.")
    face = house(request).workshop.fonts.face(font)
    return render(request, "licence.html", entry=SHIPPED[font], text=licence_text(font), embedding=face.embedding)


def _case(request: Request, wanted: Wanted, context: dict[str, object] | None) -> Response:
    found = [specimen_view(x, unit(request)) for x in specimens(house(request).workshop, wanted)]
    template = "fragments/specimens.html" if "hx-request" in request.headers else "letter_case.html"
    return render(request, template, specimens=found, wanted=wanted, kinds=KINDS, context=context)
