"""Sheets of a cut list onto the queue: one, some items of one, or all of a job."""

from collections.abc import Sequence

from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused
from jigger.core.machines.tooling import Tooling
from jigger.services.clock import now
from jigger.services.lists.cut_lists import OpenedList
from jigger.services.lists.laying import SheetPlan
from jigger.services.lists.runs import run_path
from jigger.services.queue.queue import Lies, Queue
from jigger.services.queue.stations import station_for

Sheets = Sequence[tuple[Run, int]]


def every_sheet(laid: SheetPlan) -> Sheets:
    """All sheets of all runs that something lies on. Raises CommandRefused where there is none."""
    leading = [run for run in laid.runs if run.leads]
    found = [(run, number) for run in leading for number in range(run.sheets) if _listed(run, number)]
    if not found:
        raise CommandRefused("Cut list", "there is nothing on it that can be cut")
    return found


def line_up_sheets(
    queue: Queue, opened: OpenedList, tooling: Tooling, sheets: Sheets, pen: bool = False, some: bool = False
) -> None:
    """In their order, all of them or none. `pen`: drawn on paper; `some`: runs hold chosen items alone, which take
    nothing off the stock, as others may still be cut beside them. Raises CommandRefused where a sheet has nothing on
    it, or no connected machine cuts it.
    """
    asked = now()
    sheets = [(run.lead(number), number) for run, number in sheets]
    stations = [station_for(queue.stations, tooling, run.material, run.options.machine, pen) for run, _ in sheets]
    paths = [
        run_path(run, number, tooling, station.language)
        for (run, number), station in zip(sheets, stations, strict=True)
    ]
    firsts = [_listed(run, number) for run, number in sheets]
    if "" in firsts:
        raise CommandRefused("Sheet", "nothing but the test patch lies on it")
    jobs = []
    for (run, number), station, path, first in zip(sheets, stations, paths, firsts, strict=True):
        item = opened.list.item(first)
        title = opened.list.name + (f", {number + 1} of {run.sheets}" if run.sheets > 1 else "")
        others = [f"with {one.title}" for one in run.mates if one.key != run.key and one.on(number)]
        mirrored = ["mirrored"] if any(one.mirrored for one in run.cut_together) else []
        words = ", ".join([*(["some items"] if some else []), *others, *mirrored])
        stock = "" if some or run.options.form else run.options.stock
        lies = Lies(opened.id, run.key, stock, run.used(number), queue.rest_of(run, number) if stock else "")
        jobs.append(queue.job_of(
            item.design, title, item.revision, run.material, path, words, run.colour, tooling, pen, station.id, lies,
        ))  # fmt: skip
    queue.line_up_jobs(jobs, asked)


def _listed(run: Run, number: int) -> str:
    """The first item of the list that lies on a sheet, empty where none does."""
    placed = (one for mate in run.cut_together for one in mate.on(number))
    return next((one.entry.listed for one in placed if not one.entry.aid), "")
