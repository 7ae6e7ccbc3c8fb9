"""Cut lists: gathered, edited, laid out. Every accepted edit is on disk before the answer."""

import secrets
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from threading import Lock

from jigger.core.cut.lists.cutlist import CutList, Item, read_list, write_list
from jigger.core.cut.lists.list_edits import PutOnList, TakeNewer, read_list_edit
from jigger.core.cut.picking import ALL, Picked
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.timing import stage
from jigger.services.clock import now
from jigger.services.designs import Designs
from jigger.services.lists.batch import WholeList
from jigger.services.lists.laying import SheetPlan, lay_out
from jigger.services.lists.stockroom import StockRoom
from jigger.services.workshop import Workshop
from jigger.store.cut_lists import CutListStore, KeptList, ListHistory
from jigger.store.cut_lists import NoSuchList as NoSuchList

AT_HAND = 40  # designs at a revision


@dataclass(frozen=True)
class OpenedList:
    """A cut list as it is kept now."""

    id: str
    list: CutList
    seq: int
    changed: str
    undo: str | None
    redo: str | None


class LateListEdit(JiggerError):
    """The list has changed since; `opened` is as it is now."""

    def __init__(self, opened: OpenedList):
        self.opened = opened
        super().__init__("this list was changed somewhere else meanwhile; look at it and do it again")


class CutLists:
    def __init__(self, store: CutListStore, designs: Designs, workshop: Workshop, stock: StockRoom):
        self._store, self._designs, self._workshop, self.stock = store, designs, workshop, stock
        self._builds: OrderedDict[tuple[str, int], Built] = OrderedDict()  # what a revision comes to never changes
        self._lock = Lock()

    def listed(self) -> list[OpenedList]:
        """The newest change first."""
        return [_opened(one) for one in self._store.listed()]

    def begin(self, name: str) -> str:
        """A new list; its id. Raises CommandRefused."""
        made = read_list_edit({"do": "rename list", "name": name}).apply(CutList(name="List"))
        identity = secrets.token_hex(5)
        self._store.add(identity, made.name, write_list(made), now())
        return identity

    def open(self, identity: str) -> OpenedList:
        """Raises NoSuchList."""
        with self._store.opened(identity) as history:
            return _opened(history.now)

    def edit(self, identity: str, data: Mapping[str, object], seen: int | None = None) -> OpenedList:
        """Do what is asked and keep it. Moves made on an older state are refused. Raises LateListEdit, CommandRefused,
        NoSuchList; the list is then as it was.
        """
        edit = read_list_edit(data)
        with stage("edit"), self._store.opened(identity, writing=True) as history:
            opened = _opened(history.now)
            if seen is not None and seen != opened.seq and edit.do in ("put by hand", "lay out", "let go"):
                raise LateListEdit(opened)
            after = edit.apply(opened.list)
            if after == opened.list:
                return opened
            history.record(after.name, write_list(after), edit.label(opened.list), now())
            return _opened(history.now)

    def gather(
        self, identity: str, design: str, layers: list[str], copies: int = 1, picked: Picked = ALL
    ) -> OpenedList:
        """Put layers of a design, all that are shown where none are named, on a list as they are now, or what is
        `picked` of one. Raises NoSuchDesign, NoSuchList, CommandRefused.
        """
        return self.edit(identity, self._gathered(design, layers, copies, picked).model_dump())

    def begin_with(self, name: str, design: str, layers: list[str], copies: int = 1, picked: Picked = ALL) -> str:
        """A new list of them; its id. Raises NoSuchDesign, CommandRefused; then there is none."""
        edit = self._gathered(design, layers, copies, picked)
        identity = self.begin(name)
        self.edit(identity, edit.model_dump())
        return identity

    def _gathered(self, design: str, layers: list[str], copies: int, picked: Picked) -> PutOnList:
        opened = self._designs.open(design)
        built = self._workshop.exact(opened.design)
        shown = [one.id for one in built.layers if not one.kept.is_empty]
        chosen = [one for one in shown if one in layers] if layers else shown
        if not chosen:
            raise CommandRefused("Cut list", "there is nothing to cut in this")
        if picked:
            picked.built(built.only(chosen[0]) if len(chosen) == 1 else built, opened.design)
        return PutOnList(
            design=design, revision=opened.number, layers=chosen, copies=copies, parts=list(picked.parts),
            pieces=list(picked.pieces),
        )  # fmt: skip

    def take_newer(self, identity: str, item: str) -> OpenedList:
        """An item as its design is now. Raises NoSuchDesign, NoSuchList, CommandRefused."""
        found = self.open(identity).list.item(item)
        number = self._designs.head_number(found.design)
        if number is None:
            raise CommandRefused(
                "Cut list", "this design is no longer on the shelf; what is on the list can still be cut"
            )
        return self.edit(identity, TakeNewer(item=item, revision=number).model_dump())

    def undo(self, identity: str) -> OpenedList:
        """Raises NoSuchList."""
        with self._store.opened(identity, writing=True) as history:
            history.undo(now())
            return _renamed(history)

    def redo(self, identity: str) -> OpenedList:
        """Raises NoSuchList."""
        with self._store.opened(identity, writing=True) as history:
            history.redo(now())
            return _renamed(history)

    def put_away(self, identity: str) -> None:
        """Raises NoSuchList."""
        with self._store.opened(identity, writing=True) as history:
            history.archive()

    def book(self, identity: str, key: str) -> OpenedList:
        """Take what a run uses off the piece of stock it lies on, once. Raises CommandRefused, UnknownChoice,
        NoSuchList.
        """
        run = self.laid_out(self.open(identity).list).run(key)
        self.stock.use(run)
        return self.edit(identity, {"do": "lay out", "run": run.key, "values": {"stock": ""}})

    def _built(self, item: Item, design: Design) -> Built:
        """At hand for those that were asked for last: a list is laid out anew with each of its edits."""
        key = item.design, item.revision
        with self._lock:
            found = self._builds.pop(key, None)
        found = found or self._workshop.exact(design)
        with self._lock:
            self._builds[key] = found
            while len(self._builds) > AT_HAND:
                self._builds.popitem(last=False)
        return found

    def designs_of(self, data: CutList) -> list[tuple[Design, int]]:
        """The designs of a list, each at every revision that lies on it, in its order."""
        return [(design, revision) for (_, revision), design in self._asked(data).items()]

    def whole(self, data: CutList, said: str = "", unit: str = "mm") -> WholeList:
        """A list with all it is laid out of. `said`: when it was kept; `unit`: that its papers tell lengths in."""
        designs = self._asked(data)
        heads = {design: self._designs.head_number(design) for design, _ in designs}
        return WholeList(data, designs, heads, self.stock.listed(), said, unit)

    def _asked(self, data: CutList) -> dict[tuple[str, int], Design]:
        """The designs of a list by id and revision, each once, in its order."""
        asked = dict.fromkeys((item.design, item.revision) for item in data.items)
        found = {one: self._designs.at(*one) for one in asked}
        return {one: design for one, design in found.items() if design is not None}

    def laid_out(self, data: CutList) -> SheetPlan:
        """The runs of a list as its items were at their revisions."""
        return lay_out(data, self._designs.at, self._designs.head_number, self._built, self.stock.listed())


def _opened(kept: KeptList) -> OpenedList:
    return OpenedList(kept.id, read_list(kept.text), kept.seq, kept.changed, kept.undo, kept.redo)


def _renamed(history: ListHistory) -> OpenedList:
    opened = _opened(history.now)
    history.rename(opened.list.name)
    return opened
