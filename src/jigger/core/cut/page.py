"""What is cut, on a page: kept areas with their materials, of a design or of a run of several. Files come from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from jigger.core.design.building.built import Built
from jigger.core.design.building.pictured import Pictures
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, around
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.materials.rules import Material


@dataclass(frozen=True, eq=False)
class CutLayer:
    """What is cut from one material in one colour: its id, what a person calls it, the kept area, mm. `lines`: closed
    lines that are cut beside it in the waste, as weed boxes and marks are. `pictures`: what is seen of those in what is
    printed.
    """

    id: str
    title: str
    kept: Region
    material: Material
    colour: str
    lines: tuple[Curves, ...] = ()
    pictures: Pictures = ()


@dataclass(frozen=True, eq=False)
class CutPage:
    """Layers on a page (left, bottom, right, top), mm. `feed_out`: how far a roll is moved on when they are cut;
    `printed`: what is printed under the cut, and not cut. `stock`: it is the stock itself, from its corner.
    """

    box: Box
    layers: tuple[CutLayer, ...]
    feed_out: float = 0.0
    printed: tuple[CutLayer, ...] = ()
    stock: bool = False

    def of_material(self, material: str, cropped: bool = False) -> CutPage:
        """With the layers of one material alone, on the same page or `cropped` to their own box. Raises CommandRefused
        where there is none.
        """
        layers = tuple(one for one in self.layers if one.material.id == material)
        box = around(outlines(one.kept).curves.extent for one in layers) if cropped else self.box
        if not layers or box is None:
            raise CommandRefused("Material", f"nothing here is cut from “{material}”")
        return CutPage(box, layers)


def page_of(built: Built, titles: Mapping[str, str] | None = None, colours: Mapping[str, str] | None = None) -> CutPage:
    """The page of what is built, exact: the box of all that is cut, or of the whole of which it is a layer. Raises
    CommandRefused where nothing is kept.
    """
    box = built.page_box if built.box else None
    if box is None:
        raise CommandRefused("Export", "there is nothing to cut in this design")
    titles, colours = titles or {}, colours or {}
    layers = [
        CutLayer(
            one.id,
            titles.get(one.id, one.material.name),
            one.kept,
            one.material,
            colours.get(one.id) or one.material.colour,
        )
        for one in built.layers
    ]
    return CutPage(box, tuple(layers))


def design_page(design: Design, built: Built) -> CutPage:
    """The same with the titles and colours of a design. Raises CommandRefused where nothing is kept."""
    titles = {one.id: design.layer_title(one) for one in design.layers}
    colours = {one.id: one.colour for one in design.layers if one.colour}
    printed = tuple(
        CutLayer(one.id, titles[one.id], one.area, one.material, colours.get(one.id) or one.material.colour,
                 pictures=one.pictures)
        for one in built.printed
        if not one.area.is_empty
    )  # fmt: skip
    return replace(page_of(built, titles, colours), printed=printed)
