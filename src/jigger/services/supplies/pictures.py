"""Pictures that people bring in: kept, shown, traced with settings, laid under a drawing."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import PurePath

from jigger.core.art.found import FoundArt
from jigger.core.art.painted import ArtRefused
from jigger.core.art.pictures import PictureSize, picture_size
from jigger.core.design.edits.underlay import LayUnder
from jigger.core.design.model.design import Design
from jigger.core.design.model.underlay import Underlay
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.services.clock import now
from jigger.services.supplies.art import MOST_BYTES, read_art
from jigger.store.pictures import PictureStore

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
        except ArtRefused as error:
            raise CommandRefused(what, str(error)) from None
        identity = hashlib.sha256(data).hexdigest()
        self._store.add(identity, PurePath(name).name[:200], data, now())
        return KeptPicture(identity, PurePath(name).name[:200], data, size)

    def one(self, identity: str) -> KeptPicture:
        """Raises UnknownChoice."""
        found = self._store.one(identity)
        if found is None:
            raise UnknownChoice("picture", identity[:12], [])
        return KeptPicture(identity, *found, picture_size(found[1]))

    def lacks(self, design: Design) -> bool:
        """Whether a design lies over a picture that is not here: its file was brought from another house."""
        return design.underlay is not None and not self._store.has(design.underlay.picture)

    def traced(
        self, identity: str, colours: int, how: Mapping[str, float], wide: float | None = None, token: str = ""
    ) -> FoundArt:  # fmt: skip
        """A picture as areas, traced as suits it but for `how`; `wide` mm across in all, or as it says; `token`: see
        read_art. Raises CommandRefused, UnknownChoice.
        """
        kept = self.one(identity)
        suffix = next(end for magic, end in SUFFIXES.items() if kept.data.startswith(magic))
        name = kept.name if PurePath(kept.name).suffix.lower() in (".png", ".jpg", ".jpeg") else kept.name + suffix
        return read_art(kept.data, name, colours=colours, tracing=how, wide=wide, token=token)

    def laid_under(self, identity: str, wide: float | None = None) -> LayUnder:
        """The edit that lays one under a drawing, `wide` mm across or as it says. Raises UnknownChoice."""
        kept = self.one(identity)
        scale = wide / kept.size.wide if wide else kept.size.per_pixel
        return LayUnder(
            underlay=Underlay(picture=identity, name=kept.name, wide=kept.size.wide, high=kept.size.high, scale=scale)
        )
