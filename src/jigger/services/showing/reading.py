"""The reading of a design: its exact figures and findings, what repairs them in words, and where the tool starts."""

from dataclasses import dataclass

from jigger.core.checks.findings import Report
from jigger.core.design.model.design import Design
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.services.edits.mending import offered
from jigger.services.showing.blade import BladeView, blade_view
from jigger.services.workshop import Workshop


@dataclass(frozen=True)
class Reading:
    """`repairs`: of the first findings, those that stop before all others, what would clear each, in words."""

    report: Report
    repairs: tuple[tuple[str, ...], ...]
    blade: BladeView


def read_out(
    workshop: Workshop, design: Design, nodes: bool, tooling: Tooling = SHIPPED_TOOLING, seen: bool = True
) -> Reading:
    """On the machines of a shop; with `nodes` the outlines node by node. Nothing for Blade where it is not `seen`, or
    the outlines are not known.
    """
    report = workshop.report(design)
    repairs = tuple(tuple(offer.words for offer in one.repairs) for one in offered(workshop, design, report))
    known = seen and not any("outlines" in layer.missing for layer in report.layers)
    blade = blade_view(workshop.exact(design), nodes, tooling) if known else BladeView([], [], [])
    return Reading(report, repairs, blade)
