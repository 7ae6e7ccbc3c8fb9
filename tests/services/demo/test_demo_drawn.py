"""Designs drawn by hand: strokes weld clean, all widths change at once, a script lies on its sketch."""

import numpy as np
import shapely
from PIL import Image

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.design import Group, Stroke
from jigger.core.geometry.curves.outline import outlines
from jigger.services.demo.drawn import SKETCH, lock_keeper, over_a_sketch
from jigger.services.house import House
from jigger.services.workshop import Workshop


def test_the_lock_keepers_strokes_weld_to_one_clean_region(workshop: Workshop) -> None:
    design = lock_keeper()
    built = workshop.exact(design)
    (figure,) = [part for part in design.parts() if isinstance(part, Group)]
    own = sum(outlines(built.parts[part.id].region).nodes for part in figure.parts)
    welded = outlines(built.parts[figure.id].region)
    assert built.parts[figure.id].region.piece_count == 1 and welded.nodes <= 1.2 * own
    assert welded.chord_share < 0.001 and workshop.report(design).ready


def test_no_slit_is_cut_where_a_stroke_bends_tightly(workshop: Workshop) -> None:
    """As thin as rounding, and as long as the tool would follow it there and back."""
    for layer in workshop.exact(lock_keeper()).layers:
        area = layer.kept.geometry
        filled = area.buffer(0.005, join_style="mitre").buffer(-0.005, join_style="mitre")
        slits = [one for one in shapely.get_parts(filled - area) if one.area > 1e-4 * one.length and one.length > 1]
        assert not slits and filled.length > area.length - 1


def test_all_widths_are_changed_at_once_and_nothing_is_frozen(workshop: Workshop) -> None:
    design = lock_keeper()
    before = workshop.exact(design).layers[0].kept.area
    for part in design.parts():
        if isinstance(part, Stroke) and not part.pen.filled:
            design = Adjust(target=part.id, values={"pen.width": 6.0}).apply(design)
    after = workshop.exact(design)
    assert after.layers[0].kept.area < before and after.layers[0].pieces.holes >= 1
    assert workshop.report(design).ready


def test_the_script_lies_on_the_sketch_that_it_was_drawn_over(house: House) -> None:
    design = over_a_sketch(house.pictures)
    assert design.underlay is not None
    image = np.asarray(Image.open(SKETCH).convert("L"))
    part = design.parts()[-1]
    assert isinstance(part, Stroke)
    own, back = house.workshop.exact(design).parts[part.id].own, design.underlay.place.inverse
    near = []
    for node in part.course.nodes[:5]:  # of the first letter
        x, y = back.at(*own.at(node.x, node.y))
        column, row = round(x), round(design.underlay.high - y)
        near.append(image[row - 25 : row + 26, column - 25 : column + 26].min() < 170)
    assert all(near) and house.workshop.report(design).layers[0].pieces == 1
