"""The report of a design as data: every figure and finding, and the rules it was checked under."""

from dataclasses import dataclass
from typing import Any

from jigger.core.checks.findings import Finding, Report
from jigger.core.checks.offers import Offer
from jigger.core.design.model.design import Design
from jigger.core.formats.thumbnail import write_thumbnail
from jigger.core.materials.rules import Material
from jigger.services.edits.mending import offered
from jigger.services.workshop import Workshop

CLOSE = 1200  # pixels of a printed picture, where somebody looks at it
PICTURE = 0.2  # mm a pixel: how finely the report's picture is drawn


@dataclass(frozen=True)
class ReportPage:
    """All that a report shows: the design, its figures, the rules by layer, and a picture as SVG."""

    design: Design
    report: Report
    rules: dict[str, Material]
    picture: str


def in_its_colours(workshop: Workshop, design: Design, most: int = CLOSE) -> str:
    """The work on its surface, as SVG; printed pictures with at most so many pixels."""
    colours = {layer.id: layer.colour for layer in design.layers if layer.colour}
    ground = design.surface.colour if design.surface else "#f3eee2"
    return write_thumbnail(workshop.display(design, PICTURE), colours, ground, workshop.pictures, most)


def reported(workshop: Workshop, design: Design) -> ReportPage:
    rules = {layer.id: design.material(layer.material) for layer in design.layers}
    return ReportPage(design, workshop.report(design), rules, in_its_colours(workshop, design))


def report_data(workshop: Workshop, design: Design) -> dict[str, Any]:
    """A report as `check --json` gives it: lengths mm, areas mm²; with the repairs of the first findings, as many as
    are listed for a person.
    """
    report = workshop.report(design)
    repairs = {one.finding: one.repairs for one in offered(workshop, design, report)}
    layers = [
        {"id": x.id, "name": x.name, "material": x.material, "wish": x.wish, "pieces": x.pieces, "holes": x.holes,
         "islands": x.islands, "loose": x.loose, "area_mm2": round(x.area, 4), "outline_mm": round(x.outline, 4),
         "nodes": x.nodes, "deviation_mm": round(x.deviation, 4), "strip_mm": _rounded(x.strip),
         "opening_mm": _rounded(x.opening), "rules": _limits(design.material(x.material)),
         "not_measured": list(x.missing),
         "findings": [_finding(f, repairs.get(f, [])) for f in x.findings]}
        for x in report.layers
    ]  # fmt: skip
    return {
        "ready": report.ready,
        "layers": layers,
        "findings": [_finding(f, repairs.get(f, [])) for f in report.findings],
    }


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 4)


def _limits(rules: Material) -> dict[str, Any]:
    return rules.model_dump(include={"least_strip", "least_opening", "least_piece", "bridge", "kerf", "stops_below"})


def _finding(finding: Finding, repairs: list[Offer]) -> dict[str, Any]:
    at = [round(value, 4) for value in finding.at]
    parts = finding.parts or ((finding.part,) if finding.part else ())
    letters = dict.fromkeys([*finding.letters, *(letter for pair in finding.pairs for letter in pair)])
    return {"code": finding.code, "severity": finding.severity, "at": at, "measured": finding.measured,
            "limit": finding.limit, "unit": finding.kind.unit, "message": finding.message, "layer": finding.layer,
            "parts": list(parts), "letters": list(letters), "accepted": finding.accepted,
            "repairs": [{"id": one.id, "words": one.words} for one in repairs]}  # fmt: skip
