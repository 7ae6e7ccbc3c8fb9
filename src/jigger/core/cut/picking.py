"""Some of what a layer keeps: the pieces of parts that were chosen, and single ones."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from weakref import WeakKeyDictionary

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.model.families import families_of
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region, union

Point = tuple[float, float]


@dataclass(frozen=True)
class Picked:
    """Pieces that any of `parts` (groups with all they hold) has a share in, and those that `pieces` lie in, points in
    mm; everything where neither says anything.
    """

    parts: tuple[str, ...] = ()
    pieces: tuple[Point, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.parts or self.pieces)

    def of(self, kept: Region, families: Mapping[str, tuple[str, ...]]) -> Region:
        """That of an area; `families` as of families_of. Raises CommandRefused where a single piece is not there."""
        if not self:
            return kept
        known = _known.setdefault(kept, {})  # an area that was built stays what it is
        if self not in known:
            known[self] = self._of(kept, families)
        return known[self]

    def _of(self, kept: Region, families: Mapping[str, tuple[str, ...]]) -> Region:
        pieces, wanted = kept.polygons(), set(self.parts)
        found = {
            number for number, piece in enumerate(pieces)
            if wanted and any(wanted.intersection(families.get(owner, (owner,))) for owner in piece.owners())
        }  # fmt: skip
        for point in self.pieces:
            here = next((number for number, piece in enumerate(pieces) if piece.contains_point(*point)), None)
            if here is None:
                raise CommandRefused("Pieces", "one that was chosen is no longer there; choose again")
            found.add(here)
        return union([pieces[number] for number in sorted(found)])

    def built(self, built: Built, design: Design, cropped: bool = False) -> Built:
        """Of a build of one layer what is picked, on the page of the whole unless `cropped`. Raises CommandRefused
        where pieces of several layers would be meant, or nothing is left.
        """
        if not self:
            return built
        if len(built.layers) != 1:
            raise CommandRefused("Pieces", "choose a layer first; pieces are chosen in one of them")
        (layer,) = built.layers
        kept = self.of(layer.kept, families_of(design))
        if kept.is_empty:
            raise CommandRefused("Pieces", "nothing is kept of what was chosen")
        return replace(built, layers=(replace(layer, kept=kept),), page=None if cropped else built.page_box)


ALL = Picked()
_known: WeakKeyDictionary[Region, dict[Picked, Region]] = WeakKeyDictionary()
