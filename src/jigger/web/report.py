"""The report as one page, on the screen or as a file by itself."""

import base64
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from jigger.core.checks.findings import Finding, LayerReport
from jigger.core.geometry.units import show_length, show_long
from jigger.core.materials.rules import Material
from jigger.services.showing.reporting import ReportPage
from jigger.web.readout import figures

STYLE = Path(__file__).parent / "static" / "css" / "report.css"
SEVERITIES = {"stop": "stops the cut", "warn": "look at it", "note": "note"}


@dataclass(frozen=True)
class LayerRow:
    """A layer's figures beside what its rules ask for, in the person's unit."""

    report: LayerReport
    rules: Material
    strip: str
    opening: str
    cut: str


@dataclass(frozen=True)
class FindingRow:
    layer: str
    finding: Finding
    severity: str
    figure: str
    at: str


@dataclass(frozen=True)
class ReportView:
    """`picture` is a data address; `style` the page's own where it stands by itself."""

    name: str
    verdict: str
    ready: bool
    made: str
    picture: str
    layers: list[LayerRow]
    findings: list[FindingRow]
    accepted: int
    style: str


def report_view(page: ReportPage, unit: str, now: datetime, alone: bool = False) -> ReportView:
    report = page.report
    titles = {layer.id: layer.name for layer in report.layers}
    stops = len(report.stops)
    verdict = "Ready to cut" if report.ready else f"{stops} thing{'s' * (stops != 1)} stop the cut"
    return ReportView(
        page.design.name, verdict, report.ready, now.strftime("%-d %B %Y, %H:%M"),
        "data:image/svg+xml;base64," + base64.b64encode(page.picture.encode()).decode(),
        [_layer(x, page.rules[x.id], unit) for x in report.layers],
        [_row(x, titles.get(x.layer or "", ""), unit) for x in report.all_findings],
        sum(x.accepted is not None for x in report.all_findings),
        STYLE.read_text(encoding="utf-8") if alone else "",
    )  # fmt: skip


def _layer(x: LayerReport, rules: Material, unit: str) -> LayerRow:
    def beside(found: float | None, reach: float, asked: float) -> str:
        shown = f"over {show_length(reach, unit, 2)}" if found is None else show_length(found, unit, 2)
        return f"{shown} / {show_length(asked, unit, 2)} {unit}"

    gap = max(rules.least_opening, rules.kerf)
    return LayerRow(
        x,
        rules,
        beside(x.strip, x.strip_reach, rules.least_strip),
        beside(x.opening, x.opening_reach, gap),
        " ".join(show_long(x.outline, unit)),
    )


def _row(x: Finding, layer: str, unit: str) -> FindingRow:
    figure = figures(x, unit)
    place = ", ".join(show_length(value, unit, 1) for value in x.at)
    return FindingRow(layer, x, SEVERITIES[x.severity], figure, place)
