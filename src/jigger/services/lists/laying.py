"""From a cut list to its runs: designs as they were, built exactly, laid out on their stock."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from jigger.core.checks.catalogue import FINDINGS
from jigger.core.cut.lists.cutlist import CutList, Item, RunOptions
from jigger.core.cut.picking import Picked
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import LaidCopy, Run
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.model.families import families_of
from jigger.core.errors import CommandRefused
from jigger.core.materials.stock import StockPiece
from jigger.core.timing import stage


@dataclass(frozen=True)
class ListedItem:
    """An item as a person sees it. `missing`: why it cannot be cut; `newer`: the revision its design shows now, where
    it has moved on; `order`: the place of its layer in the design;
    `accepted`: what is cut all the same, with the reasons.
    """

    item: Item
    design_name: str
    layer_title: str
    missing: str
    newer: int | None
    key: str
    material_name: str = ""
    order: int = 0
    accepted: tuple[str, ...] = ()

    @property
    def title(self) -> str:
        return titled(self.design_name, self.layer_title, self.material_name)


@dataclass(frozen=True)
class SheetPlan:
    """Runs of a list, and its items by id."""

    runs: list[Run]
    items: dict[str, ListedItem]

    @property
    def names(self) -> dict[str, str]:
        """Of designs at a revision, as entries name them."""
        return {design_key(one.item): one.design_name for one in self.items.values()}

    def run(self, key: str) -> Run:
        """The run of a key, the first where there is none of it. Raises CommandRefused where there is no run."""
        if not self.runs:
            raise CommandRefused("Cut list", "there is nothing on it that can be cut")
        return next((one for one in self.runs if one.key == key), self.runs[0])


def design_key(item: Item) -> str:
    """A design at a revision."""
    return f"{item.design} {item.revision}"


def titled(design: str, layer: str, material: str) -> str:
    """What an item is called: its design, and its layer where that is called otherwise than its material."""
    return ", ".join(dict.fromkeys([design, *([layer] if layer != material else [])]))


def lay_out(
    data: CutList,
    find: Callable[[str, int], Design | None],
    head: Callable[[str], int | None],
    build: Callable[[Item, Design], Built],
    stock: Mapping[str, StockPiece] | None = None,
) -> SheetPlan:
    """`find` gives a design at a revision, `head` the revision it shows now, `build` what is built of an item's design,
    exact;`stock` is what is on hand.
    """
    items, entries = {}, []
    with stage("build"):
        for item in data.items:
            listed, entry = _entry(item, find(item.design, item.revision), head(item.design), build)
            items[item.id] = listed
            entries += [entry] if entry else []
    options = {key: _on_stock(one, stock or {}) for key, one in data.runs.items()}
    lain_on = {key: (stock or {})[one.stock] for key, one in options.items() if one.stock}
    outlines = {key: piece.area for key, piece in lain_on.items() if piece.outline}
    with stage("lay out"):
        runs = plan(entries, options, data.by_hand, data.nests, outlines) if entries else []
    return SheetPlan(runs, items)


def plan_data(laid: SheetPlan) -> dict[str, Any]:
    """A plan as plain data: where every copy lies on which sheet, mm from the corner of the stock, degrees."""
    return {
        "runs": [
            {
                "run": run.key, "material": run.material.id, "colour": run.colour, "stock": run.stock.form,
                "width": run.stock.length, "height": run.stock.height, "edge": run.stock.edge, "sheets": run.sheets,
                "length_used": [round(run.used(sheet), 4) for sheet in range(run.sheets)],
                "waste": round(run.waste, 6), "cost": round(run.cost, 4),
                "mat": run.options.mat, "field": [round(value, 4) for value in run.field or ()],
                "mirrored": run.mirrored, "no_room_for": run.left_over,
                "placed": [_placed_data(one) for one in run.placed],
            }
            for run in laid.runs
        ],
        "missing": {key: item.missing for key, item in laid.items.items() if item.missing},
    }  # fmt: skip


def _placed_data(one: LaidCopy) -> dict[str, Any]:
    by = one.by
    return {
        "item": one.entry.item, "title": one.entry.title, "copy": one.copy, "sheet": one.sheet, "turn": one.turn,
        "box": [round(value, 4) for value in one.box], "by_hand": one.held,
        "matrix": [round(value, 9) for value in (by.a, by.b, by.c, by.d, by.dx, by.dy)],
    }  # fmt: skip


def _on_stock(options: RunOptions, stock: Mapping[str, StockPiece]) -> RunOptions:
    """With the size of the piece they lie on; of one that is no longer there the usual size holds."""
    piece = stock.get(options.stock)
    if piece is None or options.form not in ("", piece.form):  # what is cut on mats is no length of a roll
        return options.model_copy(update={"stock": ""})
    return options.model_copy(update={"width": piece.width, "length": piece.length, "sheets": piece.count})


def _entry(
    item: Item, design: Design | None, head: int | None, build: Callable[[Item, Design], Built]
) -> tuple[ListedItem, Entry | None]:
    if design is None:
        return ListedItem(item, "a design", item.layer, "it is not in this Jigger", None, ""), None
    newer = head if head is not None and head != item.revision else None
    layer = next((one for one in design.layers if one.id == item.layer), None)
    title = design.layer_title(layer) if layer else item.layer
    built = build(item, design)
    found = next((one for one in built.layers if one.id == item.layer), None)
    page = built.page_box
    if layer is None or found is None or found.kept.is_empty or page is None:
        return ListedItem(item, design.name, title, "nothing of it is kept", newer, ""), None
    colour, families = layer.colour or found.material.colour, families_of(design)
    picked = Picked(tuple(item.parts), tuple(item.pieces))
    try:
        kept = picked.of(found.kept, families)
    except CommandRefused as error:
        return ListedItem(item, design.name, title, error.problem, newer, ""), None
    if kept.is_empty:
        return ListedItem(item, design.name, title, "nothing of these parts is kept", newer, ""), None
    if picked:
        title = _some(design, item)
    words = titled(design.name, title, found.material.name)
    frame = built.surface.bounds if built.surface else page
    entry = Entry(
        item.id, words, kept, found.material, colour, item.copies, page, design_key(item), frame,
        families,
    )  # fmt: skip
    return ListedItem(
        item, design.name, title, "", newer, entry.key, found.material.name, design.layers.index(layer),
        tuple(dict.fromkeys(f"{_finding(one.code)}: {one.reason}" for one in design.accepted)),
    ), entry  # fmt: skip


def _some(design: Design, item: Item) -> str:
    """What is picked, in words."""
    names = [part.title for part in design.parts() if part.id in item.parts]
    count = len(item.pieces)
    return ", ".join([*names, *([f"{count} {'piece' if count == 1 else 'pieces'}"] if count else [])])


def _finding(code: str) -> str:
    return FINDINGS[code].says if code in FINDINGS else code
