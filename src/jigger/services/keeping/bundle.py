"""A design with all it is made of, as one file: its document, the fonts of its own and its pictures."""

import io
import json
import zipfile

from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design, write_design
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import OWN
from jigger.services.house import House

SUFFIX = ".jigger.zip"
DOCUMENT, FONTS, PICTURES = "design.json", "fonts/", "pictures/"
LARGEST = 80 * 1024**2  # bytes of all that a bundle holds
MOST_FILES = 200


def bundled(house: House, identity: str) -> bytes:
    """A design's bundle, without fonts whose makers forbid that. Raises NoSuchDesign."""
    design = house.designs.open(identity).design
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(DOCUMENT, write_design(design))
        for font in own_fonts(design):
            found = house.letter_case.data(font)
            if found and not house.letter_case.face(font).restricted:
                archive.writestr(f"{FONTS}{font}", found)
        for picture in sorted(design.pictures() - house.pictures.lacking(design)):
            kept = house.pictures.one(picture)
            archive.writestr(f"{PICTURES}{kept.id} {kept.name}", kept.data)
    return out.getvalue()


def unbundled(house: House, data: bytes) -> str:
    """The id of the design that a bundle holds, its fonts and pictures taken in first; a font that this house cleans
    otherwise has another id then. Raises CommandRefused, DesignRefused, and leaves the shelf as it was.
    """
    inside = _read(data)
    document = inside.get(DOCUMENT)
    if document is None:
        raise CommandRefused("Bundle", f"there is no {DOCUMENT} in it; it is no bundle of a design")
    read_design(document)  # refused before anything is taken in
    text = document.decode()
    for name, content in inside.items():
        if name.startswith(FONTS):
            old, new = name.removeprefix(FONTS), house.letter_case.add(content, leave=False).id
            text = text.replace(json.dumps(old), json.dumps(new))
        elif name.startswith(PICTURES):
            house.pictures.keep(content, name.removeprefix(PICTURES).partition(" ")[2] or "picture")
    return house.designs.add(read_design(text), "read from a bundle")


def own_fonts(design: Design) -> list[str]:
    """The ids of the fonts that people added which a design asks for."""
    asked = [line.font for line in design.lines()]
    asked += [override.font for line in design.lines() for override in line.overrides if override.font]
    return [font for font in dict.fromkeys(asked) if OWN.fullmatch(font)]


def is_bundle(data: bytes) -> bool:
    """Whether some bytes may be a bundle."""
    return data.startswith(b"PK\x03\x04")


def _read(data: bytes) -> dict[str, bytes]:
    """The files of a bundle by name."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = archive.infolist()
            if len(infos) > MOST_FILES or sum(one.file_size for one in infos) > LARGEST:
                raise CommandRefused(
                    "Bundle", f"it holds more than {LARGEST // 1024**2} MB, or than {MOST_FILES} files"
                )
            found = {}
            for one in infos:
                with archive.open(one) as file:
                    found[one.filename] = file.read(one.file_size + 1)
                if len(found[one.filename]) > one.file_size:
                    raise CommandRefused("Bundle", "it is larger than it says; it was not read")
            return found
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError, OSError):
        raise CommandRefused("Bundle", "it is damaged, or no bundle of a design") from None
