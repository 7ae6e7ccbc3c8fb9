"""Pictures as files take them: upright, in the colours that screens and presses read, or small within an SVG."""

from __future__ import annotations

import base64
import hashlib
import io
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageCms, ImageOps

from jigger.core.design.building.pictured import PlacedPicture
from jigger.core.formats.paths import path_data, screen_path
from jigger.core.geometry.affine import Affine

Bytes = Callable[[str], bytes | None]  # of a picture, by the hash of them; None where it is not here


def no_bytes(_: str) -> bytes | None:
    """Where no pictures are kept."""
    return None


SMALL = 640  # pixels on the longer side, where nobody looks closely
TURNED = 0x0112  # the note that says how a picture is to be turned (Exif 2.3)


def upright(data: bytes) -> Image.Image:
    """A PNG or JPEG as it is to be seen: turned as its notes say, grey or sRGB, with what is clear in it. Raises
    OSError or ValueError where it is damaged.
    """
    opened = Image.open(io.BytesIO(data), formats=("PNG", "JPEG"))
    opened.load()
    image: Image.Image = ImageOps.exif_transpose(opened)
    profile = image.info.get("icc_profile")
    if image.mode.startswith("I"):  # 16 bits of grey
        return image.point(lambda value: value / 256).convert("L")
    clear = image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info
    if image.mode == "P" or image.mode == "PA":
        image = image.convert("RGBA" if clear else "RGB")
    if profile and image.mode in ("RGB", "RGBA", "CMYK", "L"):
        image = _as_screens_read(image, profile)
    return image.convert("RGBA") if clear else image if image.mode in ("L", "RGB", "CMYK") else image.convert("RGB")


def _as_screens_read(image: Image.Image, profile: bytes) -> Image.Image:
    """In sRGB; as it is where its profile cannot be read or is of another kind of colour."""
    try:
        given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        mode = "RGBA" if image.mode == "RGBA" else "RGB"
        found = ImageCms.profileToProfile(image, given, ImageCms.createProfile("sRGB"), outputMode=mode)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return image
    return found or image


def is_plain_jpeg(data: bytes) -> bool:
    """Whether its bytes can be taken as they are: a JPEG that lies upright, of no colours of its own."""
    with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
        turned = image.getexif().get(TURNED, 1) != 1
        return image.format == "JPEG" and not turned and "icc_profile" not in image.info and image.mode != "CMYK"


def _shown(one: PlacedPicture) -> tuple[int, int, int, int]:
    """The pixels in which it is seen: left, upper, right, lower, y down."""
    back, seen = one.place.inverse, one.seen.vertices()
    points = seen @ back.linear + back.shift
    (left, low), (right, high) = np.floor(points.min(axis=0)), np.ceil(points.max(axis=0))
    wide, all_high = one.picture.wide, one.picture.high
    x0, x1 = np.clip([left, right], 0, wide).astype(int).tolist()
    y0, y1 = np.clip([all_high - high, all_high - low], 0, all_high).astype(int).tolist()
    return x0, y0, max(x1, x0 + 1), max(y1, y0 + 1)


def _small(image: Image.Image, most: int) -> str:
    """A data address of a picture at most so many pixels wide and high."""
    image.thumbnail((most, most))
    out = io.BytesIO()
    if image.mode == "RGBA":
        image.save(out, "PNG")
    else:
        image.convert("RGB").save(out, "JPEG", quality=88)
    kind = "png" if image.mode == "RGBA" else "jpeg"
    return f"data:image/{kind};base64,{base64.b64encode(out.getvalue()).decode()}"


class SvgPictures:
    """Pictures within an SVG, y down from `top` and x from `left`, mm: what is seen of each, with at most so many
    pixels. Each is read once, and what copies show alike is written once.
    """

    def __init__(self, pictures: Bytes, most: int, left: float, top: float):
        self._bytes, self._most, self._left, self._top = pictures, most, left, top
        self._read: dict[str, Image.Image | None] = {}
        self._written: set[str] = set()

    def drawn(self, one: PlacedPicture) -> str:
        """One of them; nothing where it is not here."""
        identity, left, top = one.picture.picture, self._left, self._top
        if identity not in self._read:
            data = self._bytes(identity)
            self._read[identity] = upright(data) if data else None
        image = self._read[identity]
        if image is None:
            return ""
        box = _shown(one)
        x, y, wide, high = box[0], one.picture.high - box[3], box[2] - box[0], box[3] - box[1]
        clip = path_data(one.seen, left, top, 3)
        name = _named("seen", f"{clip} {identity}")
        shown = _named("shown", f"{box} {self._most} {identity}")
        rows = [f'<clipPath id="{name}"><path clip-rule="evenodd" d="{clip}"/></clipPath>']
        if shown not in self._written:
            self._written.add(shown)
            href = _small(image.crop(box), self._most)
            size = f'width="{wide}" height="{high}" preserveAspectRatio="none"'
            rows.append(f'<defs><image id="{shown}" href="{href}" {size}/></defs>')
        to = svg_transform(Affine.move(x, y).then(one.place), high, left, top)
        return "".join([*rows, f'<g clip-path="url(#{name})"><use href="#{shown}" transform="{to}"/></g>'])


def _named(kind: str, of: str) -> str:
    """A name that another drawing on the same page has only for the same."""
    return f"{kind}-{hashlib.sha256(of.encode()).hexdigest()[:16]}"


@dataclass(frozen=True)
class ScreenPicture:
    """A printed picture on a page: its hash, pixels, SVG's transform to screen mm, and the path of what is seen of it
    (hundredths of a mm, y down).
    """

    id: str
    wide: int
    high: int
    transform: str
    seen: str


def screen_pictures(pictures: Iterable[PlacedPicture]) -> tuple[ScreenPicture, ...]:
    """Each as a page shows it."""
    return tuple(
        ScreenPicture(
            one.picture.picture, one.picture.wide, one.picture.high, svg_transform(one.place, one.picture.high),
            screen_path(one.seen),
        )
        for one in pictures
    )  # fmt: skip


def svg_transform(place: Affine, high: int, left: float = 0.0, top: float = 0.0) -> str:
    """Of a picture of so many pixels up: from them, y down from its upper left corner, to mm from `left`, down from
    `top`. `place`: from pixels, y up from its lower left corner, to mm, y up.
    """
    to = Affine(d=-1.0, dy=high).then(place).then(Affine(d=-1.0, dx=-left, dy=top))
    return f"matrix({' '.join(f'{value:.6g}' for value in (to.a, to.c, to.b, to.d, to.dx, to.dy))})"
