"""The demo boatyard's cut lists, made the way a person makes them."""

from collections.abc import Mapping
from typing import Any

from jigger.services.cut_lists import CutLists
from jigger.services.designs import Designs

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
)  # fmt: skip


def load_jobs(lists: CutLists, designs: Designs) -> int:
    """Cut lists of the demo designs, where there are none; how many were made."""
    if lists.listed():
        return 0
    known = {one.name: one.id for one in designs.listed()}
    for name, wanted, options in reversed(JOBS):
        made = lists.begin(name)
        for design, copies in wanted:
            lists.gather(made, known[design], [], copies)
        for run in lists.laid_out(lists.open(made).list).runs:
            lists.edit(made, {"do": "lay out", "run": run.key, "values": options})
    return len(JOBS)
