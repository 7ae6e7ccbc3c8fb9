"""The readout's view: the verdict in words and one gauge a check."""

from collections.abc import Sequence
from dataclasses import dataclass

from jigger.core.checks.findings import Finding, Report
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.geometry.units import MM_PER, show_long
from jigger.core.joinery.widths.necks import REACH
from jigger.services.edits.mending import LISTED
from jigger.services.edits.readiness import Plan
from jigger.web.chosen import finding_key
from jigger.web.summaries import piece_count

LABELS = {
    "pieces": "Pieces", "loose": "Would fall out", "strip": "Thinnest strip", "opening": "Narrowest opening",
    "length": "Cut length", "nodes": "Nodes", "fit": "Curves true to",
}  # fmt: skip
EXPLAINED = {
    "pieces": "The pieces that what is kept comes to, beside what the work wishes for",
    "loose": "Pieces that nothing holds: counters and islands that come away with the waste",
    "strip": "The thinnest strip of kept material, beside the least that the material allows",
    "opening": "The narrowest opening, beside the least that can be cut and weeded",
    "length": "How far the tool cuts in all",
    "nodes": "Nodes of all outlines as they are written; fewer run smoother",
    "fit": "How far the curves that are written are from what was computed, at most",
}
UNKNOWN = "?"  # a figure that time ran out for


@dataclass(frozen=True)
class Gauge:
    """`share` fills the bar, `tick` marks the limit on it (both 0..1); `state` is ok, warn or bad. `code`: of the
    findings that it counts.
    """

    id: str
    label: str
    figure: str
    unit: str
    share: float
    tick: float | None = None
    state: str = "ok"
    code: str = ""


@dataclass(frozen=True)
class Mark:
    """A finding's numbered lozenge on the drawing, screen mm."""

    number: int
    x: float
    y: float
    finding: Finding
    repairs: list[str]
    figures: str

    @property
    def key(self) -> str:
        """What it is known by, see finding_key."""
        return finding_key(self.finding.code, self.x, self.y)

    @property
    def lit(self) -> str:
        """Between two edges that are too near to each other, or along lines that are drawn badly, as a path; a point is
        a line of no length. Empty where it is about neither.
        """
        lines = (self.finding.ends, *self.finding.lines)
        return "".join("M" + "L".join(f"{x:.3f} {-y:.3f}" for x, y in (*line, line[-1])) for line in lines if line)


@dataclass(frozen=True)
class ReadoutView:
    """`counts`: of each layer's pieces, in the words of the build sheet, which knew them only as they are shown."""

    count: int
    severity: str
    verdict: str
    advice: str
    gauges: list[Gauge]
    marks: list[Mark]
    mendable: bool
    counts: dict[str, str]


def readout_view(report: Report, unit: str, repairs: Sequence[Sequence[str]] = ()) -> ReadoutView:
    """`repairs`: of the first findings, in words, where they can be made."""
    findings = report.all_findings
    marks = [
        Mark(
            n + 1,
            round(f.at[0], 3),
            round(-f.at[1], 3),
            f,
            list(repairs[n]) if n < len(repairs) else [],
            figures(f, unit),
        )
        for n, f in enumerate(findings[:LISTED])
    ]
    # A note says something and asks for nothing; neither does what is accepted.
    serious = [f for f in findings if f.severity != "note" and not f.accepted]
    severity = serious[0].severity if serious else "ok"
    mendable = any(mark.repairs for mark in marks if mark.finding in serious)
    counts = {layer.id: piece_count(layer.pieces, layer.wish) for layer in report.layers}
    verdict = _verdict([f for f in findings if f.open], serious)
    return ReadoutView(
        len(serious), severity, verdict, _advice(findings), _gauges(report, unit), marks, mendable, counts
    )


def plan_words(plan: Plan) -> str:
    """What making ready comes to."""
    left = len(plan.left)
    rest = "" if not left else f"; {'one thing still stops' if left == 1 else f'{left} things still stop'} the cut"
    if not plan.steps:
        return (
            f"{'No repair clears' if not plan.costly else 'Only repairs that spoil letters clear'} what is left{rest}"
        )
    steps = "One repair" if len(plan.steps) == 1 else f"{len(plan.steps)} repairs"
    ready = " makes it ready" if len(plan.steps) == 1 else " make it ready"
    return f"{steps}{rest or ready}{'; time ran out' if plan.stopped else ''}"


def figures(finding: Finding, unit: str) -> str:
    """What was measured beside its limit, where there are both."""
    if finding.measured is None or not finding.limit:
        return ""
    of = finding.kind.unit
    one = {"mm": MM_PER[unit], "mm²": MM_PER[unit] ** 2, "share": 0.01}.get(of, 1.0)
    words = {"mm": f" {unit}", "mm²": f" {unit}²", "share": " %", "%": " %", "°": "°"}.get(of, "")
    return f"{finding.measured / one:.4g} / {finding.limit / one:.4g}{words}"


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
    first = f"; the first {LISTED} places are marked" if len(findings) > LISTED else ""
    return message[0].upper() + message[1:] + first


def _gauges(report: Report, unit: str) -> list[Gauge]:
    pieces = sum(layer.pieces for layer in report.layers)
    loose = sum(layer.loose for layer in report.layers)
    one = [layer for layer in report.layers if layer.wish == "one"]
    taped = sum(layer.pieces for layer in report.layers if layer.wish != "one")
    wish = f"of {len(one)}" if one and not taped else "taped" if not one else f", {taped} taped"
    length = sum(layer.outline for layer in report.layers)
    state = "bad" if loose else "ok"
    return [
        Gauge("pieces", LABELS["pieces"], str(pieces), wish, (len(one) + taped) / max(pieces, 1), state=state,
              code="would-fall-out"),
        Gauge("loose", LABELS["loose"], str(loose), "", loose / pieces if pieces else 0.0, state=state,
              code="would-fall-out"),
        *_narrow_gauges(report, unit),
        Gauge("length", LABELS["length"], *show_long(length, unit), min(1.0, length / 20000)),
        *_outline_gauges(report, unit),
    ]  # fmt: skip


def _outline_gauges(report: Report, unit: str) -> list[Gauge]:
    """The nodes of all outlines, and the proved bound between them and the computed areas, against what is allowed."""
    if any("outlines" in layer.missing for layer in report.layers):
        return [Gauge("nodes", LABELS["nodes"], UNKNOWN, "", 0.0), Gauge("fit", LABELS["fit"], UNKNOWN, unit, 0.0)]
    deviation = max((layer.deviation for layer in report.layers), default=0.0)
    one, places = (1.0, 3) if unit == "mm" else (25.4, 4)
    return [
        Gauge("nodes", LABELS["nodes"], str(report.nodes), "", min(1.0, report.nodes / 2000)),
        Gauge("fit", LABELS["fit"], f"{deviation / one:.{places}f}", unit, deviation / (2 * TOLERANCE), 0.5),
    ]


def _narrow_gauges(report: Report, unit: str) -> list[Gauge]:
    """The thinnest strip and the narrowest opening of all layers, each against its layer's limit."""
    missing = {name for layer in report.layers for name in layer.missing}
    strips = [(layer.strip, layer.strip_limit, layer.strip_reach) for layer in report.layers]
    gaps = [(layer.opening, layer.opening_limit, layer.opening_reach) for layer in report.layers]
    strips, gaps = [] if "strips" in missing else strips, [] if "openings" in missing else gaps
    return [
        _narrow("strip", "thin-strip", strips, report, unit),
        _narrow("opening", "narrow-opening", gaps, report, unit),
    ]


def _narrow(name: str, code: str, found: list[tuple[float | None, float, float]], report: Report, unit: str) -> Gauge:
    """The width nearest to its limit; where all are wider than was looked for, or time ran out, that is said."""
    if not found and report.layers:
        return Gauge(name, LABELS[name], UNKNOWN, "", 0.0, None, "warn", code)
    one, places = (1.0, 1) if unit == "mm" else (25.4, 2)
    shown = [(w or reach, most, w is None) for w, most, reach in found]
    width, limit, unknown = min(shown, key=lambda x: x[0] / x[1], default=(0.0, 1.0, False))
    severities = {f.severity for f in report.all_findings if f.code == code and not f.accepted}
    state = "bad" if "stop" in severities else "warn" if severities else "ok"
    over = "> " if unknown else ""
    figure, most = f"{over}{width / one:.{places}f}", f"/ {limit / one:.{places}f} {unit}"
    return Gauge(name, LABELS[name], figure, most, min(1.0, width / (REACH * limit)), 1 / REACH, state, code)
