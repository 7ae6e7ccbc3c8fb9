"""The letter case of this house: the shipped fonts, those that people added, and favourites."""

import hashlib
import json
import os
import subprocess
import sys
from functools import lru_cache
from pathlib import Path

from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.lettering.face import Face
from jigger.core.lettering.lettercase import OWN, SHIPPED, FontEntry, LetterCase, font_id
from jigger.services.clock import now
from jigger.store.fonts import FontStore, OwnFont

SOURCE = Path(__file__).resolve().parents[3]
LARGEST_FONT = 12 * 1024 * 1024
SECONDS = 6.0  # from when a file is there to the answer, on a busy machine; computing has limits of its own


class Case:
    """Faces by id; a font that was removed is still there for the designs that use it."""

    def __init__(self, store: FontStore):
        self._store, self._shipped = store, LetterCase()
        self._known: tuple[list[OwnFont], set[str]] | None = None

    def face(self, font: str) -> Face:
        """Raises UnknownChoice."""
        if not OWN.fullmatch(font):
            return self._shipped.face(font)
        return self._own(font)

    @lru_cache(maxsize=64)  # noqa: B019 - there is one case
    def _own(self, font: str) -> Face:
        found = self._store.data(font)
        if found is None:
            raise UnknownChoice("font", font, SHIPPED)
        family, data = found
        return Face(data, hashlib.sha256(data).hexdigest(), family)

    def data(self, font: str) -> bytes | None:
        """The bytes of an own font, also of one that was taken out of the case; None where there never was one."""
        found = self._store.data(font)
        return found[1] if found else None

    def listed(self) -> dict[str, FontEntry]:
        """Every font to choose from: favourites first, then own ones, then the rest in the order of the case."""
        fonts, marked = self._kept()
        own = {x.id: FontEntry(x.id, x.family, "your own") for x in fonts if not x.removed}
        every = own | SHIPPED
        return {key: every[key] for key in sorted(every, key=lambda key: key not in marked)}

    def favourites(self) -> set[str]:
        return self._kept()[1]

    def removed(self) -> dict[str, str]:
        """Families of the fonts that were taken out of the case, by id."""
        return {x.id: x.family for x in self._kept()[0] if x.removed}

    def _kept(self) -> tuple[list[OwnFont], set[str]]:
        """Own fonts and favourites as they are on disk; read again only after they were changed here."""
        if self._known is None:
            self._known = self._store.all(), self._store.favourites()
        return self._known

    def mark(self, font: str, marked: bool) -> None:
        """Mark a font as a favourite, or no longer. Raises UnknownChoice."""
        if font not in self.listed():
            raise UnknownChoice("font", font, self.listed())
        self._store.mark(font, marked)
        self._known = None

    def add(self, data: bytes, leave: bool) -> FontEntry:
        """Take a font file in. `leave`: whether the person has leave to use fonts that forbid embedding.

        Raises CommandRefused saying why a file is not taken.
        """
        if not data:
            raise CommandRefused("Font", "choose a TTF, OTF or WOFF2 file")
        if len(data) > LARGEST_FONT:
            raise CommandRefused("Font", f"the file is larger than {LARGEST_FONT // 1024 // 1024} MB")
        said, cleaned = self._tried(data)
        if "problem" in said:
            raise CommandRefused("Font", str(said["problem"]))
        if said["restricted"] and not leave:
            words = "its maker forbids embedding. If you have leave to use it, tick the box and add it again"
            raise CommandRefused(f"“{said['family']}”", words)
        digest = hashlib.sha256(cleaned).hexdigest()
        entry = FontEntry(f"own-{digest[:12]}", str(said["family"]), "your own")
        self._store.add(entry.id, entry.family, digest, cleaned, now())
        self._known = None
        return entry

    def remove(self, font: str) -> None:
        """Take an own font out of the case. Raises CommandRefused for a shipped one."""
        if not OWN.fullmatch(font):
            raise CommandRefused(font_id(font), "fonts that come with Jigger stay")
        self._store.remove(font)
        self._store.mark(font, False)
        self._known = None

    @staticmethod
    def _tried(data: bytes) -> tuple[dict[str, object], bytes]:
        """A font file tried by a process of its own, so that nothing it does reaches this one."""
        command = [sys.executable, "-m", "jigger.core.lettering.intake"]
        try:
            done = subprocess.run(
                command, input=data, capture_output=True, timeout=SECONDS, check=False,
                env={**os.environ, "PYTHONPATH": str(SOURCE)},
            )  # fmt: skip
        except subprocess.TimeoutExpired:
            return {"problem": "this font takes too long to read; it may be damaged"}, b""
        head, _, cleaned = done.stdout.partition(b"\n")
        try:
            said = json.loads(head) if done.returncode == 0 else None
        except ValueError:
            said = None
        if not isinstance(said, dict):
            return {"problem": "this font cannot be read; it may be damaged"}, b""
        return said, cleaned
