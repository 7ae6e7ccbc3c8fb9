"""Proofs: the desk of who made it, and the page that a customer sees by a link, with nothing else on it."""

from collections.abc import Callable

from fastapi import APIRouter, Form, Request, Response

from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.services.file_names import file_name
from jigger.services.showing.proofs import placement_guide, proof_paper, proof_png, proof_sheet
from jigger.services.showing.reporting import in_its_colours
from jigger.web.choices import unit
from jigger.web.forms import PostedNumber
from jigger.web.render import download, house, render, to

router = APIRouter()
HIDDEN = {"Cache-Control": "no-store", "X-Robots-Tag": "noindex", "Referrer-Policy": "same-origin"}


@router.get("/designs/{identity}/proof")
def desk(request: Request, identity: str) -> Response:
    """The proof of a design as it is now, its link, and what was said to it."""
    here = house(request)
    opened = here.designs.open(identity)
    approval, still = here.proofs.approval(identity) or (None, True)
    link = here.proofs.of(identity)
    behind = link is not None and here.designs.at(identity, link.revision) != opened.design
    return render(
        request, "proof_desk.html", opened=opened, said=here.proofs.said(identity), link=link, approval=approval,
        changed=not still, behind=behind, prints=here.print_house.reports(identity),
        printed=any(layer.build == "print" for layer in opened.design.layers),
        address=str(request.base_url).rstrip("/"),
    )  # fmt: skip


@router.post("/designs/{identity}/proof")
def act(request: Request, identity: str, do: str = Form("")) -> Response:
    """Give a link, or let it show the present state; withdraw it; or send the file to the print house."""
    here = house(request)
    acts: dict[str, Callable[[str], object]] = {
        "give": here.proofs.give,
        "withdraw": here.proofs.withdraw,
        "print": here.print_house.send,
    }
    if do not in acts:
        raise CommandRefused("Proof", "a link is given or withdrawn, or the file goes to the print house")
    acts[do](identity)
    return to(request, f"/designs/{identity}/proof")


@router.get("/designs/{identity}/proof.{kind}")
def own_file(request: Request, identity: str, kind: str) -> Response:
    """The proof of the present state, on paper or as a picture."""
    opened = house(request).designs.open(identity)
    return _file(request, kind, opened.design, f"version {opened.number}")


@router.get("/designs/{identity}/guide.pdf")
def guide(request: Request, identity: str, scaled: bool = False) -> Response:
    """The placement guide of the present state: at true size over pages, or on one to scale."""
    here = house(request)
    design = here.designs.open(identity).design
    name = file_name([design.name, "placement guide", *(["to scale"] if scaled else [])], ".pdf")
    return download(placement_guide(here.workshop, design, scaled, unit(request)), name, "application/pdf")


@router.get("/proof/{token}")
def proof(request: Request, token: str) -> Response:
    """What a customer sees: this one design, and a place to say something."""
    here = house(request)
    shown = here.proofs.shown(token)
    try:
        sheet = proof_sheet(here.workshop, shown.design, "")
    except CommandRefused:
        sheet = None
    page = render(request, "proof.html", shown=shown, sheet=sheet, token=token)
    page.headers.update(HIDDEN)
    return page


@router.get("/proof/{token}/picture.svg")
def picture(request: Request, token: str) -> Response:
    here = house(request)
    drawn = in_its_colours(here.workshop, here.proofs.shown(token).design)
    return Response(drawn, media_type="image/svg+xml", headers=HIDDEN)


@router.get("/proof/{token}/proof.{kind}")
def customers_file(request: Request, token: str, kind: str) -> Response:
    shown = house(request).proofs.shown(token)
    return _file(request, kind, shown.design, f"version {shown.link.revision}")


@router.post("/proof/{token}")
def say(
    request: Request, token: str, name: str = Form(""), words: str = Form(""), approve: bool = Form(False),
    revision: PostedNumber = 0,
) -> Response:  # fmt: skip
    """A remark, or an approval of what was looked at."""
    house(request).proofs.say(token, name, words, approve, revision)
    return to(request, f"/proof/{token}")


def _file(request: Request, kind: str, design: Design, said: str) -> Response:
    workshop = house(request).workshop
    if kind == "pdf":
        paper = proof_paper(workshop, design, said, unit(request))
        return download(paper, file_name([design.name, "proof"], ".pdf"), "application/pdf")
    if kind == "png":
        return download(proof_png(workshop, design), file_name([design.name, "proof"], ".png"), "image/png")
    return render(request, "refused.html", 404, message=f"A proof is a page, a PDF or a PNG, not .{kind}.")
