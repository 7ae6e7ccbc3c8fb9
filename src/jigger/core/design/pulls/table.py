"""All that can be pulled: of the part that is chosen, or where none is of the surface and the grounds."""

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design, Layer
from jigger.core.design.model.find import home_of
from jigger.core.design.pulls.of_finishes import finish_pulls
from jigger.core.design.pulls.of_grounds import ground_pulls, surface_pulls
from jigger.core.design.pulls.of_parts import part_pulls
from jigger.core.design.pulls.pull import Pull


def pulls_of(design: Design, built: Built, chosen: str) -> list[Pull]:
    """Of a part, or of the surface and the grounds where `chosen` is no part. What is hidden or empty has none."""
    part = next((one for one in design.parts() if one.id == chosen), None)
    if part is None:
        layer = next((one for one in design.layers if one.id == chosen), None)
        grounds = [one for one in ground_pulls(design, built) if layer is None or one.target == layer.id]
        return [*grounds, *_of_layer(layer, built)] if layer else [*surface_pulls(design), *grounds]
    found = built.parts.get(part.id)
    box = found.region.bounds if found else None
    if found is None or box is None or part.id in design.hidden_parts():
        return []
    scale = abs(found.scaled.a), abs(found.scaled.d)
    home = home_of(design, part.id)
    joined = isinstance(home, Layer) and home.parts[0].id != part.id
    return [*part_pulls(part, found, box, joined), *finish_pulls(part.finishes, box, scale)]


def _of_layer(layer: Layer, built: Built) -> list[Pull]:
    made = next((one for one in built.layers if one.id == layer.id), None)
    box = made.folded.bounds if made else None
    return finish_pulls(layer.finishes, box, (1.0, 1.0)) if box else []


def pull_named(design: Design, built: Built, identity: str) -> Pull | None:
    """The pull of this id, whatever is chosen."""
    target = identity.partition(" ")[0]
    carriers = (*design.parts(), *design.layers)
    owner = next((one.id for one in carriers if any(finish.id == target for finish in one.finishes)), target)
    return next((one for one in pulls_of(design, built, owner) if one.id == identity), None)
