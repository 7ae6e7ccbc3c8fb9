"""What is to be said of layers among each other, and of what becomes of a layer's face: overlaps that nothing explains,
and faces that end hidden and so are cut mirrored.
"""

from collections.abc import Iterator
from itertools import combinations

from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import Built, BuiltLayer
from jigger.core.design.model.design import Design
from jigger.core.geometry.area.region import intersection
from jigger.core.geometry.boxes import middle

LEAST = 0.5  # mm²: less is how differently edges that meet are drawn


def overlap_findings(design: Design, whole: Built) -> Iterator[Finding]:
    """Kept material of two layers that lies on each other though no relation says how they meet."""
    related = {frozenset((layer.id, one.lower)) for layer in design.layers for one in layer.relations}
    titles = {layer.id: design.layer_title(layer) for layer in design.layers}
    for a, b in combinations(whole.layers, 2):
        if frozenset((a.id, b.id)) in related or a.kept.is_empty or b.kept.is_empty:
            continue
        # Most pieces of what has many lie within the other or away from it, which is seen without an overlay.
        both = intersection(*sorted((a.kept, b.kept), key=lambda kept: kept.piece_count, reverse=True))
        if both.area > LEAST:
            message = (
                f"“{titles[b.id]}” lies on “{titles[a.id]}” over {both.area:.0f} mm², and nothing says how they meet; "
                "lay one on the other, open one for the other, or move them apart"
            )
            yield Finding("layers-overlap", "warn", both.inside_point, message, both.area, 0.0)


def hidden_face_finding(built: BuiltLayer) -> Iterator[Finding]:
    """That a layer whose cut face ends hidden is to be cut mirrored, which the design itself never is."""
    if built.material.hidden_face and not built.kept.is_empty:
        message = f"{built.material.name.lower()} is cut mirrored, and this is not yet: take its mirrored file"
        yield Finding("not-mirrored", "warn", middle(built.kept.bounds or (0.0, 0.0, 0.0, 0.0)), message)
