"""Make ready: repairs, one after the other, that clear what stops a design."""

from dataclasses import dataclass

from jigger.core.checks.findings import Finding, Report
from jigger.core.checks.repairs import repairs
from jigger.core.design.document import write_design
from jigger.core.design.mends import Mend
from jigger.core.design.model import Design
from jigger.core.errors import CommandRefused, DesignRefused, UnknownChoice
from jigger.core.patience import OutOfTime, breathe, within
from jigger.services.aside import Aside
from jigger.services.designs import Designs, Opened
from jigger.services.workshop import Workshop

ROUNDS = 24  # repairs at the most
SECONDS = 20.0  # after which what was found so far is all


@dataclass(frozen=True)
class Plan:
    """Repairs in order, the design after them, the stops that are left, and whether time ran out."""

    steps: tuple[Mend, ...]
    design: Design
    left: tuple[Finding, ...]
    stopped: bool = False

    def chosen(self, numbers: set[int]) -> Mend | None:
        """The steps of these numbers as one edit; None where there are none."""
        edits = [edit for number, step in enumerate(self.steps) if number in numbers for edit in step.edits]
        return Mend(words="Make ready", edits=edits) if edits else None


def make_ready(workshop: Workshop, design: Design, warnings: bool = False) -> Plan:
    """Of all repairs of what stops (and of `warnings`, once nothing stops) the first that lowers the number of stops
    without a new kind of them is taken, again and again, until none is left that does or time has run out. What was
    found for a design is kept, to be done.
    """
    plan: Plan = workshop.cache.get(
        ("plan", write_design(design), warnings), lambda: _planned(workshop, design, warnings)
    )
    return plan


def _planned(workshop: Workshop, design: Design, warnings: bool) -> Plan:
    steps, report = list[Mend](), workshop.report(design)
    stopped = False
    try:
        with within(SECONDS):
            for _ in range(ROUNDS):
                found = _step(workshop, design, report, warnings)
                if found is None:
                    break
                mend, design, report = found
                steps.append(mend)
    except OutOfTime:
        stopped = True
    return Plan(tuple(steps), design, tuple(report.stops), stopped)


def _step(workshop: Workshop, design: Design, report: Report, warnings: bool) -> tuple[Mend, Design, Report] | None:
    built = workshop.exact(design)
    stops = report.stops
    wanted = stops or [x for x in report.all_findings if warnings and x.severity == "warn" and x.accepted is None]
    tried: set[str] = set()
    for finding in wanted:
        for offer in repairs(design, built, finding):
            if offer.words in tried:
                continue
            tried.add(offer.words)
            breathe()
            try:
                mend = offer.mend()
                mended = mend.apply(design)
                after = workshop.report(mended)
            except (CommandRefused, DesignRefused, UnknownChoice):
                continue
            if _better(report, after):
                return mend, mended, after
    return None


def _better(before: Report, after: Report) -> bool:
    """Fewer stops, or as few and fewer warnings, and no kind of stop that was not there."""
    kinds = {finding.code for finding in before.stops}
    if not {finding.code for finding in after.stops} <= kinds:
        return False
    if len(after.stops) != len(before.stops):
        return len(after.stops) < len(before.stops)
    return not after.stops and _warnings(after) < _warnings(before)


def _warnings(report: Report) -> int:
    return sum(finding.severity == "warn" and finding.accepted is None for finding in report.all_findings)


def do(designs: Designs, aside: Aside, identity: str, numbers: set[int], seen: int | None) -> Opened:
    """The chosen steps of the plan as one edit. Raises CommandRefused where there are none, LateEdit."""
    plan = aside.ask("plan", identity, make_ready, designs.open(identity).design, True)
    mend = plan.chosen(numbers)
    if mend is None:
        raise CommandRefused("", "no repair was chosen; tick at least one")
    return designs.edit(identity, mend, seen)
