"""The letter case: every font in the words a person is working on."""

from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.find import line_with_part
from jigger.core.geometry.units import read_length
from jigger.core.lettering.lettercase import SHIPPED, licence_text
from jigger.services.supplies.letters import KINDS, Wanted, specimens
from jigger.web.choices import unit
from jigger.web.forms import PostedNumber
from jigger.web.render import PostedFile, house, render, to
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
def choose(request: Request, identity: str, seen: PostedNumber, line: str = Form(), font: str = Form()) -> Response:
    """Set the line in a font and go back to the bench, with its part chosen."""
    designs = house(request).designs
    part, _ = line_with_part(designs.open(identity).design, line)
    designs.edit(identity, Adjust(target=line, values={"font": font}), seen)
    return RedirectResponse(f"/designs/{identity}?{urlencode({'step': part.id, 'verb': 'words'})}", 303)


@router.post("/letter-case/fonts")
def add_font(request: Request, file: PostedFile, leave: str = Form("")) -> Response:
    """Take a person's own font in and show it in the case."""
    entry = house(request).letter_case.add(file, bool(leave))
    return to(request, f"/letter-case?{urlencode({'search': entry.family})}")


@router.post("/letter-case/{font}/remove")
def remove_font(request: Request, font: str) -> Response:
    house(request).letter_case.remove(font)
    return RedirectResponse("/letter-case", 303)


@router.post("/letter-case/{font}/favourite")
def favourite(request: Request, font: str, marked: str = Form("")) -> Response:
    """Mark a font, or no longer; the answer is its star."""
    house(request).letter_case.mark(font, bool(marked))
    return render(request, "fragments/star.html", font=font, marked=bool(marked))


@router.get("/letter-case/{font}/licence")
def licence(request: Request, font: str) -> Response:
    entry = house(request).letter_case.listed().get(font)
    if entry is None:
        return render(request, "refused.html", 404, message="There is no such font in the letter case.")
    face = house(request).workshop.fonts.face(font)
    text = licence_text(font) or "\n\n".join(filter(None, [face.named("copyright"), face.named("licence")]))
    return render(request, "licence.html", entry=entry, text=text, embedding=face.embedding, own=font not in SHIPPED)


def _case(request: Request, wanted: Wanted, context: dict[str, object] | None) -> Response:
    case = house(request).letter_case
    found = [specimen_view(x, unit(request)) for x in specimens(house(request).workshop, wanted, case.listed())]
    template = "fragments/specimens.html" if "hx-request" in request.headers else "letter_case.html"
    return render(
        request, template, specimens=found, wanted=wanted, kinds=KINDS, context=context, favourites=case.favourites()
    )
