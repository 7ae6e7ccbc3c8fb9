"""What would clear findings of a layer: pieces that hang on nothing, strips, openings, sizes."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jigger.core.checks.findings import Finding
from jigger.core.checks.offers import SPARE, Edits, Made, Offer
from jigger.core.design.adjust import Adjust
from jigger.core.design.bridge_edits import RestoreBridges
from jigger.core.design.built import BuiltLayer
from jigger.core.design.edits import Scalar
from jigger.core.design.finish_edits import AddFinish
from jigger.core.design.model import Design, Layer, Lettering

MOST_LARGER = 2.0  # times: letters that would have to grow more are not the way to mend it


@dataclass(frozen=True)
class OfLayer:
    """What a repair of a layer is made from: the finding, the layer as it is, and as it is built."""

    finding: Finding
    design: Design
    layer: Layer
    built: BuiltLayer

    @property
    def limit(self) -> float:
        return self.finding.limit or 0.0

    def clean(self, words: str, **measures: float) -> Offer:
        """The layer's own cleaning, or a new one at the end of its finishes."""
        values = {"strips": 0.0, "inlets": 0.0, "specks": 0.0, "corners": 0.0} | measures
        last = self.layer.finishes[-1] if self.layer.finishes else None
        if last is not None and last.kind == "clean" and not last.hidden:
            return Offer(words, lambda: [Adjust(target=last.id, values=dict(measures))])
        return Offer(words, lambda: [AddFinish(target=self.layer.id, kind="clean", values=values)])

    @property
    def words(self) -> list[Lettering]:
        return [part for part in self.layer.all_parts() if isinstance(part, Lettering) and not part.hidden]

    def scaled(self, words: str, factor: float) -> Made:
        """All letters of the layer larger or smaller, where no fit says their size; so the figure is named."""
        free = [part for part in self.words if part.fit.kind == "none"]
        if not free or factor > MOST_LARGER:
            return
        step = math.ceil if factor > 1 else math.floor
        heights = {line.id: step(100 * line.height * factor) / 100 for part in free for line in part.lines}
        yield Offer(words, lambda: [Adjust(target=x, values={"height": high}) for x, high in heights.items()])


def _held(m: OfLayer) -> Made:
    bridges = m.layer.bridges
    if not bridges.on:
        yield Offer("Hold them by bridges and ties", lambda: [Adjust(target=m.layer.id, values={"bridges.on": True})])
    elif any(edit.along is None for edit in bridges.edits):
        yield Offer("Put the bridges back that were taken away", lambda: [RestoreBridges(layer=m.layer.id)])


def _bridges_back(m: OfLayer) -> Made:
    yield Offer("Let all bridges come by themselves", lambda: [RestoreBridges(layer=m.layer.id)])


def _wider_bridges(m: OfLayer) -> Made:
    width = max(m.limit, m.built.material.bridge)
    yield Offer(f"Make bridges {width:g} mm wide", lambda: [Adjust(target=m.layer.id, values={"bridges.width": width})])


def _stronger(m: OfLayer) -> Made:
    """Kept letters are thickened where they are thin; webs of an opened sheet get room between letters."""
    measured = m.finding.measured or m.limit
    if m.layer.build == "keep":
        yield m.clean("Thicken what is thin", strips=m.limit)
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
        yield Offer(f"Even the gaps to {value:g} mm", lambda: edits)


def _roomier(m: OfLayer) -> Made:
    """Kept letters get room between them, inlets are closed; strokes opened in a sheet are thickened."""
    measured = m.finding.measured or m.limit
    if m.layer.build == "keep" and len(m.finding.letters) > 1:
        yield from _spaced(m, m.limit * SPARE)
    elif m.layer.build == "keep":
        yield m.clean(f"Close what is narrower than {m.limit:g} mm", inlets=m.limit * SPARE)
    else:
        yield m.clean("Thicken what is thin", strips=m.limit)
    if len(m.finding.letters) == 1:
        factor = m.limit / max(measured, m.limit / 4) * SPARE
        yield from m.scaled(f"Make the letters {100 * (factor - 1):.0f} % larger", factor)


def _without_small(m: OfLayer) -> Made:
    yield m.clean(f"Drop what is smaller than {m.limit:g} mm²", specks=m.limit)


def _without_specks(m: OfLayer) -> Made:
    yield m.clean("Drop the specks", specks=0.1)


def _shrunk(m: OfLayer) -> Made:
    measured = m.finding.measured or m.limit
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
    yield Offer(f"Fit “{part.title[:40]}” inside the surface", lambda: [fitted])


def layer_repairs(design: Design, layer: Layer, built: BuiltLayer, finding: Finding) -> Iterator[Offer]:
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
    "larger-than-stock": _shrunk,
    "off-surface": _onto_surface,
}
