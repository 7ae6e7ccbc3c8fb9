"""Edits of parts, bridges and pieces that need to know where things are."""

from collections.abc import Mapping

from jigger.core.design.building.references import carriers
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.bridges import EditBridge
from jigger.core.design.edits.layers import ChoosePieces
from jigger.core.design.edits.materials import UseMaterial
from jigger.core.design.edits.parts import RemovePart
from jigger.core.design.finishes.pick import PieceName
from jigger.core.design.many.common import counted, outermost, refuse_few
from jigger.core.design.many.several import Several, Step
from jigger.core.design.model.design import Design, Lettering, Shape, flat
from jigger.core.design.model.find import find_part
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.bridges.along import share_nearest
from jigger.core.joinery.pieces.naming import named
from jigger.services.designs import Designs, Opened
from jigger.services.edits.reaching import released, settled


def move_bridge(
    designs: Designs,
    identity: str,
    layer: str,
    letter: str,
    counter: int,
    number: int,
    x: float,
    y: float,
    seen: int | None,
) -> Opened:
    """Move a bridge to where its counter's edge is nearest to a point in document mm. Raises CommandRefused with
    the reason where it would stay.
    """
    design = designs.open(identity).design
    layers = designs.workshop.exact(design).layers
    found = [c for x in layers if x.id == layer for c in x.counters if (c.owner, c.number) == (letter, counter)]
    if not found:
        raise CommandRefused("", "the counter of this bridge is no longer there")
    along = round(share_nearest(found[0].outline, x, y), 5)
    moved = EditBridge(layer=layer, letter=letter, counter=counter, number=number, along=along).kept_as_wide(design)
    after = designs.workshop.exact(moved.apply(design)).layers
    if any((letter, counter, number) in one.lost for one in after if one.id == layer):
        words = "it stays where it was: no strip of its width finds kept material straight across from there"
        raise CommandRefused("The bridge", words)
    return designs.edit(identity, moved, seen)


def remove_parts(designs: Designs, identity: str, parts: list[str], seen: int | None = None) -> Opened:
    """Remove parts with all they hold; what refers to them stays where it is, at the size it has."""
    design = designs.open(identity).design
    refuse_few(design, parts, 1)
    top = outermost(design, parts)
    gone = {one.id for one in flat(top)}
    steps: list[Step] = list(freed(designs, design, gone))
    waits = {part: len(before & gone) for part, before in carriers(design).items()}
    steps += [RemovePart(part=part.id) for part in sorted(top, key=lambda part: -waits[part.id])]
    words = f"removal of {counted(design, [part.id for part in top])}"
    return designs.edit(identity, Several(words=words, edits=steps), seen)


def freed(designs: Designs, design: Design, gone: set[str]) -> list[Step]:
    """Edits that settle the parts that refer to others where they are, at the size they have, before those go."""
    built = designs.workshop.placed(design)
    left = [part for part in design.parts() if part.id not in gone]
    steps: list[Step] = []
    for other in left:
        values: dict[str, str | float | bool | None] = {}
        if isinstance(other, Shape) and other.around in gone:
            left_edge, bottom, right, top = built[other.id].region.bounds or built[other.id].body
            values |= {"around": None, "width": round(right - left_edge, 3), "height": round(top - bottom, 3)}
        if other.place.between in gone and other.place.on not in gone:
            values["place.between"] = None
        if isinstance(other, Lettering) and other.course.of in gone:
            values |= {"course.kind": "straight", "course.of": None}
        if values:
            steps.append(Adjust(target=other.id, values=values))
    return released(
        designs.workshop, design, [part.id for part in left],
        lambda one: one.place.on in gone or (isinstance(one, Lettering) and one.course.of in gone),
        lambda one: one.fit.kind != "none" and one.fit.to in gone, steps,
    )  # fmt: skip


def place_on(designs: Designs, identity: str, part: str, on: str, seen: int | None = None) -> Opened:
    """Place a part by something else: centred on it, or on the page exactly where it is now."""
    design = designs.open(identity).design
    find_part(design, part)
    values: dict[str, str | float | bool | None] = {
        "place.on": on, "place.x": 0.0, "place.y": 0.0, "place.edge": "middle", "place.between": None,
        "place.other_edge": "middle",
    }  # fmt: skip
    if on == "page":
        values = settled(designs.workshop, design, [part])[part]
    return designs.edit(identity, Adjust(target=part, values=values), seen)


def fit_by(designs: Designs, identity: str, part: str, kind: str, seen: int | None = None) -> Opened:
    """Hold a part to a size: to the surface at first, or where there is none to the first other part."""
    design = designs.open(identity).design
    found = find_part(design, part)
    values: dict[str, str | float | bool | None] = {"fit.kind": kind}
    others = [other.id for other in design.parts() if other.id != part]
    if found.fit.to == "surface" and design.surface is None:
        if kind != "none" and not others:
            raise CommandRefused(f"“{found.title}”", "there is nothing to fit it to; give the design a surface")
        values |= {"fit.to": others[0]} if others else {}
    return designs.edit(identity, Adjust(target=part, values=values), seen)


def choose_pieces(
    designs: Designs,
    identity: str,
    layer: str,
    points: list[tuple[float, float]],
    what: Mapping[str, str],
    seen: int | None = None,
    under: float = 0.0,
) -> Opened:
    """Do with the pieces of a layer that hold these points, mm, or that fit into a square `under` mm, `what` the fields
    of ChoosePieces say.
    """
    built = next((x for x in designs.workshop.exact(designs.open(identity).design).layers if x.id == layer), None)
    whole = built.folded.bounds if built else None
    if built is None or whole is None or built.ground is not None:
        raise CommandRefused("", "pieces are chosen of layers that keep their letters")
    pieces = built.folded.polygons()
    chosen = [
        piece for piece in pieces if any(piece.contains_point(x, y) for x, y in points) or _across(piece) <= under
    ]
    if not chosen:
        words = f"no piece fits into a square of {under:g} mm" if under else "choose at least one piece first"
        raise CommandRefused("", words)
    names = [PieceName(origins=dict(name.origins), x=name.x, y=name.y) for name in (named(x, whole) for x in chosen)]
    return designs.edit(identity, ChoosePieces.model_validate({"layer": layer, "pieces": names, **what}), seen)


def _across(piece: Region) -> float:
    """The longer side of its box, mm."""
    left, bottom, right, top = piece.bounds or (0.0, 0.0, 0.0, 0.0)
    return max(right - left, top - bottom)


def use_material(designs: Designs, identity: str, layer: str, material: str, seen: int | None = None) -> Opened:
    """Cut a layer from one of the shop's materials, under the shop's rules as they are now."""
    return designs.edit(identity, UseMaterial(layer=layer, rules=designs.shop.rules(material)), seen)
