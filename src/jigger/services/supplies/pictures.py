"""Pictures that people bring in: kept, shown, traced with settings, laid under a drawing."""

import hashlib
import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import PurePath

import numpy as np
from pydantic import ValidationError

from jigger.core.art.found import FoundArt
from jigger.core.art.painted import ArtRefused
from jigger.core.art.pictures import PictureSize, picture_size
from jigger.core.design.edits.art import ArtPart, ReplaceArt, find_art
from jigger.core.design.edits.underlay import LayUnder
from jigger.core.design.model.design import Design
from jigger.core.design.model.pictured import PrintedPicture
from jigger.core.design.model.underlay import Underlay
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.formats.pictures import upright
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.rows import to_rows
from jigger.services.clock import now
from jigger.services.supplies.art import MOST_BYTES, read_art, titled
from jigger.store.pictures import PictureStore

PAPER = "#ffffff"  # what shows where a picture is clear, or ends
SUFFIXES = {b"\x89PNG": ".png", b"\xff\xd8\xff": ".jpg"}


@dataclass(frozen=True)
class KeptPicture:
    """A picture: the hash of its bytes, its name, and how large it is."""

    id: str
    name: str
    data: bytes
    size: PictureSize

    @property
    def media(self) -> str:
        """What a browser calls it."""
        return "image/png" if self.data.startswith(b"\x89PNG") else "image/jpeg"


class Pictures:
    def __init__(self, store: PictureStore):
        self._store = store

    def keep(self, data: bytes, name: str) -> KeptPicture:
        """Raises CommandRefused for what is no PNG or JPEG picture of a size that is taken."""
        what = f"“{PurePath(name).name[:80]}”"
        if not any(data.startswith(magic) for magic in SUFFIXES) or len(data) > MOST_BYTES:
            raise CommandRefused(what, "it is not a PNG or JPEG picture")
        try:
            size = picture_size(data)
            upright(data)  # all of it can be read, so that whatever shows it later can
        except ArtRefused as error:
            raise CommandRefused(what, str(error)) from None
        except (OSError, ValueError, SyntaxError, TypeError, EOFError):
            raise CommandRefused(what, "this picture cannot be read; it may be damaged") from None
        identity = hashlib.sha256(data).hexdigest()
        self._store.add(identity, PurePath(name).name[:200], data, now())
        return KeptPicture(identity, PurePath(name).name[:200], data, size)

    def one(self, identity: str) -> KeptPicture:
        """Raises UnknownChoice."""
        found = self._store.one(identity)
        if found is None:
            raise UnknownChoice("picture", identity[:12], [])
        return KeptPicture(identity, *found, picture_size(found[1]))

    def lacking(self, design: Design) -> frozenset[str]:
        """The pictures of a design that are not here: its file was brought from another house."""
        return frozenset(one for one in design.pictures() if not self._store.has(one))

    def traced(
        self, identity: str, colours: int, how: Mapping[str, float], wide: float | None = None, token: str = "",
        silhouette: bool = False,
    ) -> FoundArt:  # fmt: skip
        """A picture as areas, traced as suits it but for `how`; `wide` mm across in all, or as it says; `token` and
        `silhouette`: see read_art. Raises CommandRefused, UnknownChoice.
        """
        kept = self.one(identity)
        suffix = next(end for magic, end in SUFFIXES.items() if kept.data.startswith(magic))
        name = kept.name if PurePath(kept.name).suffix.lower() in (".png", ".jpg", ".jpeg") else kept.name + suffix
        return read_art(kept.data, name, colours=colours, tracing=how, wide=wide, token=token,
                        silhouette=silhouette)  # fmt: skip

    def printed(
        self, identity: str, how: Mapping[str, float], wide: float | None = None, cut_out: bool = False, token: str = ""
    ) -> ArtPart:
        """A picture to be printed: all of it, or `cut_out` of its ground. Raises CommandRefused, UnknownChoice."""
        kept = self.one(identity)
        pixel = wide / kept.size.wide if wide else kept.size.per_pixel
        across, up = kept.size.wide * pixel, kept.size.high * pixel
        outline, (x, y) = _frame(across, up), (across / 2, up / 2)
        if cut_out:
            found = self.traced(identity, 1, how, wide, token, silhouette=True)
            (part,), (x, y) = found.parts, found.middle
            outline = part.outline
        try:
            picture = PrintedPicture(
                picture=identity, wide=kept.size.wide, high=kept.size.high, a=pixel, d=pixel, x=-x, y=-y
            )
        except ValidationError:
            raise CommandRefused("Wide", "the picture would be too small or too large to be printed") from None
        return ArtPart(colour=PAPER, outline=outline, picture=picture)

    def in_place_of(self, design: Design, part: str, data: bytes, name: str) -> ReplaceArt | None:
        """The edit that prints another picture in the place of one, as wide; None where the part prints none, or the
        file is none. Raises CommandRefused.
        """
        art = find_art(design, part)
        if art.picture is None or not any(data.startswith(magic) for magic in SUFFIXES):
            return None
        kept = self.keep(data, name)
        wide, high = (size * math.hypot(*by) for size, by in (
            (art.picture.wide, (art.picture.a, art.picture.c)), (art.picture.high, (art.picture.b, art.picture.d))
        ))  # fmt: skip
        made = self.printed(kept.id, {}, wide, cut_out=art.outline != _frame(wide, high))
        return ReplaceArt(part=part, file=titled(name), outline=made.outline, picture=made.picture)

    def laid_under(self, identity: str, wide: float | None = None) -> LayUnder:
        """The edit that lays one under a drawing, `wide` mm across or as it says. Raises UnknownChoice."""
        kept = self.one(identity)
        scale = wide / kept.size.wide if wide else kept.size.per_pixel
        return LayUnder(
            underlay=Underlay(picture=identity, name=kept.name, wide=kept.size.wide, high=kept.size.high, scale=scale)
        )


def _frame(across: float, up: float) -> str:
    """A rectangle about the origin as an outline of artwork, mm."""
    x, y = round(across / 2, 4), round(up / 2, 4)
    corners = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
    return json.dumps([to_rows(Curves.lines(corners, np.roll(corners, -1, axis=0)), 4)], separators=(",", ":"))
