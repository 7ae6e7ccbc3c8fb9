"""Tabs: short stretches that a torch or beam leaves, so that a piece stays in its plate until it is broken out."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jigger.core.cut.paths.beam import Leads
from jigger.core.cut.paths.toolpath import NONE, PathNote, ToolStroke
from jigger.core.geometry.curves.lengths import begun_at, lengths_to, piece, places_at

LEAST = 2  # tabs hold a piece from turning
SHARE = 4.0  # of its line at most one part in so many is left uncut
PLACES = 16  # where tabs may begin that are looked at


def tabbed(
    stroke: ToolStroke, leads: Leads, tab: float, apart: float, kerf: float
) -> tuple[list[ToolStroke], PathNote | None]:
    """A closed contour in sections with `tab` mm of material left between them, about `apart` mm from each other. Each
    section is begun straight from the waste, as a curved way would cut its tab off. Where there is no room for tabs the
    whole contour and a note; a note too where a section is begun on the line, as there is no waste to come from.
    """
    total = float(lengths_to(stroke.curves)[-1])
    count, left = max(LEAST, round(total / apart)), tab + kerf  # a kerf is round at both ends
    if total < SHARE * LEAST * left:
        words = f"this piece is too small for tabs of {tab:g} mm; it comes loose when it is cut"
        return [stroke], PathNote("no-tab", words, stroke.start, stroke.layer)
    count = min(count, int(total / (SHARE * left)))
    step = total / count
    best: list[ToolStroke] = []
    good = -1
    for shift in np.arange(PLACES) * step / PLACES:
        sections = _sections(stroke, leads, float(shift), step, count, left)
        ways = sum(len(one.lead_in) > 0 for one in sections)
        if ways > good:
            best, good = sections, ways
        if good == count or not leads.wanted:
            break
    if good == count or not leads.wanted:
        return best, None
    words = "between tabs there is no room in the waste to come onto this line; the tool comes down on it"
    bare = next(one for one in best if not len(one.lead_in))
    return best, PathNote("no-lead", words, bare.start, stroke.layer)


def _sections(stroke: ToolStroke, leads: Leads, shift: float, step: float, count: int, left: float) -> list[ToolStroke]:
    begun = begun_at(stroke.curves, shift)
    firsts = np.arange(count, dtype=float) * step + left / 2
    segment, t = places_at(begun, firsts)
    sections = []
    for first, heading in zip(firsts.tolist(), begun.heading(segment, t), strict=True):
        curves = piece(begun, first, first + step - left)
        way = leads.straight(curves.starts[0], heading, stroke.waste) if leads.wanted else NONE
        sections.append(replace(stroke, curves=curves, lead_in=way, lead_out=NONE))
    return sections
