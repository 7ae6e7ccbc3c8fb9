"""A small picture of a design: the kept material in its colours on the surface."""

from jigger.core.design.built import Built
from jigger.core.formats.paths import path_data

ROOM = 0.06  # of the longer side, left free all round


def write_thumbnail(built: Built, colours: dict[str, str], ground: str = "#e4dcc9") -> str:
    """An SVG that fills whatever space it is shown in; empty designs give an empty picture.

    `ground`: the surface's colour.
    """
    boxes = [box for box in (built.box, built.surface.bounds if built.surface else None) if box]
    if not boxes:
        return '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"></svg>\n'
    left, bottom = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right, top = max(box[2] for box in boxes), max(box[3] for box in boxes)
    room = ROOM * max(right - left, top - bottom)
    left, top = left - room, top + room
    width, height = right + room - left, top - bottom + room
    rows = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.2f} {height:.2f}">']
    if built.surface:
        rows.append(f'<path fill="{ground}" d="{path_data(built.surface, left, top, 2)}"/>')
    for layer in built.layers:
        fill = colours.get(layer.id, layer.material.colour)
        rows.append(f'<path fill="{fill}" fill-rule="evenodd" d="{path_data(layer.kept, left, top, 2)}"/>')
    return "\n".join([*rows, "</svg>"]) + "\n"
