"""Cut lists: gathered, laid out on their stock, written as files and sent."""

from collections.abc import Mapping
from datetime import datetime

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import PlainTextResponse

from jigger.core.cut.paths.clock import timed
from jigger.core.errors import CommandRefused
from jigger.core.formats.table import FORMATS
from jigger.core.geometry.units import said_in
from jigger.services.file_names import file_name
from jigger.services.lists.batch import guides as guides_of
from jigger.services.lists.batch import job_archive, unready
from jigger.services.lists.batch import proofs as proofs_of
from jigger.services.lists.cut_lists import OpenedList
from jigger.services.lists.playing import in_time, play_view
from jigger.services.lists.runs import machine_of, run_path, run_words, written_run
from jigger.services.lists.tickets import job_ticket, paper_map, true_map
from jigger.services.queue.sheets import every_sheet, line_up_sheets
from jigger.web.choices import unit
from jigger.web.forms import Number, read_seen
from jigger.web.picking import read_picked
from jigger.web.placing import map_of
from jigger.web.render import Posted, download, house, render, to
from jigger.web.sending import SendView, send_view
from jigger.web.sheet import (
    BOXES,
    DIVIDES,
    LAYOUTS,
    RESTS,
    TURNS,
    VIEWS,
    SheetView,
    lies_on,
    read_list_form,
    sheet_view,
)

router = APIRouter()

NO_CLOSER = "Nothing closer was found; everything lies as before."


@router.get("/cut-lists")
def cut_lists(request: Request) -> Response:
    return render(request, "cut_lists.html", lists=house(request).cut_lists.listed())


@router.post("/cut-lists")
def begin(request: Request, name: str = Form("")) -> Response:
    lists = house(request).cut_lists
    return to(request, f"/cut-lists/{lists.begin(name or _today())}")


@router.post("/designs/{identity}/gather")
def gather(
    request: Request, identity: str, layer: str = Form(""), to_list: str = Form(""), copies: str = Form("1"),
    parts: str = Form(""), pieces: str = Form(""),
) -> Response:  # fmt: skip
    """Layers of a design onto a list; onto a new one where none is named."""
    lists = house(request).cut_lists
    data = read_list_form({"do": "copies", "item": "x", "copies": copies}, unit(request))
    layers, picked = [layer] if layer else [], read_picked(parts, pieces)
    if to_list:
        lists.gather(to_list, identity, layers, data["copies"], picked)
    else:
        to_list = lists.begin_with(_today(), identity, layers, data["copies"], picked)
    return to(request, f"/cut-lists/{to_list}")


@router.get("/cut-lists/{identity}")
def sheet(request: Request, identity: str) -> Response:
    return _sheet(request, house(request).cut_lists.open(identity), "sheet.html", request.query_params)


@router.get("/cut-lists/{identity}/recipe")
def chosen(request: Request, identity: str) -> Response:
    opened = house(request).cut_lists.open(identity)
    return _sheet(request, opened, "fragments/sheet_edited.html", request.query_params)


@router.post("/cut-lists/{identity}/gather")
def gather_here(request: Request, identity: str, form: Posted) -> Response:
    """A design from the shelf onto this list, all its layers."""
    copies = read_list_form({"do": "copies", "item": "x", "copies": form.get("copies", "1")}, unit(request))["copies"]
    opened = house(request).cut_lists.gather(identity, form.get("design", ""), [], copies)
    return _sheet(request, opened, "fragments/sheet_edited.html", form)


@router.get("/cut-lists/{identity}/time")
def time_taken(request: Request, identity: str, run: str = "", sheet: Number = 0) -> Response:
    """How long a sheet takes on its machine, in words."""
    here = house(request)
    found = here.cut_lists.laid_out(here.cut_lists.open(identity).list).run(run)
    tooling = here.shop.tooling()
    machine = tooling.machine_for(found.material, machine_of(found, tooling))
    return PlainTextResponse(in_time(timed(run_path(found, sheet, tooling), machine).seconds))


@router.get("/cut-lists/{identity}/checks")
def checks(request: Request, identity: str, run: str = "") -> Response:
    """Whether the designs of a run are ready, as they are on the list."""
    here = house(request)
    opened = here.cut_lists.open(identity)
    laid = here.cut_lists.laid_out(opened.list)
    names = dict.fromkeys(one.entry.listed for one in laid.run(run).placed if not one.entry.aid)
    asked = dict.fromkeys((laid.items[x].item.design, laid.items[x].item.revision) for x in names)
    found = [design for one in asked if (design := here.designs.at(*one)) is not None]
    stopped = here.aside.ask("listed", identity, unready, found)
    return render(request, "fragments/sheet_checks.html", unready=stopped)


@router.post("/cut-lists/{identity}/edit")
def edit(request: Request, identity: str, form: Posted) -> Response:
    lists = house(request).cut_lists
    if form.get("do") == "take newer":
        opened = lists.take_newer(identity, form.get("item", ""))
    else:
        opened = lists.edit(identity, read_list_form(form, unit(request)), read_seen(form))
    return _sheet(request, opened, "fragments/sheet_edited.html", form)


@router.post("/cut-lists/{identity}/nest")
def nest(request: Request, identity: str, run: str = Form(""), seconds: str = Form("20")) -> Response:
    """Look for a closer layout of a run."""
    whole = read_list_form({"do": "copies", "item": "x", "copies": seconds}, unit(request))["copies"]
    house(request).nests.begin(identity, run, whole)
    return _nesting(request, identity, run)


@router.get("/cut-lists/{identity}/nest")
def nesting(request: Request, identity: str, run: str = "") -> Response:
    return _nesting(request, identity, run)


@router.post("/cut-lists/{identity}/book")
def book(request: Request, identity: str, form: Posted) -> Response:
    """What a run uses is taken off the stock."""
    opened = house(request).cut_lists.book(identity, form.get("run", ""))
    return _sheet(request, opened, "fragments/sheet_edited.html", form)


@router.post("/cut-lists/{identity}/nest/keep")
def keep_nest(request: Request, identity: str, form: Posted) -> Response:
    """Stop looking and keep what was found."""
    said = "" if house(request).nests.keep(identity, form.get("run", "")) else NO_CLOSER
    return _sheet(request, house(request).cut_lists.open(identity), "fragments/sheet_edited.html", form, said)


@router.post("/cut-lists/{identity}/undo")
def undo(request: Request, identity: str, form: Posted) -> Response:
    return _sheet(request, house(request).cut_lists.undo(identity), "fragments/sheet_edited.html", form)


@router.post("/cut-lists/{identity}/redo")
def redo(request: Request, identity: str, form: Posted) -> Response:
    return _sheet(request, house(request).cut_lists.redo(identity), "fragments/sheet_edited.html", form)


@router.post("/cut-lists/{identity}/put-away")
def put_away(request: Request, identity: str) -> Response:
    house(request).cut_lists.put_away(identity)
    return to(request, "/cut-lists")


@router.get("/cut-lists/{identity}/export.{kind}")
def export(request: Request, identity: str, kind: str, run: str = "", sheet: Number = 0) -> Response:
    """One sheet of one run in a format."""
    here = house(request)
    opened = here.cut_lists.open(identity)
    if kind not in FORMATS:
        return render(request, "refused.html", 404, message=f"Jigger writes no .{kind} files.")
    found = here.cut_lists.laid_out(opened.list).run(run)
    chosen = [option.id for option in FORMATS[kind].options if option.id in request.query_params]
    data = written_run(found, sheet, kind, opened.list.name, here.shop.tooling(), chosen)
    words = [opened.list.name, *run_words(found.lead(sheet)), *([f"{sheet + 1}"] if found.sheets > 1 else [])]
    return download(data, file_name(words, FORMATS[kind].suffix), FORMATS[kind].media)


@router.get("/cut-lists/{identity}/job.zip")
def job(request: Request, identity: str) -> Response:
    """Every sheet of every run, each in the formats that suit it, with what it is to be cut like."""
    here = house(request)
    opened = here.cut_lists.open(identity)
    whole = here.cut_lists.whole(opened.list, _kept(opened), unit(request))
    data = here.aside.ask("job", identity, job_archive, whole, here.shop.tooling())
    return download(data, file_name([opened.list.name], ".zip"), "application/zip")


@router.get("/cut-lists/{identity}/ticket.pdf")
def ticket(request: Request, identity: str) -> Response:
    """The job on paper."""
    here = house(request)
    opened = here.cut_lists.open(identity)
    laid = here.cut_lists.laid_out(opened.list)
    data = job_ticket(opened.list.name, _kept(opened), laid, here.shop.tooling(), unit(request))
    return download(data, file_name([opened.list.name, "job ticket"], ".pdf"), "application/pdf")


@router.get("/cut-lists/{identity}/proofs.pdf")
def proofs(request: Request, identity: str) -> Response:
    """The proofs of all designs on it, for the customer."""
    here = house(request)
    data = here.cut_lists.open(identity).list
    paper = here.aside.ask("job", identity, proofs_of, here.cut_lists.designs_of(data), unit(request))
    return download(paper, file_name([data.name, "proofs"], ".pdf"), "application/pdf")


@router.get("/cut-lists/{identity}/guides.pdf")
def guides(request: Request, identity: str, scaled: bool = False) -> Response:
    """The placement guides of all designs on it, at true size over pages, or each on one to scale."""
    here = house(request)
    data = here.cut_lists.open(identity).list
    paper = here.aside.ask("job", identity, guides_of, here.cut_lists.designs_of(data), scaled, unit(request))
    words = [data.name, "placement guides", *(["to scale"] if scaled else [])]
    return download(paper, file_name(words, ".pdf"), "application/pdf")


@router.get("/cut-lists/{identity}/map.pdf")
def placement_map(request: Request, identity: str, run: str = "", true_size: bool = False) -> Response:
    """Where everything of a design goes, on paper."""
    here = house(request)
    opened = here.cut_lists.open(identity)
    laid = here.cut_lists.laid_out(opened.list)
    found = map_of(laid, laid.run(run))
    if found is None:
        return render(request, "refused.html", 404, message="Nothing of this run goes on in more than one piece.")
    data = true_map(found) if true_size else paper_map(found, unit(request))
    words = [found.title, "placement map", *(["true size"] if true_size else [])]
    return download(data, file_name(words, ".pdf"), "application/pdf")


@router.post("/cut-lists/{identity}/send")
def send(
    request: Request, identity: str, run: str = Form(""), sheet: str = Form("0"), pen: bool = Form(False),
    items: list[str] = Form(default=[]), every: bool = Form(False),
) -> Response:  # fmt: skip
    """A sheet, or some of its items, onto the queue, to be cut, or drawn with a `pen` first; or `every` sheet of every
    run, all or none.
    """
    here = house(request)
    opened = here.cut_lists.open(identity)
    laid = here.cut_lists.laid_out(opened.list)
    number = int(sheet) if sheet.isdecimal() and len(sheet) < 6 else 0
    sheets = every_sheet(laid) if every else [(laid.run(run).only(items), number)]
    line_up_sheets(here.queue, opened, here.shop.tooling(), sheets, pen, bool(items) and not every)
    return to(request, "/queue")


def _sheet(request: Request, opened: OpenedList, template: str, chosen: Mapping[str, str], said: str = "") -> Response:
    here = house(request)
    plan = here.cut_lists.laid_out(opened.list)
    view = sheet_view(opened, plan, chosen)
    play, tooling = None, here.shop.tooling()
    machines = tooling.machines_for(view.run.material) if view.run else []
    if view.view == "path" and view.run and view.run.on(view.sheet) and machines:
        machine = tooling.machine_for(view.run.material, machine_of(view.run, tooling))
        play = play_view(run_path(view.run, view.sheet, tooling), machine)
    on_hand = here.cut_lists.stock.listed(view.run.material.id).values() if view.run else ()
    languages = {language for one in machines for language in one.languages}
    return render(
        request, template, opened=opened, view=view, play=play, said=said, layouts=LAYOUTS, turns=TURNS, boxes=BOXES,
        views={key: words for key, words in VIEWS.items() if key != "map" or view.has_map},
        forms=lies_on(view.run, plan) if view.run else [], divides=DIVIDES, rests=RESTS,
        machines=machines, formats=FORMATS,
        sending=_sending(request, view),
        offcut=here.cut_lists.stock.offcut_for(view.run) if view.run else None,
        shelf=here.designs.listed(),
        low=[one.title for one in here.cut_lists.stock.low_after(view.run)] if view.run else [],
        stock_choices=[("", "as it usually comes"), *((one.id, said_in(one.title, unit(request))) for one in on_hand)],
        machine_choices=[("", "the first that will do"), *((one.id, one.name) for one in machines)],
        progress=here.nests.progress(opened.id, view.run.key) if view.run else None, identity=opened.id,
        key=view.run.key if view.run else "",
        taken=view.run is not None and here.queue.takes_stock(opened.id, view.run.key),
        suited=[kind.id for kind in FORMATS.values()
                if kind.language in {None, *languages} and "print" not in kind.holds],
    )  # fmt: skip


def _nesting(request: Request, identity: str, run: str) -> Response:
    progress = house(request).nests.progress(identity, run)
    if progress is None or progress.done:
        said = "" if house(request).nests.keep(identity, run) or progress is None else NO_CLOSER
        opened = house(request).cut_lists.open(identity)
        return _sheet(request, opened, "fragments/sheet_edited.html", {"run": run}, said)
    return render(request, "fragments/nesting.html", identity=identity, key=run, progress=progress)


def _kept(opened: OpenedList) -> str:
    return f"kept {datetime.fromisoformat(opened.changed).astimezone():%-d %B %Y, %H:%M}"


def _today() -> str:
    return f"Cut list, {datetime.now():%-d %B}"


def _sending(request: Request, view: SheetView) -> SendView | None:
    """To which machine the sheet that is shown would go, and what is right of that and what is not."""
    if view.run is None or not view.run.on(view.sheet):
        return None
    here, run = house(request), view.run
    moved_on = any(bool(item.newer) for card in view.cards if card.on for _, item in card.items)
    tooling = here.shop.tooling()
    try:
        path = run_path(run, view.sheet, tooling)
    except CommandRefused:
        return None
    return send_view(
        here, tooling, run.material, run.colour, path, bool(run.mirrored), None, run.options.machine, moved_on,
        stock=run.options.stock,
    )  # fmt: skip
