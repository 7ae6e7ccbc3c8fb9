"""The stock on hand: put in, changed, used by a run, what is left over kept."""

import json
import secrets
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from jigger.core.cut.sheets.plan import on_other_stock
from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.materials.stock import StockPiece, read_piece
from jigger.services.supplies.shop import Kept

CLOSEST, TRIED = 0.7, 3  # of what boxes take up, true to shape at best; offcuts that are tried for a run
FEW = 24  # copies, of more it takes too long for an edit to look whether they fit on what is no rectangle
LEFT = {"width", "length", "outline"}  # what a rest is kept by


def kept_as_left(run: Run) -> bool:
    """Whether what is left of the stock of a run is kept as it is left."""
    return run.options.rest == "left" and run.stock.form != "roll"


def _others(piece: StockPiece, run: Run) -> list[StockPiece]:
    """Those of several alike that a run does not touch."""
    count = piece.count - run.sheets
    return [piece.model_copy(update={"count": count})] if count > 0 else []


class StockRoom:
    def __init__(self, kept: Kept):
        self._kept = kept

    def listed(self, material: str = "") -> dict[str, StockPiece]:
        """All pieces, or those of a material, by their ids; offcuts first, short ones first."""
        found = [StockPiece.model_validate_json(text) for text in self._kept.all().values()]
        found = [one for one in found if not material or one.material == material]
        return {one.id: one for one in sorted(found, key=lambda one: (not one.offcut, one.length, one.id))}

    def put_in(self, values: Mapping[str, Any]) -> StockPiece:
        """A new piece. Raises CommandRefused."""
        piece = read_piece({**values, "id": f"s{secrets.token_hex(4)}"})
        self._keep(piece)
        return piece

    def change(self, identity: str, values: Mapping[str, Any]) -> StockPiece:
        """Raises UnknownChoice, CommandRefused; the piece is then as it was."""
        before = self.piece(identity)
        changed = read_piece({**before.model_dump(), **values, "id": identity})
        if (changed.width, changed.length) != (before.width, before.length):
            changed = changed.model_copy(update={"outline": []})  # somebody has cut it to a rectangle
        self._keep(changed)
        return changed

    def take_out(self, identity: str) -> None:
        """It is not there any more. Raises UnknownChoice."""
        self.piece(identity)
        self._kept.remove(identity)

    def piece(self, identity: str) -> StockPiece:
        """Raises UnknownChoice."""
        found = self.listed()
        if identity not in found:
            raise UnknownChoice("piece of stock", identity, found)
        return found[identity]

    def find(self, identity: str) -> StockPiece | None:
        """A piece, None where it is not there, or not any more."""
        return self.listed().get(identity)

    def offcut_for(self, run: Run) -> StockPiece | None:
        """The smallest offcut of its material and colour that all of a run fits on, where it lies on no piece yet."""
        if run.options.stock or run.stock.form == "roll" or run.mates or run.options.width or not run.placed:
            return None
        colours = {run.colour, *([""] if run.colour == run.material.colour else [])}
        offcuts = [x for x in self.listed(run.material.id).values() if x.offcut and x.colour in colours]
        copies = sum(one.copies for one in run.entries)
        large = [one for one in offcuts if one.area.area > CLOSEST * run.stock_needed]
        large = [one for one in large if not one.outline or copies <= FEW]
        for one in sorted(large, key=lambda x: x.area.area)[:TRIED]:
            stock = replace(run.stock, length=one.width, height=one.length, sheets=1,
                            outline=one.area if one.outline else None)  # fmt: skip
            laid = on_other_stock(run, stock)
            if not laid.left_over and laid.sheets == 1:
                return one
        return None

    def left_after(self, run: Run) -> list[StockPiece]:
        """What would be left of the piece a run lies on; the piece itself where it lies on none or is too short."""
        piece = self.find(run.options.stock)
        if piece is None or run.sheets > piece.count or not run.sheets:
            return [piece] if piece else []
        if kept_as_left(run):
            rests = [one for sheet in range(run.sheets) for one in piece.rests(run.cut_out(sheet))]
            return [*_others(piece, run), *rests]
        rest = piece.model_copy(update={"count": piece.count - run.sheets + 1})
        return rest.used(run.used(run.sheets - 1))

    def low_after(self, run: Run) -> list[StockPiece]:
        """What there would be too little of after a run; what it leaves as it is left is never that."""
        piece = self.find(run.options.stock)
        if piece is not None and kept_as_left(run):
            return [one for one in _others(piece, run) if one.is_low]
        return [one for one in self.left_after(run) if one.is_low]

    def rest_of(self, run: Run, sheet: int) -> str:
        """What is left of the piece that a sheet of a run lies on, for `taken`; empty where it is cut off straight."""
        piece = self.find(run.options.stock)
        if piece is None or not kept_as_left(run):
            return ""
        return json.dumps([one.model_dump(include=LEFT) for one in piece.rests(run.cut_out(sheet))])

    def taken(self, identity: str, used: float, rest: str = "") -> str:
        """So many mm taken off a piece, or off one of several alike, as it was cut, or all but its `rest`; what came of
        that, in words.
        """
        try:
            piece = self.piece(identity)
            if rest:
                of_it = {**piece.model_dump(), "count": 1, "offcut": True, "low": 0.0}
                rests = [read_piece({**of_it, **one}) for one in json.loads(rest)]
                if sum(one.area.area for one in rests) > piece.area.area:
                    raise CommandRefused(piece.title.capitalize(), "it was cut smaller since the job was lined up")
                self._replace(piece, piece.replaced(rests))
                kept = f"{len(rests)} {'offcut' if len(rests) == 1 else 'offcuts'}" if rests else "nothing"
                return f"Taken off the stock: {piece.title}; {kept} of it kept."
            self._replace(piece, piece.used(used))
        except (CommandRefused, UnknownChoice) as error:
            return f"Not taken off the stock: {error}."
        return f"{used:.0f} mm taken off the stock: {piece.title}."

    def trim(self, identity: str) -> StockPiece:
        """An offcut that is no rectangle, cut to the largest that it holds. Raises UnknownChoice, CommandRefused; it is
        then as it was.
        """
        trimmed = self.piece(identity).trimmed()
        self._keep(trimmed)
        return trimmed

    def use(self, run: Run) -> list[StockPiece]:
        """Take what a run uses off the piece it lies on; what is left of it. Raises CommandRefused, UnknownChoice; the
        stock is then as it was.
        """
        if not run.options.stock:
            raise CommandRefused(run.material.name, "it does not lie on a piece of stock")
        piece = self.piece(run.options.stock)
        if run.sheets > piece.count:
            raise CommandRefused(piece.title.capitalize(), f"the run takes {run.sheets} of them")
        return self._replace(piece, self.left_after(run))

    def _replace(self, piece: StockPiece, left: list[StockPiece]) -> list[StockPiece]:
        kept = [
            one if i == 0 else one.model_copy(update={"id": f"s{secrets.token_hex(4)}"}) for i, one in enumerate(left)
        ]
        self._keep(*kept)  # the first in place of the piece
        if not kept:
            self._kept.remove(piece.id)
        return kept

    def _keep(self, *pieces: StockPiece) -> None:
        self._kept.keep({one.id: one.model_dump_json() for one in pieces})
