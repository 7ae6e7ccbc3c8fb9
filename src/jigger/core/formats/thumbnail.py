"""A small picture of a design: the kept material in its colours on the surface."""

from jigger.core.design.building.built import Built
from jigger.core.formats.paths import path_data
from jigger.core.formats.pictures import SMALL, Bytes, SvgPictures, no_bytes

ROOM = 0.06  # of the longer side, left free all round


def write_thumbnail(
    built: Built, colours: dict[str, str], ground: str = "#e4dcc9", pictures: Bytes = no_bytes, most: int = SMALL
) -> str:
    """An SVG that fills whatever space it is shown in; empty designs give an empty picture.

    `ground`: the surface's colour. `pictures`: those that are printed; each is drawn with at most so many pixels.
    """
    if built.extent is None:
        return '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"></svg>\n'
    left, bottom, right, top = built.extent
    room = ROOM * max(right - left, top - bottom)
    left, top = left - room, top + room
    width, height = right + room - left, top - bottom + room
    rows = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.2f} {height:.2f}">']
    if built.surface:
        rows.append(f'<path fill="{ground}" d="{path_data(built.surface, left, top, 2)}"/>')
    shown = SvgPictures(pictures, most, left, top)
    for print_ in built.printed:
        fill = colours.get(print_.id, print_.material.colour)
        rows.append(f'<path fill="{fill}" fill-rule="evenodd" d="{path_data(print_.area, left, top, 2)}"/>')
        rows += [shown.drawn(one) for one in print_.pictures]
    for layer in built.layers:
        if built.printed:  # the cut line alone: what is cut is what is printed on
            line = path_data(layer.kept, left, top, 2)
            rows.append(f'<path fill="none" stroke="#23302f" stroke-width="{width / 300:.3f}" d="{line}"/>')
            continue
        fill = colours.get(layer.id, layer.material.colour)
        rows.append(f'<path fill="{fill}" fill-rule="evenodd" d="{path_data(layer.kept, left, top, 2)}"/>')
    return "\n".join([*rows, "</svg>"]) + "\n"
