"""The stock on hand: put in, changed, used by a run, what is left over kept."""

import secrets
from collections.abc import Mapping
from typing import Any

from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.materials.stock import StockPiece, read_piece
from jigger.services.supplies.shop import Kept


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
        changed = read_piece({**self.piece(identity).model_dump(), **values, "id": identity})
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

    def left_after(self, run: Run) -> list[StockPiece]:
        """What would be left of the piece a run lies on; the piece itself where it lies on none or is too short."""
        piece = self.find(run.options.stock)
        if piece is None or run.sheets > piece.count or not run.sheets:
            return [piece] if piece else []
        rest = piece.model_copy(update={"count": piece.count - run.sheets + 1})
        return rest.used(run.used(run.sheets - 1))

    def taken(self, identity: str, used: float) -> str:
        """So many mm taken off a piece, or off one of several alike, as it was cut; what came of that, in words."""
        try:
            piece = self.piece(identity)
            self._replace(piece, piece.used(used))
        except (CommandRefused, UnknownChoice) as error:
            return f"Not taken off the stock: {error}."
        return f"{used:.0f} mm taken off the stock: {piece.title}."

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
