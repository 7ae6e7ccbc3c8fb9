"""Designs: the shelf, opening, editing, undo. Every accepted edit is on disk before the answer."""

import secrets
from collections.abc import Mapping
from contextlib import AbstractContextManager, suppress
from dataclasses import dataclass
from functools import lru_cache
from math import inf
from time import monotonic

from jigger.core.design.edits.commands import Adjust, ChoosePieces, Command, EditBridge, RemovePart, UseMaterial
from jigger.core.design.finishes.pick import PieceName
from jigger.core.design.model.design import Design, Lettering, Shape
from jigger.core.design.model.document import read_design, write_design
from jigger.core.design.model.find import find_part
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.joinery.bridges.along import share_nearest
from jigger.core.joinery.pieces.naming import named
from jigger.core.patience import asking
from jigger.core.timing import stage
from jigger.services.clock import now, seconds_since
from jigger.services.lane import Superseded
from jigger.services.shop import Shop
from jigger.services.workshop import Workshop
from jigger.store.history import DesignStore, Head, History, Listed

BURST_SECONDS = 2.0  # edits of one kind closer than this are one step of undo
REMEMBERED = 64  # designs of which the last answer is known


@dataclass(frozen=True)
class Opened:
    """A design as the shelf holds it now."""

    id: str
    design: Design
    seq: int
    number: int
    changed: str
    undo: str | None
    redo: str | None


class LateEdit(JiggerError):
    """The edit was made on an older state and its target has changed since; `opened` is the present one."""

    def __init__(self, opened: Opened):
        self.opened = opened
        super().__init__("this was changed somewhere else meanwhile; look at it and edit again")


class Designs:
    def __init__(self, store: DesignStore, workshop: Workshop, shop: Shop):
        self._store, self.workshop, self.shop = store, workshop, shop
        self._edits = 0  # begun since the start
        self._answered: dict[str, float] = {}  # when, of the designs edited last

    def listed(self) -> list[Listed]:
        return self._store.listed()

    def put_away_ones(self) -> list[Listed]:
        """The designs that were put away, the newest first."""
        return self._store.listed(put_away=True)

    def create(self, starter_id: str, values: Mapping[str, str], unit: str = "mm") -> str:
        """A new design from a starter's settings as typed; its id. Raises JiggerError."""
        chosen = starter(starter_id)
        return self.add(self.shop.started(chosen, values, unit), f"start from {chosen.title.lower()}")

    def create_plain(self, name: str, font: str = "pacifico") -> str:
        """A new design of one line of lettering on a surface; its id. Raises JiggerError."""
        name = " ".join("".join(c if c.isprintable() else " " for c in name).split())
        if not name:
            raise CommandRefused("Name", "type a name or some words first")
        return self.add(plain_lettering(name, [(name, font, 60.0)], (600.0, 300.0)), "start from plain lettering")

    def read_in(self, text: bytes) -> str:
        """A design from a file; its id. Raises DesignRefused and leaves the shelf as it was."""
        return self.add(read_design(text), "read from a file")

    def add(self, design: Design, label: str) -> str:
        identity = secrets.token_hex(5)
        self._store.add(identity, design.name, write_design(design), label, now())
        return identity

    def open(self, identity: str) -> Opened:
        """Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return _opened(history.head)

    def edit(self, identity: str, command: Command, seen: int | None = None) -> Opened:
        """Apply a command to the design and keep it.

        `seen` is the state the person edited: a late command applies when its target is as it was then.
        Raises LateEdit, CommandRefused, DesignRefused, NoSuchDesign; the design is then as it was.
        """
        with stage("edit"), self._editing(identity) as history:
            design = _read(history.snapshot)
            if seen is not None and seen != history.seq and not _unchanged(command, history.snapshot_at(seen), design):
                raise LateEdit(_opened(history.head))
            after = command.apply(design)
            if after == design:
                return _opened(history.head)
            burst = _burst(command, history, self._since_answered(identity))
            history.record(
                after.name,
                write_design(after),
                command.label(design),
                command.model_dump_json(),
                burst,
                now(),
            )
            return _opened(history.head, after)

    def answered(self, identity: str) -> None:
        """The person sees their edit now: pauses between edits are counted from here, however long it took to show."""
        self._answered.pop(identity, None)
        self._answered[identity] = monotonic()
        if len(self._answered) > REMEMBERED:
            del self._answered[next(iter(self._answered))]

    def _since_answered(self, identity: str) -> float:
        return monotonic() - self._answered.get(identity, -inf)

    def use_material(self, identity: str, layer: str, material: str, seen: int | None = None) -> Opened:
        """Cut a layer from one of the shop's materials, under the shop's rules as they are now."""
        return self.edit(identity, UseMaterial(layer=layer, rules=self.shop.rules(material)), seen)

    def undo(self, identity: str) -> Opened:
        with self._editing(identity) as history:
            history.undo(now())
            return self._renamed(history)

    def redo(self, identity: str) -> Opened:
        with self._editing(identity) as history:
            history.redo(now())
            return self._renamed(history)

    def put_away(self, identity: str) -> None:
        """Take a design off the shelf; its history stays on disk."""
        with self._store.writing(identity) as history:
            history.archive()

    def bring_back(self, identity: str) -> None:
        """Put a design back on the shelf. Raises NoSuchDesign."""
        self._store.bring_back(identity)

    def at_hand(self, opened: Opened) -> None:
        """Have the exact build of a state ready for the edits below, where it is still the present one; given up as
        soon as an edit begins.
        """
        begun = self._edits

        def calm() -> None:
            if self._edits != begun:
                raise Superseded

        with suppress(Superseded), asking(calm):
            if self.open(opened.id).seq == opened.seq:
                self.workshop.exact(opened.design)

    def _editing(self, identity: str) -> AbstractContextManager[History]:
        self._edits += 1
        return self._store.writing(identity)

    # Edits that need to know where things are

    def move_bridge(
        self,
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
        design = self.open(identity).design
        layers = self.workshop.exact(design).layers
        found = [c for x in layers if x.id == layer for c in x.counters if (c.owner, c.number) == (letter, counter)]
        if not found:
            raise CommandRefused("", "the counter of this bridge is no longer there")
        along = round(share_nearest(found[0].outline, x, y), 5)
        moved = EditBridge(layer=layer, letter=letter, counter=counter, number=number, along=along).kept_as_wide(design)
        after = self.workshop.exact(moved.apply(design)).layers
        if any((letter, counter, number) in one.lost for one in after if one.id == layer):
            words = "it stays where it was: no strip of its width finds kept material straight across from there"
            raise CommandRefused("The bridge", words)
        return self.edit(identity, moved, seen)

    def remove_part(self, identity: str, part: str, seen: int | None = None) -> Opened:
        """Remove a part; what refers to it stays where it is, at the size it has."""
        design = self.open(identity).design
        built = self.workshop.exact(design)
        find_part(design, part)
        frees = []
        for other in design.parts():
            values: dict[str, str | float | bool | None] = {}
            if other.place.on == part:
                values |= self.settled(design, other.id)
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
        return self.edit(identity, RemovePart(part=part, frees=frees), seen)

    def place_on(self, identity: str, part: str, on: str, seen: int | None = None) -> Opened:
        """Place a part by something else: centred on it, or on the page exactly where it is now."""
        design = self.open(identity).design
        find_part(design, part)
        values: dict[str, str | float | bool | None] = {
            "place.on": on, "place.x": 0.0, "place.y": 0.0, "place.edge": "middle", "place.between": None,
            "place.other_edge": "middle",
        }  # fmt: skip
        if on == "page":
            values = self.settled(design, part)
        return self.edit(identity, Adjust(target=part, values=values), seen)

    def fit_by(self, identity: str, part: str, kind: str, seen: int | None = None) -> Opened:
        """Hold a part to a size: to the surface at first, or where there is none to the first other part."""
        design = self.open(identity).design
        found = find_part(design, part)
        values: dict[str, str | float | bool | None] = {"fit.kind": kind}
        others = [other.id for other in design.parts() if other.id != part]
        if found.fit.to == "surface" and design.surface is None:
            if kind != "none" and not others:
                raise CommandRefused(f"“{found.title}”", "there is nothing to fit it to; give the design a surface")
            values |= {"fit.to": others[0]} if others else {}
        return self.edit(identity, Adjust(target=part, values=values), seen)

    def choose_pieces(
        self, identity: str, layer: str, points: list[tuple[float, float]], act: str, to: str, seen: int | None = None
    ) -> Opened:
        """Remove the pieces of a layer that hold these points, mm, keep only them, or move them to a layer."""
        built = next((x for x in self.workshop.exact(self.open(identity).design).layers if x.id == layer), None)
        whole = built.folded.bounds if built else None
        if built is None or whole is None or built.sheet is not None:
            raise CommandRefused("", "pieces are chosen of layers that keep their letters")
        pieces = built.folded.polygons()
        chosen = [piece for piece in pieces if any(piece.contains_point(x, y) for x, y in points)]
        if not chosen:
            raise CommandRefused("", "choose at least one piece first")
        names = [
            PieceName(origins=dict(name.origins), x=name.x, y=name.y) for name in (named(x, whole) for x in chosen)
        ]
        return self.edit(identity, ChoosePieces(layer=layer, pieces=names, act=act, to=to), seen)  # type: ignore[arg-type]

    def settled(self, design: Design, part: str) -> dict[str, str | float | bool | None]:
        """The placing on the page that leaves a part where it is."""
        built = self.workshop.exact(design).parts[part]
        left, bottom, right, top = built.region.bounds or built.body
        x, y = round((left + right) / 2, 4), round((bottom + top) / 2, 4)
        return {"place.on": "page", "place.by": "ink", "place.x": x, "place.y": y, "place.between": None}

    @staticmethod
    def _renamed(history: History) -> Opened:
        opened = _opened(history.head)
        history.rename(opened.design.name)
        return opened


@lru_cache(maxsize=64)
def _read(snapshot: str) -> Design:
    """The design of a snapshot; shared, so commands work on copies."""
    return read_design(snapshot)


def _opened(head: Head, design: Design | None = None) -> Opened:
    design = design or _read(head.snapshot)
    return Opened(head.design_id, design, head.seq, head.number, head.changed, head.undo, head.redo)


def _unchanged(command: Command, seen: str | None, design: Design) -> bool:
    if seen is None:
        return False
    try:
        return bool(command.watched(_read(seen)) == command.watched(design))
    except CommandRefused:
        return False


def _burst(command: Command, history: History, since_answered: float) -> str | None:
    """The burst an edit belongs to: the running one of its kind, or a new one."""
    if command.burst is None:
        return None
    last, made = history.last_burst()
    if last and last.startswith(command.burst + " #") and min(seconds_since(made), since_answered) < BURST_SECONDS:
        return last
    return f"{command.burst} #{history.seq}"
