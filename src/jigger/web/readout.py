"""The readout's view: the verdict in words and one gauge a check."""

from dataclasses import dataclass

from jigger.core.checks.findings import Finding, Report
from jigger.core.design.built import Built
from jigger.core.geometry.outline import TOLERANCE
from jigger.services.mending import Offered


@dataclass(frozen=True)
class Gauge:
    """`share` fills the bar, `tick` marks the limit on it (both 0..1); `state` is ok, warn or bad."""

    id: str
    label: str
    figure: str
    unit: str
    share: float
    tick: float | None = None
    state: str = "ok"


@dataclass(frozen=True)
class Mark:
    """A finding's numbered lozenge on the drawing, screen mm."""

    number: int
    x: float
    y: float
    finding: Finding
    repairs: list[str]
    figures: str


@dataclass(frozen=True)
class ReadoutView:
    count: int
    severity: str
    verdict: str
    advice: str
    gauges: list[Gauge]
    marks: list[Mark]


def readout_view(report: Report, built: Built, unit: str, offers: list[Offered] | None = None) -> ReadoutView:
    """`offers`: the findings with their repairs, where they can be made."""
    found = offers or [Offered(finding, []) for finding in report.all_findings]
    findings = [one.finding for one in found]
    stops = [f for f in findings if f.severity == "stop"]
    marks = [
        Mark(i + 1, round(f.at[0], 3), round(-f.at[1], 3), f, [offer.words for offer in found[i].repairs], _figures(f))
        for i, f in enumerate(findings)
    ]
    serious = [f for f in findings if f.severity != "note"]  # a note says something and asks for nothing
    severity = serious[0].severity if serious else "ok"
    return ReadoutView(
        len(serious), severity, _verdict(stops, serious), _advice(findings), _gauges(report, built, unit), marks
    )


def _figures(finding: Finding) -> str:
    """What was measured beside its limit, where there are both."""
    if finding.measured is None or not finding.limit:
        return ""
    return f"{finding.measured:.4g} / {finding.limit:.4g}"


def _verdict(stops: list[Finding], findings: list[Finding]) -> str:
    falling = sum(f.code == "would-fall-out" for f in findings)
    if falling:
        return "One piece would fall out" if falling == 1 else f"{falling} pieces would fall out"
    if stops:
        return "Not ready to cut" if len(stops) == 1 else f"{len(stops)} things stop the cut"
    if findings:
        return "One thing to look at" if len(findings) == 1 else f"{len(findings)} things to look at"
    return "Ready to cut"


def _advice(findings: list[Finding]) -> str:
    if not findings:
        return "Nothing to mend"
    message = findings[0].message
    return message[0].upper() + message[1:]


def _gauges(report: Report, built: Built, unit: str) -> list[Gauge]:
    pieces = sum(layer.pieces for layer in report.layers)
    loose = sum(layer.loose for layer in report.layers)
    one = [layer for layer in report.layers if layer.wish == "one"]
    taped = sum(layer.pieces for layer in report.layers if layer.wish == "any")
    wish = f"of {len(one)}" if one and not taped else "taped" if not one else f"{taped} taped"
    length = sum(layer.outline for layer in report.layers)
    nodes = sum(layer.nodes for layer in report.layers)
    holes = sum(layer.holes for layer in report.layers)
    state = "bad" if loose else "ok"
    long, name = (1000.0, "m") if unit == "mm" else (304.8, "ft")
    return [
        Gauge("pieces", "Pieces", str(pieces), wish, (len(one) + taped) / pieces if pieces else 0.0, state=state),
        Gauge("loose", "Would fall out", str(loose), "", loose / pieces if pieces else 0.0, state=state),
        *_bridge_gauges(built, unit),
        Gauge("holes", "Openings", str(holes), "", min(1.0, holes / 60)),
        Gauge("length", "Cut length", f"{length / long:.2f}", name, min(1.0, length / 20000)),
        Gauge("nodes", "Nodes", str(nodes), "", min(1.0, nodes / 2000)),
        _fit_gauge(max((layer.deviation for layer in report.layers), default=0.0), unit),
    ]  # fmt: skip


def _fit_gauge(deviation: float, unit: str) -> Gauge:
    """The proved bound between outlines and computed areas, against what is allowed."""
    one, places = (1.0, 3) if unit == "mm" else (25.4, 4)
    return Gauge("fit", "Curves true to", f"{deviation / one:.{places}f}", unit, deviation / (2 * TOLERANCE), 0.5)


def _bridge_gauges(built: Built, unit: str) -> list[Gauge]:
    """Bridges by number, and the thinnest against what the material holds."""
    held = [(bridge, layer) for layer in built.layers for bridge in layer.bridges]
    if not held:
        return []
    layer = held[0][1]
    width = min(bridge.width for bridge, _ in held)
    limit = layer.material.least_strip
    full = max(2 * limit, width)
    one, places = (1.0, 1) if unit == "mm" else (25.4, 2)
    return [
        Gauge("bridges", "Bridges", str(len(held)), "", min(1.0, len(held) / 40)),
        Gauge("strip", "Thinnest bridge", f"{width / one:.{places}f}", f"/ {limit / one:.{places}f} {unit}",
              width / full, limit / full, "ok" if width >= limit - 1e-6 else "bad"),
    ]  # fmt: skip
