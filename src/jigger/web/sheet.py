"""The sheet's view: runs as cards, one with its stock and what lies on it; y down, areas in hundredths of a mm."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from jigger.core.cut.sheets.entry import may_share
from jigger.core.cut.sheets.run import Clash, LaidCopy, Run
from jigger.core.cut.sheets.run_page import lines_of, lines_round
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.errors import CommandRefused
from jigger.core.formats.paths import curve_path, screen_path, screen_paths
from jigger.core.geometry.area.region import Region, inside_points
from jigger.services.lists.cut_lists import OpenedList
from jigger.services.lists.laying import ListedItem, SheetPlan
from jigger.web.chosen import address
from jigger.web.forms import typed_length
from jigger.web.placing import MapView, map_of, map_view

AHEAD = 120.0  # mm of a roll that are shown beyond what is used
VIEWS = {"lay": "Lay out", "weed": "Weed", "path": "Path", "map": "Map"}
LAYOUTS = [
    ("close", "close together"),
    ("nested", "true to shape"),
    ("rows", "in rows and columns"),
    ("designed", "as designed"),
]
TURNS = [
    ("none", "none, the grain is kept"),
    ("half", "by half a turn, true to shape"),
    ("quarter", "by a quarter where it is closer"),
]
WITH = "with "  # what stands before the run on whose mat one lies, in a form
DIVIDES = [("none", "no, they are left over"), ("groups", "by parts and letters"), ("tiles", "in tiles")]
LENGTHS = {
    "gap": "Gap", "box_margin": "Margin of the weed box", "overlap": "Overlap", "weed_lines": "Weed lines",
    "weed_clear": "Clearance of weed lines", "feed_out": "Feed",
}  # fmt: skip
RESTS = [("straight", "cut off straight"), ("left", "as it is left")]
BOXES = [("none", "no weed box"), ("items", "round each item"), ("all", "round everything")]


@dataclass(frozen=True)
class CopyView:
    """A copy in its place: what of the list it is, its number on the card, its box, what leads from its outline there,
    its lines.
    """

    item: str
    copy: int
    number: int
    title: str
    x: float
    y: float
    width: float
    height: float
    matrix: str
    lines: str
    held: bool
    clash: bool
    left: float
    bottom: float
    turn: float

    @property
    def key(self) -> str:
        return f"{self.item}:{self.copy}"


@dataclass(frozen=True)
class WasteView:
    path: str
    x: float
    y: float
    number: int
    small: bool
    outside: bool
    size: float


@dataclass(frozen=True)
class CardView:
    """A run in the list: its items with their numbers in the drawing, and what did not fit."""

    run: Run
    items: list[tuple[int, ListedItem]]
    sums: str
    left_over: list[str]
    on: bool


@dataclass(frozen=True)
class StockView:
    """The stock as it lies: its size, the edges that cannot be used, where a roll runs on."""

    width: float
    height: float
    edges: str
    form: str
    used: float
    outline: str = ""

    @property
    def roll(self) -> bool:
        return self.form == "roll"


@dataclass(frozen=True)
class MatField:
    """Where a material lies on a mat that several share, and what is cut of it, with the numbers of its items on their
    copies; `on`: it is the run shown.
    """

    key: str
    title: str
    x: float
    y: float
    width: float
    height: float
    colour: str
    on: bool
    path: str
    numbers: list[tuple[int, float, float]]


@dataclass(frozen=True)
class SheetView:
    cards: list[CardView]
    run: Run | None
    sheet: int
    view: str
    step: str
    stock: StockView | None
    shapes: list[tuple[str, str]]
    copies: list[CopyView]
    waste: list[WasteView]
    rest_lines: str
    lost: list[ListedItem]
    verdict: tuple[str, str, str]
    map: MapView | None = None
    has_map: bool = False
    fields: list[MatField] = field(default_factory=list)

    @property
    def address(self) -> str:
        """What is shown and chosen, as the page's address holds it."""
        run = self.run.key if self.run else ""
        return address({"run": run, "sheet": self.sheet, "view": self.view, "step": self.step})

    @property
    def chosen(self) -> CopyView | None:
        return next((one for one in self.copies if one.key == self.step), None)

    @property
    def whole(self) -> int:
        """How many sheets the whole job has."""
        return sum(card.run.sheets for card in self.cards if card.run.leads)

    @property
    def lying(self) -> list[tuple[str, str]]:
        """The items of the list that lie on the sheet shown: their ids and titles."""
        together = self.run.cut_together if self.run else ()
        on = {one.entry.listed for run in together for one in run.on(self.sheet)}
        return [(item.item.id, item.title) for card in self.cards for _, item in card.items if item.item.id in on]

    @property
    def box(self) -> list[float]:
        """What is shown: x, y down, width, height."""
        if self.map is not None:
            return self.map.box
        if self.stock is None:
            return [0.0, -100.0, 200.0, 100.0]
        wide = min(self.stock.used + AHEAD, self.stock.width) if self.stock.roll else self.stock.width
        return [0.0, -self.stock.height, wide, self.stock.height]


def sheet_view(opened: OpenedList, plan: SheetPlan, chosen: Mapping[str, str]) -> SheetView:
    """`chosen`: the run, sheet, view and copy that a person looks at."""
    numbers = {item.id: number for number, item in enumerate(opened.list.items, start=1)}
    run = plan.run(chosen.get("run", "")) if plan.runs else None
    cards = [_card(one, plan, numbers, one is run) for one in plan.runs]
    lost = [item for item in plan.items.values() if item.missing]
    view = chosen.get("view", "lay") if chosen.get("view") in VIEWS else "lay"
    if run is None:
        return SheetView(cards, None, 0, view, "", None, [], [], [], "", lost, _verdict(None, lost))
    sheet = _number(chosen.get("sheet", "0"), max(run.sheets - 1, 0))
    copies = _copies(run, sheet, numbers)
    waste = _waste(run, sheet) if view == "weed" else []
    found = map_of(plan, run)
    if view == "map" and found:
        return SheetView(
            cards, run, sheet, view, "", None, [], [], [], "", lost, _verdict(run, lost), map_view(found), True
        )
    view = "lay" if view == "map" else view
    return SheetView(
        cards, run, sheet, view, chosen.get("step", ""), _stock(run, sheet),
        _shapes(run, sheet), copies, waste, _round_all(run, sheet),
        lost,
        _verdict(run, lost), has_map=found is not None, fields=_fields(run, numbers),
    )  # fmt: skip


def lies_on(run: Run, plan: SheetPlan) -> list[tuple[str, str]]:
    """What a run can be cut on, and the mats of others that it can share; nothing to choose where there is one."""
    own = [("", "the roll"), ("mat", "mats")] if run.options.form or run.stock.form == "roll" else [("", "mats")]
    hosting = any(one.options.mat == run.key for one in plan.runs)
    others = [] if hosting or not may_share(run.material) else [
        (WITH + one.key, f"the mat of “{one.entries[0].title}”")
        for one in plan.runs
        if one.key != run.key and not one.options.mat and may_share(one.material)
    ]  # fmt: skip
    return [*own, *others]


def read_list_form(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    """What a form asks of a list, as data of an edit. Raises CommandRefused naming the field."""
    do = form.get("do", "")
    if do == "lay out":
        return {"do": do, "run": form.get("run", ""), "values": _options(form, unit)}
    if do == "copies":
        return {"do": do, "item": form.get("item", ""), "copies": _whole(form.get("copies", ""), "Copies")}
    if do == "put by hand":
        names = ("x", "y", "turn")
        values = {
            name: typed_length(form[name], unit if name != "turn" else "mm", "Place") for name in names if name in form
        }
        place = {"item": form.get("item", ""), "copy": _whole(form.get("copy", ""), "Copy"),
                 "sheet": _whole(form.get("sheet", "0") or "0", "Sheet"), **values}  # fmt: skip
        return {"do": do, "place": place}
    if do == "let go":
        copy = {"copy": _whole(form["copy"], "Copy")} if form.get("copy") else {}
        return {"do": do, "items": form.get("items", "").split(), **copy}
    return {name: form[name] for name in ("do", "item", "name") if name in form}


def _options(form: Mapping[str, str], unit: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name in ("layout", "turns", "box", "machine", "stock", "form", "divide", "rest"):
        if name in form:
            found[name] = form[name]
    if "form" in found:
        host = found["form"].removeprefix(WITH) if found["form"].startswith(WITH) else ""
        found.update(form="mat" if host else found["form"], mat=host, field=None)
    if "field_width" in form:
        sides = [f"field_{name}" for name in ("left", "bottom", "width", "height")]
        found["field"] = [typed_length(form.get(name, ""), unit, "Field") for name in sides]
    elif form.get("field") == "":
        found["field"] = None
    if "columns" in form:
        found["columns"] = _whole(form["columns"] or "0", "Columns")
    for name, words in LENGTHS.items():
        if name in form:
            found[name] = typed_length(form[name] or "0", unit, words)
    for name, words in (("width", "Stock width"), ("length", "Stock length")):
        if name in form:
            found[name] = typed_length(form[name], unit, words) if form[name].strip() else None
    found.update({name: form[name] == "true" for name in ("marks", "centres", "patch", "openings") if name in form})
    if "columns" in found and "layout" not in found:
        found["layout"] = "rows"
    return found


def _whole(text: str, name: str) -> int:
    try:
        return int(text.strip()[:9])
    except ValueError:
        raise CommandRefused(name, f"“{text}” is not a whole number") from None


def _number(text: str, most: int) -> int:
    return min(int(text), most) if text.isdecimal() and len(text) < 6 else 0


def _card(run: Run, plan: SheetPlan, numbers: Mapping[str, int], on: bool) -> CardView:
    mine = {one.entry.listed for one in run.placed if not one.entry.aid}
    items = [(numbers[key], item) for key, item in plan.items.items() if item.key == run.key]
    assert mine <= {item.item.id for _, item in items}
    left = [f"{count} of “{title}”" for title, count in run.left_over.items()]
    count = sum(item.item.copies for _, item in items)
    sums = f"{count} {'copy' if count == 1 else 'copies'}"
    if run.stock.form != "roll" and run.sheets > 1:
        sums += f", {run.sheets} {run.stock.form}s"
    return CardView(run, items, sums, left, on)


def _copies(run: Run, sheet: int, numbers: Mapping[str, int]) -> list[CopyView]:
    placed = run.on(sheet)
    clashing = {(clash.first, clash.second) for clash in run.clashes if clash.sheet == sheet}
    names = {name for pair in clashing for name in pair}
    return [_copy(run, one, numbers, names) for one in placed]


def _fields(run: Run, numbers: Mapping[str, int]) -> list[MatField]:
    """Of all that share its mat; what is cut of the others, and its numbers."""
    found = []
    for one in run.mates:
        if one.field is None:
            continue
        left, bottom, right, top = one.field
        on = one.key == run.key
        others = [] if on else one.placed
        path = "".join(screen_paths([copy.kept for copy in others]))
        tags = [(numbers.get(copy.entry.listed, 0), copy.box[0], -copy.box[3]) for copy in others]
        wide, high = round(right - left, 2), round(top - bottom, 2)
        found.append(MatField(one.key, one.material.name, round(left, 2), round(-top, 2), wide, high, one.colour, on,
                               path, [tag for tag in tags if tag[0]]))  # fmt: skip
    return found


def _shapes(run: Run, sheet: int) -> list[tuple[str, str]]:
    """What the copies on a sheet are copies of: each item's outline once, in its design's coordinates."""
    entries = list({one.entry.item: one.entry for one in run.on(sheet)}.values())
    return list(zip([one.item for one in entries], screen_paths([one.kept for one in entries]), strict=True))


def _copy(run: Run, one: LaidCopy, numbers: Mapping[str, int], clashing: set[str]) -> CopyView:
    left, bottom, right, top = one.box
    by = one.by  # with y down
    matrix = " ".join(f"{value:.6g}" for value in (by.a, -by.c, -by.b, by.d, by.dx, -by.dy))
    lines = "".join(curve_path(line, 0.0, 0.0, 2, line.closed) for line in lines_of(run, one))
    return CopyView(
        one.entry.item, one.copy, numbers.get(one.entry.listed, 0), one.entry.title, round(left, 2), round(-top, 2),
        round(right - left, 2), round(top - bottom, 2), matrix, lines, one.held,
        one.held and one.entry.title in clashing, left, bottom, one.turn,
    )  # fmt: skip


def _round_all(run: Run, sheet: int) -> str:
    return "".join(curve_path(line, 0.0, 0.0, 2, line.closed) for line in lines_round(run, sheet))


def _waste(run: Run, sheet: int) -> list[WasteView]:
    found = waste_of(run, sheet)
    places = inside_points([one.area for one in found])
    return [
        WasteView(screen_path(one.area), x, -y, number, one.small, one.outside, _size(one.area))
        for number, (one, (x, y)) in enumerate(zip(found, places, strict=True), start=1)
    ]


def _size(area: Region) -> float:
    """How large a mark has room in it, about, mm."""
    left, bottom, right, top = area.bounds or (0.0, 0.0, 0.0, 0.0)
    return round(min(right - left, top - bottom), 1)


def _stock(run: Run, sheet: int) -> StockView:
    wide, high, edge = run.stock.length, run.stock.height, run.stock.edge
    if run.stock.outline is not None and run.stock.inner is not None:
        whole, inner = screen_paths([run.stock.outline, run.stock.inner])
        return StockView(wide, high, whole + inner, run.stock.form, run.used(sheet), whole)
    right, top, rim = round(100 * wide), round(100 * high), round(100 * edge)
    inner = f"M{rim} {-rim}V{rim - top}H{right - rim}V{-rim}Z"
    edges = f"M0 0H{right}V{-top}H0Z{inner}" if edge else ""
    return StockView(wide, high, edges, run.stock.form, run.used(sheet))


def _verdict(run: Run | None, lost: list[ListedItem]) -> tuple[str, str, str]:
    """Severity, verdict and advice."""
    if run is None:
        return "note", "Nothing to lay out", "put designs on the list from their last station or from the shelf"
    if run.left_over:
        names = ", ".join(f"{count} of “{title}”" for title, count in run.left_over.items())
        return "stop", "Not everything fits", f"{names} {'does' if sum(run.left_over.values()) == 1 else 'do'} not fit"
    if run.clashes:
        return "stop", "Copies are in each other's way", _clash_words(run.clashes[0])
    if lost:
        return "warn", "Some items cannot be cut", f"“{lost[0].title}”: {lost[0].missing}"
    if faults := _too_near(run):
        return "warn", "Some lines lie too near", faults
    return "ok", "Laid out", run.mirrored or "everything lies inside what can be used of the stock"


def _too_near(run: Run) -> str:
    """What lies nearer than the material bears as it is asked for, in words."""
    if run.options.marks and (bare := [x.entry.title for x in run.placed if x.entry.share and not x.entry.register]):
        more = f" and {len(bare) - 1} more" if len(bare) > 1 else ""
        return f"“{bare[0]}”{more}: no room for registration marks over or under it"
    options, strip, opening = run.options, run.material.least_strip, run.material.least_gap
    if options.gap < opening and len(run.placed) > 1:
        return f"a gap of {options.gap:g} mm between copies cannot be cut; {opening:g} mm is the narrowest opening"
    if options.box != "none" and options.box_margin < strip:
        words = f"the weed box lies {options.box_margin:g} mm from what is kept"
        return f"{words}; a strip of {strip:g} mm is the least that holds"
    return ""


def _clash_words(clash: Clash) -> str:
    if not clash.second:
        return f"“{clash.first}” lies beyond what can be used"
    if clash.away <= 0:
        return f"“{clash.first}” and “{clash.second}” lie on each other"
    return f"“{clash.first}” and “{clash.second}” are {clash.away:.2g} mm apart"
