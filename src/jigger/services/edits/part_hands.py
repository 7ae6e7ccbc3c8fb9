"""Edits of parts, bridges and pieces that need to know where things are."""

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.bridges import EditBridge
from jigger.core.design.edits.layers import ChoosePieces
from jigger.core.design.edits.materials import UseMaterial
from jigger.core.design.edits.parts import RemovePart
from jigger.core.design.finishes.pick import PieceName
from jigger.core.design.model.design import Design, Lettering, Shape
from jigger.core.design.model.find import find_part
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.bridges.along import share_nearest
from jigger.core.joinery.pieces.naming import named
from jigger.services.designs import Designs, Opened


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


def remove_part(designs: Designs, identity: str, part: str, seen: int | None = None) -> Opened:
    """Remove a part; what refers to it stays where it is, at the size it has."""
    design = designs.open(identity).design
    built = designs.workshop.exact(design)
    find_part(design, part)
    frees = []
    for other in design.parts():
        values: dict[str, str | float | bool | None] = {}
        if other.place.on == part:
            values |= settled(designs, design, other.id)
        if isinstance(other, Shape) and other.around == part:
            left, bottom, right, top = built.parts[other.id].region.bounds or built.parts[other.id].body
            values |= {"around": None, "width": round(right - left, 3), "height": round(top - bottom, 3)}
        if other.place.between == part:
            values["place.between"] = None
        if other.fit.to == part and other.fit.kind != "none":
            values["fit.kind"] = "none"
        if isinstance(other, Lettering) and other.course.of == part:
            values |= {"course.kind": "straight", "course.of": None}
        if values:
            frees.append(Adjust(target=other.id, values=values))
    return designs.edit(identity, RemovePart(part=part, frees=frees), seen)


def place_on(designs: Designs, identity: str, part: str, on: str, seen: int | None = None) -> Opened:
    """Place a part by something else: centred on it, or on the page exactly where it is now."""
    design = designs.open(identity).design
    find_part(design, part)
    values: dict[str, str | float | bool | None] = {
        "place.on": on, "place.x": 0.0, "place.y": 0.0, "place.edge": "middle", "place.between": None,
        "place.other_edge": "middle",
    }  # fmt: skip
    if on == "page":
        values = settled(designs, design, part)
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
    act: str,
    to: str,
    seen: int | None = None,
    under: float = 0.0,
) -> Opened:
    """Remove the pieces of a layer that hold these points, mm, or that fit into a square `under` mm, keep only them, or
    move them to a layer.
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
    return designs.edit(identity, ChoosePieces(layer=layer, pieces=names, act=act, to=to), seen)  # type: ignore[arg-type]


def _across(piece: Region) -> float:
    """The longer side of its box, mm."""
    left, bottom, right, top = piece.bounds or (0.0, 0.0, 0.0, 0.0)
    return max(right - left, top - bottom)


def settled(designs: Designs, design: Design, part: str) -> dict[str, str | float | bool | None]:
    """The placing on the page that leaves a part where it is."""
    built = designs.workshop.exact(design).parts[part]
    left, bottom, right, top = built.region.bounds or built.body
    x, y = round((left + right) / 2, 4), round((bottom + top) / 2, 4)
    return {"place.on": "page", "place.by": "ink", "place.x": x, "place.y": y, "place.between": None}


def use_material(designs: Designs, identity: str, layer: str, material: str, seen: int | None = None) -> Opened:
    """Cut a layer from one of the shop's materials, under the shop's rules as they are now."""
    return designs.edit(identity, UseMaterial(layer=layer, rules=designs.shop.rules(material)), seen)
