"""Findings and the report of a design."""

from dataclasses import dataclass

from jigger.core.checks.catalogue import FINDINGS, FindingKind, Severity


@dataclass(frozen=True)
class Finding:
    """One thing a check has to say, of a kind that the catalogue lists: `at` in document mm, y up; `measured` against
    `limit`, in the unit of its kind. Raises UnknownChoice, ValueError for a kind or severity that there is not.

    `part`: the part it belongs to, `parts` where it is of several. `pairs`: ids of neighbouring letters it is about.
    `ends`: the two points of edges that are too near to each other, mm. `lines`: points and lines that are drawn badly,
    mm. `letters`: ids of those whose edges it lies at.
    `accepted`: the reason a person gave for cutting all the same.
    """

    code: str
    severity: Severity
    at: tuple[float, float]
    message: str
    measured: float | None = None
    limit: float | None = None
    part: str | None = None
    parts: tuple[str, ...] = ()
    pairs: tuple[tuple[str, str], ...] = ()
    ends: tuple[tuple[float, float], ...] = ()
    lines: tuple[tuple[tuple[float, float], ...], ...] = ()
    layer: str | None = None
    letters: tuple[str, ...] = ()
    accepted: str | None = None

    def __post_init__(self) -> None:
        if self.severity not in self.kind.severities:
            raise ValueError(f"{self.code} is no {self.severity}")

    @property
    def kind(self) -> FindingKind:
        """What the catalogue says of it."""
        return FINDINGS[self.code]

    @property
    def of(self) -> str:
        """The part or layer that it is about, empty for the whole design."""
        return self.part or self.layer or ""

    @property
    def open(self) -> bool:
        """Whether it still stops the cut."""
        return self.severity == "stop" and self.accepted is None


@dataclass(frozen=True)
class LayerReport:
    """The figures of one layer's kept material: counts, area mm², outline mm, nodes, findings.

    `deviation`: mm, the proved bound on how far its outlines are from it.

    `loose`: pieces that would fall out; `wish` what the material asks for. `strip` and `opening`: the thinnest and the
    narrowest, mm, None where they are over `strip_reach` and `opening_reach`, up to which was looked; `strip_limit` and
    `opening_limit` what the material asks for.
    `missing`: figures that time ran out for, in words.
    """

    id: str
    name: str
    material: str
    wish: str
    pieces: int
    holes: int
    islands: int
    loose: int
    specks: int
    area: float
    outline: float
    nodes: int
    deviation: float
    strip: float | None
    opening: float | None
    strip_reach: float
    opening_reach: float
    strip_limit: float
    opening_limit: float
    missing: tuple[str, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Report:
    layers: tuple[LayerReport, ...]
    findings: tuple[Finding, ...]  # those of no layer, such as a design without one

    @property
    def all_findings(self) -> list[Finding]:
        """Every finding, those that stop first and accepted ones last."""
        rank = {"stop": 0, "warn": 1, "note": 2}
        found = [*self.findings, *(finding for layer in self.layers for finding in layer.findings)]
        return sorted(found, key=lambda finding: (finding.accepted is not None, rank[finding.severity]))

    @property
    def stops(self) -> list[Finding]:
        """What keeps the design from being ready."""
        return [finding for finding in self.all_findings if finding.open]

    @property
    def nodes(self) -> int:
        """Of the outlines of all layers."""
        return sum(layer.nodes for layer in self.layers)

    @property
    def ready(self) -> bool:
        """Whether nothing stops the cut but what a person accepted."""
        return not self.stops
