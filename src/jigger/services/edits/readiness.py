"""Make ready: repairs, one after the other, that clear what stops a design."""

from collections.abc import Sequence
from dataclasses import dataclass

from jigger.core.checks.findings import Finding, Report
from jigger.core.checks.repairs import repairs
from jigger.core.checks.spoiling import spoiled
from jigger.core.design.edits.mends import Mend
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import write_design
from jigger.core.errors import CommandRefused, DesignRefused, JiggerError, UnknownChoice
from jigger.core.patience import OutOfTime, breathe, within
from jigger.services.designs import Designs, Opened
from jigger.services.workshop import Workshop

ROUNDS = 24  # repairs at the most
SECONDS = 20.0  # after which what was found so far is all


@dataclass(frozen=True)
class Costly:
    """A repair that would spoil letters: what of them, in words."""

    mend: Mend
    spoils: tuple[str, ...]


@dataclass(frozen=True)
class Plan:
    """Repairs in order, the design after them, the stops that are left, and whether time ran out.

    `costly`: repairs that would clear more, but spoil letters; none of them is done unless a person asks for it.
    """

    steps: tuple[Mend, ...]
    design: Design
    left: tuple[Finding, ...]
    stopped: bool = False
    costly: tuple[Costly, ...] = ()


class _Unfinished(JiggerError):
    """A plan that ran out of time, which is not kept for the next time."""

    def __init__(self, plan: Plan):
        super().__init__("time ran out")
        self.plan = plan


def make_ready(workshop: Workshop, design: Design, warnings: bool = False) -> Plan:
    """Of all repairs of what stops (and of `warnings`, once nothing stops) the first that lowers the number of stops
    without a new kind of them, and spoils no letter, is taken, again and again, until none is left that does or time
    has run out. What was found for a design in time is kept, to be done.
    """

    def make() -> Plan:
        plan = _planned(workshop, design, warnings)
        if plan.stopped:
            raise _Unfinished(plan)
        return plan

    try:
        plan: Plan = workshop.cache.get(("plan", write_design(design), warnings), make)
    except _Unfinished as late:
        return late.plan
    return plan


def _planned(workshop: Workshop, design: Design, warnings: bool) -> Plan:
    steps, report = list[Mend](), workshop.report(design)
    costly: dict[str, Costly] = {}
    stopped = False
    try:
        with within(SECONDS):
            for _ in range(ROUNDS):
                costly.clear()  # what is left over is for the design after all steps
                found = _step(workshop, design, report, warnings, costly)
                if found is None:
                    break
                mend, design, report = found
                steps.append(mend)
    except OutOfTime:
        stopped = True
    return Plan(tuple(steps), design, tuple(report.stops), stopped, tuple(costly.values()))


def _step(
    workshop: Workshop, design: Design, report: Report, warnings: bool, costly: dict[str, Costly]
) -> tuple[Mend, Design, Report] | None:
    """The next repair, the design after it and its report; those that would spoil letters are put into `costly`."""
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
            if not _better(report, after):
                continue
            spoils = spoiled(design, built, workshop.exact(mended))
            if not spoils:
                return mend, mended, after
            costly[offer.words] = Costly(mend, spoils)
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


def do(designs: Designs, identity: str, mends: Sequence[Mend], seen: int | None) -> Opened:
    """Repairs, chosen from a plan, as one edit. Raises CommandRefused where there are none, LateEdit."""
    edits = [edit for mend in mends for edit in mend.edits]
    if not edits:
        raise CommandRefused("", "no repair was chosen; tick at least one")
    return designs.edit(identity, Mend(words="Make ready", edits=edits), seen)
