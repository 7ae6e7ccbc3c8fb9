"""Layers that lie on others: whether any of a layer sticks out beyond what it is laid on."""

from collections.abc import Iterator

import numpy as np
import shapely

from jigger.core.checks.findings import Finding
from jigger.core.design.built import Built
from jigger.core.design.model import Design, Layer
from jigger.core.geometry.region import Region, difference

JUST = 0.01  # mm by which nobody sees an edge stick out


def backing_findings(design: Design, layer: Layer, whole: Built) -> Iterator[Finding]:
    """For each relation of a layer but windows, which look at the lower layer from beyond."""
    given = {built.id: built.given for built in whole.layers}
    under = {built.id: built.sheet or built.given for built in whole.layers}
    titles = {one.id: one.title for one in design.layers}
    for relation in layer.relations:
        if relation.kind == "window" or relation.lower not in given or layer.id not in given:
            continue
        figure = whole.parts[relation.figure].region if relation.figure else given[layer.id]
        far, place = sticking_out(figure, under[relation.lower])
        if far > JUST:
            message = f"“{layer.title}” sticks out {far:.2f} mm beyond “{titles[relation.lower]}”, which it lies on"
            yield Finding("sticks-out", "warn", place, message, far, 0.0, relation.figure)


def sticking_out(upper: Region, lower: Region) -> tuple[float, tuple[float, float]]:
    """How far an area reaches beyond the edge of what it lies on, mm, and where; holes in that count as covered."""
    under = lower.filled()
    if under.is_empty or upper.is_empty:
        return 0.0, (0.0, 0.0)
    beyond = difference(upper, under)
    if beyond.is_empty:
        return 0.0, (0.0, 0.0)
    points = beyond.vertices()
    away = np.asarray(shapely.distance(shapely.points(points), under.geometry))
    furthest = int(np.argmax(away))
    x, y = points[furthest].tolist()
    return float(away[furthest]), (x, y)
