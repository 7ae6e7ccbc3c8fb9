"""Layers that lie on others: whether any of a layer sticks out beyond what it is laid on."""

from collections.abc import Iterator

from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design, Layer
from jigger.core.geometry.area.clearance import sticking_out

JUST = 0.01  # mm by which nobody sees an edge stick out


def backing_findings(design: Design, layer: Layer, whole: Built) -> Iterator[Finding]:
    """For each relation of a layer but windows, which look at the lower layer from beyond."""
    given = {built.id: built.given for built in whole.layers}
    under = {built.id: built.ground or built.given for built in whole.layers}
    titles = {one.id: one.title for one in design.layers}
    for relation in layer.relations:
        if relation.kind == "window" or relation.lower not in given or layer.id not in given:
            continue
        figure = whole.parts[relation.figure].region if relation.figure else given[layer.id]
        far, place = sticking_out(figure, under[relation.lower])
        if far > JUST:
            message = f"“{layer.title}” sticks out {far:.2f} mm beyond “{titles[relation.lower]}”, which it lies on"
            yield Finding("sticks-out", "warn", place, message, far, 0.0, relation.figure)
