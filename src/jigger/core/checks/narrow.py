"""Checks of widths: kept strips and openings that are narrower than the shop rules of their material."""

from collections.abc import Iterator

import numpy as np
from scipy.spatial import cKDTree

from jigger.core.checks.catalogue import Severity
from jigger.core.checks.findings import Finding
from jigger.core.checks.measuring import Measured, least_gap
from jigger.core.design.building.built import BuiltLayer
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.widths.necks import Neck, Necks

PLACES = 24  # findings of one kind in a layer; the rest are counted in the last
HELD = 0.5  # of the least strip: where the work must hold together, thinner ones stop on every material
JUST = 1e-3  # mm under a limit that nobody measures


def narrow_findings(built: BuiltLayer, found: Measured, letters: dict[str, str]) -> Iterator[Finding]:
    """Strips and openings under their limit, one finding a place; tips and inlets that run out in one note each.

    Strips stop the cut by the wish: where the work may fall into any number of pieces under the share of the limit that
    the material says; where it, each thing or each letter must be one piece under half the limit at the least.
    """
    strips, gaps = found.strips or Necks(), found.gaps or Necks()
    rules, places = built.material, _Places(built.kept, letters)
    held = [x for x in strips.necks if x.width < rules.least_strip - JUST and not places.on_bridge(x)]
    stops = rules.stops_below if built.wish == "any" else max(rules.stops_below, HELD)
    yield from _listed("thin-strip", held, rules.least_strip, stops, places,
                       "a strip {where}is {width:.2f} mm wide; it needs {limit:g} mm to hold")  # fmt: skip
    limit = least_gap(built)
    tight = [x for x in gaps.necks if x.width < limit - JUST]
    share = rules.kerf / limit  # what the kerf cannot enter is no opening at all
    yield from _listed("narrow-opening", tight, limit, share, places,
                       "an opening {where}is {width:.2f} mm wide; {limit:g} mm can be cut and cleared")  # fmt: skip
    if strips.tips:
        yield _run_out("thin-tips", strips.tips, rules.least_strip,
                       ("a tip runs", "tips run"), "out thinner than {limit:g} mm")  # fmt: skip
    if gaps.tips and rules.kerf:
        yield _run_out("blunt-inlets", gaps.tips, rules.kerf, ("an inlet ends", "inlets end"),
                       "rounder than drawn: the kerf of {limit:g} mm does not reach all the way in")  # fmt: skip


def _listed(
    code: str, found: list[Neck], limit: float, stops: float, places: "_Places", words: str
) -> Iterator[Finding]:
    for number, neck in enumerate(found[:PLACES], start=1):
        message = words.format(where=places.words(neck), width=neck.width, limit=limit)
        if number == PLACES and len(found) > PLACES:
            message += f", and {len(found) - PLACES} more places like it"
        severity: Severity = "stop" if neck.width < stops * limit else "warn"
        yield Finding(code, severity, neck.at, message, neck.width, limit, ends=neck.ends, letters=places.letters(neck))


def _run_out(code: str, found: tuple[Neck, ...], limit: float, kind: tuple[str, str], words: str) -> Finding:
    count = kind[0] if len(found) == 1 else f"{len(found)} {kind[1]}"
    return Finding(code, "note", found[0].at, f"{count} {words.format(limit=limit)}", found[0].width, limit)


class _Places:
    """Whose edge a place lies at, by the nearest vertices of the kept material."""

    def __init__(self, kept: Region, letters: dict[str, str]):
        self._kept, self._letters = kept, letters
        self._vertices = kept.vertices()
        quick = {"balanced_tree": False, "compact_nodes": False}  # few places are asked for
        self._tree = cKDTree(self._vertices, **quick) if len(self._vertices) else None
        self._known: dict[Neck, list[str]] = {}

    def _owners(self, neck: Neck) -> list[str]:
        if self._tree is None:
            return []
        if neck not in self._known:
            nearest = self._tree.query(np.array(neck.ends))[1]
            born = self._kept.origins(self._vertices[nearest])
            self._known[neck] = [min(origin.owner for origin in some) for some in born if some]
        return self._known[neck]

    def on_bridge(self, neck: Neck) -> bool:
        return any(owner.startswith("bridge ") for owner in self._owners(neck))

    def letters(self, neck: Neck) -> tuple[str, ...]:
        return tuple(sorted({owner for owner in self._owners(neck) if owner in self._letters}))

    def words(self, neck: Neck) -> str:
        names = [self._letters[x] for x in dict.fromkeys(self._owners(neck)) if x in self._letters]
        if not names:
            return ""
        return f"of “{names[0]}” " if len(names) == 1 else f"between “{names[0]}” and “{names[1]}” "
