"""A specimen as the letter case shows it."""

from dataclasses import dataclass

from jigger.core.design.specimens import Specimen
from jigger.core.formats.paths import path_data
from jigger.core.geometry.units import show_length

ROOM = 0.04  # of the cap height, left free all round


@dataclass(frozen=True)
class SpecimenView:
    """`box`: x, y, width, height in mm of the words drawn by `path`; the rest are words for under it."""

    id: str
    family: str
    character: str
    path: str
    box: tuple[float, float, float, float]
    thin: str
    joins: str
    missing: str


def specimen_view(specimen: Specimen, unit: str) -> SpecimenView:
    left, bottom, right, top = specimen.region.bounds or (0.0, 0.0, specimen.height, specimen.height)
    room = ROOM * specimen.height
    box = 0.0, 0.0, round(right - left + 2 * room, 3), round(top - bottom + 2 * room, 3)
    return SpecimenView(
        specimen.entry.id,
        specimen.entry.family,
        specimen.entry.character,
        path_data(specimen.region, left - room, top + room, 2) if specimen.region.bounds else "",
        box,
        "" if specimen.thin is None else f"strokes from {show_length(specimen.thin, unit, 1)} {unit}",
        _joins(specimen),
        ", ".join(f"“{character}”" for character in specimen.missing[:6]),
    )


def _joins(specimen: Specimen) -> str:
    if not specimen.letters:
        return ""
    if specimen.pieces == 1:
        return "one piece"
    return f"joined, {specimen.pieces} pieces" if specimen.joined else f"{specimen.pieces} pieces"
