"""Findings with what would clear them: looked at first, then done as one edit."""

from dataclasses import dataclass

from jigger.core.checks.findings import Finding, Report
from jigger.core.checks.offers import Offer
from jigger.core.checks.repairs import repairs
from jigger.core.design.edits.mends import Mend
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.services.beside.aside import Aside
from jigger.services.designs import Designs, Opened
from jigger.services.workshop import Workshop

LISTED = 60  # findings that are shown one by one: a design of loose dots has thousands


@dataclass(frozen=True)
class Offered:
    """A finding and its repairs, the one that changes least first."""

    finding: Finding
    repairs: list[Offer]


def offered(workshop: Workshop, design: Design, report: Report) -> list[Offered]:
    """The first findings of a design, those that stop before all others, up to LISTED."""
    built = workshop.exact(design)
    return [Offered(finding, repairs(design, built, finding)) for finding in report.all_findings[:LISTED]]


def repair(workshop: Workshop, design: Design, code: str, finding: int, number: int) -> Mend:
    """A repair of a finding by its place among them and its code. Raises CommandRefused where it is there no longer."""
    found = offered(workshop, design, workshop.report(design))
    if not (0 <= finding < len(found) and found[finding].finding.code == code):
        raise CommandRefused("", "the design has changed since; this finding is no longer there")
    offers = found[finding].repairs
    if not 0 <= number < len(offers):
        raise CommandRefused("", "this repair is no longer possible")
    return offers[number].mend()


def mend(
    designs: Designs, aside: Aside, identity: str, code: str, finding: int, number: int, seen: int | None
) -> Opened:
    """The design with a finding mended. Raises CommandRefused, LateEdit."""
    found = aside.ask("repair", identity, repair, designs.open(identity).design, code, finding, number)
    return designs.edit(identity, found, seen)
