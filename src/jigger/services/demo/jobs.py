"""The demo boatyard's stock and cut lists, made the way a person makes them."""

from collections.abc import Mapping
from typing import Any

from jigger.core.materials.presets import MATERIALS
from jigger.services.designs import Designs
from jigger.services.lists.cut_lists import CutLists

FIRST = "the first"  # run of the job, on whose mat the others lie

# Name, designs with copies, and how every run of it is laid out.
JOBS: tuple[tuple[str, tuple[tuple[str, int], ...], Mapping[str, Any]], ...] = (
    (
        "Quiet Heron, both bows", (("Bow name, two colours", 2),),
        {"marks": True, "box": "items", "gap": 12.0},
    ),
    (
        "Mooring plates", (("Moorings, steel", 2), ("Plover plate", 4), ("Plover’s Rest", 1)),
        {"gap": 12.0, "turns": "quarter"},
    ),
    ("Index numbers, painted both sides", (("Index number WL 8064", 8),), {"gap": 10.0}),
    (
        "Chandlery sign, on two mats", (("Chandlery window", 1),),
        {"form": "mat", "divide": "groups", "width": 300.0, "length": 180.0},
    ),
    (
        "Water-can labels, 2 × 3", (("Water can, side panel", 6),),
        {"layout": "rows", "columns": 2, "gap": 8.0, "box": "items", "box_margin": 4.0},
    ),
    (
        "Three colours on one mat", (("Water can, side panel", 1), ("Splashed decal", 1), ("Heron Boats sticker", 1)),
        {"mat": FIRST},
    ),
)  # fmt: skip

CORNER = [(0, 0), (900, 0), (900, 260), (430, 260), (430, 640), (0, 640)]  # mm

# Of a material: rolls with what is left on them, mats and plates.
STOCK: tuple[tuple[str, Mapping[str, Any]], ...] = (
    ("outdoor-vinyl", {"width": 600.0, "length": 8200.0, "low": 1000.0}),
    ("outdoor-vinyl", {"width": 600.0, "length": 640.0, "low": 1000.0, "colour": "#e8c25a"}),
    ("stencil-film-019", {"width": 300.0, "length": 600.0, "count": 12, "low": 4.0}),
    ("mild-steel", {"width": 1500.0, "length": 1000.0, "count": 3}),
    ("mild-steel", {"width": 480.0, "length": 1000.0, "offcut": True}),
    ("mild-steel", {"width": 900.0, "length": 640.0, "offcut": True, "outline": [CORNER]}),
)


def load_jobs(lists: CutLists, designs: Designs) -> int:
    """Stock and cut lists of the demo designs, where there are no lists; how many of these were made."""
    if lists.listed():
        return 0
    for material, values in STOCK:
        lists.stock.put_in({"material": material, "form": MATERIALS[material].stock, **values})
    known = {one.name: one.id for one in designs.listed()}
    for name, wanted, options in reversed(JOBS):
        made = lists.begin(name)
        for design, copies in wanted:
            lists.gather(made, known[design], [], copies)
        runs = lists.laid_out(lists.open(made).list).runs
        for run in runs:
            mat = {"mat": runs[0].key if run is not runs[0] else ""} if options.get("mat") == FIRST else {}
            lists.edit(made, {"do": "lay out", "run": run.key, "values": {**options, **mat}})
    return len(JOBS)
