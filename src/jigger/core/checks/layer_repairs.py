"""What would clear findings of a layer: pieces that hang on nothing, strips, openings, sizes."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

from jigger.core.checks.catalogue import FINDINGS
from jigger.core.checks.findings import Finding
from jigger.core.checks.offers import SPARE, About, Edits, Made, Offer, resized
from jigger.core.design.building.built import BuiltLayer
from jigger.core.design.building.references import waits_for
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Scalar
from jigger.core.design.edits.bridges import RestoreBridges
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.letters import ChangeLetter
from jigger.core.design.edits.parts import AddPart, AddRail
from jigger.core.design.edits.strokes import ClosePaths
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.model.design import Design, Follower, Layer, Lettering, Stroke
from jigger.core.design.model.find import find_layer, find_part
from jigger.core.design.model.lettering import Form, Frame
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import union
from jigger.core.joinery.pieces.lifting import least_distance
from jigger.core.joinery.pieces.nudging import smallest_nudge

FURTHEST = 50.0  # mm: the longest move by which a letter is joined to the rest
MOST_LARGER = 2.0  # times: letters that would have to grow more are not the way to mend it


def sheet_outline(layer: Layer) -> Outline | None:
    """What says how far a lifting sheet reaches: the outline of the one thing that its layer follows."""
    parts = [part for part in layer.parts if not part.hidden]
    if len(parts) != 1 or not isinstance(parts[0], Follower) or len(parts[0].finishes) != 1:
        return None
    found = parts[0].finishes[0]
    return found if isinstance(found, Outline) and (found.style, found.side) == ("solid", "out") else None


@dataclass(frozen=True)
class OfLayer(About):
    """What a repair of a layer is made from: the finding, the layer as it is, and as it is built."""

    design: Design
    layer: Layer
    built: BuiltLayer

    def clean(self, id: str, words: str, **measures: float) -> Offer:
        """The layer's own cleaning, or a new one at the end of its finishes."""
        values = {"strips": 0.0, "inlets": 0.0, "specks": 0.0, "corners": 0.0} | measures
        last = self.layer.finishes[-1] if self.layer.finishes else None
        if last is not None and last.kind == "clean" and not last.hidden:
            return Offer(id, words, lambda: [Adjust(target=last.id, values=dict(measures))])
        return Offer(id, words, lambda: [AddFinish(target=self.layer.id, kind="clean", values=values)])

    @property
    def loose_letters(self) -> set[str]:
        """Letters of which no piece is the largest one."""
        owners = [set(piece.owners) for piece in self.built.pieces.pieces]
        return set().union(*owners[1:]) - owners[0] if owners else set()

    @property
    def words(self) -> list[Lettering]:
        """The layer's lettering that is not hidden."""
        return [part for part in self.layer.all_parts() if isinstance(part, Lettering) and not part.hidden]

    def scaled(self, words: str, factor: float) -> Made:
        """The letters larger or smaller by a factor, unless that would be MOST_LARGER or more."""
        if factor <= MOST_LARGER:
            yield from resized(words, self.words, factor)


def _held(m: OfLayer) -> Made:
    bridges = m.layer.bridges
    sheet = sheet_outline(m.layer)
    if sheet is not None:
        yield from _larger_sheet(m, sheet)
        return
    if not bridges.on:
        held: dict[str, Scalar | list[float]] = {"bridges.on": True}
        if bridges.width is not None and bridges.width < m.built.material.least_strip:
            held["bridges.width"] = None  # else they would be too thin
        yield Offer("hold", "Hold them by bridges and ties", lambda: [Adjust(target=m.layer.id, values=held)])
    elif any(edit.along is None for edit in bridges.edits):
        yield Offer(
            "restore-bridges", "Put the bridges back that were taken away", lambda: [RestoreBridges(layer=m.layer.id)]
        )
    yield from _nudged(m)
    yield from _on_a_rail(m)


def _larger_sheet(m: OfLayer, sheet: Outline) -> Made:
    """A lifting sheet grown so far that it is one piece with necks as wide as a strip must be."""

    def edits() -> Edits:
        more = least_distance(m.built.kept, m.built.material.least_strip, necks=True)
        if not more:
            raise CommandRefused("", "no distance makes this sheet one piece")
        return _steps(sheet.id, math.ceil(100 * (sum(sheet.steps) + more)) / 100)

    yield Offer("grow-until-one", "Grow the lifting sheet until it lifts all as one", edits)


def _on_a_rail(m: OfLayer) -> Made:
    """A bar under the feet of straight words whose letters hang on nothing."""
    words = [part for part in m.words if part.course.kind == "straight" and set(part.lines[-1].ids) & m.loose_letters]
    if m.layer.build == "keep" and words:
        rail = AddRail(part=words[0].id, height=2 * m.built.material.bridge)
        yield Offer("rail", f"Set “{words[0].title[:40]}” on a rail of {rail.height:g} mm", lambda: [rail])


def _nudged(m: OfLayer) -> Made:
    """A letter that hangs on nothing moved the least way by which it joins the rest."""
    lines = [line for part in m.words if _movable(part) for line in part.lines]
    if m.layer.build != "keep" or not lines:
        return
    pieces = m.built.pieces
    loose = next((p for p in pieces.pieces if p.region.contains_point(*m.finding.at)), None)
    letter = loose.owner if loose else ""
    line = next((x for x in lines if letter in x.ids), None)
    if loose is None or line is None or sum(letter in piece.owners for piece in pieces.pieces) > 1:
        return  # a dot does not come nearer to its stem when both move

    def edits() -> Edits:
        rest = union(p.region for p in pieces.pieces if p is not loose)
        found = smallest_nudge(loose.region, rest, m.built.material.least_strip, FURTHEST)
        if found is None:
            raise CommandRefused("", f"no move of {FURTHEST:g} mm or less joins it to the rest")
        here = line.override(letter)
        return [
            ChangeLetter(letter=letter, values={"dx": round(here.dx + found[0], 3), "dy": round(here.dy + found[1], 3)})
        ]

    yield Offer("nudge", "Move it until it joins the rest", edits)


def _movable(part: Lettering) -> bool:
    """Whether a nudge of its letters is one in the drawing, as long and in the same direction."""
    return part.course.kind == "straight" and part.fit.kind == "none" and part.form == Form() and part.frame == Frame()


def _closed(m: OfLayer) -> Made:
    part = find_part(m.design, m.finding.part or "")
    if isinstance(part, Stroke) and part.course.kind == "path":
        closed = ClosePaths(part=part.id)
        yield Offer("close-path", f"Close the path of “{part.title[:40]}”", lambda: [closed])


def _trimmed_or_grown(m: OfLayer) -> Made:
    """What sticks out beyond the layer that it lies on: that layer's sheet grown, or this one cut back to it."""
    relations = [x for x in m.layer.relations if x.kind != "window" and x.figure == m.finding.part]
    for relation in relations:
        lower = find_layer(m.design, relation.lower)
        sheet = sheet_outline(lower)
        if sheet is not None:
            far = math.ceil(100 * (sum(sheet.steps) + m.measured)) / 100
            yield Offer("grow-sheet", f"Grow the lifting sheet to {far:g} mm", partial(_steps, sheet.id, far))
        inside = AddPart(layer=m.layer.id, kind="follower", of=lower.id, join="keep inside")
        loops = waits_for(m.design, lower.id, m.layer.id)  # as a sheet does that follows what it lifts
        if m.finding.part is None and lower.build == "keep" and not loops:
            yield Offer("trim", f"Trim “{m.layer.title}” back to “{lower.title}”", partial(list, [inside]))


def _steps(finish: str, far: float) -> Edits:
    return [Adjust(target=finish, values={"steps": [far]})]


def _bridges_back(m: OfLayer) -> Made:
    yield Offer("restore-bridges", "Let all bridges come by themselves", lambda: [RestoreBridges(layer=m.layer.id)])


def _wider_bridges(m: OfLayer) -> Made:
    for width in sorted({max(m.limit, m.built.material.bridge), m.limit}, reverse=True):
        wider = Adjust(target=m.layer.id, values={"bridges.width": width})
        yield Offer("wider-bridges", f"Make bridges {width:g} mm wide", partial(list, [wider]))


def _stronger(m: OfLayer) -> Made:
    """Kept letters are thickened where they are thin; webs of an opened sheet get room between letters."""
    measured = m.measured or m.limit
    sheet = sheet_outline(m.layer)
    if sheet is not None:
        yield from _larger_sheet(m, sheet)
    if m.layer.build == "keep":
        yield m.clean("thicken", "Thicken what is thin", strips=m.limit)
    elif len(m.finding.letters) > 1:
        yield from _spaced(m, m.limit * SPARE)
    factor = m.limit / measured * SPARE
    yield from m.scaled(f"Make the letters {100 * (factor - 1):.0f} % larger", factor)


def _spaced(m: OfLayer, gap: float) -> Made:
    """Even gaps, as wide as the strip must be, in the lines of the letters on both sides."""
    lines = [line for part in m.words for line in part.lines if set(m.finding.letters) & set(line.ids)]
    if len(lines) == 1 and len(m.finding.letters) == 2:
        value = math.ceil(100 * max(gap, lines[0].gap if lines[0].spacing == "even" else 0.0)) / 100
        edits: Edits = [Adjust(target=lines[0].id, values={"spacing": "even", "gap": value})]
        yield Offer("even-gaps", f"Even the gaps to {value:g} mm", lambda: edits)


def _roomier(m: OfLayer) -> Made:
    """Kept letters get room between them, inlets are closed; strokes opened in a ground are thickened."""
    measured = m.measured or m.limit
    if m.layer.build == "keep" and len(m.finding.letters) > 1:
        yield from _spaced(m, m.limit * SPARE)
    elif m.layer.build == "keep":
        yield m.clean("close-inlets", f"Close what is narrower than {m.limit:g} mm", inlets=m.limit * SPARE)
    else:
        yield m.clean("open-up", f"Open to {m.limit:g} mm what is opened less", strips=m.limit)
    if len(m.finding.letters) == 1:
        factor = m.limit / max(measured, m.limit / 4) * SPARE
        yield from m.scaled(f"Make the letters {100 * (factor - 1):.0f} % larger", factor)


def _without_small(m: OfLayer) -> Made:
    yield m.clean("drop-small", f"Drop what is smaller than {m.limit:g} mm²", specks=m.limit)


def _without_specks(m: OfLayer) -> Made:
    yield m.clean("drop-specks", "Drop the specks", specks=0.1)


def _shrunk(m: OfLayer) -> Made:
    measured = m.measured or m.limit
    if measured > m.limit > 0:
        factor = m.limit / measured / SPARE
        yield from m.scaled(f"Shrink the letters to {100 * factor:.0f} %", factor)


def _onto_surface(m: OfLayer) -> Made:
    part = next((part for part in m.words if part.fit.kind == "none"), None)
    if part is None or m.design.surface is None:
        return
    values: dict[str, Scalar] = {
        "fit.kind": "inside", "fit.to": "surface", "place.on": "surface", "place.x": 0.0, "place.y": 0.0
    }  # fmt: skip
    fitted = Adjust(target=part.id, values=values)
    yield Offer("fit-surface", f"Fit “{part.title[:40]}” inside the surface", lambda: [fitted])


def layer_repairs(design: Design, layer: Layer, built: BuiltLayer, finding: Finding) -> Iterator[Offer]:
    """The repairs of a finding that is about a layer, the one that changes least first."""
    make = LAYER_REPAIRS.get(finding.code)
    return make(OfLayer(finding, design, layer, built)) if make else iter(())


LAYER_REPAIRS: dict[str, Callable[[OfLayer], Made]] = {
    "would-fall-out": _held,
    "bridge-lost": _bridges_back,
    "thin-bridge": _wider_bridges,
    "thin-strip": _stronger,
    "narrow-opening": _roomier,
    "small-piece": _without_small,
    "specks": _without_specks,
    "small-waste": _without_small,
    "larger-than-stock": _shrunk,
    "off-surface": _onto_surface,
    "sticks-out": _trimmed_or_grown,
    "open-ends": _closed,
}
assert set(LAYER_REPAIRS) <= set(FINDINGS), "repairs of findings that the catalogue does not list"
