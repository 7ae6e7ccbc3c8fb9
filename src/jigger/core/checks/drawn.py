"""Lines that tools follow badly: drawn shapes left open, crossing themselves or drawn twice; spikes; tiny segments."""

from collections.abc import Iterable, Iterator

import numpy as np

from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import BuiltPart
from jigger.core.design.drawn.course import drawn
from jigger.core.design.model.design import AnyPart, Stroke
from jigger.core.geometry.area.rings import turns
from jigger.core.geometry.boxes import middle
from jigger.core.geometry.curves.chains import flaws
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import Outlines

SPIKE = 5.0  # degrees: a corner sharper than this, of the work or of an opening
CHORDS = 0.001  # of the length of all outlines: less is nothing a hand feels
SHORT = 0.05  # mm: segments shorter than this make a machine stutter


def drawn_findings(part: AnyPart, result: BuiltPart) -> Iterator[Finding]:
    """What is wrong with the path of a filled shape; a stroke with a width may end, cross and turn back as it likes."""
    if not isinstance(part, Stroke) or not part.pen.filled or result.region.is_empty:
        return
    for run in drawn(part.course):
        yield from _of_path(part, result, run.curves)


def _of_path(part: Stroke, result: BuiltPart, chain: Curves) -> Iterator[Finding]:
    found, (dx, dy) = flaws(chain), result.origin

    def at(place: tuple[float, float]) -> tuple[float, float]:
        fitted = part.fit.kind != "none"  # then its own points stand elsewhere
        return middle(result.region.bounds or result.body) if fitted else (place[0] + dx, place[1] + dy)

    def lit(lines: Iterable[Iterable[tuple[float, float]]]) -> tuple[tuple[tuple[float, float], ...], ...]:
        return () if part.fit.kind != "none" else tuple(tuple(map(at, line)) for line in lines)

    if found.open:
        x, y = ((chain.starts[0] + chain.ends[-1]) / 2).tolist()
        message = f"the path of “{part.title}” is open: {found.open:.2f} mm between its ends are cut straight across"
        yield Finding("open-ends", "warn", at((x, y)), message, found.open, 0.0, part.id)
    if found.doubled_at:
        message = f"{found.doubled:.2f} mm of the path of “{part.title}” are drawn twice"
        yield Finding("drawn-twice", "warn", at(found.doubled_at), message, found.doubled, 0.0, part.id,
                      lines=lit(line.tolist() for line in found.twice))  # fmt: skip
    elif found.crossings:
        count = len(found.crossings)
        message = f"the path of “{part.title}” crosses itself {'once' if count == 1 else f'{count} times'}"
        yield Finding("crosses-itself", "warn", at(found.crossings[0]), message, float(count), 0.0, part.id,
                      lines=lit([place] for place in found.crossings))  # fmt: skip


def outline_findings(outline: Outlines) -> Iterator[Finding]:
    """Notes on a layer's outlines: corners like needles, and segments too short for a machine's own steps."""
    if not outline.nodes:
        return
    curves = outline.curves
    sharp = 180.0 - np.degrees(turns(curves, outline.ring))
    spikes = np.flatnonzero(outline.corner & (sharp < SPIKE))
    if len(spikes):
        first = spikes[np.argmin(sharp[spikes])]
        one = len(spikes) == 1
        message = f"{'a corner is' if one else f'{len(spikes)} corners are'} sharper than {SPIKE:g}°, like needles"
        yield Finding("spikes", "note", _point(curves.starts[first]), message, float(sharp[first]), SPIKE)
    share = outline.chord_share
    if share > CHORDS:
        message = f"{100 * share:.1f} % of the outlines could not be given as curves and are short lines"
        yield Finding("chords", "note", _point(curves.starts[0]), message, share, CHORDS)
    tiny = np.flatnonzero(curves.sizes < SHORT)
    if len(tiny):
        size = float(curves.sizes[tiny].min())
        message = f"{'a segment is' if len(tiny) == 1 else f'{len(tiny)} segments are'} shorter than {SHORT:g} mm"
        yield Finding("short-segments", "note", _point(curves.starts[tiny[0]]), message, size, SHORT)


def _point(at: np.ndarray) -> tuple[float, float]:
    x, y = at.tolist()
    return x, y
