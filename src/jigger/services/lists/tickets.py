"""The job ticket: a cut list on paper, made of its plan."""

from jigger.core.cut.paths.clock import timed
from jigger.core.cut.sheets.placement import PlacementMap, maps_of
from jigger.core.cut.sheets.run import LaidCopy, Run
from jigger.core.cut.sheets.run_page import page_of_run
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.errors import CommandRefused
from jigger.core.formats.placement_map import write_map, write_true_map
from jigger.core.formats.ticket import CopyLine, Ticket, TicketSheet, write_ticket
from jigger.core.geometry.units import said_in, show_long
from jigger.core.lettering.lettercase import FOLDER
from jigger.core.machines.machine import Machine
from jigger.core.machines.tooling import Tooling
from jigger.core.words import counting
from jigger.services.file_names import file_name
from jigger.services.lists.laying import ListedItem, SheetPlan
from jigger.services.lists.playing import in_time
from jigger.services.lists.runs import machine_of, run_path

FACE = FOLDER / "varela-round.ttf"


def job_ticket(name: str, said: str, laid: SheetPlan, tooling: Tooling, unit: str = "mm") -> bytes:
    """A PDF of every sheet of every run. `said`: when the list was kept; `unit`: that lengths are told in. Raises
    CommandRefused where there is nothing to cut.
    """
    if not laid.runs:
        raise CommandRefused("Cut list", "there is nothing on it that can be cut")
    numbers = {key: number for number, key in enumerate(laid.items, start=1)}
    sheets = [
        _sheet(run, sheet, laid, tooling, numbers, unit)
        for run in laid.runs
        for sheet in range(run.sheets)
        if run.leads and any(one.on(sheet) for one in run.cut_together)
    ]
    return write_ticket(Ticket(name, said, sheets, unit), FACE.read_bytes())


def papers_of(name: str, said: str, laid: SheetPlan, tooling: Tooling, unit: str = "mm") -> dict[str, bytes]:
    """All papers of a job by the names of their files: its ticket, and a placement map of each design that goes on in
    several pieces. Raises as job_ticket.
    """
    papers = {file_name(["00", "job ticket"], ".pdf"): job_ticket(name, said, laid, tooling, unit)}
    for number, one in enumerate(maps_of(laid.runs, laid.names), start=1):
        papers[file_name(["00", f"placement map {number}", one.title], ".pdf")] = paper_map(one, unit)
    return papers


def paper_map(one: PlacementMap, unit: str = "mm") -> bytes:
    """A placement map on A4."""
    return write_map(one, FACE.read_bytes(), unit)


def true_map(one: PlacementMap) -> bytes:
    """A placement map at true size. Raises CommandRefused where no page is so large."""
    return write_true_map(one, FACE.read_bytes())


def applied(laid: SheetPlan) -> list[str]:
    """In which order layers of a design are put on, of designs with several on the list; the first one first. What is
    seen through the glass goes the other way round.
    """
    designs: dict[str, list[tuple[ListedItem, Run]]] = {}
    for run in laid.runs:
        for key in dict.fromkeys(one.entry.listed for one in run.placed if not one.entry.aid):
            item = laid.items[key]
            designs.setdefault(f"{item.item.design} {item.item.revision}", []).append((item, run))
    found = []
    for some in designs.values():
        if len(some) < 2:
            continue
        behind = any(run.material.hidden_face and "glass" in run.material.name.lower() for _, run in some)
        order = sorted(some, key=lambda pair: -pair[0].order if behind else pair[0].order)
        words = ", then ".join(f"“{item.layer_title}”" for item, _ in order)
        found.append(f"{order[0][0].design_name}: {words}{', as it is seen through the glass' if behind else ''}")
    return found


def _sheet(run: Run, sheet: int, laid: SheetPlan, tooling: Tooling, numbers: dict[str, int], unit: str) -> TicketSheet:
    which = f", {run.stock.form} {sheet + 1} of {run.sheets}" if run.sheets > 1 else ""
    copies = [_line(one, numbers) for mate in run.cut_together for one in mate.on(sheet)]
    stock = (run.used(sheet) if run.stock.form == "roll" else run.stock.length, run.stock.height)
    together = [one for one in run.cut_together if one.on(sheet)]
    facts = [fact for one in together for fact in _facts(one, sheet, laid, unit)]
    steps = _steps(run, sheet, laid, tooling, unit)
    return TicketSheet(
        f"{', '.join(one.material.name for one in together)}{which}",
        page_of_run(run, sheet),
        stock,
        facts,
        copies,
        steps,
    )


def _line(one: LaidCopy, numbers: dict[str, int]) -> CopyLine:
    return CopyLine(numbers.get(one.entry.listed, 0), one.entry.title, one.box[0], one.box[1], one.turn)


def _facts(run: Run, sheet: int, laid: SheetPlan, unit: str) -> list[tuple[str, str]]:
    stock, on, used = run.stock, run.on(sheet), f"{run.used(sheet):.0f} mm"
    size = f"{stock.height:g} mm wide" if stock.form == "roll" else f"{stock.length:g} × {stock.height:g} mm"
    what: dict[str, int] = {}
    for one in on:
        what[one.entry.title] = what.get(one.entry.title, 0) + 1
    facts = [
        ("Stock", f"{run.material.name}, {stock.form} {said_in(size, unit)}, colour {run.colour}"),
        ("Copies", ", ".join(f"{count} × {title}" for title, count in what.items())),
    ]
    if run.field:
        facts.append(("Field", f"{_field(run, unit)}, waste {100 * run.waste:.0f} %"))
    elif stock.form == "roll":
        used = said_in(f"{used} of {stock.length:.0f} mm", unit)
        facts.append(("Length used", f"{used}, waste {100 * run.waste:.0f} %"))
    else:
        facts.append(
            ("Used", f"up to {said_in(used, unit)} of this {stock.form}; waste of the run {100 * run.waste:.0f} %")
        )
    if run.cost:
        facts.append(("Cost of the stock", f"{run.cost:.2f} for the run, at {run.material.price:.2f} a square metre"))
    if run.left_over:
        facts.append(("No room for", ", ".join(f"{count} × {title}" for title, count in run.left_over.items())))
    reasons = [words for key in dict.fromkeys(one.entry.listed for one in on) if key in laid.items
               for words in laid.items[key].accepted]  # fmt: skip
    facts += [("Accepted", words) for words in dict.fromkeys(reasons)]
    if run.mirrored:
        facts.append(("Mirrored", said_in(run.mirrored, unit)))
    return facts


def _field(run: Run, unit: str) -> str:
    """Where on its mat a material lies."""
    left, bottom, right, top = run.field or (0.0, 0.0, 0.0, 0.0)
    words = f"{right - left:.0f} × {top - bottom:.0f} mm, {left:.0f} mm from the left and {bottom:.0f} mm from below"
    return said_in(words, unit)


def _settings(run: Run, machine: Machine, tooling: Tooling) -> str:
    set_ = tooling.setting(machine, run.material)
    words = [f"{set_.speed:g} mm/s", f"{set_.force} {machine.force_unit}"]
    words += [f"{set_.passes} passes"] if set_.passes > 1 else []
    words += [f"kerf {tooling.kerf(machine, run.material):g} mm"] if run.material.process != "knife" else []
    words += [f"pierce {set_.pierce:g} s", f"leads {set_.lead:g} mm"] if machine.holds != "knife" else []
    words += [f"tabs of {set_.tab:g} mm"] if set_.tab and machine.holds != "knife" else []
    return ", ".join(words)


def _steps(run: Run, sheet: int, laid: SheetPlan, tooling: Tooling, unit: str) -> list[str]:
    together = [one for one in run.cut_together if one.on(sheet)]
    if run.mates:
        steps = [f"Put {one.material.name}, {one.colour}, on the mat: {_field(one, unit)}." for one in together]
    else:
        steps = [f"Load {run.material.name}, {run.colour}."]
    machines = tooling.machines_for(run.material)
    if machines:
        machine = tooling.machine_for(run.material, machine_of(run, tooling))
        settings: dict[str, list[str]] = {}
        for one in together:
            settings.setdefault(_settings(one, machine, tooling), []).append(f"{one.material.name}, {one.colour}")
        for words, whose in settings.items():
            which = f" for {' and '.join(whose)}" if len(settings) > 1 else ""
            steps.append(f"Set the {machine.name.lower()}{which}: {said_in(words, unit)}.")
        path = run_path(run, sheet, tooling)
        timing = timed(path, machine)
        length = " ".join(show_long(timing.cut, unit))
        steps.append(f"Cut it: {counting(len(path.strokes), 'contour')}, {length}, about {in_time(timing.seconds)}.")
        steps += [f"Mind: {said_in(note, unit)}." for note in dict.fromkeys(x.message for x in path.notes)]
    if run.stock.form == "roll":
        steps.append(said_in(f"Cut the roll off at {run.used(sheet):.0f} mm.", unit))
    if run.material.process == "knife":
        waste = [piece for one in together for piece in waste_of(one, sheet)]
        small = [str(number) for number, one in enumerate(waste, start=1) if one.small]
        lost = f", {len(small)} of them small and easily lost" if small else ""
        steps.append(f"Weed: {counting(len(waste), 'piece')}{lost}.")
    steps += [f"Put on in this order: {words}." for words in applied(laid)]
    return steps
