"""DXF files: closed lines of a layer and colour enclose areas, by the even-odd rule; arcs stay arcs."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

import numpy as np
from ezdxf import colors, path, recover
from ezdxf.disassemble import recursive_decompose
from ezdxf.lldxf.const import DXFError

from jigger.core.art.chaining import chained
from jigger.core.art.painted import MOST_PAINTED, MOST_SEGMENTS, ArtRefused, Notes, Painted, Picture
from jigger.core.art.subpaths import TOLERANCE, closed
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import around
from jigger.core.geometry.curves.curves import Curves
from jigger.core.joinery.strokes import stroked
from jigger.core.patience import breathe

GAP = 0.05  # mm: ends as near as this are one
MOST_BYTES = 40_000_000
UNITS = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: 25.4e-6, 9: 0.0254, 13: 0.001, 14: 100.0}  # $INSUNITS: mm
ASKED = {"mm": 1.0, "in": 25.4, "px": 25.4 / 96}
LEFT = {
    "TEXT": "live text", "MTEXT": "live text", "ATTRIB": "live text", "ATTDEF": "live text", "IMAGE": "a picture",
    "POINT": "a point", "DIMENSION": "a dimension", "LEADER": "a leader", "3DFACE": "a face in space",
    "3DSOLID": "a solid", "BODY": "a solid", "REGION": "a region of a solid", "MESH": "a mesh",
    "VIEWPORT": "a viewport", "WIPEOUT": "a mask", "XLINE": "a line without end", "RAY": "a line without end",
}  # fmt: skip


@dataclass
class _Layer:
    """What one layer has in one colour."""

    lines: list[Curves] = field(default_factory=list)
    areas: list[Region] = field(default_factory=list)


def picture_of(data: bytes, unit: str = "mm") -> Picture:
    """All areas of a DXF file. `unit`: of its numbers, where it does not say: mm, in or px. Raises ArtRefused."""
    if len(data) > MOST_BYTES:
        raise ArtRefused(f"this file is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        drawing, _ = recover.read(io.BytesIO(data))
    except (DXFError, OSError, ValueError, TypeError, KeyError, AttributeError, IndexError):
        raise ArtRefused("this DXF cannot be read; it may be damaged") from None
    if b"SECTION" not in data:
        raise ArtRefused("this is not a DXF file")
    code = int(drawing.header.get("$INSUNITS", 0) or 0)
    scale, said = UNITS.get(code, ASKED[unit]), code in UNITS
    reader = _Reader(drawing, scale)
    painted = reader.painted()
    box = around(one.area.bounds for one in painted)
    size = (box[2] - box[0], box[3] - box[1]) if box else (0.0, 0.0)
    return Picture(tuple(painted), size, said, reader.notes)


class _Reader:
    def __init__(self, drawing: Any, scale: float):
        self.drawing, self.scale, self.notes = drawing, scale, Notes()
        self.segments = 0

    def painted(self) -> list[Painted]:
        layers: dict[tuple[str, str], _Layer] = {}
        count = 0
        try:
            for entity in recursive_decompose(self.drawing.modelspace()):
                count += 1
                if count > 5 * MOST_PAINTED:
                    raise ArtRefused(f"it draws more than {5 * MOST_PAINTED:,} things")
                breathe()
                self._take(entity, layers)
        except RecursionError:
            raise ArtRefused("a block in it holds itself") from None
        return [one for key, layer in layers.items() for one in self._areas(key, layer)]

    def _take(self, entity: Any, layers: dict[tuple[str, str], _Layer]) -> None:
        kind, name = entity.dxftype(), str(entity.dxf.get("layer", "0"))
        if kind in LEFT:
            text = str(entity.dxf.get("text", ""))[:40] if kind in ("TEXT", "ATTRIB") else ""
            self.notes.left[LEFT[kind] + (f" “{text}”" if text else "")] += 1
            return
        layer = self.drawing.layers.get(name) if name in self.drawing.layers else None
        if layer is not None and (layer.is_off() or layer.is_frozen()):
            self.notes.left[f"what is on layer “{name}”, which is switched off"] += 1
            return
        home = layers.setdefault((_colour(entity, layer), name), _Layer())
        try:
            self._drawn(entity, kind, home)
        except ArtRefused:
            raise
        except (DXFError, ValueError, TypeError, ZeroDivisionError, AttributeError, IndexError):
            self.notes.left[f"a damaged {kind.lower()}"] += 1

    def _drawn(self, entity: Any, kind: str, home: _Layer) -> None:
        if kind in ("LWPOLYLINE", "POLYLINE"):
            if kind == "POLYLINE" and not (entity.is_2d_polyline or entity.is_3d_polyline):
                self.notes.left["a mesh"] += 1
                return
            width = float(entity.dxf.get("const_width", 0.0) or 0.0) if kind == "LWPOLYLINE" else 0.0
            joined = self._polyline(entity, kind)
            if not len(joined):
                return
            if width > 0:
                home.areas.append(
                    stroked("art", joined, bool(entity.is_closed), width * self.scale, "flat", "mitre", TOLERANCE, 4.0)
                )
            else:
                home.lines.append(joined)
        elif kind == "HATCH":
            self._hatched(entity, home)
        elif kind in ("SOLID", "TRACE"):
            corners = [self._point(one) for one in entity.wcs_vertices()]
            ring = np.array(corners)
            home.areas.append(Leaf([Curves.lines(ring, np.roll(ring, -1, axis=0))], TOLERANCE).placed("art"))
        elif kind in ("LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"):
            home.lines.append(self._single(entity))
        else:
            self.notes.left[f"a thing of kind {kind.lower()}"] += 1
        self.segments += len(home.lines[-1]) if home.lines else 0
        if self.segments > MOST_SEGMENTS:
            raise ArtRefused(f"its outlines have more than {MOST_SEGMENTS:,} segments")

    def _single(self, entity: Any) -> Curves:
        """One line, arc, circle, ellipse or spline, mm."""
        kind = entity.dxftype()
        if kind == "LINE":
            a, b = self._point(entity.dxf.start), self._point(entity.dxf.end)
            return Curves.lines(np.array([a]), np.array([b])) if math.dist(a, b) > 1e-9 else Curves.of(())
        if kind in ("ARC", "CIRCLE"):
            x, y = self._point(entity.ocs().to_wcs(entity.dxf.center))
            radius, flipped = float(entity.dxf.radius) * self.scale, entity.dxf.extrusion.z < 0
            if radius <= 0:
                return Curves.of(())
            first, last = (0.0, 360.0) if kind == "CIRCLE" else (entity.dxf.start_angle, entity.dxf.end_angle)
            sweep = 360.0 if kind == "CIRCLE" else (last - first) % 360.0 or 360.0
            start = 180.0 - first if flipped else first
            return _arcs(x, y, radius, math.radians(start), math.radians(-sweep if flipped else sweep))
        return self._bent(path.make_path(entity))

    def _polyline(self, entity: Any, kind: str) -> Curves:
        """Lines, and arcs where vertices have bulges: the tangent of a quarter of the sweep."""
        ocs, flip = entity.ocs(), -1.0 if entity.dxf.extrusion.z < 0 else 1.0
        if kind == "LWPOLYLINE":
            height = float(entity.dxf.get("elevation", 0.0))
            rows = [((x, y, height), bulge) for x, y, bulge in entity.get_points("xyb")]
        else:
            rows = [(one.dxf.location, float(one.dxf.get("bulge", 0.0))) for one in entity.vertices]
        flat = kind == "LWPOLYLINE" or entity.is_2d_polyline
        points = [(self._point(ocs.to_wcs(place) if flat else place), flip * bulge) for place, bulge in rows]
        parts = []
        for (a, bulge), (b, _) in pairwise([*points, *(points[:1] if entity.is_closed else [])]):
            if math.dist(a, b) <= 1e-9:
                continue
            if abs(bulge) < 1e-9:
                parts.append(Curves.lines(np.array([a]), np.array([b])))
                continue
            sweep, (dx, dy) = 4 * math.atan(bulge), (b[0] - a[0], b[1] - a[1])
            beside = (1 - bulge * bulge) / (4 * bulge)
            x, y = (a[0] + b[0]) / 2 - beside * dy, (a[1] + b[1]) / 2 + beside * dx
            parts.append(_arcs(x, y, math.dist((x, y), a), math.atan2(a[1] - y, a[0] - x), sweep))
        return Curves.joined(parts) if parts else Curves.of(())

    def _bent(self, made: Any) -> Curves:
        """A path of ezdxf's: lines and cubics."""
        rows, at = [], self._point(made.start)
        for command in made.commands():
            end = self._point(command.end)
            if command.type.name == "CURVE4_TO":
                rows.append([at, self._point(command.ctrl1), self._point(command.ctrl2), end])
            elif command.type.name == "CURVE3_TO":
                c = self._point(command.ctrl)
                rows.append([at, *(((p[0] + 2 * c[0]) / 3, (p[1] + 2 * c[1]) / 3) for p in (at, end)), end])
            elif math.dist(at, end) > 1e-9:
                rows.append([at, end])
            at = end
        return Curves.of([np.array(row) for row in rows])

    def _hatched(self, entity: Any, home: _Layer) -> None:
        contours = [self._bent(one) for one in path.from_hatch(entity)]
        contours = [closed(one) for one in contours if len(one)]
        home.areas.append(Leaf(contours, TOLERANCE, evenodd=True).placed("art"))
        if not entity.dxf.get("solid_fill", 1):
            self.notes.changed["a hatch pattern is a solid area now"] += 1

    def _areas(self, key: tuple[str, str], layer: _Layer) -> Iterator[Painted]:
        colour, name = key
        found = chained(layer.lines, GAP)
        for one in found.open:
            size = max(b - a for a, b in zip(one.extent[:2], one.extent[2:], strict=True)) if one.extent else 0.0
            self.notes.left[f"an open line on layer “{name}”, {size:.1f} mm large"] += 1
        if found.doubled:
            self.notes.changed[f"lines that were there twice on layer “{name}” are there once"] += found.doubled
        if found.bridged:
            self.notes.changed[f"ends that did not quite meet on layer “{name}” are joined"] += found.bridged
        areas = [*layer.areas]
        if found.closed:
            areas.append(Leaf(found.closed, TOLERANCE, evenodd=True).placed("art"))
        area = union(areas) if areas else None
        if area is not None and not area.is_empty:
            yield Painted(area, colour, "" if name == "0" else name[:80])

    def _point(self, point: Iterable[float]) -> tuple[float, float]:
        x, y = list(point)[:2]
        if not (math.isfinite(x) and math.isfinite(y)) or max(abs(x), abs(y)) * self.scale > 1e6:
            raise ValueError("a place without end")
        return float(x) * self.scale, float(y) * self.scale


def _arcs(x: float, y: float, radius: float, start: float, sweep: float) -> Curves:
    pieces = max(1, math.ceil(abs(sweep) / (math.pi / 2) - 1e-9))
    starts = start + sweep / pieces * np.arange(pieces)
    rows = np.column_stack([np.tile([x, y, radius], (pieces, 1)), starts, np.full(pieces, sweep / pieces)])
    return Curves.arcs(rows)


def _colour(entity: Any, layer: Any) -> str:
    """As it is seen: its own, or that of its layer; white and black are both drawn black."""
    if entity.rgb is not None:
        return "#{:02x}{:02x}{:02x}".format(*entity.rgb)
    number = int(entity.dxf.get("color", 256))
    if number in (0, 256) and layer is not None:
        if layer.rgb is not None:
            return "#{:02x}{:02x}{:02x}".format(*layer.rgb)
        number = abs(int(layer.dxf.get("color", 7)))
    if not 1 <= number <= 255 or number == 7:
        return "#000000"
    return "#{:02x}{:02x}{:02x}".format(*colors.aci2rgb(number))
