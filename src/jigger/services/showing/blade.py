"""What Blade and Fall-out show beside the drawing: starts, nodes and handles, what comes away; y down, mm."""

from dataclasses import dataclass

import numpy as np

from jigger.core.cut.page import page_of
from jigger.core.cut.paths.following import tool_path
from jigger.core.design.building.built import Built, BuiltLayer
from jigger.core.formats.paths import curve_path, screen_paths
from jigger.core.geometry.area.region import Region, difference, inside_points
from jigger.core.geometry.curves.curves import CUBIC, Floats
from jigger.core.geometry.curves.outline import outlines
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling

PLACES = 3
MOST_NUMBERED = 60  # beyond this, numbers on taped pieces hide the work


@dataclass(frozen=True)
class StartView:
    """Where the tool starts on a contour and which way it goes, degrees clockwise on screen."""

    x: float
    y: float
    turn: float


@dataclass(frozen=True)
class NodesView:
    """Path data: the outlines, the lines of their handles and the dots at their ends, smooth nodes, corners."""

    outline: str
    handles: str
    ends: str
    smooth: str
    corners: str


@dataclass(frozen=True)
class SlugView:
    """What comes away out of an opening; numbered with small letters, as pieces are with numbers."""

    path: str
    name: str
    x: float
    y: float


@dataclass(frozen=True)
class BladeView:
    """What is known of an exact build only, and so comes with its figures and not with each edit."""

    starts: list[StartView]
    nodes: list[NodesView]
    slugs: list[SlugView]


def blade_view(built: Built, nodes: bool, tooling: Tooling = SHIPPED_TOOLING) -> BladeView:
    """Of an exact build on the machines of a shop; `nodes` whether the outlines are to be shown node by node."""
    slugs = [slug for layer in built.layers for slug in _slugs(layer.kept)]
    return BladeView(_starts(built, tooling), [_nodes(layer) for layer in built.layers] if nodes else [], slugs)


def _starts(built: Built, tooling: Tooling) -> list[StartView]:
    starts = []
    for stroke in tool_path(page_of(built), tooling).strokes if built.box else ():
        (x, y), heading = stroke.start, stroke.run.heading(np.zeros(1, int), np.zeros(1))[0]
        turn = float(np.degrees(np.arctan2(-heading[1], heading[0])))
        starts.append(StartView(round(x, 3), round(-y, 3), round(turn, 1)))
    return starts


def _nodes(layer: BuiltLayer) -> NodesView:
    found = outlines(layer.kept).without_arcs()
    curved = found.curves.controls[found.curves.kind == CUBIC]
    handles = np.concatenate([curved[:, :2], curved[:, :1:-1]])
    starts = found.curves.starts
    return NodesView(
        "".join(curve_path(ring, 0.0, 0.0, PLACES) for ring in found.rings()),
        "".join(f"M{_point(node)}L{_point(end)}" for node, end in handles),
        _dots(handles[:, 1]),
        _dots(starts[~found.corner]),
        _dots(starts[found.corner]),
    )


def _dots(points: Floats) -> str:
    """Strokes without length, which a round cap makes dots of one size at every zoom."""
    return "".join(f"M{_point(point)}h0" for point in points)


def _point(point: Floats) -> str:
    return f"{round(float(point[0]), PLACES)} {round(-float(point[1]), PLACES)}"


def _slugs(kept: Region) -> list[SlugView]:
    """What lies in the openings of kept material and is not kept itself, from the left; too many are not named."""
    found = sorted(difference(kept.filled(), kept).polygons(), key=lambda slug: slug.bounds or (0.0,))
    named = len(found) <= MOST_NUMBERED
    places = inside_points(found) if named else [(0.0, 0.0)] * len(found)
    return [
        SlugView(path, _lettered(number) if named else "", round(x, 3), round(-y, 3))
        for number, (path, (x, y)) in enumerate(zip(screen_paths(found), places, strict=True))
    ]


def _lettered(number: int) -> str:
    """a, b, … z, aa, ab, …"""
    letters = chr(ord("a") + number % 26)
    return letters if number < 26 else _lettered(number // 26 - 1) + letters
