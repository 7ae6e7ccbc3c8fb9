"""The shelf of ornaments: those shipped and a person's own, found by words and put into designs."""

import secrets

from jigger.core.design.drawn.nodes import scaled
from jigger.core.design.edits.strokes import DrawPath
from jigger.core.design.model.design import Design, Stroke
from jigger.core.design.model.find import find_part
from jigger.core.design.ornaments.ornament import Ornament, shipped
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.geometry.boxes import middle
from jigger.services.supplies.shop import Kept

OWN = "own"


class Ornaments:
    def __init__(self, kept: Kept):
        self._kept = kept

    def listed(self, words: str = "") -> list[Ornament]:
        """Own ones first; only those that `words` are found in."""
        own = [Ornament.model_validate_json(text) for text in self._kept.all().values()]
        return [one for one in [*reversed(own), *shipped().values()] if one.sought_by(words)]

    def tags(self) -> list[str]:
        """Every tag, by how many bear it."""
        every = [tag for one in self.listed() for tag in one.tags]
        return sorted(set(every), key=lambda tag: (-every.count(tag), tag))

    def one(self, identity: str) -> Ornament:
        """Raises UnknownChoice."""
        found = {one.id: one for one in self.listed()}
        if identity not in found:
            raise UnknownChoice("ornament", identity, found)
        return found[identity]

    def keep(self, design: Design, part: str, title: str = "", tags: str = "") -> Ornament:
        """Keep what was drawn as an ornament of one's own. Raises CommandRefused."""
        found = find_part(design, part)
        if not isinstance(found, Stroke) or found.course.kind != "path" or not found.course.nodes:
            raise CommandRefused(f"“{found.title}”", "only drawn paths are kept as ornaments; copy it out first")
        words = list(dict.fromkeys([OWN, *tags.casefold().split()]))[:20]
        bare = Ornament(id=f"own-{secrets.token_hex(4)}", title=(title.strip() or found.title)[:200], tags=words,
                        paths=found.course.paths, pen=found.pen)  # fmt: skip
        x, y = middle(bare.box)
        paths = [scaled(path, 1.0, -x, -y) for path in bare.paths]
        ornament = bare.model_copy(update={"paths": paths})
        self._kept.keep({ornament.id: ornament.model_dump_json(exclude_defaults=True)})
        return ornament

    def remove(self, identity: str) -> None:
        """Take one's own off the shelf; designs that it was put into keep it. Raises CommandRefused, UnknownChoice."""
        if identity in shipped():
            raise CommandRefused(self.one(identity).title, "it ships with Jigger and stays")
        self.one(identity)
        self._kept.remove(identity)

    def put(self, identity: str, layer: str, size: float | None = None) -> DrawPath:
        """The edit that draws one in the middle of a layer's design, its longer side `size` mm, or as it was kept."""
        one = self.one(identity)
        left, bottom, right, top = one.box
        by = 1.0 if size is None else size / max(right - left, top - bottom)
        pen = one.pen
        return DrawPath(
            layer=layer, paths=[scaled(path, by) for path in one.paths], filled=pen.filled,
            width=round(pen.width * by, 4), name=one.title, centred=True,
        )  # fmt: skip
