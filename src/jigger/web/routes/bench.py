"""The bench: one design, edited."""

import asyncio
from collections.abc import Mapping, Sequence
from pathlib import PurePath

from fastapi import APIRouter, Request, Response
from fastapi.responses import PlainTextResponse
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool

from jigger.core.checks.spoiling import spoiled
from jigger.core.design.edits.art import CleanArt, find_art
from jigger.core.design.many.alike import TRAITS
from jigger.core.design.many.common import outermost
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import homes
from jigger.core.formats.paths import screen_path
from jigger.core.geometry.units import show_length
from jigger.core.words import counting
from jigger.services.designs import Designs, Opened
from jigger.services.edits.drawing_hands import drawn_so
from jigger.services.edits.duplicating import taken_along
from jigger.services.edits.mending import repair
from jigger.services.edits.readiness import make_ready
from jigger.services.edits.table import edited
from jigger.services.showing.measuring import span
from jigger.services.showing.reading import read_out
from jigger.services.supplies.art import bring_in, read_art, replace_art
from jigger.web.bridge import bridge_card
from jigger.web.choices import unit
from jigger.web.chosen import Choice, read_finding, read_pieces
from jigger.web.cleaning import cleaning_view
from jigger.web.drawing import drawing_view, fitted_pixel, handles_view
from jigger.web.first_path import first_path
from jigger.web.forms import read_colours, read_edit_of, read_pixel, read_repair, read_seen
from jigger.web.guides import ghost
from jigger.web.letter import letter_view, line_faces
from jigger.web.many import VERBS as MANY_VERBS
from jigger.web.many import chosen as chosen_parts
from jigger.web.many import line_fields, many_view
from jigger.web.nodes import letter_path_view, path_view
from jigger.web.pulls import pull_views
from jigger.web.readout import plan_words, readout_view
from jigger.web.recipe import recipe_view
from jigger.web.render import Posted, PostedFile, PostedName, house, render

NEW = ("add part", "draw path", "draw figure")  # edits whose part is chosen then
MADE = ("duplicate", "paste parts", "group parts")  # those whose parts are chosen then
COPIES = ("copy out", "cut in two")  # those whose copies come after what is hidden then
UNSIZED = ("nodes", "letter")  # verbs under which the corners of a part are not in hand
CALM = 0.6  # seconds without an edit, after which a person does not type on

router = APIRouter(prefix="/designs/{identity}")


@router.get("")
def bench(request: Request, identity: str) -> Response:
    """The whole page, as sharp as the design is when it fills the drawing."""
    opened = house(request).designs.open(identity)
    workshop = house(request).workshop
    pixel = fitted_pixel(workshop, opened.design)
    page = _bench(request, opened, "bench.html", {**request.query_params, "pixel": str(pixel)})
    page.background = BackgroundTask(workshop.lay_out, opened.design, pixel)
    return page


@router.get("/recipe")
def recipe(request: Request, identity: str) -> Response:
    """The build sheet with another step chosen, and the drawing with its frame; all areas where the window shows an
    earlier state.
    """
    opened, asked = house(request).designs.open(identity), request.query_params
    late = read_seen(asked) not in (None, opened.seq)
    return _bench(request, opened, "fragments/edited.html" if late else "fragments/chosen.html", asked)


@router.get("/fresh")
def fresh(request: Request, identity: str) -> Response:
    """All areas of the bench as the design is now, for a window that shows an earlier state."""
    return _bench(request, house(request).designs.open(identity), "fragments/edited.html", request.query_params)


@router.get("/readout")
def readout(request: Request, identity: str) -> Response:
    """The exact figures of the present state, and where the tool starts unless only the proof is seen; with `nodes` the
    outlines node by node.
    """
    here, opened = house(request), house(request).designs.open(identity)
    nodes, seen = "nodes" in request.query_params, request.query_params.get("view") != "proof"
    found = here.aside.ask("readout", identity, read_out, opened.design, nodes, here.shop.tooling(), seen)
    view = readout_view(found.report, unit(request), found.repairs)
    answer = render(
        request, "fragments/readout_answer.html", opened=opened, readout=view, blade=found.blade if seen else None
    )
    if here.aside.elsewhere:
        answer.background = BackgroundTask(_at_hand_when_calm, here.designs, opened)
    return answer


async def _at_hand_when_calm(designs: Designs, opened: Opened) -> None:
    await asyncio.sleep(CALM)
    await run_in_threadpool(designs.at_hand, opened)


@router.get("/taken-along")
def parts_taken_along(request: Request, identity: str) -> Response:
    """Chosen parts as the text that puts them in elsewhere."""
    many = [one for one in request.query_params.get("many", "").split(",") if one]
    return PlainTextResponse(taken_along(house(request), identity, many).model_dump_json())


@router.get("/ghost")
def ghost_path(request: Request, identity: str) -> Response:
    """The outline of a part that is taken in hand, as a path."""
    opened, asked = house(request).designs.open(identity), request.query_params
    built = house(request).workshop.display(opened.design, read_pixel(asked))
    return PlainTextResponse("".join(ghost(built, one) for one in asked.get("part", "").split(",")))


@router.get("/span")
def measured_span(
    request: Request, identity: str, x0: float, y0: float, x1: float, y1: float, reach: float = 0.0
) -> Response:
    """How far it is from one point of the drawing to another, and between the pieces there, to be drawn over it."""
    opened = house(request).designs.open(identity)
    built = house(request).workshop.display(opened.design, read_pixel(request.query_params))
    found = span(built, (x0, y0), (x1, y1), reach)

    def shown(value: float) -> str:
        return f"{show_length(abs(value), unit(request), 2)} {unit(request)}"

    words = f"{shown(found.length)}  ({shown(x1 - x0)} across, {shown(y1 - y0)} up)"
    gap_words = "" if found.gap is None else f"pieces {shown(found.gap)} apart"
    rounded = [(round(x, 3), round(y, 3)) for x, y in (found.start, found.end, *(found.nearest or ()))]
    return render(
        request, "fragments/span.html", start=rounded[0], end=rounded[1], nearest=rounded[2:], words=words,
        gap_words=gap_words,
    )  # fmt: skip


@router.get("/preview")
def preview(request: Request, identity: str) -> Response:
    """What a repair would make of the design, drawn over it; nothing is kept."""
    here, opened = house(request), house(request).designs.open(identity)
    found = here.aside.ask("repair", identity, repair, opened.design, *read_repair(request.query_params))
    mended = found.apply(opened.design)
    before, built = (here.workshop.display(one, read_pixel(request.query_params)) for one in (opened.design, mended))
    paths = [screen_path(layer.kept) for layer in built.layers]
    spoils = spoiled(opened.design, before, built)
    return render(request, "fragments/preview.html", paths=paths, spoils=spoils)


@router.get("/make-ready")
def ready_plan(request: Request, identity: str) -> Response:
    """Repairs that clear what can be cleared, to choose from; nothing is kept."""
    opened = house(request).designs.open(identity)
    plan = house(request).aside.ask("plan", identity, make_ready, opened.design, True)
    return render(request, "fragments/plan.html", opened=opened, plan=plan, words=plan_words(plan))


@router.post("/edit")
def edit(request: Request, identity: str, form: Posted) -> Response:
    before = house(request).designs.open(identity).design.ids() if form.get("do") in MADE else []
    opened = edited(house(request), identity, read_edit_of(form, unit(request)), read_seen(form))
    if form.get("do") in MADE:
        made = [part.id for part in opened.design.parts() if part.id not in before]
        form["copied"] = form.get("many", "") if form["do"] == "duplicate" else ""
        form["many"], form["step"] = ",".join(part.id for part in outermost(opened.design, made)), ""
    elif form.get("do") in NEW:
        form["step"], form["verb"] = (
            _newest(opened, form.get("layer", "")),
            "" if form["do"] == "add part" else "nodes",
        )
    elif form.get("do") == "remove nodes":
        form["nodes"] = ""  # others have their numbers now
    elif form.get("do") in COPIES:
        form["step"], form["verb"] = _next_after(opened.design, form.get("of") or form.get("part", "")), ""
    return _edited(request, opened, form)


@router.post("/trial")
def trial(request: Request, identity: str, form: Posted) -> Response:
    """The outline of a path as an edit that is still in the hand would make it; nothing is kept."""
    design = drawn_so(house(request), identity, read_edit_of(form, unit(request)))
    built = house(request).workshop.display(design, read_pixel(form))
    return PlainTextResponse(ghost(built, form.get("part", "")))


@router.post("/art")
def art(request: Request, identity: str, file: PostedFile, name: PostedName, form: Posted) -> Response:
    """Art from a file, as new parts or in place of a part's; with a report of what was taken and left."""
    here = house(request)
    design = here.designs.open(identity).design
    if other := here.pictures.in_place_of(design, form["part"], file, name) if form.get("part") else None:
        return _edited(request, here.designs.edit(identity, other), form)
    found = read_art(file, name, form.get("unit", ""), form.get("under") == "true", read_colours(form))
    if part := form.get("part"):
        opened = here.designs.edit(identity, replace_art(design, part, found, name))
    else:
        opened = here.designs.edit(identity, bring_in(found, name, printed=form.get("printed") == "true"))
        form["step"], form["verb"] = opened.design.parts()[-1].id, ""
    size = (
        f"{show_length(found.width, unit(request), 1)} × {show_length(found.height, unit(request), 1)} {unit(request)}"
    )
    words = f"{PurePath(name).name}: {size}, {counting(sum(one.nodes for one in found.parts), 'node')}"
    return _bench(request, opened, "fragments/edited.html", form, (words, *found.notes))


@router.get("/clean-up")
def clean_up(request: Request, identity: str, part: str) -> Response:
    """What cleaning artwork up would come to; nothing is kept."""
    design = house(request).designs.open(identity).design
    edit = read_edit_of({"do": "clean up art", **request.query_params}, unit(request))
    assert isinstance(edit, CleanArt)
    art = find_art(design, part)
    return render(request, "fragments/cleaning.html", part=art, cleaning=cleaning_view(art, edit))


@router.post("/undo")
def undo(request: Request, identity: str, form: Posted) -> Response:
    return _edited(request, house(request).designs.undo(identity), form)


@router.post("/redo")
def redo(request: Request, identity: str, form: Posted) -> Response:
    return _edited(request, house(request).designs.redo(identity), form)


def _edited(request: Request, opened: Opened, form: Mapping[str, str]) -> Response:
    answer = _bench(request, opened, "fragments/edited.html", form)
    house(request).designs.answered(opened.id)
    return answer


def _bench(
    request: Request, opened: Opened, template: str, asked: Mapping[str, str], said: Sequence[str] = ()
) -> Response:
    design, here = opened.design, house(request)
    built = here.workshop.display(design, read_pixel(asked))
    (step, several), chosen = chosen_parts(design, built, asked), asked
    letter = letter_view(here.workshop, design, built, step, chosen.get("letter", ""))
    nodes = letter_path_view(here.workshop, design, built, letter.id, chosen.get("nodes", "")) if letter else None
    recipe = recipe_view(design, built, unit(request), step, chosen.get("verb", ""), MANY_VERBS if several else ())
    nodes = nodes or path_view(design, built, step, chosen.get("nodes", ""), recipe.verb == "nodes")
    shop = here.shop.listed() if recipe.verb == "material" else {}
    faces = line_faces(here.workshop, design, step) if recipe.verb == "face" else {}
    fonts = here.letter_case.listed()
    font_choices = tuple((entry.id, f"{entry.family}, {entry.character}") for entry in fonts.values())
    many = many_view(design, several, unit(request), chosen.get("copied", ""), font_choices)
    typed = chosen.get("do") == "set text" and recipe.verb == "words" and not chosen.get("letter")
    bridge = bridge_card(built, design, chosen.get("bridge", ""))
    choice = Choice(
        recipe.step, recipe.verb, letter.id if letter else "", bridge.key if bridge else "",
        nodes.key if nodes else "", many.key if many else "",
        read_pieces(chosen.get("picked", ""), recipe.piece_keys), read_finding(chosen.get("told", "")),
    )  # fmt: skip
    return render(
        request, template, opened=opened, typed=typed, said=said, design=design, recipe=recipe, letter=letter,
        pictures_lacking=here.pictures.lacking(design), choice=choice, nodes=nodes, bridge=bridge,
        handles=None if letter or recipe.verb in UNSIZED else handles_view(design, built, several or (step,)),
        pulls=() if several or letter or recipe.verb in UNSIZED else pull_views(design, built, step, unit(request)),
        drawing=drawing_view(design, built, step, letter.id if letter else ""), fonts=fonts,
        font_choices=font_choices, many=many,
        all_lines=line_fields(design, step, recipe.verb, unit(request), font_choices), copied=chosen.get("copied", ""),
        first_steps=[] if typed else first_path(here.designs, opened.id, request.cookies.get("path") == "off"),
        traits=[(one.id, one.words) for one in TRAITS.values()],
        removed=here.letter_case.removed(), faces=faces, shop=shop,
        material_choices=[(material.id, material.name) for material in shop.values()],
    )  # fmt: skip


def _next_after(design: Design, of: str) -> str:
    """The part or layer that stands after another one."""
    layers = [layer.id for layer in design.layers]
    ids = layers if of in layers else [part.id for part in design.parts()]
    return ids[ids.index(of) + 1] if of in ids[:-1] else ""


def _newest(opened: Opened, layer: str) -> str:
    return next((x.parts[-1].id for x in homes(opened.design) if x.id == layer and x.parts), "")
