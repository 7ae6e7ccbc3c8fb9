"""Seeded designs of all kinds of parts, finishes and joins, in all fonts and processes, from 12 to 2,000 mm: each is
built, checked and written in every format within limits of time, and read back by what knows nothing of Jigger.
"""

import json
import logging
import random
import time
import traceback
import xml.etree.ElementTree as ET
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from itertools import pairwise
from typing import Any

import numpy as np
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from tests.zoo import SVG

from jigger.core.cache import Cache
from jigger.core.checks.report import check
from jigger.core.cut.page import CutPage, design_page
from jigger.core.design.building.build import build
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design, write_design
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Work
from jigger.core.formats.table import FORMATS
from jigger.core.formats.thumbnail import write_thumbnail
from jigger.core.lettering.lettercase import SHIPPED, LetterCase
from jigger.core.materials.presets import MATERIALS

COUNT, QUICK = 5000, 40
HARD = 30.0  # seconds: no design of this size takes longer, whatever is asked of it
WORDS = ("O", "Merrow", "Quiet Heron", "Plover's Rest", "1.5 LITRE", "ÅÉÏ ñç", "B8&@%", "i.j:;", "Withy Lock Boatyard",
         "QUIET HERON at the lock 1894, moored by Withy bridge and all", "38", "fi ff", "g")  # fmt: skip
SHORT = tuple(word for word in WORDS if len(word) < 8)
READ_AS = 2e-4  # of an area of circles: what the reader makes of its arcs, one cubic a quarter, strays by so much
NEAR = 0.02  # mm along every outline that a file's area may differ from the computed one
CASE = LetterCase()
FONTS = sorted(SHIPPED)


class _Chance(random.Random):
    light = False


def design(number: int, light: bool = False) -> Design:
    """The design of a number; the same for ever. A `light` one has fewer parts, finishes and letters."""
    chance = _Chance(number)
    chance.light = light
    scale = 12 * (2000 / 12) ** chance.random()
    layers = [_layer(chance, f"layer{i}", scale) for i in range(chance.choice((1, 1, 1, 2)))]
    data = {"jigger": 10, "name": f"Sweep {number}", "layers": layers, "serial": 900}
    return read_design(json.dumps(data))


def _layer(chance: _Chance, name: str, scale: float) -> dict[str, Any]:
    parts = [
        _part(chance, f"{name}-p{i}", scale, 0)
        for i in range(chance.choice((1, 1, 2) if chance.light else (1, 1, 2, 2, 3, 4)))
    ]
    for before, part in pairwise(parts):
        part["place"] = {
            "on": before["id"],
            "x": _some(chance, -0.3, 0.3) * scale,
            "y": _some(chance, -0.3, 0.3) * scale,
        }
    finishes = [_finish(chance, f"{name}-f", scale)] if chance.random() < 0.25 else []
    layer = {"id": name, "material": chance.choice(sorted(MATERIALS)), "parts": parts, "finishes": finishes}
    return {
        **layer,
        "build": chance.choice(("keep", "keep", "open")),
        "sheet": {"kind": "margin", "margin": 0.1 * scale},
    }


def _some(chance: _Chance, low: float, high: float) -> float:
    return round(chance.uniform(low, high), 3)


def _part(chance: _Chance, name: str, scale: float, depth: int) -> dict[str, Any]:
    kind = chance.choice(("lettering", "lettering", "shape", "stroke", "group" if depth < 2 else "shape"))
    join = {"kind": chance.choice(("weld", "weld over", "cut back", "knock out", "keep inside", "counterchange")),
            "gap": _some(chance, 0, 0.03) * scale, "role": chance.choice(("over", "under", "attached")),
            "counters": chance.choice(("shown", "clear"))}  # fmt: skip
    if chance.random() < 0.5:
        join = {"kind": "weld"}
    finishes = [
        _finish(chance, f"{name}-f{i}", scale)
        for i in range(chance.choice((0, 1, 1, 2) if chance.light else (0, 0, 1, 1, 2, 3)))
    ]
    part: dict[str, Any] = {"kind": kind, "id": name, "join": join, "finishes": finishes}
    if kind == "group":
        return {**part, "parts": [_part(chance, f"{name}g{i}", scale, depth + 1) for i in range(chance.choice((1, 2)))]}
    return part | {"lettering": _lettering, "shape": _shape, "stroke": _stroke}[kind](chance, name, scale)


def _lettering(chance: _Chance, name: str, scale: float) -> dict[str, Any]:
    line = {"id": f"{name}-l", "text": chance.choice(SHORT if chance.light else WORDS), "font": chance.choice(FONTS), "height": round(scale / 4, 2),
            "size": chance.choice(("capitals", "capitals", "ink width", "em")),
            "spacing": chance.choice(("font", "font", "even", "touching", "by eye")), "gap": round(_some(chance, 0, scale / 40), 2),
            "tracking": chance.choice((0, 0, 60, -40))}  # fmt: skip
    extra: dict[str, Any] = {}
    draw = chance.random()
    if draw < 0.15:
        extra["course"] = {"kind": "circle", "radius": round(scale, 2)}
    elif draw < 0.3:
        extra["form"] = {"bend": round(_some(chance, -180, 180)), "ripple": round(_some(chance, 0, scale / 20), 2)}
    return {"lines": [line], **extra}


def _shape(chance: _Chance, name: str, scale: float) -> dict[str, Any]:
    form = chance.choice(("disc", "ring", "rectangle", "plate"))
    return {"form": form, "width": round(_some(chance, 0.3, 1.2) * scale, 2), "height": round(_some(chance, 0.3, 1.2) * scale, 2),
            "band": round(scale / 10, 2), "corner": chance.choice(("square", "round", "scooped")),
            "radius": round(scale / 12, 2), "hole": round(scale / 30, 2), "inset": round(scale / 12, 2)}  # fmt: skip


def _stroke(chance: _Chance, name: str, scale: float) -> dict[str, Any]:
    nodes: list[dict[str, Any]]
    nodes = [{"x": _some(chance, 0, scale), "y": _some(chance, 0, scale), "out_x": _some(chance, -0.2, 0.2) * scale,
              "in_y": _some(chance, -0.2, 0.2) * scale, "kind": "flowing" if chance.random() < 0.4 else "corner"} for _ in range(chance.choice((2, 3, 5)))]  # fmt: skip
    more = random.Random(int(scale * 1e6))  # beside the rest, which stays what it was
    for node in nodes:
        if more.random() < 0.5:
            node |= {"bulge": more.choice((0, 0.4, -1.1)), "round": more.choice((0, scale / 30)), "width": more.choice((1, 0.4, 1.8))}  # fmt: skip
    course = {"kind": chance.choice(("line", "circle", "arc", "path")), "length": scale, "radius": scale / 3,
              "sweep": _some(chance, -360, 360), "start": _some(chance, 0, 360),
              "paths": [{"nodes": nodes, "closed": chance.random() < 0.5}]}  # fmt: skip
    pen = {"width": round(scale / 20, 2), "cap": chance.choice(("round", "flat", "square")),
           "corner": chance.choice(("round", "mitre", "square")), "filled": chance.random() < 0.3}  # fmt: skip
    return {"course": course, "pen": pen}


def _finish(chance: _Chance, name: str, scale: float) -> dict[str, Any]:
    unit = scale / 100
    small, large = round(_some(chance, 0.3, 3) * unit, 3), round(_some(chance, 1, 8) * unit, 3)
    kinds: dict[str, dict[str, Any]] = {
        "outline": {"style": chance.choice(("solid", "ring", "gap and line", "inline")), "steps": [small, large],
                    "side": chance.choice(("out", "in", "astride")), "corners": chance.choice(("round", "mitre", "square")),
                    "holes": chance.choice(("follow", "close", "fill")), "row": chance.choice((0, 0, 0, 2))},
        "bands": {"strips": [{"low": 0.1, "high": 0.45}, {"low": 0.55, "high": 0.9}], "angle": chance.choice((0, 0, 20))},
        "shade": {"form": chance.choice(("drop", "block")), "x": large, "y": -large, "gap": chance.choice((0, small)),
                  "alone": chance.random() < 0.3},
        "clean": {"strips": chance.choice((0, small)), "inlets": chance.choice((0, large)), "specks": chance.choice((0, 1)),
                  "corners": chance.choice((0, small))},
        "repeat": {"form": chance.choice(("grid", "circle")), "rows": 2, "columns": 2, "count": 5, "radius": scale,
                   "gap_x": chance.choice((-large, large)), "upright": chance.random() < 0.5},
        "mirror": {"side": chance.choice(("left", "right", "below", "above")), "gap": chance.choice((-large, 0, large)),
                   "alone": chance.random() < 0.3, "axis": chance.choice(("beyond", "middle", "point")),
                   "at": round(_some(chance, -0.2, 0.2) * scale, 3), "crossing": chance.choice(("joined", "clipped"))},
        "stretch": {"across": round(_some(chance, 0.4, 3), 3), "up": round(_some(chance, 0.4, 3), 3),
                    "slant": round(_some(chance, -30, 30), 1)},
        "bend": {"form": {"bend": round(_some(chance, -120, 120)), "swell": round(_some(chance, -0.3, 0.3), 2)}},
    }  # fmt: skip
    kind = chance.choice(sorted(kinds))
    more = random.Random(f"{name} {scale}")  # beside the rest, which stays what it was
    if more.random() < 0.1:
        return {"id": name, "kind": "turn", "angle": round(more.uniform(-180, 180), 2)}
    return {"id": name, "kind": kind, **kinds[kind]}


def trial(number: int, light: bool = False) -> dict[str, Any]:
    """What went wrong with the design of a number, by name, and what it came to."""
    found: dict[str, Any] = {"number": number, "faults": []}
    begun = time.perf_counter()
    crashes = _Crashes()
    logging.getLogger("jigger").addHandler(crashes)
    try:
        _tried(design(number, light), found)
    except Exception:
        found["faults"].append("raised " + traceback.format_exc(limit=-4))
    finally:
        logging.getLogger("jigger").removeHandler(crashes)
    found["faults"] += crashes.seen
    found["seconds"] = time.perf_counter() - begun
    return found


class _Crashes(logging.Handler):
    """Hears of failures that a build or a check turned into a finding."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.seen: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        if record.exc_info:
            self.seen.append("hid " + "".join(traceback.format_exception(*record.exc_info, limit=-4)))


def _tried(one: Design, found: dict[str, Any]) -> None:
    faults = found["faults"]
    built = build(one, CASE, Cache())
    report = check(one, built, Cache())
    found["codes"] = dict(Counter(finding.code for finding in report.all_findings))
    found["nodes"], found["short"] = report.nodes, 0
    if read_design(write_design(one)) != one:
        faults.append("its document reads back as another")
    write_thumbnail(built, {}, "#ffffff")
    for layer, made in zip(report.layers, built.layers, strict=True):
        if layer.area <= 0:
            continue
        work = Work(partial(_page, one, built, layer.id), one)
        for arcs in ((), ("arcs",)):
            pieces, holes, area, meeting = _read_back(FORMATS["svg"].written(work, frozenset(arcs)))
            if meeting:
                faults.append(f"outlines of {layer.id} meet themselves in its file, {meeting} times")
            in_specks = sum(len(speck.hole_rings()) for speck in made.pieces.specks)
            if (pieces, holes) != (layer.pieces + layer.specks, layer.holes + in_specks):
                faults.append(f"{layer.id} has {layer.pieces} + {layer.specks} pieces and {layer.holes} holes, "
                              f"its file {pieces} and {holes}")  # fmt: skip
            read = READ_AS * layer.area if arcs else 0.0
            if abs(area - layer.area) > NEAR * layer.outline + read + 1e-3:
                faults.append(f"{layer.id} is {layer.area:.3f} mm², in its file {area:.3f}")
        try:
            FORMATS["plt"].written(work, frozenset())
        except CommandRefused as refusal:
            faults.append(f"no plotter file: {refusal}")


class _Reader(BasePen):
    """Keeps closed paths as points, every curve in 64 equal steps of its parameter; arcs come as curves."""

    def __init__(self) -> None:
        super().__init__(None)
        self.rings: list[list[np.ndarray]] = []
        self.nodes: list[list[tuple[float, float]]] = []

    def _moveTo(self, point):
        self.rings.append([np.array([point])])
        self.nodes.append([point])

    def _lineTo(self, point):
        self.rings[-1].append(np.array([point]))
        self.nodes[-1].append(point)

    def _closePath(self):
        pass

    def _curveToOne(self, *controls):
        self.rings[-1].append(_STEPS @ np.array([self._getCurrentPoint(), *controls]))
        self.nodes[-1].append(controls[-1])


_T = np.linspace(0, 1, 65)[1:, None]
_STEPS = np.hstack([(1 - _T) ** 3, 3 * _T * (1 - _T) ** 2, 3 * _T**2 * (1 - _T), _T**3])


def _page(design: Design, built: Built, layer: str) -> CutPage:
    return design_page(design, built.only(layer))


def _read_back(text: str) -> tuple[int, int, float, int]:
    """Pieces, holes and area (mm²) of an SVG: of every path the first outline less the others; and how often two nodes
    of a path are one as it is written.
    """
    pieces, holes, area, meeting = 0, 0, 0.0, 0
    for path in ET.fromstring(text).iter(f"{SVG}path"):
        pen = _Reader()
        parse_path(path.attrib["d"], pen)
        outer, *inner = (abs(_area(np.concatenate(ring))) for ring in pen.rings)
        pieces, holes, area = pieces + 1, holes + len(inner), area + outer - sum(inner)
        nodes = [node for ring in pen.nodes for node in (ring[:-1] if ring[0] == ring[-1] else ring)]
        meeting += len(nodes) - len(set(nodes))
    return pieces, holes, area, meeting


def _area(ring: np.ndarray) -> float:
    x, y = (ring - ring[0]).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def run(quick: bool = False) -> dict[str, object]:
    with ProcessPoolExecutor(2) as hands:
        found = list(hands.map(trial, range(QUICK if quick else COUNT), chunksize=10))
    taken = sorted(one["seconds"] for one in found)
    for one in found:
        if one["seconds"] > HARD:
            one["faults"].append(f"took {one['seconds']:.1f} s")
    wrong = [one for one in found if one["faults"]]
    return {
        "designs": len(found),
        "faults": len(wrong),
        "seconds": {"median": round(taken[len(taken) // 2], 2), "p99": round(taken[int(0.99 * len(taken))], 2),
                    "worst": round(taken[-1], 2)},
        "first": {str(one["number"]): one["faults"][0][-300:] for one in wrong[:20]},
    }  # fmt: skip
