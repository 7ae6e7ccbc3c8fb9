"""The checks of a design, on each layer's kept material at finished size."""

import logging
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from functools import partial
from itertools import combinations

from jigger.core.cache import Cache
from jigger.core.checks.backing import backing_findings
from jigger.core.checks.bleeding import bleed_findings
from jigger.core.checks.drawn import drawn_findings, outline_findings
from jigger.core.checks.findings import Finding, LayerReport, Report
from jigger.core.checks.layers import hidden_face_finding, overlap_findings
from jigger.core.checks.lettering import lettering_findings
from jigger.core.checks.measuring import Measured, measured
from jigger.core.checks.narrow import narrow_findings
from jigger.core.checks.swallowed import swallowed_findings
from jigger.core.design.building.built import Built, BuiltLayer, PrintedLayer
from jigger.core.design.building.fold import emptied
from jigger.core.design.building.pictured import PlacedPicture
from jigger.core.design.model.design import Design, GroundPart, Layer
from jigger.core.geometry.area.clearance import beyond, distance
from jigger.core.geometry.area.region import Region, intersection
from jigger.core.geometry.boxes import middle
from jigger.core.joinery.pieces.pieces import Piece
from jigger.core.joinery.widths.necks import Necks
from jigger.core.materials.printing import FINE
from jigger.core.patience import Stopped

NAMED = 16  # letters of one piece
OPEN = 0.85  # of a letter's opening that is left, at least

_log = logging.getLogger("jigger")
SECONDS = 12.0  # after which what is not measured yet is left out, and said to be


def check(design: Design, built: Built, cache: Cache, seconds: float = SECONDS) -> Report:
    """Every finding about a built design. Hidden layers are not cut and not checked. In `cache` pieces that stay as
    they were are not measured again. Figures that are not there after `seconds` are a finding that stops.
    """
    layers = {layer.id: layer for layer in design.layers}
    said = {(one.code, one.of, tuple(one.letters)): one.reason for one in design.accepted}

    def known(finding: Finding, layer: str | None = None) -> Finding:
        finding = replace(finding, layer=layer)
        return replace(finding, accepted=said.get((finding.code, finding.of, finding.letters)))

    reports = tuple(
        replace(report, findings=tuple(known(finding, report.id) for finding in report.findings))
        for report in (
            _layer_report(design, layers[b.id], b, built, figures)
            for b, figures in zip(built.layers, measured(built.layers, cache, seconds), strict=True)
        )
    )
    nowhere = (0.0, 0.0)
    apart = looked(lambda: _sets(design, built), "what is kept apart", nowhere)
    overlaps = looked(lambda: overlap_findings(design, built), "whether layers lie on each other", nowhere)
    printed = [
        finding
        for one in built.printed
        for finding in looked(partial(_printed, design, one, built), "what is printed", nowhere)
    ]
    bleed = looked(lambda: bleed_findings(built), "how far print goes on", nowhere)
    alone = tuple(map(known, (*apart, *overlaps, *printed, *bleed)))
    if not built.layers:
        alone += (Finding("nothing-to-cut", "stop", (0.0, 0.0), "there is no layer to cut; add lettering or a shape"),)
    return Report(reports, alone)


def _layer_report(design: Design, layer: Layer, built: BuiltLayer, whole: Built, figures: Measured) -> LayerReport:
    outline, strips, gaps = figures.outline, figures.strips or Necks(), figures.gaps or Necks()
    at = middle(built.kept.bounds or (0.0, 0.0, 0.0, 0.0))
    looks: dict[str, Callable[[], Iterable[Finding]]] = {
        "its figures": lambda: _missing(built, figures),
        "its parts": lambda: _parts(design, layer, built, whole),
        "its pieces": lambda: _pieces(design, built),
        "its bridges": lambda: _bridges(design, layer, built, whole),
        "narrow places": lambda: narrow_findings(built, figures, design.letters()),
        "letters that are welded over": lambda: swallowed_findings(design, layer, built, whole.parts),
        "what it lies on": lambda: backing_findings(design, layer, whole),
        "its face": lambda: hidden_face_finding(built),
        "its size": lambda: _size(design, layer, built, whole),
        "its outlines": lambda: outline_findings(outline) if outline else (),
    }
    findings = [finding for what, look in looks.items() for finding in looked(look, what, at)]
    return LayerReport(
        id=layer.id,
        name=design.layer_title(layer),
        material=built.material.id,
        wish=built.wish,
        pieces=len(built.pieces.pieces),
        holes=built.pieces.holes,
        islands=len(built.pieces.islands),
        loose=len(loose_pieces(built)),
        specks=len(built.pieces.specks),
        area=built.kept.area,
        outline=built.kept.length,
        nodes=outline.nodes if outline else 0,
        deviation=outline.deviation if outline else 0.0,
        strip=strips.least,
        opening=gaps.least,
        strip_reach=strips.reach,
        opening_reach=gaps.reach,
        strip_limit=built.material.least_strip,
        opening_limit=built.material.least_gap,
        missing=figures.missing,
        findings=tuple(findings),
    )


def looked(look: Callable[[], Iterable[Finding]], what: str, at: tuple[float, float]) -> list[Finding]:
    """What a look finds; where it fails, one finding that stops and says what was not looked at."""
    try:
        return list(look())
    except Stopped:
        raise
    except Exception:
        _log.warning("checking %s failed", what, exc_info=True)
        return [Finding("not-checked", "stop", at, f"{what} could not be checked; alter the design a little")]


def _missing(built: BuiltLayer, figures: Measured) -> Iterator[Finding]:
    if figures.missing:
        message = f"measuring took too long or failed; not looked at: {', '.join(figures.missing)}"
        yield Finding("not-measured", "stop", middle(built.kept.bounds or (0.0, 0.0, 0.0, 0.0)), message)


def loose_pieces(built: BuiltLayer) -> list[Piece]:
    """The pieces that come away: where the work must be one all but the largest; where each thing of the layer must be
    one all that are not the largest of a thing; where letters are wished for one by one islands, and all but the
    largest of each letter.
    """
    if built.wish == "one":
        return list(built.pieces.pieces[1:])
    if built.wish == "any":
        return []
    if built.wish == "each":
        return _of_no_thing(built)
    named: set[str] = set()
    loose = []
    for piece in built.pieces.pieces:  # the largest first
        owner = piece.owner
        if piece.is_island or owner in named:
            loose.append(piece)
        named.add(owner)
    return loose


def _of_no_thing(built: BuiltLayer) -> list[Piece]:
    held = {built.pieces.most_of(thing) for thing in built.things}
    return [piece for piece in built.pieces.pieces if piece.number not in held]


def _parts(design: Design, layer: Layer, built: BuiltLayer, whole: Built) -> Iterator[Finding]:
    titles = {part.id: part.title for part in design.parts()}
    hidden = design.hidden_parts()
    for part in layer.all_parts():
        if part.id in hidden:
            continue
        result = whole.parts[part.id]
        at = middle(result.region.bounds or result.body)
        for problem in result.problems:
            yield Finding(problem.code, "note" if problem.slight else "stop", at, problem.message, part=part.id)
        yield from lettering_findings(design, layer, part, result, built.material, at)
        yield from drawn_findings(part, result)
    for identity in built.emptied:
        problem = emptied(identity, titles[identity])
        yield Finding(problem.code, "stop", (0.0, 0.0), problem.message, part=identity)
    for problem in built.problems:
        at = problem.at or middle(built.folded.bounds or (0.0, 0.0, 0.0, 0.0))
        part_id = problem.part if problem.part in titles else None
        yield Finding(problem.code, "note" if problem.slight else "stop", at, problem.message, part=part_id)
    if built.kept.is_empty and not built.emptied:
        message = f"layer “{design.layer_title(layer)}” keeps no material; there is nothing to cut"
        yield Finding("nothing-to-cut", "stop", (0.0, 0.0), message)
    if built.ground is not None:
        ground = layer.ground.part if isinstance(layer.ground, GroundPart) else None
        over = beyond(built.folded, built.ground)
        if over.area > 0.01:
            message = "the letters run over the edge of the ground and open it there"
            yield Finding("over-the-edge", "warn", over.inside_point, message, over.area, 0.0, ground)


def _printed(design: Design, layer: PrintedLayer, whole: Built) -> Iterator[Finding]:
    """What of a printed layer could not be made as asked; how narrow it is does not matter."""
    hidden, of = design.hidden_parts(), next(one for one in design.layers if one.id == layer.id)
    results = [whole.parts[part.id] for part in of.all_parts() if part.id not in hidden]
    for result in results:
        at = middle(result.region.bounds or result.body)
        for glyph in result.missing:
            yield Finding("missing-glyph", "stop", at, f"{glyph.described} is missing", part=result.id)
        for problem in result.problems:
            yield Finding(problem.code, "note" if problem.slight else "stop", at, problem.message, part=result.id)
    for problem in layer.problems:
        yield Finding(problem.code, "note" if problem.slight else "stop", problem.at or (0.0, 0.0), problem.message)
    titles = {part.id: part.title for part in of.all_parts()}
    coarsest: dict[str, PlacedPicture] = {}
    for one in layer.pictures:
        coarsest[one.part] = min(one, coarsest.get(one.part, one), key=lambda picture: picture.dpi)
    for identity, one in coarsest.items():
        if one.dpi < FINE - 0.5:
            message = f"“{titles[identity]}” is printed with {one.dpi:.0f} pixels an inch, which are seen one by one"
            yield Finding("coarse-picture", "warn", one.seen.inside_point, message, one.dpi, FINE, part=identity)


def _sets(design: Design, whole: Built) -> Iterator[Finding]:
    """Parts that are kept apart and come nearer than their distance."""
    hidden = design.hidden_parts()
    titles = {part.id: part.title for part in design.parts() if part.id not in hidden}
    for one in design.sets:
        members = [x for x in one.parts if x in titles] if one.kind == "apart" else []
        for a, b in combinations(members, 2):
            near, at = distance(whole.parts[a].region, whole.parts[b].region)
            if near < one.gap - 1e-3:
                message = f"“{titles[a]}” and “{titles[b]}” come within {near:.2f} mm, not {one.gap:g} mm"
                yield Finding("too-near", "warn", at, message, near, one.gap, b, (a, b))


def _pieces(design: Design, built: BuiltLayer) -> Iterator[Finding]:
    letters = design.letters()
    loose = loose_pieces(built)
    for piece in loose:
        of = _letter_of(piece, letters)
        where = _piece_called(piece, letters)
        message = f"{where} would fall out: {piece.region.area:.1f} mm² hangs on nothing"
        yield Finding("would-fall-out", "stop", piece.region.inside_point, message, piece.region.area, 0.0, letters=of)
    least = built.material.least_piece
    for piece in (p for p in built.pieces.pieces if p.region.area < least and p not in loose):
        message = f"a piece of {piece.region.area:.2f} mm² is too small to weed or hold"
        yield Finding("small-piece", "warn", piece.region.inside_point, message, piece.region.area, least,
                      letters=_letter_of(piece, letters))  # fmt: skip
    yield from _waste(built)
    if built.pieces.specks:
        at = built.pieces.specks[0].inside_point
        yield Finding("specks", "warn", at, "specks too small to count are left over", len(built.pieces.specks), 0.0)


def _waste(built: BuiltLayer) -> Iterator[Finding]:
    """Openings that are too small to be weeded out of what is cut with a knife; elsewhere waste drops by itself."""
    least = built.material.least_piece
    if built.material.process != "knife":
        return
    small = sorted(built.kept.openings(least))
    if small:
        count = "an opening is" if len(small) == 1 else f"{len(small)} openings are"
        message = f"{count} too small to weed, from {small[0][0]:.2f} mm²"
        yield Finding("small-waste", "warn", small[0][1], message, small[0][0], least)


def _bridges(design: Design, layer: Layer, built: BuiltLayer, whole: Built) -> Iterator[Finding]:
    letters = design.letters()
    yield from _closed_by_hand(letters, layer, built, whole)
    places = {(counter.owner, counter.number): counter.region for counter in built.counters}
    for owner, number, _ in built.lost:
        region = places.get((owner, number), built.kept)
        message = f"the bridge you placed on {_called(owner, letters)} no longer fits there; move or remove it"
        yield Finding("bridge-lost", "warn", region.inside_point, message)
    if built.bridges:
        thinnest = min(built.bridges, key=lambda bridge: bridge.width)
        width = thinnest.width
        if width < built.material.least_strip - 1e-6:
            message = f"bridges of {width:.2f} mm are thinner than this material holds"
            yield Finding("thin-bridge", "stop", thinnest.strip.start, message, width, built.material.least_strip)


def _closed_by_hand(letters: dict[str, str], layer: Layer, built: BuiltLayer, whole: Built) -> Iterator[Finding]:
    """Opened letters of which less than OPEN is left by bridges, one of them by hand; by themselves they leave more."""
    by_hand = {bridge.owner: bridge for bridge in built.bridges if bridge.by_hand}
    if layer.build != "open" or not by_hand:
        return
    areas: dict[str, Region] = {}
    for part in layer.all_parts():
        areas |= {one: area for one, area in whole.parts[part.id].letter_areas() if one in by_hand}
    for owner, area in areas.items():
        left = 1 - intersection(built.kept, area).area / max(area.area, 1e-9)
        if left < OPEN:
            message = f"bridges leave {left:.0%} of {_called(owner, letters)} open; {OPEN:.0%} still reads well"
            at = by_hand[owner].strip.start
            yield Finding("bridges-close", "warn", at, message, 100 * left, 100 * OPEN, letters=(owner,))


def _size(design: Design, layer: Layer, built: BuiltLayer, whole: Built) -> Iterator[Finding]:
    box = built.kept.bounds
    if box is None:
        return
    width, height = box[2] - box[0], box[3] - box[1]
    sheet = sorted(built.material.usable)
    if min(width, height) > sheet[0] or max(width, height) > sheet[1]:
        usable = f"what can be used of the {built.material.stock} ({sheet[0]:g} × {sheet[1]:g} mm)"
        message = f"{width:.0f} × {height:.0f} mm is larger than {usable}"
        excess = max(min(width, height) - sheet[0], max(width, height) - sheet[1])
        limit = sheet[0] if min(width, height) > sheet[0] else sheet[1]
        yield Finding("larger-than-stock", "warn", middle(box), message, limit + excess, limit)
    if whole.surface is not None:
        over = beyond(built.kept, whole.surface)
        if over.area > 0.01:
            message = f"“{design.layer_title(layer)}” runs over the edge of the surface"
            yield Finding("off-surface", "warn", over.inside_point, message, over.area, 0.0)


def _letter_of(piece: Piece, letters: dict[str, str]) -> tuple[str, ...]:
    """The letter that most of a piece's edge comes from; none where it is of no letter."""
    return next(((owner,) for owner in piece.owners if owner in letters), ())


def _piece_called(piece: Piece, letters: dict[str, str]) -> str:
    """A piece by the letters that its edge comes from, in the order of the text."""
    of = [letter for owner, letter in letters.items() if owner in piece.owners]
    if not of:
        return "a piece"
    if len(of) > 1 and not piece.is_island:
        return f"“{''.join(of[:NAMED])}{'…' if len(of) > NAMED else ''}”"
    return f"{'the counter' if piece.is_island else 'a piece'} of “{letters[_letter_of(piece, letters)[0]]}”"


def _called(owner: str, letters: dict[str, str]) -> str:
    return f"“{letters[owner]}”" if owner in letters else "this shape"
